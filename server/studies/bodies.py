"""What comes in and goes out about studies."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field, RootModel

from echelle.recipes.guides import KeptGuides
from echelle.recipes.style import Style
from server.api.bodies import MOST_PASSWORD, RequestBody

Meaning = Literal["written", "reviewed", "approved", "responsible"]
RoleName = Literal["owner", "editor", "viewer"]


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


ShelfName = Literal["open", "archive", "bin"]


class StudyComparison(BaseModel):
    """A comparison in the list of its study: what it asks, of which table, who settled it last, and where it is put."""

    id: str
    name: str
    changed: datetime
    measure: str
    groups: str
    table: str
    by: str
    locked: bool
    older_data: bool
    shelf: ShelfName


class StudyTable(BaseModel):
    """A table of a study: when it came in, and how many comparisons are drawn from it."""

    id: str
    name: str
    rows: int
    made: datetime
    comparisons: int


class StudyState(BaseModel):
    """All that a study holds; comparisons and tables that were changed last come first."""

    id: str
    name: str
    role: RoleName
    comparisons: list[StudyComparison]
    tables: list[StudyTable]
    folios: list[CardFolio]


class Rename(RequestBody):
    """A new name."""

    name: str = Field(max_length=1_000)


class StudyCard(BaseModel):
    """A study as its card shows it, newest comparison first; ``open`` counts all that are neither archived nor in the bin."""

    id: str
    name: str
    role: RoleName
    open: int
    comparisons: list[CardComparison]
    tables: list[CardTable]
    folios: list[CardFolio]


class StudyCards(RootModel[list[StudyCard]]):
    """Cards, newest first."""


class NewStudy(RequestBody):
    """A study to make."""

    name: str


class Member(BaseModel):
    """A person in a study."""

    username: str
    name: str
    role: RoleName
    may_sign: bool


class MemberList(RootModel[list[Member]]):
    """A study's people by name."""


class SetMember(RequestBody):
    """A person's role; null takes them out."""

    username: str
    role: RoleName | None
    may_sign: bool = False


class LeastCell(RequestBody):
    """How many subjects a lane holds at least in a figure that a viewer asks for."""

    subjects: int = Field(ge=1, le=1000)


class RecordEntry(BaseModel):
    """A line of the record of access."""

    number: int
    at: datetime
    person: str
    what: str
    details: dict[str, str | int | bool]


class RecordLines(RootModel[list[RecordEntry]]):
    """Lines, newest first."""


class SignOff(RequestBody):
    """A signature: what it means and why, with the password of whoever gives it, on the state that was seen."""

    meaning: Meaning = "approved"
    reason: str = Field(max_length=500)
    password: str = Field(max_length=MOST_PASSWORD)
    revision: int
    state: str = Field(default="", max_length=64, description="the digest of the comparison's state; of a folio none")


class GuideState(RequestBody):
    """The guides that a study keeps, by name; ``revision`` counts the changes of the list."""

    revision: int
    guides: list[KeptGuides] = Field(max_length=200)


class HouseState(RequestBody):
    """The look that a study's figures have; ``revision`` counts its changes."""

    revision: int
    style: Style
