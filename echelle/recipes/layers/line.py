"""The layer of lines across lanes."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.recipes.guides import Dash
from echelle.recipes.layers.base import LINE, WIDTH, AnyLayer, LineWidth
from echelle.recipes.settings import DASH, SettingInfo


class LineLayer(AnyLayer):
    """Lines across each lane at its mean or median, or at steps of its SD from the mean."""

    title: ClassVar[str] = "Line"

    layer: Literal["line"] = "line"
    at: Annotated[
        Literal["mean", "median", "mean and SD"], SettingInfo("At the mean, the median, or the mean with steps of the SD.")
    ] = "median"
    sds: Annotated[
        list[float],
        SettingInfo(
            "How many SDs from the mean the lines stand.",
            title="SDs",
            needs={"at": ["mean and SD"]},
            samples=([1.0], [1.0, 2.0]),
        ),
    ] = Field(default=[1.0, 2.0, 3.0], max_length=6, description="with mean and SD: how many SDs away")
    width: Annotated[float, WIDTH] = Field(default=0.5, ge=0.02, le=1.0, description="share of the lane")
    line: Annotated[LineWidth, LINE] = 1.8
    dash: Annotated[Dash, DASH] = "solid"
