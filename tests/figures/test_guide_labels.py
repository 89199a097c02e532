"""Labels of guides stand outside the panel: flags over lanes that run across, tags at the right of lanes that run up."""

from __future__ import annotations

import re
from itertools import combinations, pairwise
from typing import Any

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from echelle.figures.geometry.guide_labels import Flag, Spot, flag_rows, spread_out
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.guides import FromMean, Guide, Percentile
from echelle.recipes.recipe import FormName
from echelle.recipes.style import Axis, Size
from echelle.render import scene_of
from echelle.scene.models import PathPart, Scene, TextPart
from tests.support.sheets import marks_stay_on_the_sheet, texts_keep_apart
from tests.support.tables import many_values, table_of

HIGH = 300.0
places = st.floats(0.0, HIGH).map(lambda at: round(at, 1))
flagged = st.lists(st.builds(Spot, places, st.floats(5.0, 130.0)), max_size=9)


def span(spot: Spot, flag: Flag) -> tuple[float, float]:
    """From where to where a text reaches."""
    return (spot.at - 3 - spot.width, spot.at - 3) if flag.leftwards else (spot.at + 3, spot.at + 3 + spot.width)


@settings(max_examples=400)
@given(spots=flagged)
@example(spots=[Spot(100, 50), Spot(100, 50), Spot(100, 50)])
@example(spots=[Spot(299, 40), Spot(299, 40), Spot(280, 120), Spot(20, 100)])
def test_no_flag_crosses_a_pole_or_a_text(spots: list[Spot]) -> None:
    flags = flag_rows(spots, HIGH)
    for (first, a), (second, b) in combinations(zip(spots, flags, strict=True), 2):
        (left, right), (start, end) = span(first, a), span(second, b)
        if a.row == b.row:
            assert right <= start or end <= left, (first, second)
        # A pole goes from the panel through the rows below its own.
        assert not (left < second.at < right and a.row <= b.row), (first, a, second, b)
        assert not (start < first.at < end and b.row <= a.row), (first, a, second, b)
    assert all(span(spot, flag)[1] <= HIGH for spot, flag in zip(spots, flags, strict=True))


@given(spots=flagged)
def test_flags_that_keep_apart_are_in_the_lowest_row(spots: list[Spot]) -> None:
    spread = [Spot(150.0 * i, min(spot.width, 100.0)) for i, spot in enumerate(spots)]
    assert flag_rows(spread, 2_000.0) == [Flag(0, False)] * len(spread)


@settings(max_examples=300)
@given(st.lists(st.tuples(st.floats(0, 100), st.floats(2, 15)), max_size=7))
def test_tags_move_as_little_as_keeps_them_apart(things: list[tuple[float, float]]) -> None:
    centres, heights = [centre for centre, _ in things], [height for _, height in things]
    result = spread_out(centres, heights, 0.0, 120.0)
    order = sorted(range(len(things)), key=lambda i: centres[i])
    for first, second in pairwise(order):
        assert result[first] + heights[first] / 2 <= result[second] - heights[second] / 2 + 1e-9
    for i, centre in enumerate(result):
        assert centre - heights[i] / 2 >= -1e-9 and centre + heights[i] / 2 <= 120 + 1e-9
    free = [min(max(c, h / 2), 120 - h / 2) for c, h in things]
    touching = [abs(free[i] - free[j]) < (heights[i] + heights[j]) / 2 for i, j in combinations(range(len(things)), 2)]
    if not any(touching):
        assert result == pytest.approx(free)


def test_equal_tags_spread_evenly_about_their_place() -> None:
    assert spread_out([50, 50, 50], [10, 10, 10], 0, 100) == [40, 50, 60]
    assert spread_out([98, 99], [10, 10], 0, 100) == [85, 95]
    assert spread_out([1, 50], [10, 10], 0, 100) == [5, 50]


