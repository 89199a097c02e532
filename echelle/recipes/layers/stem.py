"""The layer of stems and leaves."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from echelle.recipes.layers.base import AnyLayer
from echelle.recipes.settings import SettingInfo


class StemLayer(AnyLayer):
    """Stem and leaf, as text: each stem stands at its place on the measure."""

    title: ClassVar[str] = "Stem"
    front: ClassVar[int] = 2
    shows_shape: ClassVar[bool] = True
    even_axis: ClassVar[bool] = True
    writes: ClassVar[bool] = True
    preview_form: ClassVar[str] = "stem"

    layer: Literal["stem"] = "stem"
    unit: Annotated[
        float | None, SettingInfo("What one step of a leaf is worth; the same for all lanes.", samples=(1.0, 0.1))
    ] = Field(default=None, gt=0.0, description="what one step of a leaf is worth")
    split: Annotated[Literal[1, 2, 5] | None, SettingInfo("One, two or five lines a stem.")] = Field(
        default=None, description="lines a stem; null: so that ten or more appear"
    )
    set_aside: Annotated[bool, SettingInfo("Values beyond the fences stand apart, in full, so that the stems stay close.")] = (
        Field(default=True, description="values beyond the fences stand apart, in full")
    )

    def without_unit(self) -> Self:
        """Without the worth of a leaf."""
        return self.model_copy(update={"unit": None})

    def follows_rows(self) -> bool:
        """Each leaf is a value."""
        return True
