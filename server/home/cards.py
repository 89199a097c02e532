"""The studies of a person as cards, in a fixed number of queries."""

from __future__ import annotations

import uuid
from collections import defaultdict
from datetime import datetime

from django.db.models import Count, F, Max, Q, Window
from django.db.models.functions import RowNumber

from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.folios.models import Folio
from server.home.bodies import CardComparison, CardFolio, CardTable, StudyCard
from server.home.viewers import masking
from server.studies.models import Membership, Study
from server.tables.models import DataTable

MOST_ON_A_CARD = 6


def cards_of(person: Person) -> list[StudyCard]:
    """Pinned studies first, then by their last work; archived ones last."""
    mine = {member.study_id: member for member in Membership.objects.filter(person=person)}
    held = _Held(list(mine))
    shown = Q(comparison__archived=None, comparison__binned=None)
    counted = Study.objects.filter(pk__in=mine).annotate(
        open=Count("comparison", filter=shown), last=Max("comparison__changed")
    )
    asked = counted.values_list("pk", "name", "made", "archived", "open", "last")
    cards = [
        held.card(mine[study], name, archived is not None, open_ones, max(made, last or made))
        for study, name, made, archived, open_ones, last in asked
    ]
    return sorted(cards, key=lambda card: (card.archived, not card.pinned, -card.changed.timestamp()))


def card_of(study: Study, person: Person) -> StudyCard:
    """The card of one study."""
    return next(card for card in cards_of(person) if card.id == str(study.pk))


class _Held:
    """What studies hold, by study: their newest comparisons, tables that nothing replaced, folios, people."""

    def __init__(self, studies: list[uuid.UUID]) -> None:
        self.comparisons: dict[uuid.UUID, list[tuple[uuid.UUID, uuid.UUID, str, datetime]]] = defaultdict(list)
        self.tables: dict[uuid.UUID, list[CardTable]] = defaultdict(list)
        self.brought: dict[uuid.UUID, datetime] = {}
        self.folios: dict[uuid.UUID, list[CardFolio]] = defaultdict(list)
        self.people: dict[uuid.UUID, list[str]] = defaultdict(list)
        place = Window(RowNumber(), partition_by=F("study"), order_by=F("changed").desc())
        shown = Comparison.objects.filter(study__in=studies, archived=None, binned=None).annotate(place=place)
        newest = shown.filter(place__lte=MOST_ON_A_CARD).order_by("-changed")
        for study, *rest in newest.values_list("study", "pk", "table", "name", "changed"):
            self.comparisons[study].append(tuple(rest))  # type: ignore[arg-type]
        tables = DataTable.objects.filter(study__in=studies, replaced_by=None).order_by("made")
        for study, pk, name, rows, made in tables.values_list("study", "pk", "name", "rows", "made"):
            self.tables[study].append(CardTable(id=str(pk), name=name, rows=rows))
            self.brought[study] = made
        folios = Folio.objects.filter(study__in=studies).order_by("made")
        for study, pk, name in folios.values_list("study", "pk", "name"):
            self.folios[study].append(CardFolio(id=str(pk), name=name))
        for member in Membership.objects.filter(study__in=studies).select_related("person").only(
            "study", "person__username", "person__first_name", "person__last_name"
        ):  # fmt: skip
            self.people[member.study_id].append(member.person.shown_name)

    def card(self, mine: Membership, name: str, archived: bool, open_ones: int, changed: datetime) -> StudyCard:
        """The card of a study, as somebody in it may see it."""
        study, masked = mine.study_id, masking(mine.role)
        comparisons = [
            CardComparison(id=str(pk), name=masked(table, title), changed=at)
            for pk, table, title, at in self.comparisons[study]
        ]
        return StudyCard(
            id=str(study), name=name, role=mine.role, pinned=mine.pinned, archived=archived, open=open_ones,
            changed=max(changed, self.brought.get(study, changed)), people=sorted(self.people[study]), comparisons=comparisons,
            tables=self.tables[study], folios=self.folios[study],
        )  # fmt: skip
