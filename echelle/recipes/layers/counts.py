"""The layer of counts of rows."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.recipes.layers.base import WIDTH, AnyLayer
from echelle.recipes.settings import SettingInfo

CountOf = Literal["rows", "subjects", "both"]


class CountsLayer(AnyLayer):
    """How many rows each lane has, and how many distinct subjects."""

    title: ClassVar[str] = "Counts"
    front: ClassVar[int] = 0
    counts_rows: ClassVar[bool] = True
    preview_form: ClassVar[str] = "counts"

    layer: Literal["counts"] = "counts"
    of: Annotated[CountOf, SettingInfo("Rows, distinct subjects by the identifier, or both.")] = "both"
    width: Annotated[float, WIDTH] = Field(default=0.6, ge=0.05, le=1.0, description="share of the lane")
