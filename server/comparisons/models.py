"""Comparisons and their trails."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.utils.functional import cached_property

from echelle.recipes.style import Style
from server.studies.bodies import ShelfName
from server.studies.models import M, Study, WithinStudies
from server.studies.sign_off import SignedOff
from server.tables.models import DataTable


class Comparison(SignedOff):
    """One question and its figure. ``revision`` counts every save and every step on the trail; ``dismissed`` holds the keys of
    advice that nobody needs to read again; ``locked_style`` is the house style that a locked one was signed off in,
    ``kept_style`` the one before the study's newest, until the figure takes that. One that nobody works on any more is
    ``archived``; one that was thrown away is ``binned`` until it is erased. One that is ``watched`` is looked at whenever newer
    data come: ``alarm`` says what they broke. ``form`` is that of the shown state, empty for layers arranged otherwise.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    table = models.ForeignKey(DataTable, on_delete=models.CASCADE)
    name = models.CharField(max_length=200)
    revision = models.IntegerField(default=0)
    head = models.IntegerField(default=0)
    dismissed = models.JSONField(default=list)
    locked_style = models.JSONField(null=True)
    kept_style = models.JSONField(null=True)
    archived = models.DateTimeField(null=True)
    binned = models.DateTimeField(null=True)
    notes = models.TextField(default="", blank=True)
    tags = models.JSONField(default=list)
    watched = models.BooleanField(default=False)
    alarm = models.CharField(max_length=500, default="", blank=True)
    alarmed = models.DateTimeField(null=True)
    form = models.CharField(max_length=20, default="", blank=True)
    made = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    objects = WithinStudies.as_manager()

    def __str__(self) -> str:
        return self.name

    @property
    def house(self) -> Style:
        """The house style that it is drawn over: that it was signed off in, that before a newer one it has not taken, or the
        study's.
        """
        own = self.locked_style or self.kept_style
        return Style.model_validate(own) if own else self.study.style

    @property
    def shelf(self) -> ShelfName:
        """Where it is put."""
        if self.binned is not None:
            return "bin"
        return "open" if self.archived is None else "archive"

    @cached_property
    def open_remarks(self) -> int:
        """How many remarks are not settled."""
        return self.remark_set.filter(answers=None, settled_at=None).count()

    @property
    def head_entry(self) -> TrailEntry:
        """The state that is shown."""
        return self.trailentry_set.select_related("table").get(number=self.head)


class TrailEntry(models.Model):
    """A settled state; never overwritten. ``refused`` marks one whose save came too late, ``foreign`` one that a bundle
    brought: who made it and when is what that says.
    """

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
    foreign = models.BooleanField(default=False)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["comparison", "number"], name="one_entry_a_number")]

    def __str__(self) -> str:
        return f"{self.comparison} [{self.number}] {self.words}"


class WithinComparisons(WithinStudies[M]):
    """What belongs to a comparison of a study."""

    path = "comparison__study__"


class Visit(models.Model):
    """When a person last had a comparison open, and whether they pinned it."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    comparison = models.ForeignKey(Comparison, on_delete=models.CASCADE)
    at = models.DateTimeField()
    pinned = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "comparison"], name="one_visit_a_person")]
        indexes = [models.Index(fields=["person", "-at"], name="visits_of_a_person")]

    def __str__(self) -> str:
        return f"{self.person} at {self.comparison}"


class Drawing(models.Model):
    """A figure that takes long, drawn by the worker: after how many of about how many seconds, and its scene, also in small,
    once it is there. ``digest`` names what is asked for.
    """

    class State(models.TextChoices):
        WAITING = "waiting"
        DRAWING = "drawing"
        DONE = "done"
        REFUSED = "refused"
        STOPPED = "stopped"

    UNFINISHED = (State.WAITING, State.DRAWING)

    comparison = models.ForeignKey(Comparison, on_delete=models.CASCADE)
    table = models.ForeignKey(DataTable, on_delete=models.CASCADE)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    digest = models.CharField(max_length=64)
    asked = models.JSONField()
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    done = models.IntegerField(default=0)
    of = models.IntegerField()
    scene = models.BinaryField(null=True)
    small = models.BinaryField(null=True)
    fault = models.JSONField(null=True)
    made = models.DateTimeField(auto_now_add=True)
    asked_at = models.DateTimeField(auto_now_add=True)

    objects = WithinComparisons.as_manager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["comparison", "person", "digest"], name="one_drawing_a_figure")]

    def __str__(self) -> str:
        return f"{self.comparison}: {self.state}"


class Remark(models.Model):
    """What somebody says of a figure, or of one lane of it, with the state that they saw; answered, and settled at last."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    comparison = models.ForeignKey(Comparison, on_delete=models.CASCADE)
    answers = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="answered_by")
    lane = models.CharField(max_length=400, default="", blank=True)
    state = models.IntegerField()
    text = models.TextField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now_add=True)
    settled_by = models.CharField(max_length=150, default="", blank=True)
    settled_at = models.DateTimeField(null=True)

    objects = WithinComparisons.as_manager()

    class Meta:
        ordering = ["at"]

    def __str__(self) -> str:
        return self.text[:80]
