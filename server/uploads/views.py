"""Files and pasted cells coming in."""

from __future__ import annotations

import hashlib
import uuid

from django.conf import settings
from django.db import transaction
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel
from rest_framework.response import Response

from echelle.errors import InputError
from echelle.tables.reading.options import ReadingOptions
from server.accounts.requests import PersonRequest
from server.api.faults import Busy, Fault, TooLarge
from server.api.parsers import AnyBytes
from server.api.room import must_have_room
from server.api.views import Endpoint, body_of
from server.comparisons.models import Comparison
from server.comparisons.services.arrivals import table_came
from server.studies.access import as_uuid, editable_by, visible_to
from server.studies.models import Study, make_study
from server.tables.models import PIECE, DataTable, ReadingJob
from server.tables.services.reading import held_table, keep_once, lay_out, read_quickly
from server.uploads.states import ReadingState
from server.uploads.tasks import read_table


class UploadState(BaseModel):
    """How far a file has come; ``comparison``, else ``table``, is what to open when it is done.

    ``same`` says that the study held this very file already: nothing was stored.
    """

    id: str
    study: str
    name: str
    state: ReadingState
    progress: float
    fault: Fault | None
    comparison: str | None
    table: str | None
    same: bool


class Uploads(Endpoint):
    """A study's way in."""

    parser_classes = [AnyBytes]

    @extend_schema(
        parameters=[
            OpenApiParameter("name", str, description="the file's name"),
            OpenApiParameter("study", str, description="the study to bring it to"),
            OpenApiParameter("new_study", str, description="or the name of a study to make for it"),
            OpenApiParameter("replaces", str, description="or the table that it is a newer export of"),
        ],
        request={"application/octet-stream": OpenApiTypes.BINARY},
        responses={200: UploadState, 413: Fault, 422: Fault},
    )
    def post(self, request: PersonRequest) -> Response:
        """Bring a file (the body, byte for byte). Small ones are read at once, large ones become a job.

        Where it is refused, nothing stays: no table, no comparison, no new study.
        """
        older = _older(request)
        study = older.study if older else _study(request)
        name = request.query_params.get("name", "").strip()[-255:] or "pasted cells"
        job = ReadingJob(person=request.user, name=name, sha256="", size=0, replaces=older)
        if study is not None:
            job.study = study
        try:
            _receive(request, job)
        except BaseException:
            job.path.unlink(missing_ok=True)
            raise
        return Response(_bring(job, _new_study(request)))


