"""What comes in and goes out about studies, their pages and what is found in them."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field, RootModel

from server.api.bodies import MOST_NOTES, RequestBody
from server.api.faults import Fault
from server.comparisons.bodies import RemarkState
from server.studies.bodies import RoleName, ShelfName

MOST_TOGETHER = 200
WhatFound = Literal["study", "comparison", "table", "folio"]
Act = Literal["open", "archive", "bin", "newest style", "newest data", "folio", "copy", "tag"]


class CardComparison(BaseModel):
    """A comparison on its study's card."""

    id: str
    name: str
    changed: datetime


class CardTable(BaseModel):
    """A table on its study's card."""

    id: str
    name: str
    rows: int


class CardFolio(BaseModel):
    """A folio on its study's card."""

    id: str
    name: str


class StudyCard(BaseModel):
    """A study as its card shows it, newest comparison first; ``open`` counts all that are neither archived nor in the bin."""

    id: str
    name: str
    role: RoleName
    pinned: bool
    archived: bool
    changed: datetime = Field(description="when somebody worked in it last")
    people: list[str]
    open: int
    comparisons: list[CardComparison]
    tables: list[CardTable]
    folios: list[CardFolio]


class StudyCards(RootModel[list[StudyCard]]):
    """Cards: pinned ones first, then by their last work; archived ones last."""


class NewStudy(RequestBody):
    """A study to make; ``like`` names one whose house style, guides and folio pages it begins with."""

    name: str = Field(max_length=1_000)
    like: str | None = None


class ChangeStudy(RequestBody):
    """What of a study changes; the rest is left out. The archive and the days of the bin are for owners."""

    name: str | None = Field(default=None, max_length=1_000)
    notes: str | None = Field(default=None, max_length=MOST_NOTES)
    archived: bool | None = None
    bin_days: int | None = Field(default=None, ge=1, le=3_650)


class StudyComparison(BaseModel):
    """A comparison in the list of its study: what it asks, of which table, who settled it last, and where it is put."""

    id: str
    name: str
    changed: datetime
    measure: str
    groups: str
    form: str
    table: str
    table_id: str = Field(description="the version of the table that it is drawn from")
    by: str
    locked: bool
    older_data: bool
    shelf: ShelfName
    binned: datetime | None
    tags: list[str]
    notes: str
    watched: bool
    alarm: str
    remarks: int = Field(description="those that are not settled")


class TableVersion(BaseModel):
    """A file that a table was read from, at a time: how many comparisons are drawn from it."""

    id: str
    name: str
    made: datetime
    by: str
    rows: int
    comparisons: int


class StudyTable(BaseModel):
    """A table of a study with its earlier versions, newest first: when each came in, and what is drawn from it."""

    id: str
    name: str
    rows: int
    made: datetime
    by: str
    notes: str
    comparisons: int
    earlier: list[TableVersion]


class StudyState(BaseModel):
    """All that a study holds; comparisons and tables that were changed last come first."""

    id: str
    name: str
    role: RoleName
    notes: str
    pinned: bool
    archived: bool
    bin_days: int
    comparisons: list[StudyComparison]
    tables: list[StudyTable]
    folios: list[CardFolio]


class Event(BaseModel):
    """Something that somebody did in a study; ``comparison`` or ``table`` is where it was."""

    at: datetime
    by: str
    words: str
    name: str
    comparison: str | None = None
    table: str | None = None


class Events(RootModel[list[Event]]):
    """Newest first."""


class StudyRemark(RemarkState):
    """A remark with the comparison that it is on."""

    comparison: str
    name: str


class StudyRemarks(RootModel[list[StudyRemark]]):
    """The remarks of a study: those that are open first, the newest first."""


class FoundPiece(BaseModel):
    """A text by which something was found, and what it is."""

    what: str
    text: str


class Found(BaseModel):
    """Something that was found."""

    id: str
    what: WhatFound
    name: str
    study: str
    study_name: str
    changed: datetime
    pieces: list[FoundPiece]


class SearchResult(BaseModel):
    """The best finds; whether there are more."""

    found: list[Found]
    more: bool


class RecentComparison(BaseModel):
    """A comparison that somebody had open, or pinned."""

    id: str
    name: str
    study_name: str
    changed: datetime
    pinned: bool


class RecentComparisons(RootModel[list[RecentComparison]]):
    """Pinned ones first, then by when they were open last."""


class Together(RequestBody):
    """What is done with several comparisons of a study at once; ``to`` is the folio, study or tag, where the act has one."""

    comparisons: list[str] = Field(min_length=1, max_length=MOST_TOGETHER)
    act: Act
    to: str = Field(default="", max_length=200)


class NotDone(BaseModel):
    """A comparison with which it was not done, and why."""

    comparison: str
    name: str
    fault: Fault


class Done(BaseModel):
    """With how many it was done, and with which not; ``to`` is the folio or study that has them now."""

    done: int
    refused: list[NotDone]
    to: str


class UseVersion(BaseModel):
    """A version of a comparison."""

    id: str
    version: int
    changed: datetime
    locked: bool
    head: int = Field(description="the state that it shows")
    words: list[str] = Field(description="what differs from the version before it")


class Uses(BaseModel):
    """The versions of a comparison, oldest first, the folios it stands on, and how many open links lead to it."""

    versions: list[UseVersion]
    folios: list[CardFolio]
    links: int
