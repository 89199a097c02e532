"""What a request asks about a comparison."""

from __future__ import annotations

import uuid

from echelle.figures.lanes.lane import Arrangement
from echelle.recipes.recipe import Recipe
from server.accounts.requests import PersonRequest
from server.api.views import body_of
from server.comparisons.bodies import (
    OfRecipe,
)  # fmt: skip
from server.comparisons.models import Comparison
from server.comparisons.services.scenes import asked_about
from server.comparisons.services.trail import Data, data_of, recipe_at
from server.studies.access import visible_to
from server.tables.services.cache import lanes_of
from server.tables.services.counting import Patience
from server.tables.services.persons import Persons


def comparison_and_recipe(
    request: PersonRequest, comparison_id: uuid.UUID, asks: type[OfRecipe] = OfRecipe
) -> tuple[Comparison, Recipe, Data]:
    """What a recipe is asked about, the recipe, and the data of the shown state."""
    comparison = visible_to(Comparison.objects.all(), request.user, comparison_id)
    recipe = asked_about(comparison, body_of(request, asks).recipe, comparison.study.shows_rows_to(request.user))
    return comparison, recipe, data_of(comparison)


def lanes_for(sees_rows: bool, comparison: Comparison, recipe: Recipe, data: Data, patience: Patience = "whole") -> Arrangement:
    """The lanes of a recipe; ``patience`` as :func:`lanes_of` has it. Raises InputError where they would show single persons to
    someone who may see no rows.
    """
    if sees_rows:
        return lanes_of(recipe, data.table, data.steps, patience)
    persons = Persons(data.table, data.steps)
    persons.must_not_divide(recipe)
    lanes = lanes_of(recipe, data.table, data.steps, patience)
    persons.must_be_large(recipe, recipe_at(comparison.head_entry), lanes, comparison.study.least_cell)
    return lanes
