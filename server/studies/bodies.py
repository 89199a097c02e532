"""What comes in and goes out about studies."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field, RootModel

from echelle.recipes.guides import KeptGuides
from server.api.bodies import RequestBody

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


class StudyCard(BaseModel):
    """A study as its card shows it, newest comparison first."""

    id: str
    name: str
    role: RoleName
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


class MemberList(RootModel[list[Member]]):
    """A study's people by name."""


class SetMember(RequestBody):
    """A person's role; null takes them out."""

    username: str
    role: RoleName | None


class LeastCell(RequestBody):
    """How many subjects a lane holds at least in a figure that a viewer asks for."""

    subjects: int = Field(ge=1, le=1000)


class GuideList(RootModel[list[KeptGuides]]):
    """The guides that a study keeps, by name."""

    root: list[KeptGuides] = Field(max_length=200)
