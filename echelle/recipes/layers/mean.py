"""The layer of means with intervals."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.numbers.intervals import Centre, CentreInterval
from echelle.recipes.layers.base import AnyLayer, Level, Seed
from echelle.recipes.settings import SettingInfo
from echelle.recipes.style import Share

LEAST_RESAMPLES = 200
_RESAMPLED = ["bootstrap percentile", "bootstrap BCa"]


class MeanLayer(AnyLayer):
    """The mean or median with a line around it; what the line is stands on the figure."""

    title: ClassVar[str] = "Mean"
    stands_on_box: ClassVar[bool] = True
    summarises: ClassVar[bool] = True
    preview_form: ClassVar[str] = "means"

    layer: Literal["mean"] = "mean"
    centre: Annotated[Centre, SettingInfo("The mean, or the median.")] = "mean"
    interval: Annotated[
        CentreInterval,
        SettingInfo(
            "What the line shows: standard deviation, standard error, a confidence interval (t for the mean, order "
            "statistics for the median), or one from resampled values.",
            title="Line is",
            computed=True,
        ),
    ] = "confidence"
    level: Annotated[
        Level,
        SettingInfo(
            "How sure the confidence interval is.",
            slider=(0.5, 0.999),
            needs={"interval": ["confidence", "bootstrap percentile", "bootstrap BCa"]},
            computed=True,
        ),
    ] = 0.95
    seed: Annotated[
        Seed, SettingInfo("The number that fixes the resamples.", slider=(0, 99), needs={"interval": _RESAMPLED}, computed=True)
    ] = 41
    resamples: Annotated[
        int, SettingInfo("How often the values are drawn again.", slider=(500, 10000), needs={"interval": _RESAMPLED})
    ] = Field(default=2_000, ge=LEAST_RESAMPLES, le=20_000)
    mark: Annotated[Literal["dot", "bar", "tick"], SettingInfo("A dot, a short tick across the lane, or a bar from zero.")] = (
        "dot"
    )
    size: Annotated[float, SettingInfo("Diameter of the dot.", slider=(0.5, 10.0), needs={"mark": ["dot"]})] = Field(
        default=6.0, ge=1.0, le=16.0, description="diameter in pt"
    )
    width: Annotated[
        float, SettingInfo("How much of the lane a bar or tick takes.", slider=(0.02, 1.0), needs={"mark": ["bar", "tick"]})
    ] = Field(default=0.5, ge=0.02, le=1.0, description="of a bar or tick, as a share of the lane")
    strength: Annotated[float, SettingInfo("How thick the line is.", title="Line width")] = Field(
        default=1.4, ge=0.3, le=6.0, description="line width in pt"
    )
    cap: Annotated[Share, SettingInfo("A short bar at the line's ends, as a share of the lane.", title="Caps")] = Field(
        default=0.0, description="length of the caps as a share of the lane"
    )
