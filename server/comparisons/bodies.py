"""What comes in and goes out about comparisons."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, RootModel

from echelle.comparison.models import LaneDifferences
from echelle.figures.lanes.lane import Aside
from echelle.figures.setting_previews import SettingPictures
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.style import Style
from echelle.scene.models import Advice, Scene
from echelle.strict_model import AnswerModel
from echelle.tables.column_summary import ColumnSummary
from server.api.bodies import MOST_NOTES, RequestBody
from server.studies.bodies import RoleName, ShelfName
from server.tables.bodies import ReadingRemark


class TrailState(BaseModel):
    """One entry of the trail, without its recipe."""

    number: int
    parent: int | None
    words: str
    by: str
    at: datetime
    refused: bool
    foreign: bool = Field(default=False, description="brought in by a bundle, which alone says whose it is")
    name: str = ""


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
    mark: str = Field(description="changes with whatever others change")
    head: int
    digest: str = Field(description="of the shown state: whatever leaves names it")
    undo: int | None
    redo: int | None
    recipe: Recipe
    columns: list[ColumnSummary]
    remarks: list[ReadingRemark]
    dismissed: list[str]
    style: Style = Field(description="the look that the shown state is drawn in")
    newer_style: bool = Field(description="whether the study's newer house style would change it")
    version: int
    notes: str
    tags: list[str]
    watched: bool
    alarm: str = Field(description="what newer data broke, where it is watched")
    shelf: ShelfName
    pinned: bool
    open_remarks: int = Field(description="what people said of it and did not settle")
    locked: str = Field(description="by whom, when and why; empty where nobody did")
    unreadable: str = Field(description="why the shown state cannot be read, so that an earlier one stands for it; or empty")
    trail: list[TrailState] = Field(description="the last states, oldest first")
    earlier: bool = Field(description="whether the trail has earlier states than those")


class TrailPage(BaseModel):
    """States of a trail, oldest first, and whether it has earlier ones."""

    states: list[TrailState]
    earlier: bool


class Mark(BaseModel):
    """Stands for all that others may change: another mark, another state. ``others`` have it open too."""

    mark: str
    others: list[str]


class ChangeComparison(RequestBody):
    """What of a comparison changes besides its states; the rest is left out."""

    name: str | None = Field(default=None, max_length=1_000)
    notes: str | None = Field(default=None, max_length=MOST_NOTES)
    tags: list[Annotated[str, Field(max_length=40)]] | None = Field(default=None, max_length=20)
    watched: bool | None = None


class NewRemark(RequestBody):
    """A remark on the shown state, on one lane of it where that is named; or an answer to another."""

    text: str = Field(max_length=4_000)
    lane: str = Field(default="", max_length=400)
    answers: str = Field(default="", pattern=r"^([0-9a-f-]{36})?$")


class SettleRemark(RequestBody):
    """Whether a remark is done with."""

    settled: bool


class RemarkState(BaseModel):
    """A remark: on which state and lane, by whom, settled by whom, with its answers."""

    id: str
    lane: str
    state: int
    text: str
    by: str
    at: datetime
    settled_by: str
    settled_at: datetime | None
    answers: list[RemarkState]


class RemarkStates(RootModel[list[RemarkState]]):
    """All remarks of a comparison, oldest first."""


class AskSame(RequestBody):
    """The table that the same question is asked of."""

    table: str


class SameQuestion(BaseModel):
    """The comparison that asks it, and what did not fit."""

    comparison: str
    said: list[str]


class Settle(RequestBody):
    """A state to add to the trail."""

    revision: int
    recipe: Recipe


class GoTo(RequestBody):
    """A state of the trail to show."""

    revision: int
    entry: int


class Ask(RequestBody):
    """A scene to draw: of ``recipe``, of a state of the trail (``entry``), or of the shown state.

    With ``newest`` it is drawn over the newest file and preparation, with ``newest_style`` in the study's newest house style.
    Points whose digest is in ``have`` come without data.
    """

    recipe: Recipe | None = None
    entry: int | None = None
    have: list[str] = []
    miniature: bool = False
    newest: bool = False
    newest_style: bool = False


DrawingStateName = Literal["waiting", "drawing", "done", "refused", "stopped"]


class DrawingState(AnswerModel):
    """A figure that takes long: after how many of about how many seconds of its drawing."""

    id: int
    state: DrawingStateName
    done: int
    of: int


class DrawingStates(RootModel[list[DrawingState]]):
    """Those that somebody asked for of a comparison, the newest first."""


class OfRecipe(RequestBody):
    """A recipe that something is asked about."""

    recipe: Recipe


class InForm(AnswerModel):
    """The recipe in a form, and its miniature; None where that form cannot be drawn, with the reason."""

    form: FormName
    recipe: Recipe
    scene: Scene | None
    reason: str = ""
    later: bool = Field(default=False, description="whether there was no time for it: it comes when it is asked for again")


class AskForm(OfRecipe):
    """A recipe to be turned into a form. Points whose digest is in ``have`` come without data."""

    have: list[str] = []


class FormDrawn(AnswerModel):
    """The recipe in a form, and its figure; None where that is asked for by itself: what hinders it is said then."""

    recipe: Recipe
    scene: Scene | None


class InForms(RootModel[list[InForm]]):
    """All forms, in the order of their keys."""


class InMeasure(AnswerModel):
    """The recipe for another measure, and its miniature; None where it cannot be drawn, with the reason."""

    column: str
    recipe: Recipe
    scene: Scene | None
    reason: str = ""


class OfMeasures(OfRecipe):
    """A recipe to be drawn for the measures whose name holds ``named``, from a place among them on."""

    start: int = Field(default=0, ge=0)
    named: str = Field(default="", max_length=200)


class InMeasures(AnswerModel):
    """As many of the measures asked for as there was time for, in the table's order, and how many they are."""

    of: int
    measures: list[InMeasure]


