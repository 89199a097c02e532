"""What the page is told of files."""

from __future__ import annotations

from pydantic import BaseModel, Field, RootModel

from echelle.drawing.formats import PictureSetting


class FormatOffer(BaseModel):
    """A format: its name and title, what it is for, and what can be set of it."""

    name: str
    title: str
    use: str
    settings: list[PictureSetting]
    vector: bool
    pages: bool = Field(description="whether several figures can be pages of one file")


class FormatOffers(RootModel[list[FormatOffer]]):
    """All that a person chooses from."""
