"""What a reader sees besides the marks: axis, words, style, size."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from echelle.catalogue.catalogue import Language
from echelle.strict_model import MOST_LEVELS, MOST_PARTS, StrictModel

_LENGTH = re.compile(r"^(\d+(?:\.\d+)?)(mm|cm|in|pt)$")
_POINTS = {"mm": 72 / 25.4, "cm": 72 / 2.54, "in": 72.0, "pt": 1.0}


def points(length: str) -> float:
    """A written length ("174mm") in points of 1/72 inch. Raises ValueError for anything else."""
    match = _LENGTH.match(length)
    if not match:
        raise ValueError("a length is a number with mm, cm, in or pt, such as 174mm")
    return float(match[1]) * _POINTS[match[2]]


def _figure_length(length: str) -> str:
    if not 30.0 <= points(length) <= 14_400.0:
        raise ValueError("a figure is 11 mm to 5 080 mm a side")
    return length


Length = Annotated[str, AfterValidator(_figure_length)]
Colour = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
Share = Annotated[float, Field(ge=0.0, le=1.0)]
Runs = Literal["across", "up"]
AxisScale = Literal["linear", "log10", "ln", "square-root"]
Typeface = Literal["Lato", "Inter", "Liberation Sans", "Linux Libertine"]


class Axis(StrictModel):
    """The axis of the measure."""

    start: float | None = Field(default=None, alias="from")
    end: float | None = Field(default=None, alias="to")
    scale: AxisScale = "linear"
    runs: Runs = "across"
    lane_width: float = Field(default=0.86, ge=0.2, le=1.0, description="how much of its place a lane takes")
    ticks: Literal["automatic", "bin edges"] | Annotated[list[float], Field(max_length=MOST_PARTS)] = "automatic"
    decimals: int | None = Field(default=None, ge=0, le=10)
    thousands: bool = Field(default=True, description="a thin space groups thousands from 10 000 on")


class SecondAxis(StrictModel):
    """The axis of counts, shares or densities: inside each lane, or along all of them where rows are counted."""

    start: float | None = Field(default=None, alias="from")
    end: float | None = Field(default=None, alias="to")
    shown: bool | None = Field(default=None, description="null: where the form is read by it")
    one_top: bool = Field(default=True, description="one top for all panels")


class MethodNote(StrictModel):
    """How the method note is worded, and whether it is drawn under the figure."""

    under: bool = Field(default=False, description="drawn under the figure, so that it goes wherever the figure goes")
    length: Literal["full", "short"] = "full"
    english: Language = "British"


class ReaderKey(StrictModel):
    """An annotated lane, drawn from the figure's own data, that says what its marks are."""

    placed: Literal["none", "below", "beside"] = "none"
    lane: str | None = Field(default=None, description="the group that it shows; null: the one with most values")


class Words(StrictModel):
    """What the reader reads; empty means the column's own name."""

    title: str = Field(default="", max_length=500)
    subtitle: str = Field(default="", max_length=500)
    measure: str = Field(default="", max_length=500)
    counts: str = Field(default="", max_length=500, description="what the axis is called where rows are counted")
    groups: str = Field(default="", max_length=500)
    source: str = Field(default="", max_length=500, description="where the data come from")
    credit: str = Field(default="", max_length=500, description="whose figure it is")
    caption: str = Field(default="", max_length=2_000)
    note: MethodNote = Field(default_factory=MethodNote)
    key: ReaderKey = Field(default_factory=ReaderKey)


Reading = Literal[
    "n", "missing", "beyond a limit", "median", "quartiles", "range", "IQR", "mean and SD", "SE", "CV", "skewness", "kurtosis",
    "whiskers", "fences", "beyond", "in guides",
]  # fmt: skip


class Ledger(StrictModel):
    """Which readings stand beside the lanes, and the group that the others are set against."""

    readings: list[Reading] = Field(
        max_length=40, default=["median", "quartiles", "mean and SD", "beyond", "in guides"], min_length=1
    )
    reference: str | None = Field(default=None, description="a level of the groups: differences of medians and means to it")


