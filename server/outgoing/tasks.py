"""The making of files in the worker."""

from __future__ import annotations

from procrastinate.contrib.django import app

from server.outgoing.models import OutgoingJob
from server.outgoing.work import work


@app.task(name="make_file", queue="outgoing")
def make_file(job_id: str) -> None:
    """Make one file, unless it was stopped or is gone."""
    job = OutgoingJob.objects.filter(pk=job_id, state__in=OutgoingJob.UNFINISHED).first()
    if job is not None:
        work(job)
