"""What comes in and goes out about links."""

from __future__ import annotations

from datetime import date, datetime

from pydantic import BaseModel, Field, RootModel

from server.api.bodies import RequestBody


class StudyShare(BaseModel):
    """A link of a study: what it leads to, whether it is open, who followed it and how often that was noted."""

    id: str
    to: str
    outside: bool
    open: bool
    ends: datetime | None
    by: str
    made: datetime
    people: list[str]
    uses: int
    last: datetime | None


class StudyShares(RootModel[list[StudyShare]]):
    """Links that were not taken back, the newest first."""


class ShareState(BaseModel):
    """A link as it stands: its address on this server, whether it is open now, and until when."""

    id: str
    path: str
    outside: bool
    open: bool
    ends: datetime | None
    by: str
    made: datetime


class ShareList(BaseModel):
    """The links of a comparison or folio, and whether its study allows links for people without an account."""

    outside_links: bool
    shares: list[ShareState]


class NewShare(RequestBody):
    """A link to make."""

    outside: bool = Field(default=False, description="for people without an account; needs an end")
    ends: date | None = Field(default=None, description="the last day on which it works (UTC)")


class AllowOutside(RequestBody):
    """Whether a study's figures may be linked to for people without an account."""

    allowed: bool
