"""The record of access, and how small a group viewers may see."""

from __future__ import annotations

import io
import uuid
from datetime import datetime

import orjson
import polars as pl
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response

from server.accounts.requests import PersonRequest
from server.api.downloads import download
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.records.models import RecordLine, record
from server.studies.access import owned_study, visible_to
from server.studies.bodies import (
    LeastCell,
    RecordEntry,
    RecordLines,
)
from server.studies.models import Study

MOST_LINES = 100


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
