"""Control lines on the figure: where they stand, where the lot changes, which values are ringed."""

from __future__ import annotations

import numpy as np
import pytest

from echelle.errors import InputError
from echelle.recipes.differences import Differences
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.control import ControlLayer
from echelle.render import scene_of
from echelle.scene.models import LinePart, PointsPart, Scene, TextPart, unpack
from tests.support.tables import table_of

RNG = np.random.default_rng(12)
VALUES = np.round(np.concatenate([RNG.normal(50, 1, 30), RNG.normal(60, 2, 30)]), 3)
VALUES[10], VALUES[45] = 58.0, 75.0
DAYS = [f"2026-{1 + i // 28:02d}-{1 + i % 28:02d}" for i in range(60)]
TABLE = table_of({"level": VALUES.tolist(), "lot": ["L1"] * 30 + ["L2"] * 30, "day": DAYS[::-1], "word": ["x", "y"] * 30})


def drawn(control: object = None, against: str | None = None, runs: str = "up", **settings: object) -> Scene:
    recipe = recipe_of_form("in-order", "level")
    layers = [layer.model_copy(update={"against": against}) if layer.layer == "points" else layer for layer in recipe.layers]
    layers.append(ControlLayer.model_validate({"id": "c1", **settings}))
    asked = Differences.model_validate({"control": control}) if control is not None else None
    axis = recipe.axis.model_copy(update={"runs": runs})
    return scene_of(recipe.model_copy(update={"layers": layers, "differences": asked, "axis": axis}), TABLE)


def of_layer(scene: Scene, role: str) -> list[LinePart]:
    return [part for part in scene.walk() if isinstance(part, LinePart) and part.layer == "c1" and part.role == role]


def heights(scene: Scene, lines: list[LinePart]) -> list[float]:
    scale = scene.panels[0].scale
    (v0, v1), (c0, c1) = scale.domain, scale.range
    return [v0 + (line.y1 - c0) / (c1 - c0) * (v1 - v0) for line in lines]


def ringed(scene: Scene) -> set[int]:
    rings = [part for part in scene.walk() if isinstance(part, PointsPart) and part.layer == "c1"]
    return {int(row) for part in rings for row in unpack(part.columns.rows, "<f8")}


def words(scene: Scene) -> list[str]:
    return [part.text for part in scene.walk() if isinstance(part, TextPart) and part.layer == "c1"]


def test_lines_stand_at_the_target_and_its_sds() -> None:
    scene = drawn({"target": {"mean": 55.0, "sd": 4.0}}, sds=[2.0])
    assert heights(scene, of_layer(scene, "line")) == pytest.approx([55.0], abs=0.01)
    assert sorted(heights(scene, of_layer(scene, "limit"))) == pytest.approx([47.0, 63.0], abs=0.01)
    assert "target 55, SD 4; dashed at 2 SD" in scene.note
    assert 46 in ringed(scene) and "1-3s" in " ".join(words(scene))


def test_each_lot_has_its_own_lines_and_a_mark_where_it_changes() -> None:
    scene = drawn({"target": {"first": 1, "last": 10}, "lots": "lot"})
    means = heights(scene, of_layer(scene, "line"))
    assert means == pytest.approx([VALUES[:10].mean(), VALUES[30:40].mean()], abs=0.02)
    assert len(of_layer(scene, "tick")) == 1 and {"L1", "L2"} <= set(words(scene))
    assert {11, 46} <= ringed(scene) and "each lot's values 1 to 10" in scene.note and "anew for each lot" in scene.note
    first, second = of_layer(scene, "line")
    assert first.x2 == second.x1 == of_layer(scene, "tick")[0].x1


def test_without_a_question_lines_stand_at_the_lanes_own_mean() -> None:
    scene = drawn()
    assert heights(scene, of_layer(scene, "line")) == pytest.approx([VALUES.mean()], abs=0.02)
    assert not [entry for entry in scene.advice if entry.key.startswith("c1/")]


def test_the_order_of_a_column_turns_lots_round() -> None:
    scene = drawn({"order": "day", "lots": "lot"}, against="day")
    first, second = of_layer(scene, "line")
    assert heights(scene, [first, second]) == pytest.approx([VALUES[30:].mean(), VALUES[:30].mean()], abs=0.02)
    assert not [entry for entry in scene.advice if entry.key == "c1/order"]
    other = drawn({"order": "day"})
    assert [entry.text for entry in other.advice if entry.key == "c1/order"] == [
        "Control lines count along day, where no points stand."
    ]


def test_warnings_and_words_can_be_left_away() -> None:
    loud = drawn({"target": {"mean": 52.0, "sd": 3.0}, "lots": "day"})
    quiet = drawn({"target": {"mean": 52.0, "sd": 3.0}, "lots": "day"}, warnings=False, words=False)
    assert ringed(quiet) < ringed(loud) and words(quiet) == []
    assert "1-2s" not in quiet.note


def test_lanes_across_have_them_too() -> None:
    scene = drawn({"target": "own", "lots": "lot"}, runs="across")
    assert all(line.x1 == line.x2 for line in of_layer(scene, "line")) and len(of_layer(scene, "line")) == 2


def test_a_lot_without_a_target_is_said_and_a_column_of_words_refused() -> None:
    scene = drawn({"target": {"first": 25, "last": 26}, "lots": "day"})
    assert [entry.key for entry in scene.advice if entry.key == "c1/target"] == ["c1/target"]
    with pytest.raises(InputError, match="“word” has no order") as fault:
        drawn({"order": "word"})
    assert fault.value.where == "$.differences.control.order"


@pytest.mark.parametrize("runs", ["up", "across"])
def test_no_name_of_a_rule_is_written_over_a_ring_or_another_name(runs: str) -> None:
    scene = drawn({"target": {"mean": 54.0, "sd": 3.0}, "lots": "lot"}, runs=runs)
    rings = [
        (x, y, part.size / 2)
        for part in scene.walk()
        if isinstance(part, PointsPart) and part.layer == "c1"
        for x, y in zip(unpack(part.columns.x, "<f4"), unpack(part.columns.y, "<f4"), strict=True)
    ]
    names = [part for part in scene.walk() if isinstance(part, TextPart) and part.layer == "c1" and "-" in part.text]
    assert len(names) >= 3 and len(rings) > 10
    for part in names:
        left, _, right, _ = part.box
        top, bottom = part.y - 0.7 * part.size, part.y
        over = [ring for ring in rings if left < ring[0] + ring[2] and ring[0] - ring[2] < right
                and top < ring[1] + ring[2] and ring[1] - ring[2] < bottom]  # fmt: skip
        assert not over, part.text
        # It stands beside the ring that it names.
        assert min(abs(x - (left + right) / 2) + abs(y - part.y) for x, y, _ in rings) < 25 + (right - left)
