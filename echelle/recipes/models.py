"""The recipe's models. The published JSON Schema is made from them; unknown keys are refused with their path."""

from __future__ import annotations

import re
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

_LENGTH = re.compile(r"^(\d+(?:\.\d+)?)(mm|cm|in|pt)$")
_POINTS = {"mm": 72 / 25.4, "cm": 72 / 2.54, "in": 72.0, "pt": 1.0}


def points(length: str) -> float:
    """A written length ("174mm") in points of 1/72 inch. Raises ValueError for anything else."""
    found = _LENGTH.match(length)
    if not found:
        raise ValueError("a length is a number with mm, cm, in or pt, such as 174mm")
    return float(found[1]) * _POINTS[found[2]]


def _figure_length(length: str) -> str:
    if not 30.0 <= points(length) <= 14_400.0:
        raise ValueError("a figure is 11 mm to 5 080 mm a side")
    return length


Length = Annotated[str, AfterValidator(_figure_length)]
Colour = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
LayerId = Annotated[str, Field(pattern=r"^[a-z][a-z0-9]{0,15}$")]
Share = Annotated[float, Field(ge=0.0, le=1.0)]
Place = Literal["on", "above", "below"]
Runs = Literal["across", "up"]
FormName = Literal["box"]
Typeface = Literal["Lato", "Liberation Sans", "Linux Libertine"]


class Part(BaseModel):
    """Base of every part of a recipe: no unknown keys, no infinities."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, json_schema_serialization_defaults_required=True)


class Measure(Part):
    """The measured column; several give one lane each."""

    columns: list[str] = Field(min_length=1, max_length=400)


class Groups(Part):
    """The column whose levels become lanes; levels not in ``order`` follow it as they come."""

    column: str
    order: list[str] = Field(default_factory=list)
    labels: dict[str, str] = Field(default_factory=dict)


class Condition(Part):
    """Rows whose value in ``column`` is one of ``values`` are kept."""

    model_config = ConfigDict(populate_by_name=True, serialize_by_alias=True)

    column: str
    values: list[str] = Field(alias="is", min_length=1)


class LeftOut(Part):
    """One row left out of this comparison, and why."""

    row: int = Field(ge=1)
    reason: str = Field(min_length=1, max_length=500)
    by: str = ""


class Fence(Part):
    """Quartile fences: Q1 − k·IQR and Q3 + k·IQR."""

    rule: Literal["quartiles"] = "quartiles"
    k: float = Field(default=1.5, ge=0.0, le=20.0)


class BoxLayer(Part):
    """Quartile box, median and whiskers; outliers where no points layer draws them."""

    id: LayerId
    layer: Literal["box"] = "box"
    shown: bool = True
    place: Place = "on"
    quantile_type: Literal[1, 2, 3, 4, 5, 6, 7, 8, 9] = 7
    fence: Fence = Field(default_factory=Fence)
    width: float = Field(default=0.5, ge=0.05, le=1.0, description="share of the lane")
    cap: Share = Field(default=0.0, description="length of the whiskers' caps as a share of the box's width")


class PointsLayer(Part):
    """Every value as a point, moved across its lane only."""

    id: LayerId
    layer: Literal["points"] = "points"
    shown: bool = True
    place: Place = "below"
    spread: Literal["jitter", "line"] = "jitter"
    width: Share = Field(default=0.25, description="share of the lane")
    seed: int = Field(default=41, ge=0, le=2**31 - 1)
    size: float = Field(default=3.0, ge=0.5, le=12.0, description="diameter in pt")
    strength: float = Field(default=0.6, ge=0.05, le=1.0, description="opacity")


Layer = Annotated[BoxLayer | PointsLayer, Field(discriminator="layer")]


class Axis(Part):
    """The axis of the measure."""

    model_config = ConfigDict(populate_by_name=True, serialize_by_alias=True)

    start: float | None = Field(default=None, alias="from")
    end: float | None = Field(default=None, alias="to")
    scale: Literal["linear"] = "linear"
    runs: Runs = "across"


class Words(Part):
    """What the reader reads; empty means the column's own name."""

    title: str = Field(default="", max_length=500)
    measure: str = Field(default="", max_length=500)
    groups: str = Field(default="", max_length=500)
    source: str = Field(default="", max_length=500)


class Style(Part):
    """The look, resolved: sealed recipes carry it."""

    typeface: Typeface = "Lato"
    text_size: float = Field(default=8.0, ge=5.0, le=16.0, description="pt")
    ink: Colour = "#17222B"
    muted: Colour = "#5D6B73"
    hairline: Colour = "#DFE3DE"
    ground: Colour = "#FFFFFF"
    lane_colours: list[Colour] = Field(
        default=["#02727A", "#D9972A", "#BF4940", "#4D3198", "#2EA9D9", "#8779E5", "#72351F", "#E26A86"],
        min_length=1,
    )


class Size(Part):
    """The sheet's size; a height of null follows the number of lanes."""

    width: Length = "120mm"
    height: Length | None = None


class Recipe(Part):
    """One comparison's question and figure."""

    echelle: Literal[1]
    prepare: list[dict[str, Any]] | None = Field(default=None, max_length=0)
    made: datetime | None = Field(default=None, description="sealed: when the drawn state was settled")
    measure: Measure
    groups: Groups | None = None
    keep: list[Condition] = Field(default_factory=list)
    left_out: list[LeftOut] = Field(default_factory=list)
    layers: list[Layer] = Field(min_length=1)
    axis: Axis = Field(default_factory=Axis)
    words: Words = Field(default_factory=Words)
    style: Literal["house"] | Style = "house"
    size: Size = Field(default_factory=Size)

    @model_validator(mode="after")
    def _measures_or_groups(self) -> Recipe:
        if len(self.measure.columns) > 1 and self.groups is not None:
            raise ValueError("several measures give one lane each and go without groups")
        if len(set(self.measure.columns)) < len(self.measure.columns):
            raise ValueError("a measure stands twice among the columns")
        return self