class AdviceList(RootModel[list[Advice]]):
    """Advice on one figure."""


class LayerPictures(RootModel[list[SettingPictures]]):
    """A layer's settings, each with pictures where one can show it."""


class Span(RequestBody):
    """A part of a lane, from one value to another, both inside."""

    lane: str
    low: float
    high: float


class AskRows(RequestBody):
    """Rows of a figure: those that stand in no number for a reason (``aside``), else those named by key or by spans."""

    recipe: Recipe
    aside: Aside | None = None
    keys: list[int] = Field(default=[], max_length=20_000)
    spans: list[Span] = Field(default=[], max_length=400)
    start: int = Field(default=0, ge=0)
    count: int = Field(default=100, ge=0, le=500)


class RowsOfFigure(AnswerModel):
    """Rows in the table's order: the first 20 000 keys with lane ("" for none) and value, and the cells of a window, column
    by column. ``counted`` says how many there are in a far table, whose rows at hand are listed alone.
    """

    total: int
    counted: int | None = None
    keys: list[int]
    lanes: list[str]
    values: list[float | None]
    start: int
    ids: list[str]
    columns: list[str]
    cells: list[list[str | None]]


class Dismiss(RequestBody):
    """Advice not to be shown again for this comparison, by its key; or to be shown again."""

    key: str = Field(max_length=200)
    dismissed: bool = True


class NameState(RequestBody):
    """A name for a state of the trail; empty takes it away."""

    name: str = Field(max_length=100)


class NewCopy(RequestBody):
    """A state, or a recipe over its data, as a comparison of its own."""

    entry: int | None = None
    recipe: Recipe | None = None
    name: str = Field(default="", max_length=200)


class Arrived(AnswerModel):
    """A comparison that came with a bundle, and how many states its trail has."""

    comparison: str
    states: int


class DifferencesProgress(AnswerModel):
    """How many pieces of how many are done, or the answer."""

    done: int = 0
    of: int = 0
    found: LaneDifferences | None = None


class AskRow(RequestBody):
    """A row of the figure, by its id in the scene; with a ``reason`` it is left out."""

    recipe: Recipe
    row: int
    reason: str = ""


class RowCell(AnswerModel):
    """What a row holds in one column."""

    column: str
    value: str | None


class RowCard(AnswerModel):
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


class Shelf(RequestBody):
    """Where a comparison is put."""

    shelf: ShelfName


class Take(RequestBody):
    """Take the newest file and preparation."""

    revision: int


class NewComparison(RequestBody):
    """A comparison to begin over a table; what is left out is chosen."""

    table: str
    measure: str | None = None
    groups: str | None = None
