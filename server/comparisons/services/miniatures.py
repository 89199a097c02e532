"""Recipes with their figures in small."""

from __future__ import annotations

from django.conf import settings

from echelle.errors import InputError
from echelle.recipes.recipe import FormName, Recipe
from echelle.render import scene_of_lanes
from server.api.faults import BeingCounted
from server.comparisons.bodies import InForm
from server.comparisons.models import Comparison
from server.comparisons.services.requests import lanes_for
from server.comparisons.services.scenes import recipe_without_rows, strip_rows, takes_long, with_style
from server.comparisons.services.trail import Data
from server.tables.services.cache import Cache
from server.tables.services.preparation import steps_key

# A form chosen makes recipes in the other forms that were drawn a moment ago.
_drawn = Cache(settings.CACHE_MEGABYTES / 8)
# What a letter of an answer takes in memory as objects.
_BYTES_A_LETTER = 6


def in_small(recipe: Recipe, name: FormName, data: Data, comparison: Comparison, sees_rows: bool) -> InForm:
    """The recipe with its figure in small, or why there is none. Nobody changes what it gives to those who see rows."""
    try:
        return _in_small(recipe, name, data, comparison, sees_rows)
    except BeingCounted as counted:
        # Not for long, so it is not held.
        return InForm(form=name, recipe=recipe, scene=None, reason=counted.fault.what)


def _in_small(recipe: Recipe, name: FormName, data: Data, comparison: Comparison, sees_rows: bool) -> InForm:
    if not sees_rows:
        return _draw(recipe, name, data, comparison, sees_rows)
    style = with_style(recipe, comparison).model_dump_json(include={"style"})
    key = (data.table.pk, steps_key(data.steps), name, recipe.model_dump_json(), style)
    return _drawn.get(key, lambda: _draw(recipe, name, data, comparison, sees_rows), _size)


def _size(form: InForm) -> int:
    return _BYTES_A_LETTER * len(form.model_dump_json())


def _draw(recipe: Recipe, name: FormName, data: Data, comparison: Comparison, sees_rows: bool) -> InForm:
    try:
        lanes = lanes_for(sees_rows, comparison, recipe, data, "look")
        if takes_long(recipe, lanes):
            return InForm(form=name, recipe=recipe, scene=None, reason="It takes some seconds: it is drawn when you choose it.")
        scene = scene_of_lanes(recipe_without_rows(with_style(recipe, comparison)), lanes, miniature=True)
    except InputError as error:
        return InForm(form=name, recipe=recipe, scene=None, reason=error.sentence())
    strip_rows(scene)
    return InForm(form=name, recipe=recipe, scene=scene)
