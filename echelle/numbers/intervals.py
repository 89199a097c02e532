"""Intervals about a centre: SD, SE, t for the mean, order statistics for the median, bootstrap for anything."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from echelle.numbers.decimals import Decimals, decimals_of
from echelle.numbers.moments import Moments, moments
from echelle.numbers.quantiles import quantiles_without_each
from echelle.numbers.remarks import Remark, remark
from echelle.numbers.resamples import picked_values, resampled_quantiles, resampled_sums
from echelle.numbers.sample import Floats, Rising, Sample, sample_of

Centre = Literal["mean", "median"]
CentreInterval = Literal["SD", "SE", "confidence", "bootstrap percentile", "bootstrap BCa", "none"]


@dataclass(frozen=True)
class Interval:
    """Both ends, and the level that they really have where order statistics cannot meet the one asked for; the rule that gave
    them, and why it stands in for the one asked for.
    """

    low: float
    high: float
    level: float
    rule: CentreInterval = "none"
    remark: Remark | None = None


def mean_interval(values: Rising, level: float = 0.95) -> Interval | None:
    """Mean ± t · SE with n − 1 degrees of freedom (Student 1908); None for n < 2."""
    return centre_interval(values, moments(values), "confidence", IntervalSettings("mean", level, 0, 0))


def median_interval(ordered: Rising, level: float = 0.95) -> Interval | None:
    """From the r-th smallest to the r-th largest value, r the largest with at least the level (binomial; Thompson 1936).

    None where even the extremes do not reach it (n < 6 at 95 %).
    """
    from scipy.special import bdtr

    n = len(ordered)

    def held(r: int) -> float:
        return 1.0 - 2.0 * float(bdtr(r - 1, n, 0.5))

    low, high = 0, n // 2 + 1
    while high - low > 1:  # the level held falls with r
        middle = (low + high) // 2
        low, high = (middle, high) if held(middle) >= level else (low, middle)
    return Interval(float(ordered[low - 1]), float(ordered[n - low]), held(low), "confidence") if low else None


def percentile_interval(drawn: Floats, level: float = 0.95) -> Interval:
    """The central share of the resampled statistic (Efron 1979)."""
    low, high = np.quantile(drawn, ((1 - level) / 2, (1 + level) / 2))
    return Interval(float(low), float(high), level)


def bca_interval(value: float, drawn: Floats, left_out: Sequence[Floats], level: float = 0.95) -> Interval | None:
    """Bias-corrected and accelerated (Efron 1987) for a ``value`` of one or more samples and that of its resamples; the
    acceleration from ``left_out``: for each sample the statistic with each value left out in turn.

    None where all resamples lie on one side of the value.
    """
    from scipy.special import ndtr, ndtri

    share = (np.count_nonzero(drawn < value) + 0.5 * np.count_nonzero(drawn == value)) / len(drawn)
    if not 0.0 < share < 1.0:
        return None
    bias = float(ndtri(share))
    cubes = squares = 0.0
    for each in left_out:
        away = (each.mean() - each) * (len(each) - 1) / len(each)
        cubes, squares = cubes + float((away**3).sum()), squares + float((away**2).sum())
    acceleration = cubes / (6 * squares**1.5) if squares > 0 else 0.0
    ends = []
    for edge in ((1 - level) / 2, (1 + level) / 2):
        z = bias + float(ndtri(edge))
        ends.append(float(np.quantile(drawn, float(ndtr(bias + z / (1 - acceleration * z))))))
    return Interval(ends[0], ends[1], level) if all(map(math.isfinite, ends)) else None


@dataclass(frozen=True)
class IntervalSettings:
    """About which centre an interval lies, at which level, and how values are drawn again."""

    centre: Centre
    level: float
    resamples: int
    seed: int


def draws(ordered: Rising, rule: CentreInterval, settings: IntervalSettings) -> int:
    """How many values the interval of a sample draws again, about; a figure asks before it does."""
    if not INTERVAL_RULES[rule].resampled:
        return 0
    return settings.resamples * (1 if settings.centre == "median" else picked_values(sample_of(ordered)))


@dataclass(frozen=True)
class IntervalRule:
    """A rule for the line about a centre: half its length from SD, SE and n where these are enough, which a table of summaries
    gives; else the interval of a sample. ``most`` is the number of values up to which it is computed,
    ``stand_in`` the rule that counts beyond, and where it has no answer.
    """

    source: str
    half: Callable[[Moments, int, IntervalSettings], float | None] | None = None
    interval: Callable[[Sample, IntervalSettings], Interval | None] | None = None
    most: float = math.inf
    resampled: bool = False
    stand_in: CentreInterval | None = None


def half_length(rule: CentreInterval, shape: Moments, n: int, settings: IntervalSettings) -> float | None:
    """Half the line's length by SD, SE and n; None where the rule needs values, or they give none."""
    half = INTERVAL_RULES[rule].half
    length = None if half is None else half(shape, n, settings)
    return length if length is not None and math.isfinite(length) else None


