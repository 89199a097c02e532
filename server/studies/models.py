"""Studies and who may do what in them."""

from __future__ import annotations

import uuid
from functools import partial
from typing import TypeVar

from django.conf import settings
from django.db import models, transaction

from echelle.recipes.style import Style
from server.accounts.models import Person

M = TypeVar("M", bound=models.Model)


class Role(models.TextChoices):
    """An owner also manages people; an editor changes; a reader looks, at rows too; a viewer looks at figures alone."""

    OWNER = "owner"
    EDITOR = "editor"
    READER = "reader"
    VIEWER = "viewer"


CHANGING = (Role.OWNER, Role.EDITOR)
SEEING_ROWS = (*CHANGING, Role.READER)


class WithinStudies(models.QuerySet[M]):
    """Rows of a model that belongs to a study; every view starts from one of these."""

    path = "study__"

    def seen_by(self, person: Person) -> WithinStudies[M]:
        """What the person may look at."""
        return self.filter(**{f"{self.path}membership__person": person})

    def changed_by(self, person: Person) -> WithinStudies[M]:
        """What the person may change."""
        return self._of(person, CHANGING)

    def read_by(self, person: Person) -> WithinStudies[M]:
        """That of which the person may see the rows."""
        return self._of(person, SEEING_ROWS)

    def _of(self, person: Person, roles: tuple[Role, ...]) -> WithinStudies[M]:
        return self.filter(**{f"{self.path}membership__person": person, f"{self.path}membership__role__in": roles})


class Studies(WithinStudies["Study"]):
    """Studies themselves."""

    path = ""

    def owned_by(self, person: Person) -> Studies:
        """What the person owns."""
        return self.filter(membership__person=person, membership__role=Role.OWNER)


class Study(models.Model):
    """A workspace: its tables, comparisons, people; ``house`` is its look, null for the one that Echelle begins with;
    ``guides`` are kept to be set into its figures; ``outside_links`` lets them be linked to for people without an
    account; a figure that a viewer asks for shows no lane of fewer subjects than ``least_cell``. What lies in its bin for
    ``bin_days`` is erased. One that nobody works in any more is ``archived``. ``preparations`` are lists of steps, taken over
    from the study that it was begun like: a table that comes in is prepared by the first that fits it.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=200)
    made = models.DateTimeField(auto_now_add=True)
    house = models.JSONField(null=True)
    guides = models.JSONField(default=list)
    guides_revision = models.IntegerField(default=0)
    house_revision = models.IntegerField(default=0)
    outside_links = models.BooleanField(default=False)
    least_cell = models.IntegerField(default=5)
    bin_days = models.IntegerField(default=30)
    notes = models.TextField(default="", blank=True)
    archived = models.DateTimeField(null=True)
    preparations = models.JSONField(default=list)
    people = models.ManyToManyField(settings.AUTH_USER_MODEL, through="Membership")

    objects = Studies.as_manager()

    def __str__(self) -> str:
        return self.name

    def erase(self) -> None:
        """Remove the study for good: raw files, uploads, files made of it. Work under way finds nothing and ends."""
        raws = {table.raw for table in self.datatable_set.select_related("raw")}
        paths = [job.path for jobs in (self.readingjob_set, self.filejob_set) for job in jobs.all()]
        self.delete()
        for raw in raws:
            raw.delete()
        for path in paths:
            transaction.on_commit(partial(path.unlink, missing_ok=True))

    @property
    def style(self) -> Style:
        """The house style."""
        return Style() if self.house is None else Style.model_validate(self.house)

    def shows_rows_to(self, person: Person) -> bool:
        """Whether the person, who is in the study, may see rows: a viewer looks without."""
        return self.role_of(person) in SEEING_ROWS

    def signed_by(self, person: Person) -> bool:
        """Whether the person may sign off: owners, and those given the right."""
        mine = self.membership_set.filter(person=person)
        return mine.filter(models.Q(role=Role.OWNER) | models.Q(may_sign=True)).exists()

    def role_of(self, person: Person) -> str | None:
        """The person's role here, None for a stranger."""
        return self.membership_set.filter(person=person).values_list("role", flat=True).first()


class Team(models.Model):
    """People who come into studies together; who ``keeper`` is says who they are."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=200)
    keeper = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="kept_team_set")
    people = models.ManyToManyField(settings.AUTH_USER_MODEL)

    def __str__(self) -> str:
        return self.name


class TeamRole(models.Model):
    """What the people of a team may do in a study. Owners are people, never teams."""

    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    team = models.ForeignKey(Team, on_delete=models.CASCADE)
    role = models.CharField(max_length=8, choices=Role.choices)
    may_sign = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["study", "team"], name="one_role_a_team"),
            models.CheckConstraint(condition=~models.Q(role="owner"), name="no_team_owns"),
        ]

    def __str__(self) -> str:
        return f"{self.team}: {self.role} of {self.study}"


class Membership(models.Model):
    """A person in a study; ``may_sign`` lets others than owners sign off; a ``pinned`` study comes first for that person.
    ``team`` is the one that they came with, null for who was let in themselves.
    """

    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    role = models.CharField(max_length=8, choices=Role.choices)
    may_sign = models.BooleanField(default=False)
    pinned = models.BooleanField(default=False)
    team = models.ForeignKey(Team, null=True, on_delete=models.CASCADE)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["study", "person"], name="one_role_a_person")]

    def __str__(self) -> str:
        return f"{self.person}: {self.role} of {self.study}"


class Invitation(models.Model):
    """A link that lets somebody into a study once, with an account or without one yet. Only a digest of it is stored."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    role = models.CharField(max_length=8, choices=Role.choices)
    may_sign = models.BooleanField(default=False)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    words = models.CharField(max_length=200, blank=True)
    digest = models.CharField(max_length=64, unique=True)
    until = models.DateTimeField()

    objects = WithinStudies.as_manager()

    def __str__(self) -> str:
        return f"invitation to {self.study} as {self.role}"


def make_study(name: str, owner: Person) -> Study:
    """A study with its first owner."""
    study = Study.objects.create(name=name)
    Membership.objects.create(study=study, person=owner, role=Role.OWNER)
    return study
