"""Files being made by the worker: what was asked, how far it is, and where the file waits to be fetched."""

from __future__ import annotations

import uuid
from pathlib import Path

from django.conf import settings
from django.db import models

from server.studies.models import Study, WithinStudies


class FileJob(models.Model):
    """One file on its way out, for the person who asked for it, or for those who follow a link; it waits a day."""

    class State(models.TextChoices):
        WAITING = "waiting"
        WORKING = "working"
        DONE = "done"
        REFUSED = "refused"
        STOPPED = "stopped"

    UNFINISHED = (State.WAITING, State.WORKING)

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE)
    asked = models.JSONField()
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    done = models.IntegerField(default=0)
    of = models.IntegerField(default=0)
    name = models.CharField(max_length=255, default="")
    type = models.CharField(max_length=100, default="")
    fault = models.JSONField(null=True)
    made = models.DateTimeField(auto_now_add=True)

    objects = WithinStudies.as_manager()

    def __str__(self) -> str:
        return f"{self.name or self.asked.get('what')}: {self.state}"

    @property
    def path(self) -> Path:
        """Where the file waits."""
        return Path(settings.FILE_JOBS) / str(self.pk)
