"""The record of access: who did what, when, in which study. Lines are only added: the database refuses every change of one, and
each carries the hash of the line before it, so that a line taken out by other means is missed.
"""

from __future__ import annotations

import hashlib
import uuid
from collections.abc import Iterable
from datetime import UTC, timedelta

import orjson
from django.db import connection, models, transaction
from django.utils import timezone

from echelle.errors import InputError

# What lines of one kind within so long say once: who scrolls through rows reads them once.
ONCE_IN = timedelta(minutes=10)
MOST_GUESSES = 10
_LOCK = 720_201


class RecordLine(models.Model):
    """One line. ``study`` is no key to the study, since the line outlives it; null where it concerns none."""

    id = models.BigAutoField(primary_key=True)
    study = models.UUIDField(null=True, db_index=True)
    number = models.IntegerField()
    at = models.DateTimeField()
    person = models.CharField(max_length=150)
    what = models.CharField(max_length=40)
    details = models.JSONField(default=dict)
    before = models.CharField(max_length=64)
    hash = models.CharField(max_length=64)

    class Meta:
        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["study", "number"], name="one_line_a_number", nulls_distinct=False),
        ]

    def __str__(self) -> str:
        return f"{self.at:%Y-%m-%d %H:%M} {self.person}: {self.what}"

    def digest(self) -> str:
        """The hash of what the line says and of the one before."""
        said = [
            str(self.study) if self.study else None, self.number, self.at.astimezone(UTC).isoformat(), self.person, self.what,
            self.details, self.before,
        ]  # fmt: skip
        return hashlib.sha256(orjson.dumps(said, option=orjson.OPT_SORT_KEYS)).hexdigest()


def record(person: str, what: str, study: uuid.UUID | None = None, *, once: bool = False, **details: str | int) -> None:
    """Add a line; with ``once`` only where the same was not said a short while ago."""
    now = timezone.now()
    with transaction.atomic():
        with connection.cursor() as cursor:
            # One chain a study; whoever adds to any of them waits for whoever adds now.
            cursor.execute("SELECT pg_advisory_xact_lock(%s)", [_LOCK])
        chain = RecordLine.objects.filter(study=study)
        if once and chain.filter(person=person, what=what, details=details, at__gt=now - ONCE_IN).exists():
            return
        last = chain.order_by("-number").first()
        line = RecordLine(
            study=study, number=last.number + 1 if last else 1, at=now, person=person[:150], what=what, details=details,
            before=last.hash if last else "",
        )  # fmt: skip
        line.hash = line.digest()
        line.save()


def first_break(lines: Iterable[RecordLine]) -> RecordLine | None:
    """The first line of a chain that does not follow from the one before, or was changed; None for a whole chain."""
    before, number = "", 1
    for line in lines:
        if (line.before, line.number, line.hash) != (before, number, line.digest()):
            return line
        before, number = line.hash, number + 1
    return None


def must_be_few(person: str, what: str, words: str) -> None:
    """Raises InputError with the words where a person has many such lines within the last hour: guessing is slowed."""
    since = timezone.now() - timedelta(hours=1)
    if RecordLine.objects.filter(person=person, what=what, at__gt=since).count() >= MOST_GUESSES:
        raise InputError(words, remedy="Try again in an hour.")
