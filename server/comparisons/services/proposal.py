"""What Echelle proposes to ask of a table, with numbers written as whoever asks has them."""

from __future__ import annotations

from collections.abc import Sequence

from echelle.recipes.default_recipe import default_recipe_with
from echelle.recipes.other_questions import other_questions
from echelle.recipes.recipe import Recipe
from echelle.tables.steps.registry import Step
from echelle.tables.summary_statistics_tables import SummaryColumns, summary_columns
from server.accounts.models import Person
from server.tables.models import DataTable
from server.tables.services.cache import prepared_of, summaries_of


def proposal(
    table: DataTable, steps: Sequence[Step], person: Person, measure: str | None = None, groups: str | None = None
) -> Recipe:
    """The question of the measure and groups named, or of those that fit best. Raises InputError where nothing can be asked."""
    recipe = default_recipe_with(summaries_of(table, steps), measure, groups, _summary(table, steps))
    return _in_own_numbers(recipe, person)


def other_proposals(table: DataTable, steps: Sequence[Step], person: Person) -> list[Recipe]:
    """What else is likely to be asked."""
    return [_in_own_numbers(recipe, person) for recipe in other_questions(summaries_of(table, steps), _summary(table, steps))]


def _summary(table: DataTable, steps: Sequence[Step]) -> SummaryColumns | None:
    rows = prepared_of(table, steps).table.rows if steps else table.rows
    return summary_columns(summaries_of(table, steps), rows)


def _in_own_numbers(recipe: Recipe, person: Person) -> Recipe:
    return recipe.model_copy(update={"axis": recipe.axis.model_copy(update={"decimal_mark": person.decimal_mark})})
