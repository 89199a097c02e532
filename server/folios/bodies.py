"""What comes in and goes out about folios."""

from __future__ import annotations

from pydantic import BaseModel, Field, RootModel

from echelle.folios.models import FolioPage
from echelle.scene.models import Scene
from server.api.bodies import RequestBody
from server.studies.bodies import RoleName


class FolioFigureState(BaseModel):
    """A figure of the folio, and whether its comparison is still there."""

    comparison: str
    name: str


class FolioState(BaseModel):
    """A folio as it stands, and the comparisons that its study offers."""

    id: str
    name: str
    study: str
    study_name: str
    role: RoleName
    revision: int
    page: FolioPage
    figures: list[FolioFigureState]
    offered: list[FolioFigureState]
    version: int
    locked: str = Field(description="by whom, when and why; empty where nobody did")


class NewFolio(RequestBody):
    """A folio to make."""

    study: str
    name: str = "Folio"


class SetFolio(RequestBody):
    """A folio as it shall be."""

    revision: int
    name: str = Field(max_length=200)
    page: FolioPage
    figures: list[str] = Field(max_length=24, description="ids of comparisons, in order")


class FolioPages(RootModel[list[Scene]]):
    """The folio's pages, drawn."""
