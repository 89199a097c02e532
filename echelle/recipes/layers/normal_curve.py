"""The layer of normal curves."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.recipes.guides import Dash
from echelle.recipes.layers.base import LINE, WIDTH, LineWidth, RisingLayer, Side
from echelle.recipes.settings import DASH, SettingInfo


class NormalCurveLayer(RisingLayer):
    """The normal curve with the lane's mean and SD."""

    title: ClassVar[str] = "Normal curve"
    bends_with_axis: ClassVar[bool] = True

    layer: Literal["normal-curve"] = "normal-curve"
    side: Annotated[Side, SettingInfo("To which side of the lane's line the curve rises.")] = "above"
    width: Annotated[float, WIDTH] = Field(default=0.94, ge=0.05, le=1.0, description="share of the lane")
    line: Annotated[LineWidth, LINE] = 1.4
    dash: Annotated[Dash, DASH] = "dashed"

    def rise(self) -> Side:
        """As set."""
        return self.side
