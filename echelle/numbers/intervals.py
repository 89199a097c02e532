"""Intervals about a centre: SD, SE, t for the mean, order statistics for the median, bootstrap for anything."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from echelle.numbers.moments import moments
from echelle.numbers.quantiles import Floats

Statistic = Callable[[Floats], Floats]


@dataclass(frozen=True)
class Interval:
    """Both ends, and the level that they really have where order statistics cannot meet the one asked for."""

    low: float
    high: float
    level: float


def mean_interval(values: Floats, level: float = 0.95) -> Interval | None:
    """Mean ± t · SE with n − 1 degrees of freedom (Student 1908); None for n < 2."""
    from scipy.special import stdtrit

    shape = moments(values)
    if shape.mean is None or shape.se is None:
        return None
    reach = float(stdtrit(len(values) - 1, (1 + level) / 2)) * shape.se
    return Interval(shape.mean - reach, shape.mean + reach, level)


def median_interval(ordered: Floats, level: float = 0.95) -> Interval | None:
    """From the r-th smallest to the r-th largest value, r the largest with at least the level (binomial; Thompson 1936).

    None where even the extremes do not reach it (n < 6 at 95 %).
    """
    from scipy.special import bdtr

    n = len(ordered)
    best = None
    for r in range(1, n // 2 + 1):
        held = 1.0 - 2.0 * float(bdtr(r - 1, n, 0.5))
        if held < level:
            break
        best = Interval(float(ordered[r - 1]), float(ordered[n - r]), held)
    return best


def bootstrap(values: Floats, statistic: Statistic, resamples: int, seed: int) -> Floats:
    """The statistic of resamples, shape (resamples,). ``statistic`` takes rows of values, shape (b, n), to shape (b,)."""
    rng = np.random.default_rng(seed)
    n, out = len(values), np.empty(resamples)
    block = max(1, 4_000_000 // max(n, 1))
    for start in range(0, resamples, block):
        size = min(block, resamples - start)
        out[start : start + size] = statistic(values[rng.integers(0, n, (size, n))])
    return out


def percentile_interval(drawn: Floats, level: float = 0.95) -> Interval:
    """The central share of the resampled statistic (Efron 1979)."""
    low, high = np.quantile(drawn, ((1 - level) / 2, (1 + level) / 2))
    return Interval(float(low), float(high), level)


def bca_interval(values: Floats, statistic: Statistic, drawn: Floats, level: float = 0.95) -> Interval | None:
    """Bias-corrected and accelerated (Efron 1987), the acceleration from the jackknife.

    None where all resamples lie on one side of the estimate.
    """
    from scipy.special import ndtr, ndtri

    estimate = float(statistic(values[None, :])[0])
    share = (np.count_nonzero(drawn < estimate) + 0.5 * np.count_nonzero(drawn == estimate)) / len(drawn)
    if not 0.0 < share < 1.0:
        return None
    bias = float(ndtri(share))
    n = len(values)
    left_out = np.array([float(statistic(np.delete(values, i)[None, :])[0]) for i in range(n)])
    apart = left_out.mean() - left_out
    below = float(np.sum(apart**2)) ** 1.5
    acceleration = float(np.sum(apart**3)) / (6 * below) if below > 0 else 0.0
    ends = []
    for z in (float(ndtri((1 - level) / 2)), float(ndtri((1 + level) / 2))):
        moved = bias + (bias + z) / (1 - acceleration * (bias + z))
        ends.append(float(np.quantile(drawn, float(ndtr(moved)))))
    return Interval(ends[0], ends[1], level) if all(map(math.isfinite, ends)) else None
