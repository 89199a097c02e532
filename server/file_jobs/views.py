"""Asking for files that take long, following them, stopping them, fetching them."""

from __future__ import annotations

import uuid
from datetime import timedelta

from django.conf import settings
from django.db import transaction
from django.http import Http404, HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from server.accounts.requests import PersonRequest
from server.api.downloads import download
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.file_jobs.bodies import AskFileJob, FileJobState
from server.file_jobs.models import FileJob
from server.file_jobs.services import study_of, subject_of
from server.file_jobs.tasks import make_file
from server.studies.access import visible_to

KEPT = timedelta(days=1)


class FileJobs(Endpoint):
    """The way out for what takes long."""

    @extend_schema(request=AskFileJob, responses={200: FileJobState, 422: Fault})
    @transaction.atomic
    def post(self, request: PersonRequest) -> Response:
        """Ask for a batch, a report or a large export."""
        asked = body_of(request, AskFileJob)
        subject = subject_of(asked.root, request.user)
        sweep()
        job = FileJob.objects.create(study_id=study_of(subject), person=request.user, asked=asked.model_dump(mode="json"))
        make_file.defer(job_id=str(job.pk))
        return Response(_state(job))


class FileJobDetail(Endpoint):
    """One file on its way."""

    @extend_schema(responses=FileJobState)
    def get(self, request: PersonRequest, file_job_id: uuid.UUID) -> Response:
        """How far is it?"""
        return Response(_state(_own(request, file_job_id)))


class StopFileJob(Endpoint):
    """Stopping."""

    @extend_schema(request=None, responses=FileJobState)
    def post(self, request: PersonRequest, file_job_id: uuid.UUID) -> Response:
        """Make no more of it; nothing is kept."""
        job = _own(request, file_job_id)
        FileJob.objects.filter(pk=job.pk, state__in=job.UNFINISHED).update(state=job.State.STOPPED)
        job.refresh_from_db()
        return Response(_state(job))


class FileJobFile(Endpoint):
    """The file."""

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: PersonRequest, file_job_id: uuid.UUID) -> HttpResponse:
        """Once it is done."""
        job = _own(request, file_job_id)
        if job.state != job.State.DONE or not job.path.is_file():
            raise Http404
        return download(job.path.read_bytes(), job.type, job.name)


def sweep() -> None:
    """Take away what nobody fetched within a day, and files whose study is gone."""
    for job in FileJob.objects.filter(made__lt=timezone.now() - KEPT):
        job.delete()
    known = {str(pk) for pk in FileJob.objects.values_list("pk", flat=True)}
    for path in settings.FILE_JOBS.glob("*"):
        if path.name not in known:
            path.unlink(missing_ok=True)


def _own(request: PersonRequest, file_job_id: uuid.UUID) -> FileJob:
    """The job of the person who asked, as long as they may still have it."""
    job = visible_to(FileJob.objects.filter(person=request.user), request.user, file_job_id)
    subject_of(AskFileJob.model_validate(job.asked).root, request.user)
    return job


def _state(job: FileJob) -> FileJobState:
    fault = Fault(**job.fault) if job.fault else None
    return FileJobState(id=str(job.pk), state=job.state, done=job.done, of=job.of, name=job.name, fault=fault)
