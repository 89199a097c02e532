"""The recipe: paths of faults, sealing, changes in words, and a clause for every setting."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest

from echelle.errors import InputError
from echelle.figures.layers.registry import layers
from echelle.recipes.changes import change_words
from echelle.recipes.default_recipe import default_recipe
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.guides import Guide
from echelle.recipes.layers import LAYER_MODELS
from echelle.recipes.layers.base import Fence
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.parse import recipe_from, recipe_text
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Groups, Levels, Panels, Subgroups
from echelle.recipes.seal import schema, seal
from echelle.recipes.settings import info_of
from echelle.recipes.style import Axis, MethodNote, OwnLook, ReaderKey, Style, Words, points
from echelle.tables.column_summary import ColumnSummary
from echelle.tables.steps.conditions import OneOf

MINIMAL = {"echelle": 1, "measure": {"columns": ["x"]}, "layers": [{"id": "b1", "layer": "box"}]}


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"layer": []}, "$.layer"),
        ({"layers": [{"id": "b1", "layer": "box", "fence": {"reach": 2}}]}, "$.layers[0].fence.reach"),
        ({"layers": [{"id": "b1", "layer": "box", "fence": {"k": -1}}]}, "$.layers[0].fence.k"),
        ({"layers": [{"id": "b1", "layer": "cake"}]}, "$.layers[0]"),
        *(
            ({"layers": [{"id": "b1", "layer": m.kind(), name: {"no": "such"}}]}, f"$.layers[0].{name}")
            for m in LAYER_MODELS
            for name in m.model_fields
            if name not in ("layer", "fence", "whiskers", "bandwidth")
        ),
        ({"layers": [{"id": "a", "layer": "box"}, {"id": "a", "layer": "points"}]}, "$.layers"),
        ({"style": {"ink": "red"}}, "$.style.ink"),
        ({"size": {"width": "174"}}, "$.size.width"),
        ({"keep": [{"column": "a", "is": []}]}, "$.keep[0].is"),
        ({"axis": {"from": float("inf")}}, "$.axis.from"),
        ({"prepare": [{"step": "later"}]}, "$.prepare[0]"),
    ],
)
def test_a_fault_is_named_by_its_path(change: dict[str, object], path: str) -> None:
    with pytest.raises(InputError) as caught:
        recipe_from({**MINIMAL, **change}, "r.json")
    assert caught.value.where == f"r.json {path}"


def test_text_that_is_no_json_is_named_by_line() -> None:
    with pytest.raises(InputError) as caught:
        recipe_from(b'{"echelle": 1,\n oops}', "r.json")
    assert "line 2" in caught.value.where


def test_text_and_back() -> None:
    recipe = recipe_of_form("box", "cortisol", "ward")
    recipe = recipe.model_copy(update={"keep": [OneOf(column="a", values=["b"])], "axis": Axis(start=1.0)})
    assert recipe_from(recipe_text(recipe)) == recipe
    assert b'"is"' in recipe_text(recipe) and b'"from"' in recipe_text(recipe)


def test_sealing_resolves_style_and_time() -> None:
    sealed = seal(recipe_of_form("box", "x"), datetime(2026, 3, 4, 5, 6, 7, 890, UTC))
    assert isinstance(sealed.style, Style) and sealed.prepare == []
    assert recipe_from(recipe_text(sealed)) == sealed
    assert sealed.made == datetime(2026, 3, 4, 5, 6, 7, tzinfo=UTC)


def test_lengths() -> None:
    assert points("25.4mm") == points("2.54cm") == points("1in") == points("72pt") == pytest.approx(72)
    with pytest.raises(ValueError, match="174mm"):
        points("174")


def test_every_setting_of_every_layer_has_a_meaning() -> None:
    assert set(layers()) == {model.kind() for model in LAYER_MODELS}
    for model in LAYER_MODELS:
        for name, field in model.model_fields.items():
            if name not in ("id", "layer"):
                assert info_of(field).meaning.endswith("."), (model, name)


@pytest.mark.parametrize(("before", "now"), [("grey", "grey print"), ("one hue", "one colour"), ("paper", "paper")])
def test_looks_of_recipes_of_before_are_read_by_their_present_names(before: str, now: str) -> None:
    old = recipe_of_form("box", "cortisol", "ward").model_dump(mode="json") | {"style": before}
    assert recipe_from(old).style == now


def test_a_look_that_does_not_exist_is_refused_at_its_place() -> None:
    wrong = recipe_of_form("box", "cortisol", "ward").model_dump(mode="json") | {"style": "neon"}
    with pytest.raises(InputError, match=r"'house', 'paper'.*\(1 more fault\)") as refused:
        recipe_from(wrong)
    assert refused.value.where == "$.style"


def test_the_schema_names_every_layer() -> None:
    known = schema()["$defs"]
    assert isinstance(known, dict)
    assert {model.__name__ for model in LAYER_MODELS} <= set(known)


def changed(**update: object) -> Recipe:
    return recipe_of_form("box", "cortisol", "ward").model_copy(update=update)


@pytest.mark.parametrize(
    ("new", "words"),
    [
        (changed(), "no change"),
        (changed(layers=[BoxLayer(id="b1", fence=Fence(k=2.0))]), "fence 1.5 → 2"),
        (changed(layers=[BoxLayer(id="b1"), PointsLayer(id="p1")]), "+ points"),
        (changed(layers=[PointsLayer(id="p1")]), "+ points"),
        (changed(axis=Axis(runs="up")), "lanes run across → up"),
        (changed(axis=Axis(start=0.0)), "axis from 0"),
        (changed(keep=[OneOf(column="sample", values=["Waking", "Noon"])]), "keeping sample = Waking, Noon"),
        (recipe_of_form("box", "cortisol", "shift"), "groups: shift"),
        (recipe_of_form("box", "age", "ward"), "measure: age"),
        (recipe_of_form("box", "cortisol"), "no groups"),
        (changed(layers=[BoxLayer(id="b1", shown=False)]), "layer hidden"),
        (changed(style="slides"), "look: slides"),
        (changed(words=Words(credit="Laboratory *of* the demo")), "credit: Laboratory of the demo"),
        (changed(words=Words(key=ReaderKey(placed="below"))), "reader's key: below"),
        (changed(words=Words(note=MethodNote(under=True))), "note under the figure on"),
        (changed(own_look=OwnLook(typeface="Inter", rulings=False)), "typeface Inter; rulings off"),
        (changed(groups=Groups(column="ward", labels={"Ridge": "Ward R"})), "Ridge named Ward R"),
        (changed(groups=Groups(column="ward", order=["Ridge"])), "order changed"),
    ],
)
def test_changes_in_words(new: Recipe, words: str) -> None:
    assert change_words(changed(), new) == words


@pytest.mark.parametrize(
    ("new", "there", "back"),
    [
        (changed(guides=[Guide(at=7.0, label="limit")]), "+ guide limit", "− guide limit"),
        (changed(subgroups=Subgroups(column="sex")), "split by sex", "not split"),
        (changed(panels=Panels(wrapped=Levels(column="site"))), "a panel per site", "one panel"),
        (changed(words=Words(title="T")), "title: T", "usual title"),
        (changed(axis=Axis(start=2.5)), "axis from 2.5", "usual axis from"),
        (
            changed(own_look=OwnLook(weight=2.0, rulings=False)),
            "line weight 2; rulings off",
            "usual line weight; usual rulings",
        ),
        (changed(own_look=OwnLook(level_colours={"ward": {"Ridge": "#123456"}})), "colours changed", "usual colours"),
        (changed(layers=[BoxLayer(id="b1"), PointsLayer(id="p1", shown=False)]), "+ points", "box"),
        (changed(keep=[OneOf(column="sample", values=["Noon"])]), "keeping sample = Noon", "keeping all rows"),
    ],
)
def test_a_change_and_its_way_back_in_words(new: Recipe, there: str, back: str) -> None:
    assert (change_words(changed(), new), change_words(new, changed())) == (there, back)


def test_of_several_guides_the_one_that_changed_is_named() -> None:
    two = [Guide(at=7.0, label="limit"), Guide(band=(1.0, 2.0), label="target")]
    other = [two[0], two[1].model_copy(update={"band": (1.0, 3.0)})]
    assert change_words(changed(guides=two), changed(guides=other)) == "guide target"
    assert change_words(changed(guides=two), changed(guides=two[1:])) == "− guide limit"


def column(name: str, kind: str, distinct: int, unit: str | None = None) -> ColumnSummary:
    return ColumnSummary(
        name=name,
        unit=unit,
        kind=kind,
        missing=0,
        censored=0,
        distinct=distinct,
        levels=[],
        bars=[],
        min=1.0,
        max=float(distinct),
    )


def test_a_table_begins_with_its_finest_measure_across_its_first_small_category() -> None:
    columns = [
        column("who", "identifier", 90), column("done", "yes/no", 2), column("site", "category", 40),
        column("colour", "category", 3), column("visit", "measure", 4), column("level", "measure", 80),
    ]  # fmt: skip
    recipe = default_recipe(columns)
    assert recipe.measure.columns == ["level"]
    assert recipe.groups is not None and recipe.groups.column == "colour"
    assert default_recipe(columns[4:]).groups is None
    assert default_recipe(
        [*columns, column("minute", "measure", 90), column("glucose", "measure", 60, "mmol/L")]
    ).measure.columns == ["glucose"]
    counts = default_recipe(columns[:4])
    assert [layer.layer for layer in counts.layers] == ["counts"] and counts.groups is not None


def test_a_wide_table_begins_with_all_its_columns() -> None:
    lots = [column(f"Lot {i}", "measure", 30, "s") for i in range(4)]
    assert default_recipe(lots).measure.columns == [lot.name for lot in lots]
    assert default_recipe([*lots, column("age", "measure", 30, "years")]).measure.columns == [lot.name for lot in lots]
    several = [column("Lot", "measure", 30, "s"), column("mass", "measure", 30, "g")]
    assert len(default_recipe(several).measure.columns) == 1


def test_a_recipe_of_an_earlier_release_is_upgraded_step_by_step(monkeypatch: pytest.MonkeyPatch) -> None:
    data = recipe_of_form("box", "level", "ward").model_dump(mode="json")
    old = {**data, "echelle": -1, "value": "level"}
    del old["measure"]

    def to_zero(recipe: dict) -> dict:
        return {**{k: v for k, v in recipe.items() if k != "value"}, "measures": [recipe["value"]]}

    def to_one(recipe: dict) -> dict:
        return {**{k: v for k, v in recipe.items() if k != "measures"}, "measure": {"columns": recipe["measures"]}}

    monkeypatch.setattr("echelle.recipes.upgrade.UPGRADES", {-1: to_zero, 0: to_one})
    assert recipe_from(old) == recipe_from(data)
    with pytest.raises(InputError, match="newer release"):
        recipe_from(data | {"echelle": 2})
