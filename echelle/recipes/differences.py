"""How lanes are set against one another."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from echelle.numbers.differences.multiple_comparisons import Adjustment
from echelle.numbers.differences.reference_limits import LimitMethod
from echelle.recipes.control import Control
from echelle.recipes.layers.base import Seed
from echelle.strict_model import StrictModel

# What becomes of several rows of one subject.
Repeats = Literal["mean", "median", "mixed model"]
ComparedTo = Literal["reference", "neighbours", "all pairs", "subgroups"]


class Differences(StrictModel):
    """Which lanes are compared with which, how surely, and how many rows of one subject count.

    ``reference`` is a level of the groups (the first one where null); ``paired_by`` an identifier column, whose ``repeats`` are
    reduced to one value a subject first, or all kept by a mixed model; ``drawn`` makes the figure's lanes those differences;
    ``margin`` is the difference that still counts as equivalent.
    """

    to: ComparedTo = "reference"
    reference: str | None = None
    level: float = Field(default=0.95, ge=0.5, le=0.999)
    together: bool = Field(default=False, description="intervals hold together: each at a higher level (Bonferroni)")
    adjusted: Adjustment = "Holm"
    percentiles: list[float] = Field(default=[0.1, 0.9], max_length=6, description="differences of these besides medians")
    paired_by: str | None = None
    by_row: bool | None = Field(
        default=None, description="whether values of one row are pairs, without an identifier; null: where lanes share rows"
    )
    repeats: Repeats = "mean"
    drawn: bool = Field(default=False, description="lanes of the figure hold the differences within subjects")
    runs: str | None = Field(default=None, description="column of runs, for spread components within each lane")
    limits: LimitMethod | None = Field(default=None, description="reference limits of each lane, and by which method")
    control: Control | None = Field(default=None, description="control rules in row order, and what they are held against")
    margin: float | None = Field(default=None, gt=0.0)
    seed: Seed = 41
    resamples: int = Field(default=10_000, ge=500, le=100_000)
