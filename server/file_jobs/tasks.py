"""The making of files in the worker."""

from __future__ import annotations

from procrastinate.contrib.django import app

from server.api.retry import AGAIN
from server.file_jobs.models import FileJob
from server.file_jobs.services import run_file_job


@app.task(name="make_file", queue="file-jobs", retry=AGAIN)
def make_file(job_id: str) -> None:
    """Make one file, unless it was stopped or is gone."""
    job = FileJob.objects.filter(pk=job_id, state__in=FileJob.UNFINISHED).first()
    if job is not None:
        run_file_job(job)
