"""Raw files kept byte for byte, tables read from them, and the readings under way."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Iterator
from pathlib import Path

import psycopg
from django.conf import settings
from django.db import connection, models

from echelle.errors import InputError
from echelle.far.counted_file import FORMAT
from server.accounts.models import Person
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


class Sources(models.QuerySet["Source"]):
    """Every view starts from those of its person."""

    def open_to(self, person: Person) -> Sources:
        """What the person may bring into a study."""
        return self.filter(people=person)


class Source(models.Model):
    """A folder or a store of many files that an administrator named, and who may bring it into a study. Nobody is shown where
    it lies.
    """

    name = models.CharField(max_length=100, unique=True)
    address = models.CharField(max_length=1_000)
    people = models.ManyToManyField(settings.AUTH_USER_MODEL)

    objects = Sources.as_manager()

    def __str__(self) -> str:
        return self.name


class DataTable(models.Model):
    """A table as read. It never changes: a newer file, or another way to read it, is a newer table that ``replaces`` it.

    ``options`` say how it was read, ``told`` what of that a person said, ``by`` who brought it. Of a far table, which has a
    ``source``, ``raw`` is the list of its files, and the columns hold a sample of its rows; where a bundle brought it,
    ``raw`` is what was counted.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    name = models.CharField(max_length=255)
    raw = models.ForeignKey(RawFile, on_delete=models.PROTECT)
    options = models.JSONField(default=dict)
    told = models.JSONField(default=dict)
    replaces = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="replaced_by")
    rows = models.BigIntegerField()
    source = models.ForeignKey(Source, null=True, on_delete=models.PROTECT)
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

    def must_be_near(self, what: str) -> None:
        """Raises InputError for a far table: ``what`` is done with rows one by one."""
        if self.is_far:
            raise InputError(
                f"{what}: the rows of {self.name} stay where its files lie", remedy="Bring a part of them as a file of its own."
            )

    @property
    def counts_alone(self) -> bool:
        """Whether it is what a bundle holds of a far table: counts, and a few rows."""
        return bool(self.options.get("format") == FORMAT)

    @property
    def is_far(self) -> bool:
        """Whether its stored columns are a sample of rows that lie elsewhere."""
        return self.source_id is not None or self.counts_alone

    @property
    def rows_held(self) -> int:
        """How many rows its stored columns have: all, or those of the sample."""
        return int(self.options.get("sample_rows", self.rows))


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
    source = models.ForeignKey(Source, null=True, on_delete=models.CASCADE)
    made = models.DateTimeField(auto_now_add=True)

    objects = WithinStudies.as_manager()

    def __str__(self) -> str:
        return f"{self.name}: {self.state}"

    @property
    def path(self) -> Path:
        """Where the upload waits while it is read."""
        return Path(settings.UPLOADS) / str(self.pk)


class StoredTally(models.Model):
    """What was counted of one file for one question; of all files of a version where ``part`` is empty and ``mark`` its
    digest.
    """

    source = models.ForeignKey(Source, on_delete=models.CASCADE)
    part = models.CharField(max_length=1_000)
    mark = models.CharField(max_length=200)
    question = models.CharField(max_length=64)
    data = models.BinaryField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["source", "part", "mark", "question"], name="one_tally_a_part")]

    def __str__(self) -> str:
        return f"{self.source}: {self.part or 'all'}"


class CountingsWithin(WithinStudies["Counting"]):
    """Of tables of studies."""

    path = "table__study__"


class Counting(models.Model):
    """The counting of a far table's files for one question: how many are done, or why it ended."""

    class State(models.TextChoices):
        WAITING = "waiting"
        COUNTING = "counting"
        DONE = "done"
        REFUSED = "refused"
        STOPPED = "stopped"

    UNFINISHED, ENDED = (State.WAITING, State.COUNTING), (State.STOPPED, State.REFUSED)

    table = models.ForeignKey(DataTable, on_delete=models.CASCADE)
    question = models.CharField(max_length=64)
    asked = models.JSONField()
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    done = models.IntegerField(default=0)
    of = models.IntegerField()
    # Of the values in some cells of lanes whose counts are there.
    of_cells = models.BooleanField(default=False)
    fault = models.JSONField(null=True)
    made = models.DateTimeField(auto_now_add=True)

    objects = CountingsWithin.as_manager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["table", "question"], name="one_counting_a_question")]

    def __str__(self) -> str:
        return f"{self.table}: {self.done} of {self.of}, {self.state}"
