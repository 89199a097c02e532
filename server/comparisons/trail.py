"""Every settled state of a comparison, in order. Nothing falls off it."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import PurePath

from django.db import transaction
from django.db.models import Max

from echelle.errors import InputError
from echelle.recipes.beginning import beginning
from echelle.recipes.changes import change_words
from echelle.recipes.models import Recipe
from echelle.recipes.read import recipe_from
from echelle.tables.summary import ColumnSummary
from server.accounts.models import Person
from server.api.faults import StaleRevision
from server.comparisons.models import Comparison, TrailEntry
from server.tables.models import DataTable, ReadingJob


def recipe_at(entry: TrailEntry) -> Recipe:
    """The recipe of a state."""
    return recipe_from(entry.recipe)


def begin_comparison(job: ReadingJob, table: DataTable, columns: Sequence[ColumnSummary]) -> None:
    """The comparison that a new table starts with."""
    begin(table, beginning(columns), job.person, PurePath(job.name).stem or job.name)


@transaction.atomic
def begin(table: DataTable, recipe: Recipe, person: Person, name: str) -> Comparison:
    """A comparison with its first state."""
    comparison = Comparison.objects.create(study_id=table.study_id, table=table, name=name[:200])
    _add(comparison, recipe, person, None)
    return comparison


def settle(comparison_id: object, revision: int, recipe: Recipe, person: Person) -> Comparison:
    """Add a settled state after the shown one; an equal state makes no entry.

    Raises StaleRevision where ``revision`` is not the newest: the state is then kept as a branch.
    """
    with transaction.atomic():
        comparison = Comparison.objects.select_for_update().get(pk=comparison_id)
        stale = comparison.revision != revision
        if stale or comparison.head_entry.recipe != _stored(recipe):
            _add(comparison, recipe, person, comparison.head, refused=stale)
    if stale:
        raise StaleRevision(comparison.revision)
    return comparison


@transaction.atomic
def step(comparison_id: object, revision: int, number: int) -> Comparison:
    """Show another state of the trail: undo, redo or any step. Raises StaleRevision like :func:`settle`."""
    comparison = Comparison.objects.select_for_update().get(pk=comparison_id)
    if comparison.revision != revision:
        raise StaleRevision(comparison.revision)
    if not comparison.trailentry_set.filter(number=number).exists():
        raise InputError(f"the trail has no state {number}", remedy="Reload the page.")
    if number != comparison.head:
        comparison.head = number
        comparison.revision += 1
        comparison.save()
    return comparison


def _stored(recipe: Recipe) -> dict[str, object]:
    return recipe.model_dump(mode="json")


def _add(comparison: Comparison, recipe: Recipe, person: Person, parent: int | None, refused: bool = False) -> None:
    before = recipe_at(comparison.head_entry) if parent else None
    number = (comparison.trailentry_set.aggregate(last=Max("number"))["last"] or 0) + 1
    TrailEntry.objects.create(
        comparison=comparison, number=number, parent=parent, recipe=_stored(recipe), words=change_words(before, recipe)[:200],
        table_id=comparison.table_id, by=person.shown_name, refused=refused,
    )  # fmt: skip
    if not refused:
        comparison.head = number
        comparison.revision += 1
        comparison.save()
