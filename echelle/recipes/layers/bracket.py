"""The layer of brackets over pairs of lanes."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.recipes.layers.base import LINE, AnyLayer, DifferenceOf, Level, LineWidth, Seed
from echelle.recipes.settings import SettingInfo


class BracketLayer(AnyLayer):
    """Brackets over pairs of lanes, with the difference in words."""

    title: ClassVar[str] = "Brackets"
    joins_lanes: ClassVar[bool] = True
    writes: ClassVar[bool] = True

    layer: Literal["bracket"] = "bracket"
    of: Annotated[
        DifferenceOf,
        SettingInfo(
            "Means, medians, or the shift of Hodges and Lehmann, which goes by order. Which pairs: the tab Differences."
        ),
    ] = "means"
    words: Annotated[
        Literal["estimate", "estimate and interval", "p", "estimate, interval and p"],
        SettingInfo("What stands over each bracket."),
    ] = "estimate and interval"
    level: Annotated[Level, SettingInfo("How sure the intervals are.", slider=(0.5, 0.999), computed=True)] = 0.95
    seed: Annotated[
        Seed,
        SettingInfo(
            "The number that fixes the resamples of medians.", slider=(0, 99), needs={"of": ["medians"]}, computed=True
        ),
    ] = 41
    size: Annotated[float, SettingInfo("Of the words, in pt.", slider=(0.5, 10.0))] = Field(
        default=7.0, ge=4.0, le=16.0, description="of the words, pt"
    )
    line: Annotated[LineWidth, LINE] = 0.8