def centre_interval(ordered: Rising, shape: Moments, rule: CentreInterval, settings: IntervalSettings) -> Interval | None:
    """The line about the centre of rising values with their moments; None without one."""
    entry, length = INTERVAL_RULES[rule], half_length(rule, shape, len(ordered), settings)
    if length is not None and shape.mean is not None:
        return Interval(shape.mean - length, shape.mean + length, settings.level, rule)
    result = None
    if entry.interval is not None and 1 < len(ordered) <= entry.most:
        result = entry.interval(sample_of(ordered), settings)
    if result is not None:
        return replace(result, rule=rule)
    if entry.stand_in is None or len(ordered) < 2:
        return None
    other = centre_interval(ordered, shape, entry.stand_in, settings)
    many = len(ordered) > entry.most
    code = "interval-too-many" if many else "interval-of-the-mean" if entry.interval is None else "interval-no-answer"
    note = remark(code, rule=rule, most=f"{entry.most:,}" if many else "", **{"stand-in": entry.stand_in})
    return None if other is None else replace(other, remark=note)


def _of_mean(length: float | None, settings: IntervalSettings) -> float | None:
    return length if settings.centre == "mean" else None


def _t_half(shape: Moments, n: int, settings: IntervalSettings) -> float | None:
    from scipy.special import stdtrit

    if settings.centre == "median" or shape.se is None or n < 2:
        return None
    return shape.se * float(stdtrit(n - 1, (1 + settings.level) / 2))


def _order_statistics(ordered: Sample, settings: IntervalSettings) -> Interval | None:
    return median_interval(ordered, settings.level) if settings.centre == "median" else None


def _resampled(offsets: Sample, settings: IntervalSettings) -> Floats:
    """The centre of resamples, shape (resamples,)."""
    rng = np.random.default_rng(settings.seed)
    if settings.centre == "median":
        return np.asarray(resampled_quantiles(offsets, (0.5,), settings.resamples, rng)[0], dtype=np.float64)
    return resampled_sums(offsets, settings.resamples, rng)[0] / len(offsets)


def _percentiles(ordered: Sample, settings: IntervalSettings) -> Interval:
    decimals = decimals_of(ordered)
    return _placed(percentile_interval(_resampled(decimals.samples[0], settings), settings.level), decimals)


def _bca(ordered: Sample, settings: IntervalSettings) -> Interval | None:
    # Of whole offsets: a resample ties with the values where it does on paper.
    decimals = decimals_of(ordered)
    drawn, offsets = _resampled(decimals.samples[0], settings), decimals.samples[0].repeats
    if settings.centre == "mean":
        value, left_out = float(offsets.sum() / len(offsets)), (offsets.sum() - offsets) / (len(offsets) - 1)
    else:
        value, left_out = float(np.median(offsets)), quantiles_without_each(offsets, 0.5)
    interval = bca_interval(value, drawn, (left_out,), settings.level)
    return None if interval is None else _placed(interval, decimals)


def _placed(interval: Interval, decimals: Decimals[Sample]) -> Interval:
    return Interval(decimals.place(interval.low), decimals.place(interval.high), interval.level)


INTERVAL_RULES: dict[CentreInterval, IntervalRule] = {
    # A step of the SD or SE from a median is nothing that anybody defined.
    "SD": IntervalRule("by usage", half=lambda shape, n, settings: _of_mean(shape.sd, settings), stand_in="confidence"),
    "SE": IntervalRule("by usage", half=lambda shape, n, settings: _of_mean(shape.se, settings), stand_in="confidence"),
    "confidence": IntervalRule("Student 1908; Thompson 1936", half=_t_half, interval=_order_statistics),
    "bootstrap percentile": IntervalRule("Efron 1979", interval=_percentiles, resampled=True),
    # Means of resamples settle long before so many values.
    "bootstrap BCa": IntervalRule("Efron 1987", interval=_bca, most=5_000, resampled=True, stand_in="bootstrap percentile"),
    "none": IntervalRule("by usage"),
}
