"""What comes in and goes out about studies."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field, RootModel

from echelle.recipes.guides import KeptGuides
from echelle.recipes.style import Style
from server.api.bodies import MOST_PASSWORD, RequestBody

Meaning = Literal["written", "reviewed", "approved", "responsible"]
RoleName = Literal["owner", "editor", "reader", "viewer"]
ShelfName = Literal["open", "archive", "bin"]


class Pin(RequestBody):
    """Whether something comes first for whoever asks."""

    pinned: bool


class Member(BaseModel):
    """A person in a study."""

    username: str
    name: str
    role: RoleName
    may_sign: bool
    team: str = Field(default="", description="the team that they came with; empty for who was let in themselves")
    active: bool = Field(description="whether their account works")
    state: str = Field(description="what a change of their role names as seen")


class MemberList(RootModel[list[Member]]):
    """A study's people by name."""


class SetMember(RequestBody):
    """A person's role; null takes them out."""

    username: str
    role: RoleName | None
    may_sign: bool = False
    state: str = Field(
        default="", max_length=64, description="the state of their role as it was seen; empty where they had none"
    )


class TeamState(BaseModel):
    """A team of one's own: who is in it, and who says so."""

    id: str
    name: str
    people: list[str] = Field(description="names of their accounts")
    keeper: str
    mine: bool = Field(description="whether whoever asks keeps it")
    state: str = Field(description="what a change of the team names as seen")


class TeamStates(RootModel[list[TeamState]]):
    """The teams that a person keeps or is in, by name."""


class KeptTeam(RequestBody):
    """A team as its keeper wants it."""

    name: str = Field(max_length=200)
    people: list[str] = Field(max_length=200, description="names of their accounts")
    state: str = Field(default="", max_length=64, description="the state of the team as it was seen; empty where it is new")


TeamRoleName = Literal["editor", "reader", "viewer"]


class TeamOfStudy(BaseModel):
    """A team in a study."""

    id: str
    name: str
    keeper: str
    people: list[str]
    role: TeamRoleName
    may_sign: bool
    state: str = Field(description="what a change of its role names as seen")


class TeamsOfStudy(RootModel[list[TeamOfStudy]]):
    """A study's teams by name."""


class SetTeam(RequestBody):
    """A team's role in a study; null takes it out."""

    team: uuid.UUID
    role: TeamRoleName | None
    may_sign: bool = False
    state: str = Field(default="", max_length=64, description="the state of its role as it was seen; empty where it had none")


class NewInvitation(RequestBody):
    """Somebody to let in; ``words`` remind of whom. ``mail`` is where the link goes, where mail is set up."""

    role: RoleName = "viewer"
    may_sign: bool = False
    words: str = Field(default="", max_length=200)
    mail: str = Field(default="", max_length=254)


class InvitationState(BaseModel):
    """An invitation that nobody took up yet; ``path`` is the link's address, told once, when it is made."""

    id: str
    role: RoleName
    may_sign: bool
    words: str
    by: str
    until: datetime
    path: str = ""
    mailed: bool = False


class InvitationStates(RootModel[list[InvitationState]]):
    """Those that are open, the newest last."""


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
