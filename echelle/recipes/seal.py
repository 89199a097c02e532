"""Sealing: everything a study keeps elsewhere goes into the recipe, so that recipe and file redraw the figure."""

from __future__ import annotations

from datetime import UTC, datetime

from echelle.recipes.models import Recipe, Style

HOUSE = Style()


def seal(recipe: Recipe, made: datetime, style: Style = HOUSE) -> Recipe:
    """The recipe with its style resolved, its preparation inside and its time, to the second in UTC."""
    return recipe.model_copy(
        update={
            "prepare": recipe.prepare or [],
            "made": made.astimezone(UTC).replace(microsecond=0),
            "style": style_of(recipe, style),
        }
    )


def style_of(recipe: Recipe, house: Style = HOUSE) -> Style:
    """The style that a recipe draws with."""
    return house if recipe.style == "house" else recipe.style


def schema() -> dict[str, object]:
    """The published JSON Schema of the recipe (draft 2020-12)."""
    text = Recipe.model_json_schema(by_alias=True)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **text, "title": "Echelle recipe, version 1"}
