"""The layers of a recipe: one model for each kind of mark, every setting in it."""

from __future__ import annotations

import itertools
from typing import Annotated, Literal

from pydantic import Field, model_validator

from echelle.numbers.bandwidth import BandwidthRule
from echelle.numbers.bins import BinRule
from echelle.numbers.cumulative import PlottingPositions
from echelle.numbers.density import DensitySize, Ends
from echelle.numbers.kernels import KernelName
from echelle.numbers.outliers import OutlierRule
from echelle.recipes.guides import Dash
from echelle.recipes.style import Share
from echelle.strict_model import Part

LayerId = Annotated[str, Field(pattern=r"^[a-z][a-z0-9]{0,15}$")]
Place = Literal["on", "above", "below"]
Side = Literal["both", "above", "below"]
Centre = Literal["mean", "median"]
DifferenceOf = Literal["means", "medians", "shift"]
Strength = Annotated[float, Field(ge=0.05, le=1.0)]
LineWidth = Annotated[float, Field(ge=0.0, le=6.0)]
Seed = Annotated[int, Field(ge=0, le=2**31 - 1)]
Level = Annotated[float, Field(ge=0.5, le=0.9999)]


class Fence(Part):
    """Beyond which value an outlier begins; ``k`` is the reach in IQRs, SDs or MADs, for percentiles the share cut off at
    each end, for extreme deviates the most outliers looked for.
    """

    rule: OutlierRule = "quartiles"
    k: float = Field(default=1.5, ge=0.0, le=20.0)

    @model_validator(mode="after")
    def _shares(self) -> Fence:
        if self.rule == "percentiles" and self.k >= 0.5:
            raise ValueError("percentiles cut off less than 0.5 at each end")
        return self


class Bandwidth(Part):
    """How wide the kernel is: a rule, or a value (the kernel's standard deviation) where one is given; times a factor."""

    rule: BandwidthRule = "silverman"
    value: float | None = Field(default=None, gt=0.0)
    times: float = Field(default=1.0, ge=0.05, le=20.0, description="smoothing factor")


class AnyLayer(Part):
    """What all layers share."""

    id: LayerId
    shown: bool = True
    place: Place = "on"


class BoxLayer(AnyLayer):
    """A box over the middle of the values, the median, whiskers; outliers where no points layer draws them."""

    layer: Literal["box"] = "box"
    quantile_type: Literal[1, 2, 3, 4, 5, 6, 7, 8, 9] = 7
    holds: float = Field(default=0.5, ge=0.05, le=0.99, description="central share of the values inside the box")
    fence: Fence = Field(default_factory=Fence)
    whiskers: Fence | None = Field(default=None, description="how far whiskers reach; null: to the same fence")
    width: float = Field(default=0.5, ge=0.02, le=1.0, description="share of the lane")
    cap: Share = Field(default=0.0, description="length of the whiskers' caps as a share of the box's width")


class DensityLayer(AnyLayer):
    """The kernel density of each lane, on both sides of its line or on one."""

    layer: Literal["density"] = "density"
    kernel: KernelName = "gaussian"
    bandwidth: Bandwidth = Field(default_factory=Bandwidth)
    ends: Ends = "run past"
    low: float | None = Field(default=None, description="where to fold below")
    high: float | None = Field(default=None, description="where to fold above")
    side: Side = "both"
    size: DensitySize = "equal area"
    compared: Literal["figure", "panel", "group"] = Field(default="figure", description="what shares one scale of heights")
    width: float = Field(default=0.9, ge=0.05, le=8.0, description="share of the lane; above 1 lanes overlap")
    fill: Share = Field(default=0.85, description="opacity inside")
    line: LineWidth = 0.0


class PointsLayer(AnyLayer):
    """Every value as a point, moved across its lane only."""

    layer: Literal["points"] = "points"
    place: Place = "below"
    spread: Literal["jitter", "shaped", "swarm", "stack", "line", "in order"] = "jitter"
    against: str | None = Field(default=None, description="column that orders points in order; null: the rows as they come")
    width: Share = Field(default=0.25, description="share of the lane")
    seed: Seed = 41
    size: float = Field(default=3.0, ge=0.5, le=12.0, description="diameter in pt")
    strength: Strength = 0.6
    outline: LineWidth = 0.0
    shape: Literal["circle", "square", "triangle", "down-triangle", "plus", "hexagon"] = "circle"
    coloured: str | None = Field(default=None, description="column whose levels colour the points")
    shaped: str | None = Field(default=None, description="column whose levels give the points their shape")
    joined: str | None = Field(default=None, description="identifier column: points of one subject are joined by lines")
    named: list[int] = Field(default_factory=list, max_length=200, description="rows whose points carry a name")
    names: str | None = Field(default=None, description="identifier column that the names come from; null: row numbers")


