"""Asking for files that take long, following them, stopping them, fetching them."""

from __future__ import annotations

import uuid
from datetime import timedelta

from django.conf import settings
from django.db import transaction
from django.http import Http404, HttpResponse
from django.utils import timezone
from drf_spectacular.utils import OpenApiTypes, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from server.api.downloads import download
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.outgoing.bodies import AskOutgoing, OutgoingState
from server.outgoing.models import OutgoingJob
from server.outgoing.tasks import make_file
from server.outgoing.work import subject_of
from server.studies.access import to_see

KEPT = timedelta(days=1)


class Outgoing(Endpoint):
    """The way out for what takes long."""

    @extend_schema(request=AskOutgoing, responses={200: OutgoingState, 422: Fault})
    @transaction.atomic
    def post(self, request: Request) -> Response:
        """Ask for a batch, a report or a large export."""
        asked = body_of(request, AskOutgoing)
        subject = subject_of(asked.root, request.user)
        sweep()
        job = OutgoingJob.objects.create(study_id=subject.study_id, person=request.user, asked=asked.model_dump(mode="json"))
        transaction.on_commit(lambda: make_file.defer(job_id=str(job.pk)))
        return Response(_state(job))


class OneOutgoing(Endpoint):
    """One file on its way."""

    @extend_schema(responses=OutgoingState)
    def get(self, request: Request, outgoing_id: uuid.UUID) -> Response:
        """How far is it?"""
        return Response(_state(_own(request, outgoing_id)))


class StopOutgoing(Endpoint):
    """Stopping."""

    @extend_schema(request=None, responses=OutgoingState)
    def post(self, request: Request, outgoing_id: uuid.UUID) -> Response:
        """Make no more of it; nothing is kept."""
        job = _own(request, outgoing_id)
        OutgoingJob.objects.filter(pk=job.pk, state__in=job.UNFINISHED).update(state=job.State.STOPPED)
        job.refresh_from_db()
        return Response(_state(job))


class OutgoingFile(Endpoint):
    """The file."""

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, outgoing_id: uuid.UUID) -> HttpResponse:
        """Once it is done."""
        job = _own(request, outgoing_id)
        if job.state != job.State.DONE or not job.path.is_file():
            raise Http404
        return download(job.path.read_bytes(), job.type, job.name)


def sweep() -> None:
    """Take away what nobody fetched within a day, and files whose study is gone."""
    for job in OutgoingJob.objects.filter(made__lt=timezone.now() - KEPT):
        job.path.unlink(missing_ok=True)
        job.delete()
    known = {str(pk) for pk in OutgoingJob.objects.values_list("pk", flat=True)}
    for path in settings.OUTGOING.glob("*"):
        if path.name not in known:
            path.unlink(missing_ok=True)


def _own(request: Request, outgoing_id: uuid.UUID) -> OutgoingJob:
    """The job of the person who asked, as long as they may still have it."""
    job = to_see(OutgoingJob.objects.filter(person=request.user), request.user, outgoing_id)
    subject_of(AskOutgoing.model_validate(job.asked).root, request.user)
    return job


def _state(job: OutgoingJob) -> OutgoingState:
    fault = Fault(**job.fault) if job.fault else None
    return OutgoingState(id=str(job.pk), state=job.state, done=job.done, of=job.of, name=job.name, fault=fault)
