"""Folios: pages of lettered figures, each linked to its comparison."""

from __future__ import annotations

import uuid

from django.db import models

from server.studies.models import Study, WithinStudies
from server.studies.sign_off import SignedOff


class Folio(SignedOff):
    """A page and its figures: ids of comparisons in order. ``revision`` counts every save. A locked one keeps, for each
    comparison, the state and the house style it was signed off with (``locked_states``).
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    name = models.CharField(max_length=200)
    page = models.JSONField(default=dict)
    figures = models.JSONField(default=list)
    revision = models.IntegerField(default=0)
    locked_states = models.JSONField(default=dict)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    objects = WithinStudies.as_manager()

    def __str__(self) -> str:
        return self.name
