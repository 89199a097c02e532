"""The numbers of each lane, as the ledger and the command line give them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from echelle.figures.arrange import Lane
from echelle.figures.scene import LaneReadings, Outlier
from echelle.numbers.fences import Fences, beyond, quartile_fences, whiskers
from echelle.numbers.quantiles import QuantileType, quantiles
from echelle.recipes.models import BoxLayer, Recipe


@dataclass(frozen=True)
class ReadingRules:
    """Which definition of a quantile, and how far out a fence stands."""

    quantile_type: QuantileType = 7
    fence: float = 1.5


def rules_of(recipe: Recipe) -> ReadingRules:
    """The rules of the recipe's first box, which the ledger follows; the usual ones without a box."""
    box = next((layer for layer in recipe.layers if isinstance(layer, BoxLayer) and layer.shown), None)
    return ReadingRules(box.quantile_type, box.fence.k) if box else ReadingRules()


def read_lane(lane: Lane, rules: ReadingRules, most_outliers: int | None = None) -> LaneReadings:
    """All readings of a lane; ``most_outliers`` shortens the list (never the count)."""
    shape = lane.moments
    empty = LaneReadings(
        lane=lane.key, group=lane.group, n=len(lane.values), people=lane.people, missing=lane.missing,
        censored=lane.censored, left_out=lane.left_out, min=None, q1=None, median=None, q3=None, max=None, iqr=None,
        mean=shape.mean, variance=shape.variance, sd=shape.sd, se=shape.se, skewness=shape.skewness,
        kurtosis=shape.kurtosis, fence_low=None, fence_high=None, whisker_low=None, whisker_high=None, beyond=0,
        outliers=[],
    )  # fmt: skip
    if len(lane.values) == 0:
        return empty
    ordered = lane.ordered
    q1, median, q3 = quantiles(ordered, (0.25, 0.5, 0.75), rules.quantile_type)
    fences = quartile_fences(q1, q3, rules.fence)
    low, high = whiskers(ordered, fences, q1, q3)
    places = beyond(lane.values, fences)
    listed = places if most_outliers is None else places[:most_outliers]
    update = {
        "min": float(ordered[0]), "q1": q1, "median": median, "q3": q3, "max": float(ordered[-1]), "iqr": q3 - q1,
        "fence_low": fences.low, "fence_high": fences.high, "whisker_low": low, "whisker_high": high,
        "beyond": len(places),
        "outliers": [Outlier(row=int(lane.rows[i]), value=float(lane.values[i])) for i in listed],
        "outliers_cut": len(listed) < len(places),
    }  # fmt: skip
    return empty.model_copy(update={k: _finite(v) for k, v in update.items()})


def lane_fences(readings: LaneReadings) -> Fences | None:
    """The fences of a lane, None for an empty one."""
    if readings.fence_low is None or readings.fence_high is None:
        return None
    return Fences(readings.fence_low, readings.fence_high)


def _finite(value: object) -> object:
    return None if isinstance(value, float) and not np.isfinite(value) else value
