"""The layer of kernel densities."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, JsonValue

from echelle.numbers.bandwidth import BandwidthRule
from echelle.numbers.density import DensitySize
from echelle.numbers.kernels import KernelName
from echelle.recipes.layers.base import LINE, WIDTH, LineWidth, Place, RisingLayer, Side, Stands
from echelle.recipes.settings import SettingInfo
from echelle.recipes.style import Share
from echelle.strict_model import StrictModel

# Automatic: folded at 0 where no value is negative and a curve would cross it, else past the data.
CurveEnds = Literal["automatic", "stop", "run past", "fold"]


class Bandwidth(StrictModel):
    """How wide the kernel is: a rule, or a value (the kernel's standard deviation) where one is given; times a factor."""

    rule: Annotated[BandwidthRule, SettingInfo(title="Bandwidth by", needs={"bandwidth.value": False})] = "silverman"
    value: Annotated[float | None, SettingInfo(title="Bandwidth", samples=(0.5, 2.0))] = Field(default=None, gt=0.0)
    times: Annotated[float, SettingInfo(title="Smoothing", slider=(0.1, 5.0))] = Field(
        default=1.0, ge=0.05, le=20.0, description="smoothing factor"
    )


class DensityLayer(RisingLayer):
    """The kernel density of each lane, on both sides of its line or on one."""

    title: ClassVar[str] = "Density"
    front: ClassVar[int] = 1
    shows_shape: ClassVar[bool] = True
    bends_with_axis: ClassVar[bool] = True
    preview_form: ClassVar[str] = "density"
    stands_as: ClassVar[Stands | None] = "curve"
    arrives: ClassVar[Mapping[Stands, Mapping[str, JsonValue]]] = {
        "box": {"fill": 0.0, "line": 1.2},
        "columns": {"side": "above", "fill": 0.0, "line": 1.4, "width": 0.94},
    }

    layer: Literal["density"] = "density"
    kernel: Annotated[
        KernelName, SettingInfo("The little hill that stands for each value; the bandwidth matters far more.", computed=True)
    ] = "gaussian"
    bandwidth: Annotated[
        Bandwidth, SettingInfo("How wide the hills are: too narrow shows noise, too wide hides a second peak.", computed=True)
    ] = Field(default_factory=Bandwidth)
    ends: Annotated[
        CurveEnds,
        SettingInfo(
            "Stop at the data, run past them, or fold back at a limit that values cannot pass; automatic: fold at 0 where no "
            "value is negative and a curve would cross it.",
            computed=True,
            find=("below zero", "cut", "trim"),
        ),
    ] = "automatic"
    low: Annotated[
        float | None,
        SettingInfo(
            "Where to fold below; a concentration cannot be under 0.",
            title="Fold below",
            needs={"ends": ["fold"]},
            samples=(0.0, 4.0),
            computed=True,
        ),
    ] = Field(default=None, description="where to fold below")
    high: Annotated[
        float | None,
        SettingInfo(
            "Where to fold above; a share cannot be over 100 %.",
            title="Fold above",
            needs={"ends": ["fold"]},
            samples=(16.0, 12.0),
            computed=True,
        ),
    ] = Field(default=None, description="where to fold above")
    side: Annotated[Side, SettingInfo("On both sides of the lane's line, or on one.")] = "both"
    size: Annotated[
        DensitySize,
        SettingInfo(
            "One area for all compares shapes, one height shows each shape whole, by n shows how many.",
            title="Curves have",
            options={"equal area": "one area for all", "equal width": "one height for all", "by n": "areas that follow n"},
        ),
    ] = "equal area"
    compared: Annotated[
        Literal["figure", "panel", "group"],
        SettingInfo(
            "Which curves share one scale of heights.",
            title="One scale in",
            options={"figure": "the figure", "panel": "each panel", "group": "each group"},
        ),
    ] = Field(default="figure", description="what shares one scale of heights")
    width: Annotated[float, WIDTH] = Field(default=0.9, ge=0.05, le=8.0, description="share of the lane; above 1 lanes overlap")
    fill: Annotated[Share, SettingInfo("How opaque the inside is.", title="Opacity", find=("fill", "alpha"))] = Field(
        default=0.85, description="opacity inside"
    )
    middle: Annotated[
        bool,
        SettingInfo("The middle half of the values in full strength, tails pale, a bar at the median.", title="Middle half"),
    ] = Field(default=False, description="the middle half in full strength, the tails pale, the median as a bar")
    line: Annotated[LineWidth, LINE] = 0.0

    def form_sign(self) -> str:
        """Ridges are densities that rise over their lane, violins those that have two sides."""
        return "ridge" if self.width > 1 else "violin" if self.side == "both" else self.kind()

    def without_unit(self) -> Self:
        """Without a bandwidth or a limit in the measure's unit."""
        ends = "automatic" if self.ends == "fold" else self.ends
        bandwidth = self.bandwidth.model_copy(update={"value": None})
        return self.model_copy(update={"ends": ends, "low": None, "high": None, "bandwidth": bandwidth})

    def fills(self, place: Place) -> bool:
        """A curve on both sides of the lane's line."""
        return self.side == "both" and self.place == place and self.fill > 0

    def on_lane_edge(self) -> bool:
        """On one side, and not over other lanes."""
        return self.side != "both" and self.place == "on" and self.width <= 1.0

    def draws_aside(self) -> bool:
        """Where the curve stands for all that is known of its lane."""
        return self.middle

    def shows_axis(self, overlaid: bool) -> bool:
        """Where curves of all lanes lie over one another."""
        return overlaid and self.side != "both"

    def rise(self) -> Side:
        """As set."""
        return self.side
