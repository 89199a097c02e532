"""What comes in and goes out about comparisons."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, ConfigDict

from echelle.recipes.models import Recipe
from echelle.tables.summary import ColumnSummary
from server.studies.bodies import RoleName


class Strict(BaseModel):
    """Unknown keys are refused."""

    model_config = ConfigDict(extra="forbid")


class TrailState(BaseModel):
    """One entry of the trail, without its recipe."""

    number: int
    parent: int | None
    words: str
    by: str
    at: datetime
    refused: bool


class ReadingRemark(BaseModel):
    """What the reader guessed or met."""

    text: str
    column: str | None
    line: int | None


class ComparisonState(BaseModel):
    """A comparison as it is shown now. ``undo`` and ``redo`` name the states that those steps lead to."""

    id: str
    name: str
    study: str
    study_name: str
    role: RoleName
    table_name: str
    rows: int
    revision: int
    head: int
    undo: int | None
    redo: int | None
    recipe: Recipe
    columns: list[ColumnSummary]
    remarks: list[ReadingRemark]
    trail: list[TrailState]


class Settle(Strict):
    """A state to add to the trail."""

    revision: int
    recipe: Recipe


class Step(Strict):
    """A state of the trail to show."""

    revision: int
    entry: int


class Ask(Strict):
    """A scene to draw: of ``recipe``, of a state of the trail (``entry``), or of the shown state.

    Points whose digest is in ``have`` come without data.
    """

    recipe: Recipe | None = None
    entry: int | None = None
    have: list[str] = []
    miniature: bool = False


class Rename(Strict):
    """A new name."""

    name: str
