"""Raw files kept byte for byte, tables read from them, and the readings under way."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Iterator
from pathlib import Path

import psycopg
from django.conf import settings
from django.db import connection, models

from server.studies.models import Study, WithinStudies

PIECE = 1_000_000


class RawFile(models.Model):
    """An upload as it came."""

    sha256 = models.CharField(max_length=64)
    name = models.CharField(max_length=255)
    size = models.BigIntegerField()

    def __str__(self) -> str:
        return self.name

    def keep(self, pieces: Iterable[bytes]) -> None:
        """Store the bytes, a row a piece."""
        for number, piece in enumerate(pieces):
            RawPiece.objects.create(raw=self, number=number, data=piece)

    def pieces(self) -> Iterator[bytes]:
        """The bytes again, through a binary cursor, one piece in memory at a time."""
        count = self.rawpiece_set.count()
        for number in range(count):
            query = "SELECT data FROM tables_rawpiece WHERE raw_id = %s AND number = %s"
            connection.ensure_connection()
            with psycopg.Cursor(connection.connection) as cursor:
                piece = cursor.execute(query, [self.pk, number], binary=True).fetchone()
                assert piece is not None, "pieces are counted from 0 without a gap"
                yield bytes(piece[0])


class RawPiece(models.Model):
    """Up to 1 MB of a raw file."""

    raw = models.ForeignKey(RawFile, on_delete=models.CASCADE)
    number = models.IntegerField()
    data = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["raw", "number"], name="one_piece_a_number")]

    def __str__(self) -> str:
        return f"{self.raw} [{self.number}]"


class DataTable(models.Model):
    """A table as read. It never changes: a newer file, or another way to read it, is a newer table that ``replaces`` it.

    ``options`` say how it was read, ``told`` what of that a person said, ``by`` who brought it.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    name = models.CharField(max_length=255)
    raw = models.ForeignKey(RawFile, on_delete=models.PROTECT)
    options = models.JSONField(default=dict)
    told = models.JSONField(default=dict)
    replaces = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="replaced_by")
    rows = models.IntegerField()
    remarks = models.JSONField(default=list)
    notes = models.TextField(default="", blank=True)
    by = models.CharField(max_length=150, default="", blank=True)
    columns = models.JSONField(default=list)
    made = models.DateTimeField(auto_now_add=True)

    objects = WithinStudies.as_manager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["replaces"], name="one_newer_table_a_table")]

    def __str__(self) -> str:
        return self.name


class Preparation(models.Model):
    """One revision of a table's steps, never overwritten. Revision 0, without a row here, is the table as read."""

    table = models.ForeignKey(DataTable, on_delete=models.CASCADE)
    revision = models.IntegerField()
    steps = models.JSONField()
    words = models.CharField(max_length=200)
    by = models.CharField(max_length=150)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["revision"]
        constraints = [models.UniqueConstraint(fields=["table", "revision"], name="one_preparation_a_revision")]

    def __str__(self) -> str:
        return f"{self.table} [{self.revision}] {self.words}"


class StoredColumn(models.Model):
    """One column of a table as an Arrow IPC buffer."""

    table = models.ForeignKey(DataTable, on_delete=models.CASCADE)
    place = models.IntegerField()
    buffer = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["table", "place"], name="one_column_a_place")]

    def __str__(self) -> str:
        return f"{self.table} [{self.place}]"


class ReadingJob(models.Model):
    """A file being read: what came of it, or why not. Nothing of the file is kept until reading succeeded."""

    class State(models.TextChoices):
        WAITING = "waiting"
        READING = "reading"
        DONE = "done"
        REFUSED = "refused"
        STOPPED = "stopped"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    name = models.CharField(max_length=255)
    sha256 = models.CharField(max_length=64)
    size = models.BigIntegerField()
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    progress = models.FloatField(default=0.0)
    fault = models.JSONField(null=True)
    table = models.ForeignKey(DataTable, null=True, on_delete=models.SET_NULL)
    replaces = models.ForeignKey(DataTable, null=True, on_delete=models.SET_NULL, related_name="newer_jobs")
    told = models.JSONField(default=dict)
    made = models.DateTimeField(auto_now_add=True)

    objects = WithinStudies.as_manager()

    def __str__(self) -> str:
        return f"{self.name}: {self.state}"

    @property
    def path(self) -> Path:
        """Where the upload waits while it is read."""
        return Path(settings.UPLOADS) / str(self.pk)