LABELS = ["reference interval 5–10 nmol/L", "limit", "median of all", "mean ± 2 SD", "95 %"]
GUIDES = [
    Guide(band=(5, 10), label=LABELS[0]),
    Guide(at=11, label=LABELS[1]),
    Guide(at="median", label=LABELS[2]),
    Guide(band=(FromMean(sds=-2), FromMean(sds=2)), label=LABELS[3]),
    Guide(at=Percentile(percentile=95), label=LABELS[4]),
]
TABLE = many_values(240, 4)
PANELLED = table_of(
    {
        "group": [f"group {i % 3}" for i in range(90)],
        "site": [("Harbour", "Ridge", "Valley")[i // 3 % 3] for i in range(90)],
        "level": [f"{3 + i % 13 + i % 7 / 10:.1f}" for i in range(90)],
    }
)


def figure(form: FormName, runs: str, **update: Any) -> Scene:
    recipe = recipe_of_form(form, "level", "group").model_copy(update={"axis": Axis(runs=runs), "guides": GUIDES, **update})  # type: ignore[arg-type]
    return scene_of(recipe, TABLE)


def labels(scene: Scene) -> dict[str, list[TextPart]]:
    """Lines of the labels, by the guide's layer and the panel."""
    result: dict[str, list[TextPart]] = {}
    for part in scene.walk():
        if isinstance(part, TextPart) and part.role == "guide-label":
            result.setdefault(f"{part.layer} {part.panel}", []).append(part)
    return result


def poles(scene: Scene) -> dict[str, list[tuple[float, float]]]:
    """Corners of what joins each label to its guide."""
    return {
        part.layer: [(float(x), float(y)) for x, y in re.findall(r"([\d.]+) ([\d.]+)", part.d)]
        for part in scene.walk()
        if isinstance(part, PathPart) and part.role == "guide"
    }


@pytest.mark.parametrize("runs", ["across", "up"])
@pytest.mark.parametrize("form", [form for form in FORMS if form not in ("stem", "counts")])
def test_every_label_is_there_and_over_no_mark(form: FormName, runs: str) -> None:
    scene = figure(form, runs, axis=Axis.model_validate({"runs": runs, "from": 0, "to": 30}))
    texts_keep_apart(scene)
    marks_stay_on_the_sheet(scene)
    shown = labels(scene)
    assert sorted(" ".join(part.text for part in parts) for parts in shown.values()) == sorted(LABELS)
    left, top, width, height = scene.panels[0].box
    for part in (part for parts in shown.values() for part in parts):
        x0, y0, x1, y1 = part.box
        assert y1 <= top + 0.3 * part.size or x0 >= left + width or y0 >= top + height or x1 <= left, part.text


@pytest.mark.parametrize("runs", ["across", "up"])
def test_a_pole_leads_from_its_guide_to_its_label(runs: str) -> None:
    scene = figure("box", runs)
    scale, side = scene.panels[0].scale, 0 if runs == "across" else 1
    (v0, v1), (c0, c1) = scale.domain, scale.range

    def along(value: float) -> float:
        return c0 + (value - v0) / (v1 - v0) * (c1 - c0)

    joined = poles(scene)
    assert set(joined) == {f"guide{n + 1}" for n in range(5)}
    assert joined["guide2"][0][side] == pytest.approx(along(11), abs=0.02)
    bracket = [corner[side] for corner in joined["guide1"][:2]]
    assert bracket == pytest.approx([along(5), along(10)], abs=0.02)
    for layer, parts in labels(scene).items():
        end = joined[layer.split()[0]][-1]
        x0, y0, x1, y1 = (f([part.box[i] for part in parts]) for i, f in ((0, min), (1, min), (2, max), (3, max)))
        assert (x0 - 6 <= end[0] <= x1 + 6) and (y0 - 2 <= end[1] <= y1 + 2), layer


@pytest.mark.parametrize(("scales", "runs", "times"), [("one", "across", 1), ("each-its-own", "across", 3), ("one", "up", 3)])
def test_panels_that_share_an_axis_share_its_labels(scales: str, runs: str, times: int) -> None:
    recipe = recipe_of_form("box", "level", "group")
    panels = recipe.panels.model_validate({"down": {"column": "site"}, "scales": scales})
    update = {"panels": panels, "axis": Axis(runs=runs), "guides": GUIDES[:2], "size": Size(height="160mm")}  # type: ignore[arg-type]
    scene = scene_of(recipe.model_copy(update=update), PANELLED)
    texts_keep_apart(scene)
    assert len(labels(scene)) == 2 * times
    assert scene.height == pytest.approx(160 / 25.4 * 72)


def test_guides_out_of_view_take_no_room_and_labels_wrap_in_a_narrow_sheet() -> None:
    recipe = recipe_of_form("box", "level", "group").model_copy(update={"axis": Axis(runs="up", end=20)})
    bare = scene_of(recipe, TABLE).panels[0].box
    far = scene_of(recipe.model_copy(update={"guides": [Guide(at=500, label="far away")]}), TABLE)
    assert far.panels[0].box == bare and labels(far) == {}
    narrow = scene_of(recipe.model_copy(update={"guides": GUIDES, "size": Size(width="85mm")}), TABLE)
    texts_keep_apart(narrow)
    assert len(labels(narrow)) == 5


@pytest.mark.parametrize("runs", ["across", "up"])
def test_where_many_guides_have_no_room_the_last_go_without_a_name_and_it_is_said(runs: str) -> None:
    many = [Guide(at=3 + n / 2, label=f"limit of kind {n}") for n in range(30)]
    scene = figure("box", runs, guides=many, size=Size(height="60mm"))
    texts_keep_apart(scene)
    named = sorted(int(layer.split()[0].removeprefix("guide")) for layer in labels(scene))
    assert named == list(range(1, len(named) + 1)) and 2 < len(named) < 30
    [advice] = [entry for entry in scene.advice if entry.key == "guides/named"]
    assert f"No room to name {30 - len(named)} guides: limit of kind {len(named)}, " in advice.text
    assert not [entry for entry in figure("box", runs).advice if entry.key == "guides/named"]


def test_each_lanes_own_guide_is_named_once_from_the_lane_at_the_edge() -> None:
    own = [Guide(at="mean", own=True, label="mean of each")]
    for runs, edge in (("across", 0), ("up", -1)):
        scene = figure("box", runs, guides=own)
        assert [part.text for parts in labels(scene).values() for part in parts] == ["mean of each"]
        scale, side = scene.panels[0].scale, 0 if runs == "across" else 1
        (v0, v1), (c0, c1) = scale.domain, scale.range
        mean = {entry.lane: entry.mean for entry in scene.readings}[scene.lanes[edge].key]
        assert mean is not None
        assert poles(scene)["guide1"][0][side] == pytest.approx(c0 + (mean - v0) / (v1 - v0) * (c1 - c0), abs=0.02)


@pytest.mark.parametrize("runs", ["across", "up"])
def test_a_groups_guide_is_named_in_its_strip_off_other_guides_lines_where_it_can(runs: str) -> None:
    group = [Guide(band=(5, 10), label="of two", group="group 2"), Guide(at=12, label="limit")]
    scene = figure("box", runs, guides=group)
    (name,) = labels(scene)["guide1 p1"]
    lane = next(entry for entry in scene.lanes if entry.group == "group 2")
    x0, y0, x1, y1 = name.box
    low, high = (y0, y1) if runs == "across" else (x0, x1)
    assert lane.start - 1 <= low and high <= lane.end + 1
    scale = scene.panels[0].scale
    (v0, v1), (c0, c1) = scale.domain, scale.range
    at = c0 + (12 - v0) / (v1 - v0) * (c1 - c0)
    assert not (x0 < at < x1 if runs == "across" else y0 + 2 < at < y1 - 2)
