"""Puts work that a killed server or worker left unfinished back into the queue; called before the workers start."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from server.file_jobs.models import FileJob
from server.file_jobs.tasks import make_file
from server.file_jobs.views import sweep
from server.tables.models import ReadingJob
from server.uploads.tasks import read_table


class Command(BaseCommand):
    """./run calls it while no worker runs."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Files coming in: those that still have their upload, the rest is dropped. Files going out: all."""
        unfinished = FileJob.objects.filter(state__in=FileJob.UNFINISHED)
        for making in unfinished:
            make_file.defer(job_id=str(making.pk))
        unfinished.update(state=FileJob.State.WAITING, done=0)
        sweep()
        left = ReadingJob.objects.filter(state__in=[ReadingJob.State.WAITING, ReadingJob.State.READING])
        for job in left:
            if job.path.exists():
                ReadingJob.objects.filter(pk=job.pk).update(state=ReadingJob.State.WAITING, progress=0.0)
                read_table.defer(job_id=str(job.pk))
            else:
                job.delete()
        waiting = {str(pk) for pk in left.values_list("pk", flat=True)}
        for path in settings.UPLOADS.glob("*"):
            if path.is_file() and path.name not in waiting:
                path.unlink()
