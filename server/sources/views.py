"""Named sources of many files: who may bring them, what came of them, and how far their counting is."""

from __future__ import annotations

import uuid
from typing import Literal

from django.db import transaction
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, RootModel
from rest_framework.response import Response

from echelle.errors import InputError
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.sources.tasks import list_source
from server.studies.access import editable_by, visible_to
from server.studies.models import Study
from server.tables.models import Counting, DataTable, ReadingJob, Source
from server.tables.services.counting import defer_counting
from server.uploads.views import UploadState, state_of

CountingStateName = Literal["waiting", "counting", "done", "refused", "stopped"]


class SourceName(BaseModel):
    """A source that a person may bring into a study."""

    id: int
    name: str


class SourceNames(RootModel[list[SourceName]]):
    """All of them."""


class AskSource(BaseModel):
    """Which source comes."""

    source: int


class CountingState(BaseModel):
    """How many files of a far table are counted for one question; ``of_cells`` where it is about values that gathered into the
    cells of a grid.
    """

    id: int
    state: CountingStateName
    done: int
    of: int
    of_cells: bool
    fault: Fault | None


class CountingStates(RootModel[list[CountingState]]):
    """Those of a table, the newest first."""


class OwnSources(Endpoint):
    """What an administrator opened to a person."""

    @extend_schema(responses=SourceNames)
    def get(self, request: PersonRequest) -> Response:
        """The sources that one may bring, by name."""
        named = Source.objects.open_to(request.user).order_by("name")
        return Response(SourceNames([SourceName(id=source.pk, name=source.name) for source in named]))


class BringSource(Endpoint):
    """A source into a study."""

    @extend_schema(request=AskSource, responses={200: UploadState, 422: Fault})
    def post(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """List its files and read a sample of its rows; the table begins a comparison, as an upload does."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        source = _source(request, body_of(request, AskSource).source)
        return Response(
            state_of(_listed(ReadingJob(study=study, person=request.user, name=source.name, size=0, source=source)))
        )


class LookAgain(Endpoint):
    """A source once more, for files that came since."""

    @extend_schema(request=None, responses={200: UploadState, 422: Fault})
    def post(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """The newer list becomes a newer table, as a newer file does; where nothing came it is the table that is there."""
        table = editable_by(DataTable.objects.select_related("source"), request.user, table_id)
        if table.source is None:
            raise InputError("this table is of one file", remedy="Bring a newer file in its place.")
        source = _source(request, table.source.pk)
        if table.replaced_by.exists():
            raise InputError("a newer list of this source is here already", remedy="Open that one.")
        job = ReadingJob(study=table.study, person=request.user, name=table.name, size=0, source=source, replaces=table)
        return Response(state_of(_listed(job)))


class Countings(Endpoint):
    """What is counted of a far table."""

    @extend_schema(responses=CountingStates)
    def get(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """How far each question's counting is, the newest first."""
        table = visible_to(DataTable.objects.all(), request.user, table_id)
        return Response(CountingStates([_state(counting) for counting in table.counting_set.order_by("-made")[:50]]))


class StopCounting(Endpoint):
    """Stopping it; what is counted stays."""

    @extend_schema(request=None, responses=CountingState)
    def post(self, request: PersonRequest, counting_id: int) -> Response:
        """Stop between two files."""
        counting = _counting(request, counting_id)
        Counting.objects.filter(pk=counting.pk, state__in=Counting.UNFINISHED).update(state=Counting.State.STOPPED)
        counting.refresh_from_db()
        return Response(_state(counting))


class GoOn(Endpoint):
    """Going on with what was stopped or refused."""

    @extend_schema(request=None, responses=CountingState)
    def post(self, request: PersonRequest, counting_id: int) -> Response:
        """Count the files that are left."""
        counting = _counting(request, counting_id)
        with transaction.atomic():
            if Counting.objects.filter(pk=counting.pk, state__in=Counting.ENDED).update(
                state=Counting.State.WAITING, fault=None
            ):
                defer_counting(counting)
        counting.refresh_from_db()
        return Response(_state(counting))


def _source(request: PersonRequest, source_id: int) -> Source:
    """Raises InputError where the person may not bring it, or it is not there: the same words for both."""
    source = Source.objects.open_to(request.user).filter(pk=source_id).first()
    if source is None:
        raise InputError("this source is not open to you", remedy="Ask whoever keeps the server.")
    return source


def _listed(job: ReadingJob) -> ReadingJob:
    with transaction.atomic():
        job.save()
        list_source.defer(job_id=str(job.pk))
    return job


def _counting(request: PersonRequest, counting_id: int) -> Counting:
    return editable_by(Counting.objects.all(), request.user, counting_id)


def _state(counting: Counting) -> CountingState:
    fault = None if counting.fault is None else Fault.model_validate(counting.fault)
    return CountingState(
        id=counting.pk, state=counting.state, done=counting.done, of=counting.of, of_cells=counting.of_cells, fault=fault
    )
