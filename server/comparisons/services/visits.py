"""Who has a comparison open, and who had it open last."""

from __future__ import annotations

from datetime import timedelta

from django.db import DatabaseError, transaction
from django.utils import timezone

from server.accounts.models import Person
from server.comparisons.models import Comparison, Visit

# The page asks every few seconds while somebody looks at it.
_HERE = timedelta(seconds=25)


def visit(comparison: Comparison, person: Person) -> None:
    """Somebody has it open now. Whoever looks need not wait where that cannot be kept."""
    try:
        with transaction.atomic():
            Visit.objects.bulk_create(
                [Visit(person=person, comparison=comparison, at=timezone.now())],
                update_conflicts=True, unique_fields=["person", "comparison"], update_fields=["at"],
            )  # fmt: skip
    except DatabaseError:
        return


def others_here(comparison: Comparison, person: Person) -> list[str]:
    """The names of the other people of the study who have it open."""
    here = Visit.objects.filter(
        comparison=comparison, at__gt=timezone.now() - _HERE, person__membership__study=comparison.study_id
    )
    return [
        held.person.shown_name for held in here.exclude(person=person).select_related("person").order_by("person__username")
    ]


def pin(comparison: Comparison, person: Person, pinned: bool) -> None:
    """Let a comparison come first for a person, or not any more."""
    Visit.objects.update_or_create(
        person=person,
        comparison=comparison,
        defaults={"pinned": pinned},
        create_defaults={"pinned": pinned, "at": timezone.now()},
    )
