"""The making of files in the worker."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from procrastinate.contrib.django import app

from server.api.retry import AGAIN
from server.comparisons.models import Comparison
from server.file_jobs.models import FileJob
from server.file_jobs.services import run_file_job
from server.folios.models import Folio


@app.task(name="make_file", queue="file-jobs", retry=AGAIN)
def make_file(job_id: str) -> None:
    """Make one file, unless it was stopped or is gone."""
    job = FileJob.objects.filter(pk=job_id, state__in=FileJob.UNFINISHED).first()
    if job is not None:
        run_file_job(job)


def job_of_link(study: uuid.UUID, comparison: Comparison | None, folio: Folio | None, marks: Sequence[str]) -> FileJob:
    """The making of the scenes that a link to a comparison or a folio shows at these marks; begun where it is not yet."""
    asked = {
        "what": "link", "comparison": str(comparison.pk) if comparison else None,
        "folio": str(folio.pk) if folio else None, "marks": list(marks),
    }  # fmt: skip
    mine = FileJob.objects.filter(study=study, person=None, asked=asked).order_by("-made").first()
    if mine is not None and (mine.state != FileJob.State.DONE or mine.path.is_file()):
        return mine
    job = FileJob.objects.create(study_id=study, asked=asked)
    make_file.defer(job_id=str(job.pk))
    return job
