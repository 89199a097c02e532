"""What the page offers is what the recipe takes: every option of every setting can be chosen and drawn."""

from __future__ import annotations

from typing import Any

import pytest

from echelle.figures.settings import LayerOffer, Setting, figure_options
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from tests.figures.test_sheets import TABLE

OFFERS = figure_options().layers


def with_value(offer: LayerOffer, setting: Setting, value: object) -> Recipe:
    """A recipe of one layer with one setting changed, through JSON as the page sends it."""
    layer: dict[str, Any] = offer.usual.model_dump(mode="json") | {"id": "x1"}
    place = layer
    if setting.path[0] == "whiskers":
        # A part that may be missing: its rule brings it and takes it away.
        layer["whiskers"] = None if value is None else layer["whiskers"] or {"rule": "quartiles", "k": 1.5, "of": "values"}
    for key in setting.path[:-1]:
        place = place[key]
    if place is not None:
        assert setting.path[-1] in place
        place[setting.path[-1]] = value
    if place is not None and str(value) in setting.reach:
        place["k"] = setting.reach[str(value)]
    recipe = recipe_of_form("box", "level", "group").model_dump(mode="json", by_alias=True)
    return Recipe.model_validate(recipe | {"layers": [layer]})


@pytest.mark.parametrize("offer", OFFERS, ids=[offer.layer for offer in OFFERS])
def test_every_option_can_be_chosen_and_drawn(offer: LayerOffer) -> None:
    for setting in offer.settings:
        values: list[object] = {
            "choice": list(setting.options), "amount": [setting.least, setting.most], "yes-no": [True, False],
            "column": ["subject", "site"], "number": [3.0], "text": ["3.5"], "texts": [[]], "numbers": [[0.1, 0.9]],
        }[setting.kind]  # fmt: skip
        if setting.path[-1] == "count":
            values = [3]
        for value in [*values, *([None] if setting.optional else [])]:
            scene = scene_of(with_value(offer, setting, value), TABLE)
            assert len(scene.readings) == 4 and scene.note.endswith(".")


def test_forms_are_offered_in_the_order_of_their_keys() -> None:
    result = figure_options()
    assert [form.form for form in result.forms] == list(FORMS)
    assert all(setting.meaning.endswith(".") and setting.name for offer in result.layers for setting in offer.settings)
    assert result.forms[5].groups_placed == "overlaid" and result.groups.placed == "evenly"


ARRIVALS = [(offer, stands) for offer in OFFERS for stands in offer.arrives]


@pytest.mark.parametrize(("offer", "stands"), ARRIVALS, ids=[f"{offer.layer} on {stands}" for offer, stands in ARRIVALS])
def test_a_layer_arrives_readable_on_what_is_there(offer: LayerOffer, stands: str) -> None:
    there = next(other for other in OFFERS if other.stands_as == stands)
    below = there.usual.model_dump(mode="json") | {"id": "t1"}
    above = offer.usual.model_dump(mode="json") | offer.arrives[stands] | {"id": "n1"}  # type: ignore[index]
    layers = sorted([(there.front, below), (offer.front, above)], key=lambda pair: pair[0])
    recipe = recipe_of_form("box", "level", "group").model_dump(mode="json", by_alias=True)
    scene = scene_of(Recipe.model_validate(recipe | {"layers": [layer for _, layer in layers]}), TABLE)
    drawn = {part.layer for part in scene.walk() if part.layer in ("t1", "n1")}
    assert drawn == {"t1", "n1"}
    # A shape that would hide the other is pale, thin or a line.
    usual = offer.usual.model_dump(mode="json")
    assert any(above[key] != usual[key] for key in ("fill", "width", "place", "spread", "side") if key in above)
