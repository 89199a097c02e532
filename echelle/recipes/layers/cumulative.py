"""The layer of cumulative shares."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.numbers.cumulative import PlottingPositions
from echelle.recipes.layers.base import LINE, WIDTH, LineWidth, PreviewPlaced, RisingLayer
from echelle.recipes.settings import SettingInfo


class CumulativeLayer(RisingLayer):
    """The share of rows at or below each value, as steps or against a normal distribution."""

    title: ClassVar[str] = "Cumulative"
    shows_shape: ClassVar[bool] = True
    preview_form: ClassVar[str] = "cumulative"
    preview_placed: ClassVar[PreviewPlaced] = "overlaid"

    layer: Literal["cumulative"] = "cumulative"
    against: Annotated[
        Literal["shares", "normal distribution"],
        SettingInfo("Shares of rows, or the places that values of a normal distribution would have: then they lie on a line."),
    ] = "shares"
    positions: Annotated[
        PlottingPositions,
        SettingInfo(
            "Which published plotting positions are used; they differ at the ends.", needs={"against": ["normal distribution"]}
        ),
    ] = "blom"
    robust_line: Annotated[
        bool,
        SettingInfo(
            "The line through the quartiles, which outliers do not move.",
            title="Quartile line",
            needs={"against": ["normal distribution"]},
        ),
    ] = Field(default=True, description="against a normal distribution: the line through the quartiles")
    size: Annotated[
        float, SettingInfo("Diameter of a point in pt.", slider=(0.5, 10.0), needs={"against": ["normal distribution"]})
    ] = Field(default=3.0, ge=0.5, le=12.0, description="diameter of a point in pt")
    width: Annotated[float, WIDTH] = Field(default=0.94, ge=0.05, le=1.0, description="share of the lane")
    line: Annotated[LineWidth, LINE] = 1.4

    def form_sign(self) -> str:
        """Shares and normal probability are two forms."""
        return f"{self.kind()} {self.against}"

    def on_lane_edge(self) -> bool:
        """Steps rise from the edge."""
        return True

    def shows_axis(self, overlaid: bool) -> bool:
        """Heights are read."""
        return True

    def follows_rows(self) -> bool:
        """Each point is a value."""
        return self.against == "normal distribution"
