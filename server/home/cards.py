"""The studies of a person as cards, in a fixed number of queries."""

from __future__ import annotations

from datetime import datetime

from django.db.models import Count, Max, Prefetch, Q

from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.home.bodies import CardComparison, CardFolio, CardTable, StudyCard
from server.home.viewers import names_for
from server.studies.models import Membership, Role, Study
from server.tables.models import DataTable

MOST_ON_A_CARD = 6


def cards_of(person: Person) -> list[StudyCard]:
    """Pinned studies first, then by their last work; archived ones last."""
    shown = Q(comparison__archived=None, comparison__binned=None)
    newest = Comparison.objects.filter(archived=None, binned=None).order_by("-changed")
    counted = Study.objects.seen_by(person).annotate(
        open=Count("comparison", filter=shown, distinct=True), last=Max("comparison__changed")
    )
    studies = (
        counted.prefetch_related(Prefetch("comparison_set", newest[:MOST_ON_A_CARD], "newest"))
        .prefetch_related(Prefetch("datatable_set", DataTable.objects.defer("columns", "remarks", "notes")))
        .prefetch_related(Prefetch("membership_set", Membership.objects.select_related("person")))
        .prefetch_related("folio_set")
    )
    return sorted((_card(study, person) for study in studies), key=lambda card: (card.archived, not card.pinned, -_when(card)))


def card_of(study: Study, person: Person) -> StudyCard:
    """The card of one study."""
    return next(card for card in cards_of(person) if card.id == str(study.pk))


def _when(card: StudyCard) -> float:
    return card.changed.timestamp()


def _card(study: Study, person: Person) -> StudyCard:
    people = sorted(study.membership_set.all(), key=lambda member: member.person.shown_name)
    mine = next(member for member in people if member.person_id == person.pk)
    tables = sorted(study.datatable_set.all(), key=lambda table: table.made)
    replaced = {table.replaces_id for table in tables}
    newest: list[Comparison] = getattr(study, "newest")  # noqa: B009
    named = names_for(mine.role, newest)
    last: datetime | None = getattr(study, "last")  # noqa: B009
    made = [study.made, *(table.made for table in tables), *([last] if last else [])]
    return StudyCard(
        id=str(study.pk), name=study.name, role=Role(mine.role).value, pinned=mine.pinned, archived=study.archived is not None,
        changed=max(made), people=[member.person.shown_name for member in people], open=getattr(study, "open"),  # noqa: B009
        comparisons=[CardComparison(id=str(c.pk), name=name, changed=c.changed) for c, name in zip(newest, named, strict=True)],
        tables=[CardTable(id=str(t.pk), name=t.name, rows=t.rows) for t in tables if t.pk not in replaced],
        folios=[CardFolio(id=str(f.pk), name=f.name) for f in sorted(study.folio_set.all(), key=lambda folio: folio.made)],
    )  # fmt: skip
