"""The numbers of each lane, as the ledger and the command line give them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from echelle.figures.lanes.lane import Lane
from echelle.numbers.censored_quantiles import Limit, quantile_in_order
from echelle.numbers.fences import Fences, beyond_fence, count_beyond, whiskers
from echelle.numbers.outliers import FenceScale, OutlierRule, fences_of
from echelle.numbers.quantiles import QuantileType, quantiles
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.recipe import Recipe
from echelle.scene.models import LaneReadings, Outlier


@dataclass(frozen=True)
class ReadingRules:
    """Which definition of a quantile, what counts as an outlier, how far whiskers reach (None: to the same fences), and
    whether quantiles count limits "in order".
    """

    quantile_type: QuantileType = 7
    outliers: OutlierRule = "quartiles"
    k: float = 1.5
    of: FenceScale = "values"
    whiskers: OutlierRule | None = None
    whisker_k: float = 1.5
    whiskers_of: FenceScale = "values"
    in_order: bool = False


def rules_of(recipe: Recipe) -> ReadingRules:
    """The rules of the recipe's first box, which the ledger follows; the usual ones without a box."""
    box = first_box(recipe)
    return ReadingRules(in_order=recipe.measure.limits == "in order") if box is None else rules_of_box(box, recipe)


def first_box(recipe: Recipe) -> BoxLayer | None:
    """The box whose fences say which values are outliers."""
    return next(iter(recipe.shown(BoxLayer)), None)


def rules_of_box(box: BoxLayer, recipe: Recipe) -> ReadingRules:
    """What one box is drawn by."""
    in_order = recipe.measure.limits == "in order"
    reach = box.whiskers
    rule, k, of = (None, 1.5, box.fence.of) if reach is None else (reach.rule, reach.k, reach.of)
    return ReadingRules(box.quantile_type, box.fence.rule, box.fence.k, box.fence.of, rule, k, of, in_order)


def read_lane(lane: Lane, rules: ReadingRules, most_outliers: int | None = None) -> LaneReadings:
    """All readings of a lane; ``most_outliers`` shortens the list (never the count)."""
    shape = lane.moments
    empty = LaneReadings(
        lane=lane.key, group=lane.group, subgroup=lane.subgroup, n=lane.n, people=lane.people, missing=lane.missing,
        censored=lane.censored, left_out=lane.left_out, min=None, q1=None, median=None, q3=None, max=None, iqr=None,
        mean=shape.mean, variance=shape.variance, sd=shape.sd, se=shape.se, skewness=shape.skewness,
        kurtosis=shape.kurtosis, fence_low=None, fence_high=None, whisker_low=None, whisker_high=None, beyond=0,
        outliers=[],
    )  # fmt: skip
    if rules.in_order and lane.censored:
        return empty.model_copy(update=_in_order(lane, rules))
    if not lane.filled:
        return empty
    ordered = lane.ordered
    q1, median, q3 = quantiles(ordered, (0.25, 0.5, 0.75), rules.quantile_type)
    fences = fences_of(ordered, rules.outliers, rules.k, rules.quantile_type, rules.of)
    reach = fences
    if rules.whiskers is not None:
        reach = fences_of(ordered, rules.whiskers, rules.whisker_k, rules.quantile_type, rules.whiskers_of)
    ends = (None, None) if rules.whiskers == "none" else whiskers(ordered, reach, q1, q3)
    update = {"min": float(ordered[0]), "q1": q1, "median": median, "q3": q3, "max": float(ordered[-1]), "iqr": q3 - q1}
    return empty.model_copy(update=_finite(update) | _marks(lane, fences, ends, most_outliers))


def counts_alone(readings: LaneReadings) -> LaneReadings:
    """The readings of a lane whose column holds no numbers: how many rows, and nothing else."""
    kept = {
        "lane",
        "group",
        "subgroup",
        "n",
        "people",
        "missing",
        "censored",
        "left_out",
        "beyond",
        "outliers",
        "inside",
        "limits",
        "named",
    }
    blank = {name: None for name in LaneReadings.model_fields if name not in kept}
    return readings.model_copy(update={**blank, "beyond": 0, "outliers": []})


def _in_order(lane: Lane, rules: ReadingRules) -> dict[str, object]:
    """Quartiles and extremes of all records with limits at their place; fences would need numbers on both sides."""
    names = ("min", "q1", "median", "q3", "max")
    result = [
        quantile_in_order(lane.values, lane.below.limits, lane.above.limits, p, rules.quantile_type)
        for p in (0.0, 0.25, 0.5, 0.75, 1.0)
    ]
    update: dict[str, object] = {name: value for name, value in zip(names, result, strict=True) if not isinstance(value, Limit)}
    if not isinstance(result[1], Limit) and not isinstance(result[3], Limit):
        update["iqr"] = result[3] - result[1]
    limits = {name: str(value) for name, value in zip(names, result, strict=True) if isinstance(value, Limit)}
    return update | {"limits": limits}


def _marks(lane: Lane, fences: Fences, reach: tuple[float | None, float | None], most: int | None) -> dict[str, object]:
    """Fences, whiskers and outliers."""
    places = beyond_fence(lane.values, fences)
    listed = places if most is None else places[:most]
    beyond = len(places) if lane.tally is None else count_beyond(lane.ordered, fences)
    pairs = zip(lane.rows[listed].tolist(), lane.values[listed].tolist(), strict=True)
    ends = {"fence_low": fences.low, "fence_high": fences.high, "whisker_low": reach[0], "whisker_high": reach[1]}
    return _finite(ends) | {
        "beyond": beyond,
        "outliers": [Outlier(row, value) for row, value in pairs],
        "outliers_cut": len(listed) < beyond,
    }


def lane_fences(readings: LaneReadings) -> Fences | None:
    """The fences of a lane, None where nothing can be beyond any."""
    low, high = readings.fence_low, readings.fence_high
    if low is None and high is None:
        return None
    return Fences(-np.inf if low is None else low, np.inf if high is None else high)


def _finite(values: Mapping[str, float | None]) -> dict[str, object]:
    """Infinite ends have no number."""
    return {name: value if value is not None and np.isfinite(value) else None for name, value in values.items()}
