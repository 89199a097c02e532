"""The line around a mean or median: SD, SE or an interval, from rows or from a table of summaries."""

from __future__ import annotations

import math

import numpy as np
from scipy.special import stdtrit

from echelle.errors import InputError
from echelle.figures.geometry.count_axis import only_counts, shows_only
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.numbers.intervals import bca_interval, bootstrap, median_interval, percentile_interval
from echelle.numbers.quantiles import Floats, quantiles
from echelle.recipes.layers import CountsLayer, MeanLayer
from echelle.recipes.recipe import Recipe

Ends = tuple[float, float]
# Means of resamples settle long before: more values are thinned for the jackknife's sake.
_MOST_BCA = 5_000


def centre_of(lane: Lane, layer: MeanLayer) -> float | None:
    """The lane's mean or median."""
    if layer.centre == "mean" or lane.given is not None:
        return lane.moments.mean
    return quantiles(lane.ordered, (0.5,), 7)[0] if len(lane.values) else None


def mean_bar(lane: Lane, layer: MeanLayer) -> Ends | None:
    """Both ends of the line around a lane's centre; None without one.

    The confidence interval of the mean is mean ± t·SE with n − 1 degrees of freedom (Student 1908), that of the median lies
    between order statistics (Thompson 1936). Raises InputError where a table of summaries does not give what is asked.
    """
    mean, sd, se = lane.moments.mean, lane.moments.sd, lane.moments.se
    given = lane.given
    if mean is None or layer.interval == "none":
        return None
    if layer.interval.startswith("bootstrap") and given is None:
        return _bootstrapped(lane, layer)
    if layer.interval == "confidence":
        if given is not None and given.low is not None and given.high is not None:
            return given.low, given.high
        if layer.centre == "median" and given is None:
            found = median_interval(lane.ordered, layer.level)
            return None if found is None else (found.low, found.high)
        half = None if se is None or lane.n < 2 else se * float(stdtrit(lane.n - 1, (1 + layer.level) / 2))
    else:
        half = {"SD": sd, "SE": se}.get(layer.interval)
    if half is None and given is not None:
        raise InputError(
            f"the summaries do not give the {bar_words(layer)} of {lane.name}", where="$.layers",
            remedy="Choose another interval, or bring n and SD.",
        )  # fmt: skip
    return None if half is None or not math.isfinite(half) else (mean - half, mean + half)


def _bootstrapped(lane: Lane, layer: MeanLayer) -> Ends | None:
    if lane.n < 2:
        return None

    def statistic(rows: Floats) -> Floats:
        found = np.mean(rows, axis=1) if layer.centre == "mean" else np.median(rows, axis=1)
        return np.asarray(found, dtype=np.float64)

    drawn = bootstrap(lane.ordered, statistic, layer.resamples, layer.seed)
    if layer.interval == "bootstrap BCa" and lane.n <= _MOST_BCA:
        found = bca_interval(lane.ordered, statistic, drawn, layer.level)
        if found is not None:
            return found.low, found.high
    found = percentile_interval(drawn, layer.level)
    return found.low, found.high


def bar_words(layer: MeanLayer) -> str:
    """What the line shows, by name."""
    level = f"{100 * layer.level:g} %"
    return {
        "SD": "±1 SD",
        "SE": "±1 SE",
        "confidence": f"{level} confidence interval of the {layer.centre}",
        "bootstrap percentile": f"{level} bootstrap interval of the {layer.centre} (percentile)",
        "bootstrap BCa": f"{level} bootstrap interval of the {layer.centre} (BCa)",
        "none": "",
    }[layer.interval]


def measure_words(recipe: Recipe, arrangement: Arrangement) -> str:
    """What the axis is called: the measure, or "mean of" it and what the lines are where means stand alone."""
    if only_counts(recipe):
        people = all(isinstance(layer, CountsLayer) and layer.of == "subjects" for layer in recipe.layers if layer.shown)
        return "number of subjects" if people else "number of rows"
    if not only_means(recipe):
        return arrangement.heading
    bars = dict.fromkeys(bar_words(layer) for layer in _mean_layers(recipe) if layer.interval != "none")
    centre = _mean_layers(recipe)[0].centre
    named = arrangement.heading.lower().startswith("mean")
    name = arrangement.heading if named else f"{centre} of {arrangement.heading}"
    return ", ".join([name, *(f"lines: {words}" for words in bars)])


def _mean_layers(recipe: Recipe) -> list[MeanLayer]:
    return [layer for layer in recipe.layers if isinstance(layer, MeanLayer) and layer.shown]


def only_means(recipe: Recipe) -> bool:
    """Whether means stand alone, without the values behind them."""
    return shows_only(recipe, MeanLayer)
