"""What comes in and goes out about tables."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import Field, RootModel

from echelle.strict_model import AnswerModel
from echelle.tables.column_summary import ColumnSummary
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.steps.joining import KeyPair, TableRef
from echelle.tables.steps.registry import Step
from server.api.bodies import MOST_NOTES, RequestBody
from server.api.faults import Fault
from server.studies.bodies import RoleName

MOST_ROWS = 500


class RemedyOffer(AnswerModel):
    """What undoes a guess: another way to read, or steps."""

    words: str
    options: ReadingOptions = Field(default_factory=ReadingOptions)
    steps: list[Step] = Field(default_factory=list)


class ReadingRemark(AnswerModel):
    """What the reader guessed or met; ``row`` is the record it stands in."""

    text: str
    column: str | None = None
    line: int | None = None
    row: int | None = None
    remedies: list[RemedyOffer] = Field(default_factory=list)


class StepState(AnswerModel):
    """A step with what it says and did; ``rows`` is null from the step on at which the preparation stops."""

    step: Step
    words: str
    rows: int | None
    columns: int | None
    note: str


class Outcome(AnswerModel):
    """What steps lead to: ``stopped`` is the fault of the step at which they stop."""

    steps: list[StepState]
    stopped: Fault | None
    rows: int
    rows_shown: int
    columns: list[ColumnSummary]


class Revision(AnswerModel):
    """One revision of the preparation."""

    revision: int
    words: str
    by: str
    at: datetime


class TableLink(AnswerModel):
    """A table by name; ``reference`` is what a step says to bring it in."""

    id: str
    name: str
    rows: int
    columns: list[str]
    reference: TableRef


class TableLinks(RootModel[list[TableLink]]):
    """Tables of a study, newest first; those that were replaced are not among them."""


class HowRead(AnswerModel):
    """How the file was read; null where the format has no such thing."""

    format: str
    encoding: str | None
    delimiter: str | None
    decimal: Literal["point", "comma"]
    header_row: int
    sheet: str | None = None
    sheets: list[str] = Field(default_factory=list)


class Sampled(AnswerModel):
    """Of a far table: what its source is called, null where a bundle brought its counts alone; how many files it has, and how
    many of its rows are held as a sample.
    """

    source: str | None
    files: int
    rows: int


class TableState(AnswerModel):
    """A table with one revision of its preparation. ``newer`` and ``older`` name tables that replace it or that it replaced."""

    id: str
    name: str
    study: str
    study_name: str
    role: RoleName
    size: int
    sha256: str
    rows: int
    far: Sampled | None
    read: HowRead
    told: ReadingOptions
    remarks: list[ReadingRemark]
    revision: int
    newest: int
    history: list[Revision]
    outcome: Outcome
    newer: str | None
    older: str | None


class ChangeTable(RequestBody):
    """What of a table changes besides its preparation; the rest is left out."""

    name: str | None = Field(default=None, max_length=1_000)
    notes: str | None = Field(default=None, max_length=MOST_NOTES)


class SettleSteps(RequestBody):
    """Steps to keep as the revision after ``revision``."""

    revision: int
    steps: list[Step]


class Try(RequestBody):
    """Steps to try; nothing is kept."""

    steps: list[Step]


class Sort(RequestBody):
    """By which column rows are shown; the data keep their order."""

    column: str
    down: bool = False


class AskTableRows(RequestBody):
    """A window of rows under ``steps``. With ``against``, cells that differ from those steps are marked."""

    steps: list[Step]
    start: int = Field(ge=0)
    count: int = Field(ge=1, le=MOST_ROWS)
    sort: Sort | None = None
    against: list[Step] | None = None


class RowsWindow(AnswerModel):
    """Rows from ``start``, column by column.

    ``states`` has one letter a cell: "." a value, "m" missing, "l" a limit. ``changed`` has "+" where a cell differs from
    what it was, "." elsewhere. ``keys`` are row ids as numbers, ``ids`` the same for people.
    """

    start: int
    total: int
    keys: list[int]
    ids: list[str]
    left_out: list[bool]
    cells: list[list[str | None]]
    states: list[str]
    changed: list[str] | None = None


class Find(RequestBody):
    """Where ``text`` stands, or the row with that ``key``."""

    steps: list[Step]
    text: str = Field(default="", max_length=500)
    key: int | None = None
    sort: Sort | None = None


class FoundRows(AnswerModel):
    """Places (rows as shown, from 0) in which a text stands, at most 10 000 of them; ``total`` counts all."""

    places: list[int]
    total: int


class AskKeys(RequestBody):
    """Which keys to compare with another table's."""

    steps: list[Step]
    table: TableRef
    keys: list[KeyPair] = Field(min_length=1)


class Keys(AnswerModel):
    """How keys meet: rows here with a match and without, rows there unused, the most rows behind one key there."""

    matched: int
    unmatched: int
    unused: int
    most: int
    unmatched_first: list[str]
    unused_first: list[str]


class LeaveOutRow(RequestBody):
    """One row to leave out for the whole table."""

    revision: int
    key: int
    reason: str = Field(min_length=1, max_length=500)


class NewLevels(AnswerModel):
    """Levels that a newer file brought to a column, and those that are gone."""

    column: str
    added: list[str]
    gone: list[str]


class Changes(AnswerModel):
    """What a newer file changed. Rows are matched by ``by``, an identifier, or by all their cells."""

    by: str | None
    added: int
    gone: int
    changed: int
    same: int
    columns_added: list[str]
    columns_gone: list[str]
    levels: list[NewLevels]
