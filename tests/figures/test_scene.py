"""Scenes against positions computed apart."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from echelle.errors import InputError
from echelle.figures.geometry.axes import ticks_of
from echelle.recipes.layers.base import Fence
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.style import Axis, Size, Words
from echelle.render import scene_of
from echelle.scene.models import GroupPart, LinePart, PointsPart, RectPart, Scene, unpack
from echelle.tables.steps.conditions import OneOf
from tests.support.tables import box_recipe, box_scene, lanes_table, many_values

VALUES = {"low": [1.0, 2.0, 3.0, 4.0, 5.0, 30.0], "high": [10.5, 12.0, 13.0, 14.5, 20.0]}


def part_of(scene: Scene, key: str):
    return next(part for part in scene.walk() if part.key == key)


def along(scene: Scene, value: float) -> float:
    """Value to coordinate, from the scale that the scene carries."""
    scale = scene.panels[0].scale
    (v0, v1), (c0, c1) = scale.domain, scale.range
    return c0 + (value - v0) * (c1 - c0) / (v1 - v0)


@pytest.mark.parametrize("runs", ["across", "up"])
def test_marks_stand_at_their_numbers(runs: str) -> None:
    scene = box_scene(VALUES, axis=Axis(runs=runs))
    for lane, values in zip(scene.lanes, VALUES.values(), strict=True):
        q1, median, q3 = np.quantile(values, [0.25, 0.5, 0.75])
        box = part_of(scene, f"p1/{lane.key}/b1/box")
        bar = part_of(scene, f"p1/{lane.key}/b1/median")
        assert isinstance(box, RectPart) and isinstance(bar, RectPart)
        ends = (box.x, box.x + box.width) if runs == "across" else (box.y + box.height, box.y)
        assert ends == pytest.approx((along(scene, q1), along(scene, q3)), abs=0.002)
        middle = bar.x + bar.width / 2 if runs == "across" else bar.y + bar.height / 2
        assert middle == pytest.approx(along(scene, median), abs=0.002)
        across = (box.y, box.y + box.height) if runs == "across" else (box.x, box.x + box.width)
        assert lane.start <= across[0] < across[1] <= lane.end
        assert sum(across) / 2 == pytest.approx((lane.start + lane.end) / 2, abs=0.002)


def test_whiskers_reach_values_and_outliers_carry_their_rows() -> None:
    scene = box_scene(VALUES)
    upper = part_of(scene, "p1/g1/b1/whisker/high")
    assert isinstance(upper, LinePart) and upper.x2 == pytest.approx(along(scene, 5.0), abs=0.002)
    odd = part_of(scene, "p1/g1/b1/outlier")
    assert isinstance(odd, PointsPart)
    assert unpack(odd.columns.rows, "<f8").tolist() == [6]
    assert unpack(odd.columns.x, "<f4")[0] == pytest.approx(along(scene, 30.0), abs=0.002)


def test_each_value_is_drawn_once() -> None:
    scene = box_scene(VALUES, layers=[BoxLayer(id="b1"), PointsLayer(id="p1")])
    drawn: list[int] = []
    for part in scene.walk():
        if isinstance(part, PointsPart):
            rows = unpack(part.columns.rows, "<f8").astype(int)
            hidden = unpack(part.hidden, "<i4").astype(int)
            drawn += np.delete(rows, hidden).tolist()
    assert sorted(drawn) == list(range(1, 12))
    assert not any(part.layer == "b1" and part.role == "outlier" for part in scene.walk())


def test_points_move_across_their_lane_only() -> None:
    scene = box_scene(VALUES, layers=[PointsLayer(id="p1", place="on", width=1.0)])
    for lane, values in zip(scene.lanes, VALUES.values(), strict=True):
        part = part_of(scene, f"p1/{lane.key}/p1/point")
        xs, ys = unpack(part.columns.x, "<f4"), unpack(part.columns.y, "<f4")
        assert xs == pytest.approx([along(scene, v) for v in values], abs=0.002)
        assert np.all((ys >= lane.start - 0.001) & (ys <= lane.end + 0.001)) and len(set(ys)) == len(ys)


def test_a_fence_handle_gives_back_its_value() -> None:
    scene = box_scene(VALUES, layers=[BoxLayer(id="b1", fence=Fence(k=2.0))])
    fences = [handle for handle in scene.handles if handle.role == "fence"]
    assert len(fences) == 4
    for handle in fences:
        assert (handle.at - handle.origin) / handle.unit == pytest.approx(2.0)
        assert handle.path == ["layers", 0, "fence", "k"]


def test_moving_a_fence_sends_the_same_points() -> None:
    def digests(k: float) -> set[str]:
        layers = [BoxLayer(id="b1", fence=Fence(k=k)), PointsLayer(id="p1")]
        scene = scene_of(box_recipe(layers=layers), many_values(400, 3))
        return {part.columns.digest for part in scene.walk() if isinstance(part, PointsPart) and part.role == "point"}

    assert digests(1.0) == digests(2.5)


def test_a_narrower_view_drops_nothing_from_the_numbers() -> None:
    whole, part = box_scene(VALUES), box_scene(VALUES, axis=Axis(start=0.0, end=15.0))
    assert [r.model_dump() for r in whole.readings] == [r.model_dump() for r in part.readings]
    assert [a.key for a in part.advice] == ["out-of-view"] and part.advice[0].text.startswith("2 values")
    assert not any(p.role == "outlier" for p in part.walk())


def test_keys_are_unique_and_layers_are_groups() -> None:
    scene = box_scene(VALUES, layers=[BoxLayer(id="b1", cap=0.5), PointsLayer(id="p1")], words=Words(title="T", source="S"))
    keys = [part.key for part in scene.walk()]
    assert len(keys) == len(set(keys))
    groups = [part for part in scene.parts if isinstance(part, GroupPart)]
    assert [g.layer for g in groups] == ["b1", "p1"]


def test_lanes_of_none_one_and_two_values() -> None:
    lanes = {"one": [5.0], "two": [4.0, 8.0], "equal": [6.0] * 9}
    scene = box_scene(lanes)
    assert [r.n for r in scene.readings] == [1, 2, 9]
    assert [r.sd for r in scene.readings] == [None, pytest.approx(2.8284271), 0.0]
    assert next(a for a in scene.advice if a.key == "few-values-box").text.startswith("one, two")


@pytest.mark.parametrize("size", [1, 60, 400])
def test_any_number_of_lanes_has_room(size: int) -> None:
    scene = box_scene({f"level {i}": [i + 0.5, i + 1.5, i + 2.5] for i in range(size)})
    assert len(scene.lanes) == size
    assert all(b.start >= a.end for a, b in pairwise(scene.lanes))
    assert scene.lanes[-1].end <= scene.height


def test_a_sheet_too_small_is_refused() -> None:
    with pytest.raises(InputError, match=r"too small|will not fit"):
        box_scene({f"a long level name {i}": [1.5, 2.5] for i in range(40)}, size=Size(width="40mm", height="15mm"))
    with pytest.raises(InputError, match=r"would run from 9 to 2"):
        box_scene(VALUES, axis=Axis(start=9.0, end=2.0))


def test_nothing_to_draw_says_so() -> None:
    scene = scene_of(box_recipe(keep=[OneOf(column="group", values=["nobody"])]), lanes_table(VALUES))
    assert (scene.lanes, scene.counts.kept) == ([], 0)
    assert [a.key for a in scene.advice] == ["no-rows"]


@pytest.mark.parametrize(
    ("start", "end", "labels"),
    [
        (0.0, 42.0, ["0", "10", "20", "30", "40"]),
        (-0.3, 0.3, ["−0.2", "0", "0.2"]),
        (0.0, 52_000.0, ["0", "10\u202f000", "20\u202f000", "30\u202f000", "40\u202f000", "50\u202f000"]),
        (0.0, 3e7, ["0", "1 × 10⁷", "2 × 10⁷", "3 × 10⁷"]),
        (1000.0, 4000.0, ["1000", "2000", "3000", "4000"]),
    ],
)
def test_ticks_are_few_and_round(start: float, end: float, labels: list[str]) -> None:
    result = ticks_of(start, end, 6)
    assert list(result.labels) == labels
    assert all(start <= value <= end for value in result.values)
