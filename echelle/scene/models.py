"""The scene: the only thing ever drawn, on screen and in files.

Sizes are points (1/72 inch), the origin is the sheet's upper left corner, coordinates are rounded to 0.001.
"""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from echelle.numbers.sample import Floats
from echelle.recipes.guides import Dash
from echelle.recipes.recipe import FormName
from echelle.recipes.style import AxisScale
from echelle.strict_model import AnswerModel
from echelle.tables.table import RowChange

Role = Literal[
    "title", "source", "credit", "axis-title", "groups-title", "axis-label", "axis-line", "ruling", "lane-label", "lane-count",
    "box", "median", "mean", "interval", "whisker", "cap", "outlier", "point", "left-out", "note",
    "density", "bin", "tick", "step", "line", "line-label", "normal-curve",
    "stem", "count", "count-label", "subjects", "trend", "join",
    "limit", "series", "series-band", "series-area",
    "guide", "guide-label", "panel-title", "panel-note", "ledger",
    "ledger-heading", "ledger-rule", "key-swatch", "key-title", "key-label", "second-axis", "second-label",
    "second-title", "subtitle", "point-name", "caption", "method-note", "key-number", "key-words",
]  # fmt: skip
Shape = Literal[
    "circle", "diamond", "cross", "square", "triangle", "down-triangle", "plus", "hexagon", "left", "right", "up", "down"
]


def round_coordinate(value: float) -> float:
    """A coordinate as the scene keeps it; −0 becomes 0."""
    return round(float(value), 3) + 0.0


class Mark(AnswerModel):
    """What every part says of itself: a stable key, and what it belongs to."""

    key: str
    panel: str
    lane: str = ""
    layer: str = ""
    role: Role


class Paint(AnswerModel):
    """Fill and stroke; None draws nothing."""

    fill: str | None = None
    stroke: str | None = None
    stroke_width: float = 0.0
    opacity: float = 1.0
    dash: Dash = "solid"


class RectPart(Mark):
    part: Literal["rect"] = "rect"
    x: float
    y: float
    width: float
    height: float
    paint: Paint
    says: str = Field(default="", description="what is told where it is pointed at")


class LinePart(Mark):
    part: Literal["line"] = "line"
    x1: float
    y1: float
    x2: float
    y2: float
    paint: Paint


class PathPart(Mark):
    """``d`` holds absolute M, L, C and Z commands."""

    part: Literal["path"] = "path"
    d: str
    paint: Paint


class TextRun(AnswerModel):
    """One face, one direction; ``at`` is its left end from the text's origin along the baseline, ``rise`` how far it stands
    above it; ``scale`` is times the text's size.
    """

    text: str
    face: str
    at: float
    width: float
    backwards: bool = False
    scale: float = 1.0
    rise: float = 0.0


class TextPart(Mark):
    """One line of text. ``x``, ``y`` is the left end of the baseline; ``turn`` rotates about it, in degrees."""

    part: Literal["text"] = "text"
    text: str
    x: float
    y: float
    size: float
    fill: str
    turn: Literal[0, -90] = 0
    runs: list[TextRun]
    box: tuple[float, float, float, float] = Field(description="left, top, right, bottom on the sheet")


class PointColumns(AnswerModel):
    """Points as typed columns in base64: x and y as little-endian float32, row ids as float64 (whole).

    ``digest`` names their content; a reader that already holds it gets the digest alone.
    """

    digest: str
    count: int
    x: str | None = None
    y: str | None = None
    rows: str | None = None


class PointsPart(Mark):
    """Many equal marks. ``hidden`` (base64, int32) lists places in the columns that other marks stand for."""

    part: Literal["points"] = "points"
    shape: Shape
    size: float
    paint: Paint
    columns: PointColumns
    hidden: str | None = None


class GroupPart(Mark):
    """Parts that belong together, drawn in order."""

    part: Literal["group"] = "group"
    parts: list[ScenePart]


ScenePart = Annotated[RectPart | LinePart | PathPart | TextPart | PointsPart | GroupPart, Field(discriminator="part")]


class Scale(AnswerModel):
    """Value to coordinate: ``domain`` in the measure's unit onto ``range`` in points, along x or y."""

    direction: Literal["x", "y"]
    domain: tuple[float, float]
    range: tuple[float, float]
    transform: AxisScale = "linear"


class Panel(AnswerModel):
    """One plot area: left, top, width, height; the level that it shows, where one role makes the panels."""

    key: str
    name: str = ""
    level: str | None = None
    box: tuple[float, float, float, float]
    scale: Scale


class SceneLane(AnswerModel):
    """Where a lane lies across the measure, from ``start`` to ``end`` in points, and who is in it."""

    key: str
    panel: str
    group: str | None
    subgroup: str | None = None
    slot: int = 0
    name: str
    colour: str
    start: float
    end: float


class Change(AnswerModel):
    """A value to set in the recipe, at a path such as ["layers", 0, "fence", "k"]."""

    path: list[str | int]
    value: JsonValue


HandleRole = Literal["fence", "smoothing", "bin-width", "bin-edge", "guide", "axis-end", "lane-width"]


