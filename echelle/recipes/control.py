"""What control rules hold values in order against."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from echelle.strict_model import StrictModel


class ControlTarget(StrictModel):
    """A target mean and SD, given by hand."""

    mean: float
    sd: float = Field(gt=0.0)


class ControlStretch(StrictModel):
    """The values whose mean and SD are the target: ``first`` to ``last`` of a lane, or of each lot, counted from 1."""

    first: int = Field(ge=1)
    last: int = Field(ge=2)

    @model_validator(mode="after")
    def _two_or_more(self) -> ControlStretch:
        if self.last <= self.first:
            raise ValueError("a stretch runs from an earlier to a later value")
        return self


class Control(StrictModel):
    """Control rules in order, against all of a lane's own values, a target or a stretch; with ``lots`` anew for each lot."""

    target: Literal["own"] | ControlTarget | ControlStretch = "own"
    order: str | None = Field(default=None, description="column of dates or numbers; null: the rows' own order")
    lots: str | None = Field(default=None, description="column of lots: rules begin anew where it changes")
