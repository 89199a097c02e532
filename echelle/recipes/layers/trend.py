"""The layer of lines from lane to lane."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.recipes.guides import Dash
from echelle.recipes.layers.base import LINE, AnyLayer, Level, LineWidth, PreviewPlaced
from echelle.recipes.settings import DASH, SettingInfo


class TrendLayer(AnyLayer):
    """A line from lane to lane: through medians or means, or by least squares where lanes stand at their value."""

    title: ClassVar[str] = "Trend"
    joins_lanes: ClassVar[bool] = True
    preview_placed: ClassVar[PreviewPlaced] = "at value"

    layer: Literal["trend"] = "trend"
    through: Annotated[
        Literal["medians", "means", "least squares"],
        SettingInfo("Through the lanes' medians or means, or a straight line by least squares where groups are numbers."),
    ] = "medians"
    level: Annotated[
        Level,
        SettingInfo(
            "How sure the interval of the straight line is.",
            slider=(0.5, 0.999),
            needs={"through": ["least squares"]},
            computed=True,
        ),
    ] = Field(default=0.95, description="of the least-squares line's interval")
    line: Annotated[LineWidth, LINE] = 1.4
    dash: Annotated[Dash, DASH] = "solid"

    def follows_rows(self) -> bool:
        """A fitted line looks at every value."""
        return self.through == "least squares"
