"""The decimal mark of a figure stands in every number on it: axes, ledger, labels, words with places."""

from __future__ import annotations

import re

import pytest

from echelle.figures.settings import figure_options
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.guides import FromMean, Guide, Percentile
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.style import Axis, Ledger, Size, Words
from echelle.render import scene_of
from echelle.scene.models import TextPart
from tests.support.tables import lanes_table

TABLE = lanes_table(
    {
        "day": [1.5, 2.5, 3.25, 4.5, 9.5, 2.75, 3.5], "night": [0.25, 0.5, 1.75, 3.0, 2.25, 4.5],
        "late": [1.25, 6.5, 2.5, 3.75, 5.5],
    }
)  # fmt: skip
READINGS = [
    "n",
    "median",
    "mean and SD",
    "SE",
    "CV",
    "quartiles",
    "range",
    "fences",
    "skewness",
    "in guides",
    "slope",
    "shares",
]
AROUND = {
    "axis": Axis(decimal_mark="comma", decimals=2), "ledger": Ledger(drawn=True, readings=READINGS, reference="day"),  # type: ignore[arg-type]
    "words": Words(title="median {median: day}, mean {mean: night}", measure="v. 2"),
    "size": Size(width="400mm", height="300mm"),
    "guides": [
        Guide(at=2.5, label="limit"), Guide(at=FromMean(sds=1.5), valued=True),
        Guide(band=(Percentile(percentile=2.5), 3.5), valued=True),
    ],
}  # fmt: skip


def numbers_on(recipe: Recipe) -> list[str]:
    """Texts of the figure with a decimal in them, by either mark."""
    texts = [part.text for part in scene_of(recipe, TABLE).walk() if isinstance(part, TextPart)]
    return [text for text in texts if re.search(r"\d[.,]\d", text)]


@pytest.mark.parametrize("form", FORMS)
def test_every_number_of_a_form_has_the_mark(form: FormName) -> None:
    shown = numbers_on(recipe_of_form(form, "level", "group").model_copy(update=AROUND))
    assert len(shown) > 3 and not [text for text in shown if re.search(r"\d\.\d", text)]


@pytest.mark.parametrize("layer", [offer.layer for offer in figure_options().layers if offer.layer != "counts"])
def test_every_number_of_a_layer_has_the_mark(layer: str) -> None:
    box = recipe_of_form("box", "level", "group")
    layers = [{"layer": "box", "id": "b1"}, {"layer": layer, "id": "x1"}]
    recipe = Recipe.model_validate(box.model_dump(by_alias=True) | {"layers": layers})
    shown = numbers_on(recipe.model_copy(update=AROUND))
    assert len(shown) > 3 and not [text for text in shown if re.search(r"\d\.\d", text)]


def test_words_of_others_are_left_as_they_are() -> None:
    recipe = recipe_of_form("box", "level", "group").model_copy(update=AROUND)
    named = recipe.model_copy(update={"words": Words(title="v. 2.1", measure="pH 7.4 {median: day}")})
    shown = numbers_on(named)
    assert "v. 2.1" in shown and "pH 7.4 3,25" in shown
