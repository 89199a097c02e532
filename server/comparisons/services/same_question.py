"""The question of a comparison asked of another table: next month's file."""

from __future__ import annotations

from django.db import transaction

from echelle.recipes.question_name import question_name
from echelle.recipes.same_question import same_question
from echelle.tables.steps.prepare import prepare
from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.comparisons.services.scenes import must_draw
from server.comparisons.services.trail import begin, data_of, recipe_at
from server.tables.models import DataTable
from server.tables.services.cache import named_table, summaries_of, table_of
from server.tables.services.preparation import newest_revision, settle_steps, steps_at


@transaction.atomic
def ask_same(comparison: Comparison, table: DataTable, person: Person) -> tuple[Comparison, list[str]]:
    """A comparison of the other table, and what did not fit. A table that is not prepared yet takes the steps of the old one
    where all of them fit. Raises InputError where the question cannot be asked there; then nothing is kept.
    """
    said: list[str] = []
    data = data_of(comparison)
    if data.steps and newest_revision(table) == 0 and table.pk != data.table.pk:
        tried = prepare(table_of(table), data.steps, lambda ref: named_table(table.study_id, ref))
        if tried.stopped is None:
            settle_steps(table, 0, data.steps, person)
            said.append(f"The preparation of {data.table.name} was carried over.")
        else:
            said.append(
                f"{table.name} is as it was read: the preparation of {data.table.name} stops there, {tried.stopped.what}."
            )
    steps = steps_at(table, newest_revision(table))
    recipe = recipe_at(comparison.head_entry)
    made = same_question(recipe, summaries_of(table, steps))
    must_draw(made.recipe, table, steps)
    own = comparison.name != question_name(recipe)[:200]
    name = f"{comparison.name}, {table.name}" if own else question_name(made.recipe)
    return begin(table, made.recipe, person, name, like=comparison), [*said, *made.said]
