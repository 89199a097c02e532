"""What a reader sees besides the marks: axis, words, style, size."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from echelle.catalogue.catalogue import Language
from echelle.numbers.rounding import DecimalMark
from echelle.recipes.settings import SettingInfo
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

    runs: Annotated[
        Runs,
        SettingInfo("Lanes lie across the sheet, or stand up.", title="Lanes run", find=("horizontal", "vertical", "turn")),
    ] = "across"
    scale: Annotated[
        AxisScale, SettingInfo("Even steps, or equal ratios; also square roots.", find=("log", "logarithm", "transform"))
    ] = "linear"
    start: Annotated[
        float | None,
        SettingInfo(
            "Where the axis begins; values out of view stay in every number.",
            title="Axis from",
            find=("zoom", "range", "limits"),
        ),
    ] = Field(default=None, alias="from")
    end: Annotated[
        float | None,
        SettingInfo("Where the axis ends; values out of view stay in every number.", title="Axis to", find=("zoom", "range")),
    ] = Field(default=None, alias="to")
    ticks: Annotated[
        Literal["automatic", "bin edges"] | Annotated[list[float], Field(max_length=MOST_PARTS)],
        SettingInfo("At round numbers, at the edges of the bins, or where you say: 0; 5; 10.", find=("marks", "breaks")),
    ] = "automatic"
    step: Annotated[
        float | None, SettingInfo("Ticks at every multiple of this.", title="Tick step", needs={"ticks": ["automatic"]})
    ] = Field(default=None, gt=0.0, description="ticks at its multiples; null: at round numbers")
    minor: Annotated[int, SettingInfo("Small ticks between two ticks.", title="Small ticks", find=("minor ticks",))] = Field(
        default=0, ge=0, le=9, description="short ticks without numbers between two ticks"
    )
    decimals: Annotated[
        int | None, SettingInfo("Decimals of the numbers at the ticks.", slider=(0, 10), find=("digits", "places"))
    ] = Field(default=None, ge=0, le=10)
    thousands: Annotated[
        bool, SettingInfo("A thin space groups thousands: 10 000.", title="Group digits", find=("separator",))
    ] = Field(default=True, description="a thin space groups thousands from 10 000 on")
    decimal_mark: Annotated[
        DecimalMark,
        SettingInfo(
            "What stands before the decimals of the numbers on the figure; sentences keep their points.",
            title="Decimal mark",
            find=("comma",),
        ),
    ] = "point"
    lane_width: Annotated[
        float,
        SettingInfo("How much of its place a lane takes; the rest is the gap.", title="Lane fills", find=("gap", "spacing")),
    ] = Field(default=0.86, ge=0.2, le=1.0, description="how much of its place a lane takes")


class SecondAxis(StrictModel):
    """The axis of counts, shares or densities: inside each lane, or along all of them where rows are counted."""

    start: Annotated[
        float | None, SettingInfo("Where the scale of counts, shares or heights begins.", title="Heights from")
    ] = Field(default=None, alias="from")
    end: Annotated[float | None, SettingInfo("Where it ends.", title="Heights to")] = Field(default=None, alias="to")
    shown: Annotated[
        bool | None,
        SettingInfo("Write the numbers of the heights, or leave them out.", title="Heights written", find=("count axis",)),
    ] = Field(default=None, description="null: where the form is read by it")
    one_top: Annotated[bool, SettingInfo("The same heights in every panel.", title="One top")] = Field(
        default=True, description="one top for all panels"
    )


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
    "whiskers", "fences", "beyond", "in guides", "slope", "shares",
]  # fmt: skip


BEYOND_A_LIMIT = "beyond a limit"


class Ledger(StrictModel):
    """Which readings stand beside the lanes, and the group that the others are set against."""

    readings: list[Reading] = Field(
        max_length=40, default=["median", "quartiles", "mean and SD", "beyond", "in guides", "slope", "shares"], min_length=1
    )
    shares: list[Annotated[str, Field(min_length=1, max_length=200)]] = Field(
        default_factory=list, max_length=12, description="values whose share of each lane is read; or: beyond a limit"
    )
    reference: str | None = Field(default=None, description="a level of the groups: differences of medians and means to it")
    drawn: Annotated[
        bool, SettingInfo("The numbers stand on the figure itself, level with its lanes, also in files.", title="On the figure")
    ] = Field(default=False, description="the readings stand on the sheet, level with lanes that run across")


# Told apart under normal sight and without red, green or blue cones: the first eight by 0.075 in OKLab, all by 0.063.
HOUSE_COLOURS = [
    "#02727A", "#D9972A", "#BF4940", "#4D3198", "#2EA9D9", "#8779E5", "#72351F", "#E26A86", "#C5CFBA", "#461052", "#63CBFE",
    "#7B50C9", "#FDBE45", "#5C010B", "#BCB286", "#B97F2B", "#573160", "#280183", "#A067AC", "#9F2D4D", "#96B1B5", "#3E568A",
    "#199D78", "#A98DB0",
]  # fmt: skip
PAIRED_COLOURS = [
    "#056F7D", "#62CBDD", "#7B1442", "#D688A0", "#6D6003", "#C0B365", "#012B6F", "#678CC8", "#5D1D02", "#C37A60", "#99314A",
    "#F7A4B0",
]  # fmt: skip
GREY_COLOURS = ["#1F2A30", "#8C979D", "#50606A", "#B9C1C5", "#37454D", "#A2ACB2", "#6B7982", "#CFD5D8"]
ONE_HUE_COLOURS = ["#014B50", "#3C98A0", "#02727A", "#7DBFC5", "#015D64", "#5CAEB5", "#21868E", "#A3D3D8"]
# Lighter, for a dark ground; told apart with colour-vision deficiencies too.
DARK_COLOURS = ["#4FC3C8", "#F2BE5C", "#F08A80", "#A99BF0", "#8FD3F4", "#C7B6FF", "#D9A58F", "#F5A9B8"]
# One hue from light to dark, for levels that have an order.
RISING_COLOURS = ["#8CC9CB", "#2E8C93", "#02727A", "#003338"]
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
    rising_colours: list[Colour] = Field(
        default=RISING_COLOURS, min_length=2, max_length=9, description="of levels with an order: from the first to the last"
    )
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
    rising_colours: list[Colour] | None = Field(default=None, min_length=2, max_length=9)
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
        "lane_colours": DARK_COLOURS, "level_colours": {}, "rising_colours": ["#2C7F86", "#4FC3C8", "#CBF4F5"],
    },
    "grey print": {"lane_colours": GREY_COLOURS, "level_colours": {}, "rising_colours": ["#C3CACE", "#1F2A30"]},
    "one colour": {"lane_colours": ONE_HUE_COLOURS, "level_colours": {}},
}  # fmt: skip


# What looks were called in recipes of before.
_OF_BEFORE = {"grey": "grey print", "one hue": "one colour"}


def named_look(style: object) -> object:
    """A look by its present name; anything else as it is."""
    return _OF_BEFORE.get(style, style) if isinstance(style, str) else style


@dataclass(frozen=True)
class ColourSequence:
    """Colours that levels take in turn; of a ``rising`` one, the way from the first level to the last."""

    colours: list[str]
    rising: bool = False


SEQUENCES: dict[str, ColourSequence] = {
    "24 apart": ColourSequence(HOUSE_COLOURS),
    "12 in pairs": ColourSequence(PAIRED_COLOURS),
    "greys": ColourSequence(GREY_COLOURS),
    "petrol, light to dark": ColourSequence(RISING_COLOURS, True),
    "amber, light to dark": ColourSequence(["#F3CD84", "#C98A1E", "#8A5600", "#3F2500"], True),
    "violet, light to dark": ColourSequence(["#C3B9F3", "#8779E5", "#4D3198", "#1E0F4A"], True),
    "grey, light to dark": ColourSequence(["#C3CACE", "#1F2A30"], True),
}


class Size(StrictModel):
    """The sheet's size; a height of null follows the number of lanes."""

    width: Length = "120mm"
    height: Length | None = None
