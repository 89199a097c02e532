"""The reading of large files in the worker."""

from __future__ import annotations

from procrastinate.contrib.django import app

from server.api.retry import AGAIN
from server.comparisons.services.arrivals import table_came
from server.tables.models import ReadingJob
from server.tables.services.reading import read_job


@app.task(name="read_table", queue="reading", retry=AGAIN)
def read_table(job_id: str) -> None:
    """Read one upload, unless it was stopped or is gone."""
    job = ReadingJob.objects.filter(pk=job_id, state__in=["waiting", "reading"]).first()
    if job is not None and job.path.exists():
        read_job(job, table_came)
