"""Comparisons and their trails."""

from __future__ import annotations

import uuid

from django.db import models

from server.studies.models import Study, WithinStudies
from server.tables.models import DataTable


class Comparison(models.Model):
    """One question and its figure. ``revision`` counts every save and every step on the trail; ``dismissed`` holds the keys of
    advice that nobody needs to read again. A locked one changes only as a new version, which ``follows`` it.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    table = models.ForeignKey(DataTable, on_delete=models.CASCADE)
    name = models.CharField(max_length=200)
    revision = models.IntegerField(default=0)
    head = models.IntegerField(default=0)
    dismissed = models.JSONField(default=list)
    version = models.IntegerField(default=1)
    follows = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="followed_by")
    locked_by = models.CharField(max_length=150, default="")
    locked_at = models.DateTimeField(null=True)
    lock_reason = models.CharField(max_length=500, default="")
    locked_style = models.JSONField(null=True)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    objects = WithinStudies.as_manager()

    def __str__(self) -> str:
        return self.name

    @property
    def lock_words(self) -> str:
        """By whom, when and why it was locked; empty where nobody did."""
        return f"{self.locked_by}, {self.locked_at:%Y-%m-%d %H:%M} UTC: {self.lock_reason}" if self.locked_at else ""

    @property
    def head_entry(self) -> TrailEntry:
        """The state that is shown."""
        return self.trailentry_set.get(number=self.head)


class TrailEntry(models.Model):
    """A settled state; never overwritten. ``refused`` marks one whose save came too late."""

    comparison = models.ForeignKey(Comparison, on_delete=models.CASCADE)
    number = models.IntegerField()
    parent = models.IntegerField(null=True)
    recipe = models.JSONField()
    words = models.CharField(max_length=200)
    name = models.CharField(max_length=100, default="")
    table = models.ForeignKey(DataTable, on_delete=models.CASCADE)
    preparation = models.IntegerField(default=0)
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now_add=True)
    refused = models.BooleanField(default=False)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["comparison", "number"], name="one_entry_a_number")]

    def __str__(self) -> str:
        return f"{self.comparison} [{self.number}] {self.words}"
