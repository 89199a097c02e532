"""What comes in and goes out about comparisons."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field, RootModel

from echelle.figures.scene import Scene
from echelle.recipes.models import FormName, Recipe
from echelle.tables.summary import ColumnSummary
from server.studies.bodies import RoleName
from server.tables.bodies import ReadingRemark, Strict


class TrailState(BaseModel):
    """One entry of the trail, without its recipe."""

    number: int
    parent: int | None
    words: str
    by: str
    at: datetime
    refused: bool


class NewerData(BaseModel):
    """A newer file or preparation that a comparison can take."""

    table: str
    words: str


class ComparisonState(BaseModel):
    """A comparison as it is shown now. ``undo`` and ``redo`` name the states that those steps lead to."""

    id: str
    name: str
    study: str
    study_name: str
    role: RoleName
    table: str
    table_name: str
    preparation: int
    newer: NewerData | None
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


class GoTo(Strict):
    """A state of the trail to show."""

    revision: int
    entry: int


class Ask(Strict):
    """A scene to draw: of ``recipe``, of a state of the trail (``entry``), or of the shown state.

    With ``newest`` it is drawn over the newest file and preparation. Points whose digest is in ``have`` come without data.
    """

    recipe: Recipe | None = None
    entry: int | None = None
    have: list[str] = []
    miniature: bool = False
    newest: bool = False


class AskForms(Strict):
    """A recipe to see in every form."""

    recipe: Recipe


class InForm(Strict):
    """The recipe in a form, and its miniature; None where that form cannot be drawn, with the reason."""

    form: FormName
    recipe: Recipe
    scene: Scene | None
    reason: str = ""


class InForms(RootModel[list[InForm]]):
    """All forms, in the order of their keys."""


class AskRow(Strict):
    """A row of the figure, by its id in the scene; with a ``reason`` it is left out."""

    recipe: Recipe
    row: int
    reason: str = ""


class RowCell(Strict):
    """What a row holds in one column."""

    column: str
    value: str | None


class RowCard(Strict):
    """One row: who it is, where it lies in its lane, and all its columns.

    ``iqrs`` is its distance from the lane's median in interquartile ranges, ``sds`` that from the mean in standard deviations.
    """

    row: str
    lane: str
    value: float | None
    iqrs: float | None
    sds: float | None
    left_out: str = Field(description="the reason, where the comparison leaves it out")
    cells: list[RowCell]


class Rename(Strict):
    """A new name."""

    name: str


class Take(Strict):
    """Take the newest file and preparation."""

    revision: int


class NewComparison(Strict):
    """A comparison to begin over a table; what is left out is chosen."""

    table: str
    measure: str | None = None
    groups: str | None = None