class ReadAgain(Endpoint):
    """The same file read in another way."""

    @extend_schema(request=ReadingOptions, responses={200: UploadState, 422: Fault})
    def post(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """Read the kept file again, as an upload of its size would be; the new table replaces this one and keeps its
        preparation.
        """
        table = editable_by(DataTable.objects.select_related("raw"), request.user, table_id)
        told = body_of(request, ReadingOptions).model_dump(mode="json", exclude_none=True)
        if table.replaced_by.exists():
            raise InputError("a newer table took the place of this one", remedy="Open that one and read it again.")
        job = ReadingJob(
            study=table.study, person=request.user, name=table.name, sha256=table.raw.sha256, size=table.raw.size,
            replaces=table, told=told,
        )  # fmt: skip
        lay_out(job, table.raw.pieces())
        return Response(_bring(job))


class UploadJob(Endpoint):
    """One file on its way."""

    @extend_schema(responses=UploadState)
    def get(self, request: PersonRequest, job_id: uuid.UUID) -> Response:
        """How far is it?"""
        return Response(state_of(visible_to(ReadingJob.objects.all(), request.user, job_id)))


class StopUpload(Endpoint):
    """Stopping and starting again."""

    @extend_schema(request=None, responses=UploadState)
    def post(self, request: PersonRequest, job_id: uuid.UUID) -> Response:
        """Stop reading; nothing of the file is kept."""
        job = editable_by(ReadingJob.objects.all(), request.user, job_id)
        stopped = ReadingJob.objects.filter(pk=job.pk, state__in=["waiting", "reading"]).update(state=job.State.STOPPED)
        if stopped:
            job.path.unlink(missing_ok=True)
        job.refresh_from_db()
        return Response(state_of(job))


def _new_study(request: PersonRequest) -> str:
    return " ".join(request.query_params.get("new_study", "").split())[:200]


def _study(request: PersonRequest) -> Study | None:
    """The study named in the address; None for one that is made when the file was read."""
    if _new_study(request):
        return None
    return editable_by(Study.objects.all(), request.user, as_uuid(request.query_params.get("study", "")))


def _older(request: PersonRequest) -> DataTable | None:
    """The table that the file replaces, where the address names one."""
    named = request.query_params.get("replaces", "")
    if not named:
        return None
    older = editable_by(DataTable.objects.all(), request.user, as_uuid(named))
    if older.replaced_by.exists():
        raise InputError("a newer file of this table is here already", remedy="Open that one and replace it.")
    return older


def _receive(request: PersonRequest, job: ReadingJob) -> None:
    """Write the body to the job's path, never more than the limit."""
    limit = int(settings.UPLOAD_MEGABYTES * 1e6)
    too_large = TooLarge(
        f"The file is larger than the {settings.UPLOAD_MEGABYTES:g} MB allowed",
        where=job.name,
        remedy="Keep the rows and columns you need and bring those.",
    )
    if int(request.META.get("CONTENT_LENGTH") or 0) > limit:
        raise too_large
    must_have_room(3 * int(request.META.get("CONTENT_LENGTH") or 0))
    settings.UPLOADS.mkdir(parents=True, exist_ok=True)
    digest = hashlib.sha256()
    with job.path.open("wb") as file:
        while piece := request._request.read(PIECE):
            job.size += len(piece)
            if job.size > limit:
                raise too_large
            digest.update(piece)
            file.write(piece)
    job.sha256 = digest.hexdigest()


def _bring(job: ReadingJob, new_study: str = "") -> UploadState:
    """Read what lies at the job's path: at once where it is small and there is a turn, else by the worker."""
    try:
        if job.study_id is not None and (held := held_table(job)) is not None:
            job.table, job.state, job.progress = held, job.State.DONE, 1.0
            state = state_of(job, same=True)
        elif job.size <= settings.JOB_ABOVE_MEGABYTES * 1e6:
            state = _read_now(job, new_study)
        else:
            raise Busy
    except Busy:
        return _read_later(job, new_study)
    except BaseException:
        job.path.unlink(missing_ok=True)
        raise
    job.path.unlink(missing_ok=True)
    return state


def _read_now(job: ReadingJob, new_study: str) -> UploadState:
    """Read in this request; a refusal is the answer and leaves nothing behind. Raises Busy where there is no turn."""
    try:
        read = read_quickly(job.path, job.told)
    except InputError as error:
        where = ", ".join(part for part in (job.name, error.where) if part)
        raise InputError(error.what, where=where, remedy=error.remedy) from None
    with transaction.atomic():
        _into_study(job, new_study)
        same = keep_once(job, read, table_came)
    return state_of(job, same)


def _read_later(job: ReadingJob, new_study: str) -> UploadState:
    """Hand the upload to the worker."""
    with transaction.atomic():
        _into_study(job, new_study)
        job.save()
        read_table.defer(job_id=str(job.pk))
    return state_of(job)


def _into_study(job: ReadingJob, new_study: str) -> None:
    """Make the study that was asked for, where none was named."""
    if job.study_id is None:
        job.study = make_study(new_study, job.person)


def state_of(job: ReadingJob, same: bool = False) -> UploadState:
    begun = Comparison.objects.filter(table=job.table).order_by("made").first() if job.table else None
    return UploadState(
        id=str(job.pk), study=str(job.study_id), name=job.name, state=job.state, progress=job.progress,
        fault=Fault(**job.fault) if job.fault else None, comparison=str(begun.pk) if begun else None,
        table=str(job.table_id) if job.table_id else None, same=same,
    )  # fmt: skip