class BinsLayer(AnyLayer):
    """How many values fall into each bin."""

    layer: Literal["bins"] = "bins"
    rule: BinRule = "freedman-diaconis"
    count: int | None = Field(default=None, ge=1, le=1_000)
    width_of_bins: float | None = Field(default=None, gt=0.0)
    anchor: float = 0.0
    edges: list[float] | None = Field(default=None, min_length=2, max_length=1_001)
    open_below: bool = Field(default=False, description="the first named bin takes all that is lower")
    open_above: bool = Field(default=False, description="the last named bin takes all that is higher")
    names: list[str] = Field(default_factory=list, description="names of the bins between edges")
    held_below: list[int] = Field(
        default_factory=list, description="edges, by place from 0, whose own value the bin below them holds, as a band does"
    )
    closed: Literal["left", "right"] = "left"
    common: bool = Field(default=True, description="the same edges for all lanes of the figure")
    height: Literal["count", "share", "density"] = "count"
    share_of: Literal["lane", "panel", "all"] = "lane"
    cumulative: bool = False
    drawn: Literal["columns", "outline", "mid-points"] = "columns"
    gap: Share = Field(default=0.04, description="between columns, as a share of a column")
    side: Side = "above"
    width: float = Field(default=0.94, ge=0.05, le=1.0, description="share of the lane")
    fill: Share = 0.9
    line: LineWidth = 1.2

    @model_validator(mode="after")
    def _one_way(self) -> BinsLayer:
        if sum(way is not None for way in (self.count, self.width_of_bins, self.edges)) > 1:
            raise ValueError("bins come from a count, a width or edges: give one of them")
        if self.edges is not None and any(b <= a for a, b in itertools.pairwise(self.edges)):
            raise ValueError("edges rise")
        if self.names and (self.edges is None or len(self.names) != len(self.edges) - 1):
            raise ValueError("names go with edges, one for each bin between them")
        return self


class MeanLayer(AnyLayer):
    """The mean or median with a line around it; what the line is stands on the figure."""

    layer: Literal["mean"] = "mean"
    centre: Centre = "mean"
    interval: Literal["SD", "SE", "confidence", "bootstrap percentile", "bootstrap BCa", "none"] = "confidence"
    level: Level = 0.95
    seed: Seed = 41
    resamples: int = Field(default=2_000, ge=200, le=20_000)
    mark: Literal["dot", "bar", "tick"] = "dot"
    size: float = Field(default=6.0, ge=1.0, le=16.0, description="diameter in pt")
    width: float = Field(default=0.5, ge=0.02, le=1.0, description="of a bar or tick, as a share of the lane")
    strength: float = Field(default=1.4, ge=0.3, le=6.0, description="line width in pt")
    cap: Share = Field(default=0.0, description="length of the caps as a share of the lane")


class TicksLayer(AnyLayer):
    """A short tick at each value, or at chosen quantiles."""

    layer: Literal["ticks"] = "ticks"
    quantiles: list[Share] | None = Field(default=None, description="null: a tick at each value")
    width: float = Field(default=0.2, ge=0.02, le=1.0, description="share of the lane")
    line: LineWidth = 0.6
    strength: Strength = 0.6


class CumulativeLayer(AnyLayer):
    """The share of rows at or below each value, as steps or against a normal distribution."""

    layer: Literal["cumulative"] = "cumulative"
    against: Literal["shares", "normal distribution"] = "shares"
    positions: PlottingPositions = "blom"
    robust_line: bool = Field(default=True, description="against a normal distribution: the line through the quartiles")
    size: float = Field(default=3.0, ge=0.5, le=12.0, description="diameter of a point in pt")
    width: float = Field(default=0.94, ge=0.05, le=1.0, description="share of the lane")
    line: LineWidth = 1.4