HOUSE_COLOURS = ["#02727A", "#D9972A", "#BF4940", "#4D3198", "#2EA9D9", "#8779E5", "#72351F", "#E26A86"]
GREY_COLOURS = ["#1F2A30", "#8C979D", "#50606A", "#B9C1C5", "#37454D", "#A2ACB2", "#6B7982", "#CFD5D8"]
ONE_HUE_COLOURS = ["#014B50", "#3C98A0", "#02727A", "#7DBFC5", "#015D64", "#5CAEB5", "#21868E", "#A3D3D8"]
# Lighter, for a dark ground; told apart with colour-vision deficiencies too.
DARK_COLOURS = ["#4FC3C8", "#F2BE5C", "#F08A80", "#A99BF0", "#8FD3F4", "#C7B6FF", "#D9A58F", "#F5A9B8"]
LookName = Literal["house", "paper", "slides", "dark slides", "grey print", "one colour"]
Weight = Annotated[float, Field(ge=0.4, le=3.0)]
FillStrength = Annotated[float, Field(ge=0.2, le=1.0)]
TextSize = Annotated[float, Field(ge=5.0, le=16.0)]


AxisLine = Literal["data", "whole", "none"]
KeyPlace = Literal["above", "below", "none"]
LevelColours = Annotated[dict[str, Annotated[dict[str, Colour], Field(max_length=MOST_LEVELS)]], Field(max_length=MOST_PARTS)]


class Style(StrictModel):
    """The look, resolved: sealed recipes carry it."""

    typeface: Typeface = "Lato"
    text_size: TextSize = Field(default=8.0, description="pt")
    ink: Colour = "#17222B"
    muted: Colour = "#5D6B73"
    hairline: Colour = "#DFE3DE"
    ground: Colour = "#FFFFFF"
    lane_colours: list[Colour] = Field(default=HOUSE_COLOURS, min_length=1, max_length=60)
    level_colours: LevelColours = Field(default_factory=dict, description="of levels by column, in every figure")
    weight: Weight = Field(default=1.0, description="times the width of every line")
    strength: FillStrength = Field(default=1.0, description="times the opacity of every fill")
    rulings: bool = True
    axis_line: AxisLine = Field(default="data", description="from the least to the highest value, the whole panel, or none")
    key: KeyPlace = Field(default="above", description="where colours and shapes are explained, where names do not say it")


class OwnLook(StrictModel):
    """Single points in which a figure deviates from its look; null follows it."""

    typeface: Typeface | None = None
    text_size: TextSize | None = None
    lane_colours: list[Colour] | None = Field(default=None, min_length=1, max_length=60)
    level_colours: LevelColours | None = Field(default=None, description="over those of the look")
    weight: Weight | None = None
    strength: FillStrength | None = None
    rulings: bool | None = None
    axis_line: AxisLine | None = None
    key: KeyPlace | None = None


# What each finished look changes of the house style.
LOOKS: dict[LookName, dict[str, object]] = {
    "house": {},
    "paper": {"typeface": "Liberation Sans", "text_size": 7.0, "weight": 0.8, "rulings": False, "ink": "#000000"},
    "slides": {"text_size": 14.0, "weight": 1.6},
    "dark slides": {
        "text_size": 14.0, "weight": 1.6, "ink": "#F2F4F1", "muted": "#AAB6BC", "hairline": "#2D3A43", "ground": "#12191F",
        "lane_colours": DARK_COLOURS, "level_colours": {},
    },
    "grey print": {"lane_colours": GREY_COLOURS, "level_colours": {}},
    "one colour": {"lane_colours": ONE_HUE_COLOURS, "level_colours": {}},
}  # fmt: skip


# What looks were called in recipes of before.
_OF_BEFORE = {"grey": "grey print", "one hue": "one colour"}


def named_look(style: object) -> object:
    """A look by its present name; anything else as it is."""
    return _OF_BEFORE.get(style, style) if isinstance(style, str) else style


class Size(StrictModel):
    """The sheet's size; a height of null follows the number of lanes."""

    width: Length = "120mm"
    height: Length | None = None
