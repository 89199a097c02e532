"""The layer of ticks."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.recipes.layers.base import LINE, WIDTH, AnyLayer, LineWidth, Strength
from echelle.recipes.settings import SettingInfo
from echelle.recipes.style import Share


class TicksLayer(AnyLayer):
    """A short tick at each value, or at chosen quantiles."""

    title: ClassVar[str] = "Ticks"
    stands_on_box: ClassVar[bool] = True
    front: ClassVar[int] = 3
    shows_shape: ClassVar[bool] = True

    layer: Literal["ticks"] = "ticks"
    quantiles: Annotated[
        Annotated[list[Share], Field(max_length=60)] | None,
        SettingInfo("Ticks at these quantiles instead of at each value.", samples=([0.5], [0.1, 0.5, 0.9])),
    ] = Field(default=None, description="null: a tick at each value")
    width: Annotated[float, WIDTH] = Field(default=0.2, ge=0.02, le=1.0, description="share of the lane")
    line: Annotated[LineWidth, LINE] = 0.6
    strength: Annotated[Strength, SettingInfo("How opaque a tick is.", title="Opacity")] = 0.6
