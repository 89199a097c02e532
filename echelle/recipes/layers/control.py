"""The layer of control lines."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.recipes.layers.base import LINE, AnyLayer, LineWidth
from echelle.recipes.settings import SettingInfo


class ControlLayer(AnyLayer):
    """Control lines of values in order: target mean and SDs by lot, and rings about what breaks a rule."""

    title: ClassVar[str] = "Control lines"

    layer: Literal["control"] = "control"
    sds: Annotated[
        list[float], SettingInfo("How many SDs from the mean dashed lines stand.", title="SDs", samples=([1.0], [1.0, 2.0]))
    ] = Field(default=[2.0, 3.0], max_length=6, description="how many SDs from the mean lines stand")
    warnings: Annotated[bool, SettingInfo("Ring values beyond 2 SD too (1-2s), which call for a look and not for a stop.")] = (
        True
    )
    words: Annotated[bool, SettingInfo("Name the rule beside the last value that breaks it, and each lot.")] = True
    size: Annotated[float, SettingInfo("Diameter of the rings.", slider=(0.5, 10.0))] = Field(
        default=8.0, ge=2.0, le=20.0, description="diameter of the rings, pt"
    )
    line: Annotated[LineWidth, LINE] = 0.8

    def follows_rows(self) -> bool:
        """Rules look at one value after another."""
        return True
