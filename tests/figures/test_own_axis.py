"""Figures of counts and of stems, whose axis is their own whatever the measure's is told to be."""

from __future__ import annotations

from typing import Any

import pytest

from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.recipes.forms import FORMS, in_form, recipe_of_form
from echelle.recipes.layers.counts import CountsLayer
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of, scene_of_lanes
from echelle.scene.models import RectPart, Scene
from tests.support.tables import lanes_table, table_of
from tests.support.texts import texts

TABLE = lanes_table({"a": [0.5, 2.0, 8.0, 64.0, 900.0] * 9, "b": [1.5, 3.0, 20.0, 40.0] * 5})
BAND = {"band": [2.0, 10.0], "label": "usual range"}
OF_THE_MEASURE: list[dict[str, Any]] = [
    *({"axis": {"scale": scale}} for scale in ("log10", "ln", "square-root")),
    {"axis": {"from": 2.0, "to": 9.0}},
    {"axis": {"ticks": [3.0, 7.0], "decimals": 2}},
    {"guides": [BAND]},
    {"words": {"measure": "Level at waking"}},
]


def told(recipe: Recipe, **change: dict[str, Any] | list[Any]) -> Recipe:
    """The recipe with some of its parts changed, through JSON as the page sends it."""
    plain = recipe.model_dump(mode="json", by_alias=True)
    for part, value in change.items():
        plain[part] = plain[part] | value if isinstance(value, dict) else value
    return Recipe.model_validate(plain)


def counts(**change: dict[str, Any] | list[Any]) -> Scene:
    return scene_of(told(recipe_of_form("counts", "level", "group"), **change), TABLE)


def drawn(scene: Scene) -> dict[str, Any]:
    return scene.model_dump(exclude={"readings"})


def labels(scene: Scene, role: str = "axis-label") -> list[str]:
    return [part.text for part in texts(scene) if part.role == role]


@pytest.mark.parametrize("change", OF_THE_MEASURE, ids=str)
def test_what_was_said_of_the_measure_leaves_counts_as_they_are(change: dict[str, Any]) -> None:
    plain = counts()
    assert drawn(counts(**change)) == drawn(plain)
    assert labels(plain, "axis-title") == ["number of rows"] and plain.panels[0].scale.domain[0] == 0.0
    # It is the measure's: another form of the same recipe shows it, and so does the ledger.
    box = told(recipe_of_form("box", "level", "group"), **change)
    assert drawn(scene_of(box, TABLE)) != drawn(scene_of(recipe_of_form("box", "level", "group"), TABLE))
    assert scene_of(in_form(in_form(box, "counts"), "box"), TABLE) == scene_of(box, TABLE)


def test_a_guide_still_counts_in_the_ledger() -> None:
    of_box = scene_of(told(recipe_of_form("box", "level", "group"), guides=[BAND]), TABLE)
    assert counts(guides=[BAND]).readings == of_box.readings


def test_counts_have_ends_and_words_of_their_own() -> None:
    scene = counts(second_axis={"to": 90.0}, words={"counts": "samples drawn"})
    assert scene.panels[0].scale.domain == (0.0, 90.0) and labels(scene, "axis-title") == ["samples drawn"]
    ends = [handle for handle in scene.handles if handle.role == "axis-end"]
    assert [handle.path for handle in ends] == [["second_axis", "from"], ["second_axis", "to"]]
    [advice] = [entry for entry in counts(second_axis={"from": 10.0}).advice if entry.key.endswith("/zero")]
    assert advice.remedies[0].changes[0].path == ["second_axis", "from"] and advice.remedies[0].changes[0].value is None


