"""Numbers on the sheet: level with their lanes, the same that the readings hold, and off every other mark."""

from __future__ import annotations

from typing import get_args

import pytest

from echelle.errors import InputError
from echelle.recipes.guides import Guide
from echelle.recipes.layers.series import SeriesLayer
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import Axis, Ledger, Reading, Size
from echelle.render import scene_of
from echelle.scene.models import Scene, TextPart
from tests.support.sheets import texts_keep_apart
from tests.support.tables import box_recipe, lanes_table

TABLE = lanes_table({"day": [1.5, 2.5, 3.5, 4.5, 9.5], "night": [-2.25, 0.5, 1.75, 3.0], "none": []})


def drawn(**update: object) -> Recipe:
    ledger = Ledger.model_validate({"drawn": True, **update})
    return box_recipe(ledger=ledger, size=Size(width="174mm"))


def cells(scene: Scene) -> dict[str, list[str]]:
    """The texts of each lane, from left to right."""
    names = {lane.key: lane.group or "" for lane in scene.lanes}
    result: dict[str, list[tuple[float, str]]] = {}
    for part in scene.walk():
        if isinstance(part, TextPart) and part.role == "ledger":
            result.setdefault(names[part.lane], []).append((part.x, part.text))
    return {name: [text for _, text in sorted(line)] for name, line in result.items()}


def test_numbers_stand_level_with_their_lanes_under_their_headings() -> None:
    scene = scene_of(drawn(readings=["n", "median", "mean and SD", "range"]), TABLE)
    assert cells(scene) == {
        "day": ["5", "3.50", "4.30 ± 3.11", "1.50 – 9.50"], "night": ["4", "1.13", "0.75 ± 2.25", "−2.25 to 3.00"],
    }  # fmt: skip
    headings = [part for part in scene.walk() if isinstance(part, TextPart) and part.role == "ledger-heading"]
    assert [part.text for part in headings] == ["n", "Median", "Mean ± SD", "Range"]
    frame = scene.panels[0].box
    lanes = {lane.key: (lane.start + lane.end) / 2 for lane in scene.lanes}
    for part in scene.walk():
        if isinstance(part, TextPart) and part.role == "ledger":
            low, high = part.box[1], part.box[3]
            assert low < lanes[part.lane] < high and part.box[0] > frame[0] + frame[2]
            assert part.box[2] <= scene.width
    texts_keep_apart(scene)


def test_every_reading_has_a_column_and_differences_stand_after_them() -> None:
    recipe = drawn(readings=list(get_args(Reading)), reference="day", shares=["3"]).model_copy(
        update={"size": Size(width="500mm"), "guides": [Guide(band=(1, 3), label="target")]}
    )
    line = SeriesLayer(id="s1", through="least squares")
    recipe = recipe.model_copy(update={"layers": [*recipe.layers, line]})
    lines = cells(scene_of(recipe, TABLE))
    assert len(lines["day"]) == len(get_args(Reading)) + 2
    assert lines["day"][-5] == "2 · 40 %" and lines["day"][-2:] == ["ref.", "ref."]
    assert lines["night"][-2:] == ["−2.38", "−3.55"]


def test_figures_that_ask_for_none_have_none() -> None:
    assert cells(scene_of(drawn().model_copy(update={"ledger": Ledger()}), TABLE)) == {}


def test_under_lanes_that_run_up_numbers_stand_in_lines_under_their_names() -> None:
    asked = drawn(readings=["n", "median", "mean and SD"])
    scene = scene_of(asked.model_copy(update={"axis": Axis(runs="up")}), TABLE)
    lanes = {lane.key: (lane.start + lane.end) / 2 for lane in scene.lanes}
    names = [part for part in scene.walk() if isinstance(part, TextPart) and part.role in ("lane-label", "lane-count")]
    numbers = [part for part in scene.walk() if isinstance(part, TextPart) and part.role == "ledger"]
    assert (
        len(numbers) == 3 * len(scene.lanes) and min(part.box[1] for part in numbers) > max(part.box[3] for part in names) - 3
    )
    for part in numbers:
        assert (part.box[0] + part.box[2]) / 2 == pytest.approx(lanes[part.lane], abs=0.1)
    assert [part.text for part in sorted(numbers, key=lambda part: part.y) if part.lane == numbers[0].lane] == [
        "5", "3.50", "4.30 ± 3.11",
    ]  # fmt: skip
    texts_keep_apart(scene)


def test_a_sheet_without_room_for_the_numbers_is_refused() -> None:
    with pytest.raises(InputError, match="too small"):
        scene_of(drawn(readings=list(get_args(Reading))).model_copy(update={"size": Size(width="60mm")}), TABLE)
