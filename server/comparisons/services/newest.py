"""Newer data and a newer house style, taken by a comparison."""

from __future__ import annotations

import uuid

from django.db import transaction

from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.comparisons.services.scenes import must_draw
from server.comparisons.services.trail import changeable, newest_data, recipe_at, take_newest


def take_newest_data(comparison: Comparison, revision: int, person: Person) -> Comparison:
    """Draw the shown recipe over the newest file and preparation. Raises InputError where it cannot be drawn there, and
    StaleRevision like :func:`server.comparisons.services.trail.settle`; then nothing changes.
    """
    recipe, data = recipe_at(comparison.head_entry), newest_data(comparison)
    if data is not None:
        must_draw(recipe, data.table, data.steps)
    return take_newest(comparison.pk, revision, person)


@transaction.atomic
def take_newest_style(comparison_id: uuid.UUID) -> Comparison:
    """Draw a comparison in the study's newest house style from now on. Raises InputError for a locked one."""
    comparison = changeable(comparison_id)
    comparison.kept_style = None
    comparison.save(update_fields=["kept_style"])
    return comparison