class LineLayer(AnyLayer):
    """Lines across each lane at its mean or median, or at steps of its SD from the mean."""

    layer: Literal["line"] = "line"
    at: Literal["mean", "median", "mean and SD"] = "median"
    sds: list[float] = Field(default=[1.0, 2.0, 3.0], max_length=6, description="with mean and SD: how many SDs away")
    width: float = Field(default=0.5, ge=0.02, le=1.0, description="share of the lane")
    line: LineWidth = 1.8
    dash: Dash = "solid"


class NormalCurveLayer(AnyLayer):
    """The normal curve with the lane's mean and SD."""

    layer: Literal["normal-curve"] = "normal-curve"
    side: Side = "above"
    width: float = Field(default=0.94, ge=0.05, le=1.0, description="share of the lane")
    line: LineWidth = 1.4
    dash: Dash = "dashed"


class StemLayer(AnyLayer):
    """Stem and leaf, as text: each stem stands at its place on the measure."""

    layer: Literal["stem"] = "stem"
    unit: float | None = Field(default=None, gt=0.0, description="what one step of a leaf is worth")
    split: Literal[1, 2, 5] | None = Field(default=None, description="lines a stem; null: so that ten or more appear")
    set_aside: bool = Field(default=True, description="values beyond the fences stand apart, in full")


class CountsLayer(AnyLayer):
    """How many rows each lane has, and how many distinct subjects."""

    layer: Literal["counts"] = "counts"
    of: Literal["rows", "subjects", "both"] = "both"
    width: float = Field(default=0.6, ge=0.05, le=1.0, description="share of the lane")


class TrendLayer(AnyLayer):
    """A line from lane to lane: through medians or means, or by least squares where lanes stand at their value."""

    layer: Literal["trend"] = "trend"
    through: Literal["medians", "means", "least squares"] = "medians"
    level: Level = Field(default=0.95, description="of the least-squares line's interval")
    line: LineWidth = 1.4
    dash: Dash = "solid"


class DifferenceLayer(AnyLayer):
    """The difference of each lane to a reference lane with its interval; zero stands at the reference's centre."""

    layer: Literal["difference"] = "difference"
    place: Place = "below"
    of: DifferenceOf = "means"
    reference: str | None = Field(default=None, description="a level of the groups; null: the first lane with values")
    level: Level = 0.95
    density: bool = True
    words: bool = True
    axis: bool = Field(default=True, description="an axis of its own, on the far side: zero at the reference's centre")
    seed: Seed = 41
    width: float = Field(default=0.2, ge=0.02, le=1.0, description="height of the curve, as a share of the lane")
    line: LineWidth = 1.4


class BracketLayer(AnyLayer):
    """Brackets over pairs of lanes, with the difference in words."""

    layer: Literal["bracket"] = "bracket"
    of: DifferenceOf = "means"
    words: Literal["estimate", "estimate and interval", "p", "estimate, interval and p"] = "estimate and interval"
    level: Level = 0.95
    seed: Seed = 41
    size: float = Field(default=7.0, ge=4.0, le=16.0, description="of the words, pt")
    line: LineWidth = 0.8


class ControlLayer(AnyLayer):
    """Control lines of values in order: target mean and SDs by lot, and rings about what breaks a rule."""

    layer: Literal["control"] = "control"
    sds: list[float] = Field(default=[2.0, 3.0], max_length=6, description="how many SDs from the mean lines stand")
    warnings: bool = True
    words: bool = True
    size: float = Field(default=8.0, ge=2.0, le=20.0, description="diameter of the rings, pt")
    line: LineWidth = 0.8


Layer = Annotated[
    BoxLayer
    | DensityLayer
    | PointsLayer
    | BinsLayer
    | MeanLayer
    | TicksLayer
    | CumulativeLayer
    | LineLayer
    | NormalCurveLayer
    | StemLayer
    | CountsLayer
    | TrendLayer
    | DifferenceLayer
    | BracketLayer
    | ControlLayer,
    Field(discriminator="layer"),
]


# Settings of points that name a column.
COLUMN_SETTINGS = ("against", "coloured", "shaped", "joined", "names")


def named_columns(layer: Layer) -> list[str]:
    """The columns that a layer looks at besides the roles."""
    if not isinstance(layer, PointsLayer):
        return []
    found = (getattr(layer, setting) for setting in COLUMN_SETTINGS)
    return [str(column) for column in found if column is not None]