@pytest.mark.parametrize("scale", ["log10", "ln", "square-root"])
@pytest.mark.parametrize("miniature", [True, False])
def test_stems_stand_at_even_steps_whatever_the_scale(scale: str, miniature: bool) -> None:
    plain = recipe_of_form("stem", "level", "group")
    bent = told(plain, axis={"scale": scale})
    lanes = arrange(plain, TABLE)
    assert scene_of_lanes(bent, lanes, miniature) == scene_of_lanes(plain, lanes, miniature)
    # Beside other layers they follow the axis: then nothing of them is drawn, said or claimed, and one step mends it.
    beside = bent.model_copy(update={"layers": [*bent.layers, *recipe_of_form("box", "level").layers]})
    scene = scene_of_lanes(beside, lanes)
    [advice] = [entry for entry in scene.advice if entry.key == "s1/scale"]
    assert "stem" not in scene.note.lower() and not any(part.role == "stem" for part in scene.walk())
    [change] = advice.remedies[0].changes
    mended = scene_of_lanes(told(beside, axis={change.path[1]: change.value}), lanes)
    assert "Stem and leaf" in mended.note and any(part.role == "stem" for part in mended.walk())


@pytest.mark.parametrize("form", [form for form in FORMS if form != "counts"])
def test_counts_beside_values_are_refused_until_one_is_hidden(form: str) -> None:
    recipe = recipe_of_form(form, "level", "group")  # type: ignore[arg-type]
    [extra] = recipe_of_form("counts", "level").layers
    both = recipe.model_copy(update={"layers": [*recipe.layers, extra]})
    with pytest.raises(InputError, match="cannot share an axis") as caught:
        scene_of(both, TABLE)
    assert caught.value.where == f"$.layers[{len(recipe.layers)}]"
    hidden = [layer.model_copy(update={"shown": False}) for layer in recipe.layers]
    alone = scene_of(recipe.model_copy(update={"layers": [*hidden, extra]}), TABLE)
    assert labels(alone, "axis-title") == ["number of rows"]


def counted(**layer: object) -> Scene:
    table = table_of(
        {"arm": ["a"] * 6 + ["b"] * 4, "sex": ["f", "f", "f", "m", "m", "m", "f", "m", "m", "m"], "level": [1.5] * 10}
    )
    recipe = recipe_of_form("counts", "level", "arm", "sex")
    return scene_of(recipe.model_copy(update={"layers": [CountsLayer.model_validate({"id": "n1", **layer})]}), table)


def bars(scene: Scene) -> dict[str, float]:
    """The length of each bar on its axis, by lane."""
    (low, high), (start, end) = scene.panels[0].scale.domain, scene.panels[0].scale.range
    names = {lane.key: lane.name for lane in scene.lanes}
    rects = [part for part in scene.walk() if isinstance(part, RectPart) and part.role == "count"]
    return {names[part.lane]: round(part.width / (end - start) * (high - low), 2) for part in rects}


def test_bars_in_per_cent_add_to_a_hundred_in_each_group_or_over_all() -> None:
    of_groups = bars(counted(height="percent"))
    assert of_groups == {"a · f": 50.0, "a · m": 50.0, "b · f": 25.0, "b · m": 75.0}
    of_all = counted(height="percent", percent_of="all")
    assert bars(of_all) == {"a · f": 30.0, "a · m": 30.0, "b · f": 10.0, "b · m": 30.0}
    assert "per cent of all" in of_all.note and labels(of_all, "axis-title") == ["% of all rows"]


@pytest.mark.parametrize(
    ("shown", "expected"), [("count", ["1", "3", "3", "3"]), ("percent", ["25 %", "50 %", "50 %", "75 %"])]
)
def test_numbers_on_bars(shown: str, expected: list[str]) -> None:
    assert sorted(labels(counted(labels=shown), "count-label")) == expected


def test_bins_of_whole_numbers_stand_about_them() -> None:
    values = [0, 1, 1, 2, 2, 2, 3, 3, 4, 5, 7, 2, 3, 1, 0, 2]
    scene = scene_of(recipe_of_form("histogram", "level", "group"), lanes_table({"a": [float(v) for v in values]}))
    (low, high), (start, end) = scene.panels[0].scale.domain, scene.panels[0].scale.range
    rects = [part for part in scene.walk() if isinstance(part, RectPart) and part.role == "bin"]
    middles = [low + (part.x + part.width / 2 - start) / (end - start) * (high - low) for part in rects]
    assert all(abs(2 * middle - round(2 * middle)) < 0.01 for middle in middles)
    assert "about whole numbers" in scene.note
    decimal = scene_of(recipe_of_form("histogram", "level", "group"), lanes_table({"a": [v + 0.25 for v in values]}))
    assert "about whole numbers" not in decimal.note
