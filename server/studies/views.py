"""Studies, their cards and their people."""

from __future__ import annotations

import io
import uuid
from datetime import datetime, timedelta

import orjson
import polars as pl
from django.apps import apps
from django.core.exceptions import PermissionDenied
from django.db import transaction
from django.db.models import Count, Prefetch, Q
from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response

from echelle.errors import InputError
from server.accounts.models import Person
from server.accounts.requests import PersonRequest
from server.api.downloads import download
from server.api.faults import Fault, StaleGuides, StaleHouse
from server.api.views import Endpoint, body_of
from server.records.models import RecordLine, count_since, record
from server.studies.access import editable_by, visible_to
from server.studies.bodies import (
    CardComparison,
    CardFolio,
    CardTable,
    GuideState,
    HouseState,
    LeastCell,
    Member,
    MemberList,
    NewStudy,
    RecordEntry,
    RecordLines,
    Rename,
    SetMember,
    StudyCard,
    StudyCards,
    StudyState,
)
from server.studies.models import Membership, Role, Study, make_study
from server.studies.names import named
from server.studies.state import study_state

MOST_ON_A_CARD = 6
MOST_UNKNOWN = 10
MOST_LINES = 100


class AllStudies(Endpoint):
    """The studies of the signed-in person."""

    @extend_schema(responses=StudyCards)
    def get(self, request: PersonRequest) -> Response:
        """Their cards, newest first."""
        comparisons = apps.get_model("comparisons", "Comparison")
        shown = comparisons.objects.filter(archived=None, binned=None)
        newest = Prefetch("comparison_set", shown.order_by("-changed")[:MOST_ON_A_CARD], "newest")
        counts = Count("comparison", filter=Q(comparison__archived=None, comparison__binned=None), distinct=True)
        tables = Prefetch("datatable_set", apps.get_model("tables", "DataTable").objects.defer("columns", "remarks"))
        order = Study.objects.seen_by(request.user).annotate(open=counts).order_by("-made")
        studies = order.prefetch_related(newest).prefetch_related(tables).prefetch_related("folio_set")
        roles = dict(Membership.objects.filter(person=request.user).values_list("study", "role"))
        return Response(StudyCards([_card(study, roles[study.pk]) for study in studies]))

    @extend_schema(request=NewStudy, responses=StudyCard)
    def post(self, request: PersonRequest) -> Response:
        """Make a study; its maker owns it."""
        name = named(body_of(request, NewStudy).name, "study")
        with transaction.atomic():
            study = make_study(name, request.user)
        return Response(_card(study, Role.OWNER))


