"""The layer of differences to a lane."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.recipes.layers.base import LANE_PLACE, LINE, WIDTH, AnyLayer, DifferenceOf, Level, LineWidth, Place, Seed
from echelle.recipes.settings import SettingInfo


class DifferenceLayer(AnyLayer):
    """The difference of each lane to a reference lane with its interval; zero stands at the reference's centre."""

    title: ClassVar[str] = "Difference"
    joins_lanes: ClassVar[bool] = True

    layer: Literal["difference"] = "difference"
    place: Annotated[Place, LANE_PLACE] = "below"
    of: Annotated[DifferenceOf, SettingInfo("Means, medians, or the shift of Hodges and Lehmann, which goes by order.")] = (
        "means"
    )
    reference: Annotated[
        str | None,
        SettingInfo("The lane that the others are set against; the one of the tab Differences, or the first, unless named."),
    ] = Field(default=None, description="a level of the groups; null: the first lane with values")
    level: Annotated[Level, SettingInfo("How sure the interval is.", slider=(0.5, 0.999), computed=True)] = 0.95
    density: Annotated[bool, SettingInfo("The curve of the estimate over its line: how sure each difference is.")] = True
    words: Annotated[bool, SettingInfo("The difference and its interval in numbers, where there is room.")] = True
    axis: Annotated[bool, SettingInfo("An axis of differences on the far side, with zero at the reference's centre.")] = Field(
        default=True, description="an axis of its own, on the far side: zero at the reference's centre"
    )
    seed: Annotated[
        Seed,
        SettingInfo(
            "The number that fixes the resamples of medians.", slider=(0, 99), needs={"of": ["medians"]}, computed=True
        ),
    ] = 41
    width: Annotated[float, WIDTH] = Field(
        default=0.2, ge=0.02, le=1.0, description="height of the curve, as a share of the lane"
    )
    line: Annotated[LineWidth, LINE] = 1.4
