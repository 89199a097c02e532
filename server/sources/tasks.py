"""The listing of sources, and the counting of their files, in the worker."""

from __future__ import annotations

from procrastinate.contrib.django import app

from server.api.retry import AGAIN
from server.sources.services import read_source
from server.tables.models import Counting, ReadingJob
from server.tables.services.cache import table_of
from server.tables.services.counting import QUEUE, run_counting


@app.task(name="list_source", queue=QUEUE, retry=AGAIN)
def list_source(job_id: str) -> None:
    """List one source, unless that was stopped or is gone."""
    job = ReadingJob.objects.filter(pk=job_id, state__in=["waiting", "reading"]).first()
    if job is not None:
        read_source(job)


@app.task(name="count_parts", queue=QUEUE, retry=AGAIN)
def count_parts(counting_id: int) -> None:
    """Count the files for one question, unless that was stopped or is gone."""
    counting = Counting.objects.select_related("table__source", "table__raw").filter(pk=counting_id).first()
    if counting is not None and counting.state in Counting.UNFINISHED:
        run_counting(counting, table_of(counting.table))
