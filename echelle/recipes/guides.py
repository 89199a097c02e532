"""Guides: reference lines and bands at numbers, or at what the values themselves give."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, StringConstraints, model_validator

from echelle.catalogue.catalogue import Catalogue
from echelle.numbers.rounding import decimals_of, display_number
from echelle.recipes.markup import plain
from echelle.recipes.settings import DASH, SettingInfo
from echelle.recipes.style import Colour
from echelle.strict_model import StrictModel

Dash = Literal["solid", "dashed", "dotted"]


class Percentile(StrictModel):
    """The value that a percentage of the values lies below, by the figure's definition of a quantile."""

    percentile: float = Field(gt=0, lt=100)


class FromMean(StrictModel):
    """So many standard deviations from the mean."""

    sds: float = Field(ge=-20, le=20, description="negative lies below the mean")


GuidePlace = float | Literal["mean", "median"] | Percentile | FromMean
GuideText = Annotated[str, StringConstraints(max_length=200)]


class Guide(StrictModel):
    """A reference line, or a band with both ends inside, with its label."""

    at: GuidePlace | None = None
    band: tuple[GuidePlace, GuidePlace] | None = None
    label: GuideText = ""
    dash: Annotated[Dash, DASH] = "dashed"
    colour: Annotated[Colour | None, SettingInfo("Its own colour; without one, a quiet grey.", find=("guide colour",))] = None
    weight: Annotated[float, SettingInfo("How thick the line is, in pt.", title="Line width", slider=(0.2, 4.0))] = Field(
        default=0.9, ge=0.1, le=6.0, description="of the line, in pt"
    )
    behind: Annotated[bool, SettingInfo("The line lies under the marks, not over them.")] = False
    valued: Annotated[
        bool, SettingInfo("The number that is computed for it follows its label: mean 26.1.", title="With its value")
    ] = Field(default=False, description="the label ends with the value that was computed for it")
    group: str | None = Field(default=None, description="the group that it holds for; null: all")
    own: bool = Field(default=False, description="computed for each lane, not of all values it holds for")

    @model_validator(mode="after")
    def _line_or_band(self) -> Guide:
        if (self.at is None) == (self.band is None):
            raise ValueError("a guide is a line (at) or a band, one of them")
        if self.band is not None and not _rises(*self.band):
            raise ValueError("a band runs from the lower to the higher value")
        return self

    @property
    def ends(self) -> tuple[GuidePlace, GuidePlace]:
        """Both ends; the same twice for a line."""
        if self.band is not None:
            return self.band
        assert self.at is not None
        return self.at, self.at

    @property
    def fixed(self) -> bool:
        """Whether it stands at numbers, whatever the values are."""
        return all(isinstance(end, float | int) for end in self.ends)


class KeptGuides(StrictModel):
    """Guides that a study keeps under a name: the reference interval of a measure, group by group if it differs."""

    name: str = Field(min_length=1, max_length=200)
    measure: str = Field(default="", max_length=500, description="the column that they are for; empty: any")
    guides: list[Guide] = Field(min_length=1, max_length=40)


def guide_name(guide: Guide, words: Catalogue) -> str:
    """Its label, or where it stands in words."""
    low, high = (place_words(place, words) for place in guide.ends)
    return plain(guide.label) if guide.label else words.ends(low, high)


def place_words(place: GuidePlace, words: Catalogue) -> str:
    """Such as “mean − 2 SD”."""
    if isinstance(place, Percentile):
        return words.say("guide-percentile", percentile=f"{place.percentile:g}")
    if isinstance(place, FromMean):
        return words.say("guide-mean", sign="−" if place.sds < 0 else "+", sds=f"{abs(place.sds):g}")
    return (
        words.say("guide-centre", centre=place)
        if isinstance(place, str)
        else display_number(place, decimals_of(np.array([place])))
    )


def _rises(low: GuidePlace, high: GuidePlace) -> bool:
    """False where the first end is known to lie at or above the second."""
    if isinstance(low, float | int) and isinstance(high, float | int):
        return low < high
    if isinstance(low, Percentile) and isinstance(high, Percentile):
        return low.percentile < high.percentile
    if isinstance(low, FromMean) and isinstance(high, FromMean):
        return low.sds < high.sds
    return low != high
