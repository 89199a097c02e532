"""Puts work that a killed server or worker left unfinished back into its queue; called before the queue's worker starts."""

from __future__ import annotations

import shutil
import time
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser
from django.db import connection
from procrastinate.contrib.django import app
from procrastinate.jobs import Status

from server.comparisons.models import Drawing
from server.comparisons.services.drawings import defer_drawing
from server.comparisons.services.shelves import empty_bins
from server.file_jobs.models import FileJob
from server.file_jobs.tasks import make_file
from server.file_jobs.views import sweep
from server.sources.tasks import list_source
from server.tables.models import Counting, ReadingJob
from server.tables.services.counting import defer_counting
from server.uploads.tasks import read_table

QUEUES = ("reading", "file-jobs", "counting")
_YOUNG = 3_600


class Command(BaseCommand):
    """./run calls it while no worker of the queue runs."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """The queue; all when left out."""
        parser.add_argument("queue", nargs="?", choices=QUEUES)

    def handle(self, *args: Any, **options: Any) -> None:
        """Files coming in: those that still have their upload, the rest is dropped. Files going out: all."""
        for queue in [options["queue"]] if options["queue"] else QUEUES:
            _end_doing(queue)
            if queue == "reading":
                # While the server runs, a young upload may still be on its way in.
                _reading(time.time() - _YOUNG if options["queue"] else time.time())
            elif queue == "counting":
                _counting()
            else:
                _file_jobs()
                empty_bins()


def _end_doing(queue: str) -> None:
    """The tasks that the queue's dead worker was at are over: their work is queued anew."""
    doing = app.job_manager.list_jobs(queue=queue, status=Status.DOING.value)
    with connection.cursor() as cursor:
        for job in doing:
            # The library's own function of the database: its Python way to it is for workers alone.
            cursor.execute("SELECT procrastinate_finish_job_v1(%s, 'failed', true)", [job.id])


def _file_jobs() -> None:
    unfinished = FileJob.objects.filter(state__in=FileJob.UNFINISHED)
    for making in unfinished:
        make_file.defer(job_id=str(making.pk))
    unfinished.update(state=FileJob.State.WAITING, done=0)
    sweep()


def _counting() -> None:
    """Files that are counted already stay counted; figures that take long, and sources on their way in, begin anew."""
    for counting in Counting.objects.filter(state__in=Counting.UNFINISHED):
        Counting.objects.filter(pk=counting.pk).update(state=Counting.State.WAITING)
        defer_counting(counting)
    for drawing in Drawing.objects.filter(state__in=Drawing.UNFINISHED):
        Drawing.objects.filter(pk=drawing.pk).update(state=Drawing.State.WAITING, done=0)
        defer_drawing(drawing)
    for job in ReadingJob.objects.exclude(source=None).filter(state__in=[ReadingJob.State.WAITING, ReadingJob.State.READING]):
        ReadingJob.objects.filter(pk=job.pk).update(state=ReadingJob.State.WAITING, progress=0.0)
        list_source.defer(job_id=str(job.pk))


def _reading(before: float) -> None:
    """Uploads that are read again; of the others what was laid down before that time belongs to nobody."""
    left = ReadingJob.objects.filter(source=None, state__in=[ReadingJob.State.WAITING, ReadingJob.State.READING])
    for job in left:
        if job.path.exists():
            ReadingJob.objects.filter(pk=job.pk).update(state=ReadingJob.State.WAITING, progress=0.0)
            read_table.defer(job_id=str(job.pk))
        else:
            job.delete()
    waiting = {str(pk) for pk in left.values_list("pk", flat=True)}
    for path in settings.UPLOADS.glob("*"):
        if path.name in waiting or path.stat().st_mtime > before:
            continue
        if path.is_dir():
            shutil.rmtree(path, ignore_errors=True)
        else:
            path.unlink(missing_ok=True)