class OneStudy(Endpoint):
    """One study."""

    @extend_schema(operation_id="study_state", responses=StudyState)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """All that it holds."""
        study = visible_to(Study.objects.all(), request.user, study_id)
        return Response(study_state(study, study.role_of(request.user) or Role.VIEWER))

    @extend_schema(request=Rename, responses={200: StudyState, 422: Fault})
    def patch(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Rename it."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        study.name = named(body_of(request, Rename).name, "study")
        study.save(update_fields=["name"])
        return Response(study_state(study, study.role_of(request.user) or Role.VIEWER))

    @extend_schema(responses={204: None})
    def delete(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Erase it for good: tables, comparisons, trails. One audit line stays."""
        study = owned_study(request.user, study_id)
        with transaction.atomic():
            record(request.user.username, "erased", study.pk, name=study.name)
            study.erase()
        return Response(status=204)


class House(Endpoint):
    """The look that every figure of a study has, unless it chose another."""

    @extend_schema(responses=HouseState)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """The house style, as it is shared between studies as JSON."""
        return Response(_house(visible_to(Study.objects.all(), request.user, study_id)))

    @extend_schema(request=HouseState, responses={200: HouseState, 409: Fault, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Another house style. It is offered to the figures there are, which stay as they are until they take it."""
        editable_by(Study.objects.all(), request.user, study_id)
        wanted = body_of(request, HouseState)
        with transaction.atomic():
            study = Study.objects.select_for_update().get(pk=study_id)
            if study.house_revision != wanted.revision:
                raise StaleHouse(study.house_revision)
            study.comparison_set.filter(kept_style__isnull=True).update(kept_style=study.style.model_dump(mode="json"))
            study.house, study.house_revision = wanted.style.model_dump(mode="json"), wanted.revision + 1
            study.save(update_fields=["house", "house_revision"])
        return Response(_house(study))

    @extend_schema(request=None, responses=HouseState)
    def post(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Let every figure of the study take it; locked ones stay as they were."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        study.comparison_set.update(kept_style=None)
        return Response(_house(study))


class Guides(Endpoint):
    """Reference intervals and limits that a study keeps, to be set into its figures."""

    @extend_schema(responses=GuideState)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """All of them, by name."""
        return Response(_guides(visible_to(Study.objects.all(), request.user, study_id)))

    @extend_schema(request=GuideState, responses={200: GuideState, 409: Fault, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Another list. Figures keep the guides they were given."""
        editable_by(Study.objects.all(), request.user, study_id)
        wanted = body_of(request, GuideState)
        names = [kept.name for kept in wanted.guides]
        if len(set(names)) < len(names):
            raise InputError("two entries of the list have one name", remedy="Choose another name.")
        with transaction.atomic():
            study = Study.objects.select_for_update().get(pk=study_id)
            if study.guides_revision != wanted.revision:
                raise StaleGuides(study.guides_revision)
            study.guides = sorted((kept.model_dump(mode="json") for kept in wanted.guides), key=lambda kept: str(kept["name"]))
            study.guides_revision += 1
            study.save(update_fields=["guides", "guides_revision"])
        return Response(_guides(study))


def _house(study: Study) -> HouseState:
    return HouseState(revision=study.house_revision, style=study.style)


def _guides(study: Study) -> GuideState:
    return GuideState.model_validate({"revision": study.guides_revision, "guides": study.guides})


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


class RecordOfStudy(Endpoint):
    """The record of access."""

    @extend_schema(
        parameters=[OpenApiParameter("before", int, description="lines before that number; the newest when left out")],
        responses=RecordLines,
    )
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Who did what, newest first; for owners."""
        lines = RecordLine.objects.filter(study=owned_study(request.user, study_id).pk).order_by("-number")
        before = request.query_params.get("before", "")
        if before.isdecimal() and len(before) < 10:
            lines = lines.filter(number__lt=int(before))
        return Response(RecordLines([_record_line(line) for line in lines[:MOST_LINES]]))


class RecordFile(Endpoint):
    """The record as a file."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> HttpResponse:
        """All lines with their hashes, for owners; reading them is a line too."""
        study = owned_study(request.user, study_id)
        record(request.user.username, "record exported", study.pk)
        lines = list(RecordLine.objects.filter(study=study.pk).order_by("number"))
        fields = ("number", "at", "person", "what", "details", "before", "hash")
        columns = {field: [_cell(getattr(line, field)) for line in lines] for field in fields}
        out = io.BytesIO()
        pl.DataFrame(columns, schema=dict.fromkeys(fields, pl.String)).write_csv(out)
        return download(out.getvalue(), "text/csv; charset=utf-8", f"{study.name} record.csv")


def _cell(value: object) -> str:
    """As it is hashed, but nothing that a spreadsheet would run."""
    if isinstance(value, datetime):
        return value.isoformat()
    text = value if isinstance(value, str) else orjson.dumps(value).decode()
    return f"'{text}" if text[:1] in tuple("=+-@\t\r") else text


def _record_line(line: RecordLine) -> RecordEntry:
    return RecordEntry(number=line.number, at=line.at, person=line.person, what=line.what, details=line.details)


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
        if count_since(request.user.username, "unknown name", timezone.now() - timedelta(hours=1)) >= MOST_UNKNOWN:
            raise InputError("too many names were tried that nobody has", remedy="Try again in an hour.")
        person = Person.objects.filter(username=wanted.username).first()
        if person is None:
            record(request.user.username, "unknown name", study.pk)
            raise InputError(f"nobody here is called “{wanted.username}”", remedy="Ask for an account for them first.")
        with transaction.atomic():
            # Changes of people go one after the other: the last owner stays whoever takes whom out.
            Study.objects.select_for_update().get(pk=study.pk)
            if not Study.objects.owned_by(request.user).filter(pk=study.pk).exists():
                raise PermissionDenied
            if wanted.role is None:
                Membership.objects.filter(study=study, person=person).delete()
            else:
                given = {"role": wanted.role, "may_sign": wanted.may_sign}
                Membership.objects.update_or_create(study=study, person=person, defaults=given)
            if not Membership.objects.filter(study=study, role=Role.OWNER).exists():
                raise InputError("a study keeps at least one owner", remedy="Make someone else an owner first.")
            role = wanted.role or "out"
            record(request.user.username, "role set", study.pk, of=wanted.username, role=role, may_sign=wanted.may_sign)
        return Response(_members(study))


def owned_study(person: Person, study_id: uuid.UUID) -> Study:
    """The study, for its owners: 404 for strangers, 403 for those who only work in it."""
    study = Study.objects.owned_by(person).filter(pk=study_id).first()
    if study is None:
        visible_to(Study.objects.all(), person, study_id)
        raise PermissionDenied
    return study


def _card(study: Study, role: str) -> StudyCard:
    newest = getattr(study, "newest", [])  # by the list of studies; a new study has none
    return StudyCard(
        id=str(study.pk), name=study.name, role=role, open=getattr(study, "open", 0), tables=_tables(study),
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
    return MemberList(
        [Member(username=m.person.username, name=m.person.shown_name, role=m.role, may_sign=m.may_sign) for m in rows]
    )
