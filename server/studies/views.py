"""Studies, their cards and their people."""

from __future__ import annotations

import uuid

from django.core.exceptions import PermissionDenied
from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.errors import InputError
from echelle.recipes.style import Style
from server.accounts.models import Person
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.studies.access import editable_by, visible_to
from server.studies.bodies import (
    CardComparison,
    CardFolio,
    CardTable,
    GuideList,
    LeastCell,
    Member,
    MemberList,
    NewStudy,
    SetMember,
    StudyCard,
    StudyCards,
)
from server.studies.models import AuditLine, Membership, Role, Study, make_study

MOST_ON_A_CARD = 6


class AllStudies(Endpoint):
    """The studies of the signed-in person."""

    @extend_schema(responses=StudyCards)
    def get(self, request: PersonRequest) -> Response:
        """Their cards, newest first."""
        order = Study.objects.seen_by(request.user).order_by("-made")
        studies = order.prefetch_related("comparison_set", "datatable_set", "folio_set")
        return Response(StudyCards([_card(study, request.user) for study in studies]))

    @extend_schema(request=NewStudy, responses=StudyCard)
    def post(self, request: PersonRequest) -> Response:
        """Make a study; its maker owns it."""
        name = " ".join(body_of(request, NewStudy).name.split())[:200]
        if not name:
            raise InputError("a study needs a name", remedy="Give it one.")
        with transaction.atomic():
            study = make_study(name, request.user)
        return Response(_card(study, request.user))


class OneStudy(Endpoint):
    """One study."""

    @extend_schema(responses={204: None})
    def delete(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Erase it for good: tables, comparisons, trails. One audit line stays."""
        study = owned_study(request.user, study_id)
        with transaction.atomic():
            AuditLine.objects.create(by=request.user.username, what=f"erased the study {study.name} ({study.pk})"[:400])
            study.erase()
        return Response(status=204)


class House(Endpoint):
    """The look that every figure of a study has, unless it chose another."""

    @extend_schema(responses=Style)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """The house style, as it is shared between studies as JSON."""
        return Response(visible_to(Study.objects.all(), request.user, study_id).style)

    @extend_schema(request=Style, responses={200: Style, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Another house style. It is offered to the figures there are, which stay as they are until they take it."""
        editable_by(Study.objects.all(), request.user, study_id)
        house = body_of(request, Style).model_dump(mode="json")
        with transaction.atomic():
            study = Study.objects.select_for_update().get(pk=study_id)
            study.comparison_set.filter(kept_style__isnull=True).update(kept_style=study.style.model_dump(mode="json"))
            study.house = house
            study.save(update_fields=["house"])
        return Response(study.style)

    @extend_schema(request=None, responses=Style)
    def post(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Let every figure of the study take it; locked ones stay as they were."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        study.comparison_set.update(kept_style=None)
        return Response(study.style)


class Guides(Endpoint):
    """Reference intervals and limits that a study keeps, to be set into its figures."""

    @extend_schema(responses=GuideList)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """All of them, by name."""
        return Response(GuideList.model_validate(visible_to(Study.objects.all(), request.user, study_id).guides))

    @extend_schema(request=GuideList, responses={200: GuideList, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Another list. Figures keep the guides they were given."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        wanted = body_of(request, GuideList)
        names = [kept.name for kept in wanted.root]
        if len(set(names)) < len(names):
            raise InputError("two entries of the list have one name", remedy="Choose another name.")
        study.guides = sorted((kept.model_dump(mode="json") for kept in wanted.root), key=lambda kept: str(kept["name"]))
        study.save(update_fields=["guides"])
        return Response(GuideList.model_validate(study.guides))


class LeastCellOfStudy(Endpoint):
    """How small a group viewers may see."""

    @extend_schema(responses=LeastCell)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """As it is."""
        return Response(LeastCell(subjects=visible_to(Study.objects.all(), request.user, study_id).least_cell))

    @extend_schema(request=LeastCell, responses={200: LeastCell, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Another one; for owners."""
        study = owned_study(request.user, study_id)
        wanted = body_of(request, LeastCell)
        Study.objects.filter(pk=study.pk).update(least_cell=wanted.subjects)
        return Response(wanted)


class Members(Endpoint):
    """Who is in a study."""

    @extend_schema(responses=MemberList)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Its people and their roles."""
        return Response(_members(visible_to(Study.objects.all(), request.user, study_id)))

    @extend_schema(request=SetMember, responses={200: MemberList, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Let someone in, change a role, or take someone out; for owners. The last owner stays."""
        study = owned_study(request.user, study_id)
        wanted = body_of(request, SetMember)
        person = Person.objects.filter(username=wanted.username).first()
        if person is None:
            raise InputError(f"nobody here is called “{wanted.username}”", remedy="Ask for an account for them first.")
        with transaction.atomic():
            if wanted.role is None:
                Membership.objects.filter(study=study, person=person).delete()
            else:
                Membership.objects.update_or_create(study=study, person=person, defaults={"role": wanted.role})
            if not Membership.objects.filter(study=study, role=Role.OWNER).exists():
                raise InputError("a study keeps at least one owner", remedy="Make someone else an owner first.")
            what = f"{wanted.username} is now {wanted.role or 'out'} in {study.name} ({study.pk})"
            AuditLine.objects.create(by=request.user.username, what=what[:400])
        return Response(_members(study))


def owned_study(person: Person, study_id: uuid.UUID) -> Study:
    """The study, for its owners: 404 for strangers, 403 for those who only work in it."""
    study = Study.objects.owned_by(person).filter(pk=study_id).first()
    if study is None:
        visible_to(Study.objects.all(), person, study_id)
        raise PermissionDenied
    return study


def _card(study: Study, person: Person) -> StudyCard:
    newest = sorted(study.comparison_set.all(), key=lambda c: c.changed, reverse=True)[:MOST_ON_A_CARD]
    return StudyCard(
        id=str(study.pk), name=study.name, role=study.role_of(person), tables=_tables(study),
        comparisons=[CardComparison(id=str(c.pk), name=c.name, changed=c.changed) for c in newest],
        folios=[CardFolio(id=str(f.pk), name=f.name) for f in sorted(study.folio_set.all(), key=lambda folio: folio.made)],
    )  # fmt: skip


def _tables(study: Study) -> list[CardTable]:
    """The study's tables by age, without those that were replaced."""
    tables = sorted(study.datatable_set.all(), key=lambda table: table.made)
    replaced = {table.replaces_id for table in tables}
    return [CardTable(id=str(t.pk), name=t.name, rows=t.rows) for t in tables if t.pk not in replaced]


def _members(study: Study) -> MemberList:
    rows = study.membership_set.select_related("person").order_by("person__username")
    return MemberList([Member(username=m.person.username, name=m.person.shown_name, role=m.role) for m in rows])