class Handle(AnswerModel):
    """Something that can be dragged along a panel's scale, or ``across`` its lanes (in points).

    Dropped at value v it sets the recipe's ``path`` to (v − origin) / unit, held between ``least`` and ``most``, and what
    ``also`` says. Without a lane it reaches over the whole panel. ``after`` follows the number when it is said.
    """

    key: str
    panel: str
    lane: str
    layer: str
    role: HandleRole
    along: Literal["measure", "across"] = "measure"
    at: float
    origin: float
    unit: float
    least: float
    most: float
    step: float
    value: float
    path: list[str | int]
    name: str
    after: str = ""
    also: list[Change] = []


@dataclass
class Outlier:
    """A value beyond the fences; ``row`` is None where the reader may not see rows."""

    row: int | None
    value: float


class Inside(AnswerModel):
    """How many of a lane's values a guide holds: those in a band, both ends inside, or above a line."""

    name: str
    count: int
    share: float = Field(description="of the lane's values")


class NamedReading(AnswerModel):
    """A reading that the recipe asks for by more than its name: a slope, the share of a value; with its interval, and how all
    of it is written.
    """

    reading: Literal["slope", "shares"]
    name: str
    value: float
    low: float
    high: float
    text: str


class LaneReadings(AnswerModel):
    """The numbers of one lane; what has no value is None."""

    lane: str
    group: str | None
    subgroup: str | None = None
    n: int
    people: int | None = None
    missing: int
    censored: int
    left_out: int
    min: float | None
    q1: float | None
    median: float | None
    q3: float | None
    max: float | None
    iqr: float | None
    mean: float | None
    variance: float | None
    sd: float | None
    se: float | None
    skewness: float | None
    kurtosis: float | None
    fence_low: float | None
    fence_high: float | None
    whisker_low: float | None
    whisker_high: float | None
    beyond: int
    outliers: list[Outlier]
    inside: list[Inside] = Field(default=[], description="by guide, in the recipe's order")
    named: list[NamedReading] = Field(default=[], description="slopes and shares of values, in the recipe's order")
    limits: dict[str, str] = Field(default={}, description="readings that are a limit and no number, such as <0.4")
    outliers_cut: bool = Field(default=False, description="only the first of the outliers are listed")


class Counts(AnswerModel):
    """What became of the table's rows: those ``read`` from the file become ``rows`` by ``prepared`` steps; of these some are
    not ``kept`` by the comparison's conditions, and the rest are used or stand aside.
    """

    rows: int
    kept: int
    used: int
    people: int | None
    called: str = Field(description="what they are whom the identifier names")
    missing: int
    missing_by: dict[str, int]
    censored: int
    left_out: int
    ungrouped: int
    not_finite: int
    dropped: int
    read: int
    prepared: list[RowChange]


class Remedy(AnswerModel):
    """What can be done about a remark in one step: changes of the recipe, or a step of the table's preparation."""

    words: str
    changes: list[Change] = []
    step: JsonValue = Field(default=None, description="a step of the preparation, to be added at its end")


class Advice(AnswerModel):
    """A remark on what the figure may hide or mislead about, or what could not be drawn; where it comes from, and what
    can be done about it.
    """

    key: str
    text: str
    why: str = ""
    source: str = ""
    remedies: list[Remedy] = []


class FilesCounted(AnswerModel):
    """Of how many files of a far table a figure is, and how many there are; ``cells`` where its numbers are of cells that
    values gathered into, until these are known.
    """

    done: int
    of: int
    cells: bool = False


class Scene(AnswerModel):
    """Everything a surface needs to draw, point at, drag and read one figure."""

    scene: Literal[1] = 1
    form: FormName | None = Field(default=None, description="the form that the layers stand for")
    width: float
    height: float
    ground: str | None = Field(description="null: clear")
    title: str
    description: str
    parts: list[ScenePart]
    panels: list[Panel]
    lanes: list[SceneLane]
    handles: list[Handle]
    readings: list[LaneReadings]
    decimals: int
    counts: Counts
    files: FilesCounted | None = None
    note: str
    advice: list[Advice]
    faces: list[str]

    def walk(self) -> Iterator[ScenePart]:
        """The scene's leaves."""
        yield from leaves(self.parts)


def leaves(parts: Sequence[ScenePart]) -> Iterator[ScenePart]:
    """Every part that is no group, in drawing order."""
    for part in parts:
        if isinstance(part, GroupPart):
            yield from leaves(part.parts)
        else:
            yield part


def point_columns(x: Floats, y: Floats, rows: NDArray[np.int64]) -> PointColumns:
    """Pack coordinates (points, rounded to 0.001) and row ids, each of shape (n,)."""
    packed = [
        np.round(x, 3).astype("<f4").tobytes(),
        np.round(y, 3).astype("<f4").tobytes(),
        rows.astype("<f8").tobytes(),
    ]
    digest = hashlib.blake2b(b"".join(packed), digest_size=12).hexdigest()
    px, py, pr = (base64.b64encode(column).decode() for column in packed)
    return PointColumns(digest=digest, count=len(x), x=px, y=py, rows=pr)


def packed_places(places: NDArray[np.intp]) -> str | None:
    """Places in a column as base64 int32, None for none."""
    return base64.b64encode(places.astype("<i4").tobytes()).decode() if len(places) else None


def unpack(text: str | None, kind: Literal["<f4", "<i4", "<f8"]) -> NDArray[np.float64]:
    """Back from base64; nothing gives an empty array."""
    return np.frombuffer(base64.b64decode(text or ""), dtype=kind).astype(np.float64)


GroupPart.model_rebuild()
