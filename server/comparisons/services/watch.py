"""Watched comparisons, looked at whenever a newer file of their table comes."""

from __future__ import annotations

from functools import partial

from django.db import transaction
from django.utils import timezone

from echelle.comparison.watch import broken_by, can_watch
from echelle.errors import InputError
from server.accounts.models import Person
from server.api.faults import BeingCounted
from server.comparisons.models import Comparison
from server.comparisons.services.trail import data_of, recipe_at
from server.mail import mail
from server.studies.models import SEEING_ROWS
from server.tables.models import DataTable
from server.tables.services.cache import lanes_of
from server.tables.services.preparation import newest_revision, steps_at

_MOST_LETTERS = 500


def must_be_watchable(comparison: Comparison) -> None:
    """Raises InputError for a comparison that is held against nothing."""
    if not can_watch(recipe_at(comparison.head_entry)):
        remedy = "Add control lines, or ask for control rules or reference limits under Differences."
        raise InputError("there is nothing here to watch", where=comparison.name, remedy=remedy)


def look_at_watched(newer: DataTable) -> None:
    """Say on each watched comparison that is drawn from a table of before what the newer one breaks."""
    older, at = [], newer.replaces
    while at is not None:
        older.append(at.pk)
        at = at.replaces
    for comparison in Comparison.objects.filter(table__in=older, watched=True, binned=None):
        alarm = " ".join(_broken(comparison, newer))[:_MOST_LETTERS]
        if alarm:
            comparison.alarm, comparison.alarmed = alarm, timezone.now()
            comparison.save(update_fields=["alarm", "alarmed"])
            _tell(comparison)


def _tell(comparison: Comparison) -> None:
    """By mail, those of the study who may see rows and gave an address."""
    words = f"{comparison.name}, in the study “{comparison.study.name}”:\n\n{comparison.alarm}\n\n"
    words += "It is watched, and a newer file of its table came. Open it in Echelle to look at it.\n"
    people = Person.objects.filter(membership__study=comparison.study_id, membership__role__in=SEEING_ROWS, is_active=True)
    for address in people.exclude(email="").values_list("email", flat=True).distinct():
        transaction.on_commit(partial(mail, address, f"Echelle: {comparison.name}", words))


def _broken(comparison: Comparison, newer: DataTable) -> list[str]:
    recipe, data = recipe_at(comparison.head_entry), data_of(comparison)
    try:
        now = lanes_of(recipe, newer, steps_at(newer, newest_revision(newer)))
        return broken_by(recipe, lanes_of(recipe, data.table, data.steps), now)
    except BeingCounted:
        return []
    except InputError as error:
        return [f"It cannot be drawn from the newer data: {error.sentence()}"]
