"""Sealing: everything a study keeps elsewhere goes into the recipe, so that recipe and file redraw the figure."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime

from echelle.recipes.recipe import Recipe
from echelle.recipes.style import LOOKS, OwnLook, Style
from echelle.tables.reading.options import USUAL, ReadingOptions
from echelle.tables.steps.registry import Step

HOUSE = Style()


def seal(
    recipe: Recipe, made: datetime, steps: Sequence[Step] = (), options: ReadingOptions = USUAL, style: Style = HOUSE
) -> Recipe:
    """The recipe with its style resolved, its reading and preparation inside and its time, to the second in UTC."""
    return recipe.model_copy(
        update={
            "read": None if options == USUAL else options,
            "prepare": list(steps),
            "made": made.astimezone(UTC).replace(microsecond=0),
            "style": of_its_levels(recipe, style_of(recipe, style)),
            "own_look": OwnLook(),
        }
    )


def of_its_levels(recipe: Recipe, style: Style) -> Style:
    """The style without colours of levels that the figure does not show: they are the study's business."""
    columns = {role.column for role in (recipe.groups, recipe.subgroups) if role is not None} or {""}
    kept = {column: colours for column, colours in style.level_colours.items() if column in columns}
    return style.model_copy(update={"level_colours": kept})


def style_of(recipe: Recipe, house: Style = HOUSE) -> Style:
    """The style that a recipe draws with: its look over the house style, and its own single points over both."""
    look = recipe.style if isinstance(recipe.style, Style) else house.model_copy(update=LOOKS[recipe.style])
    own = {key: value for key, value in recipe.own_look if value is not None}
    if recipe.own_look.level_colours is not None:
        columns = {**look.level_colours, **recipe.own_look.level_colours}
        own["level_colours"] = {name: {**look.level_colours.get(name, {}), **column} for name, column in columns.items()}
    return look.model_copy(update=own)


def schema() -> dict[str, object]:
    """The published JSON Schema of the recipe (draft 2020-12)."""
    text = Recipe.model_json_schema(by_alias=True)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **text, "title": "Echelle recipe, version 1"}
