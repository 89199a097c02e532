"""Differences whose intervals come from resampling: medians and other percentiles, ratios of SDs and of IQRs.

All of it is computed from whole offsets, so that a resample ties with the sample where it does on paper.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from echelle.numbers.decimals import decimals_of
from echelle.numbers.differences.estimate import Estimate, nothing
from echelle.numbers.intervals import bca_interval
from echelle.numbers.quantiles import on_the_way, position, quantiles_without_each
from echelle.numbers.remarks import Remark, remark
from echelle.numbers.resamples import resampled_quantiles, resampled_sums
from echelle.numbers.sample import Floats, Sample, Values, sample_of_unordered

RESAMPLES = 10_000
SEED = 41
_MOST_DRAWN = 1_000
_FEW_FOR_TAILS, _FEW_FOR_SPREADS = 30, 100


@dataclass(frozen=True)
class ResampledEstimate:
    """An estimate with the statistic of all resamples (shape (resamples,)), for its density."""

    estimate: Estimate
    resampled: Floats


def _quantile(ordered: Sample, p: float) -> float:
    """The type-7 quantile, rounded as those of resamples are."""
    below, share = position(len(ordered), p)
    ends = (np.array([ordered[below - 1]]), np.array([ordered[min(below, len(ordered) - 1)]]))
    return float(on_the_way(*ends, share)[0])


def _resampled_squares(offsets: Sample, resamples: int, rng: np.random.Generator) -> Floats:
    """n times the sum of squared deviations of resamples, shape (resamples,): whole where offsets are."""
    sums, squares = resampled_sums(offsets, resamples, rng)
    return np.asarray(np.maximum(len(offsets) * squares - sums * sums, 0.0))


def _squares_without_each(offsets: Floats) -> Floats:
    """The same with each value left out in turn, shape (n,)."""
    n = len(offsets)
    sums, squares = offsets.sum() - offsets, (offsets * offsets).sum() - offsets * offsets
    return np.asarray(np.maximum((n - 1) * squares - sums * sums, 0.0), dtype=np.float64)


def percentile_difference(
    reference: Values,
    other: Values,
    p: float,
    level: float = 0.95,
    resamples: int = RESAMPLES,
    seed: int = SEED,
) -> ResampledEstimate:
    """Difference of type-7 percentiles, interval by the bootstrap (BCa)."""
    name = "difference of medians" if p == 0.5 else f"difference of {100 * p:g} % percentiles"

    def of(ordered: Sample, rng: np.random.Generator) -> _Statistics:
        return _Statistics(
            _quantile(ordered, p), resampled_quantiles(ordered, (p,), resamples, rng)[0], quantiles_without_each(ordered, p)
        )

    result = _compare(name, reference, other, of, np.subtract, level, resamples, seed, 2)
    few = min(len(reference), len(other)) < _FEW_FOR_TAILS and not 0.25 <= p <= 0.75
    return _short(result, remark("holds-less-often")) if few else result


def iqr_ratio(
    reference: Values, other: Values, level: float = 0.95, resamples: int = RESAMPLES, seed: int = SEED
) -> ResampledEstimate:
    """Ratio of interquartile ranges, interval by the bootstrap (BCa)."""

    def of(ordered: Sample, rng: np.random.Generator) -> _Statistics:
        drawn = resampled_quantiles(ordered, (0.25, 0.75), resamples, rng)
        iqr = _quantile(ordered, 0.75) - _quantile(ordered, 0.25)
        return _Statistics(
            iqr, drawn[1] - drawn[0], quantiles_without_each(ordered, 0.75) - quantiles_without_each(ordered, 0.25)
        )

    return _compare("ratio of IQRs", reference, other, of, np.divide, level, resamples, seed, 4)


def sd_ratio(
    reference: Values, other: Values, level: float = 0.95, resamples: int = RESAMPLES, seed: int = SEED
) -> ResampledEstimate:
    """Ratio of standard deviations, interval by the bootstrap (BCa). Resamples of a lane of more than 1 000 values are drawn
    from the normal distribution of log s, whose variance the fourth moment gives; of two such lanes none is drawn.
    """
    n = (len(reference), len(other))
    if min(n) > _MOST_DRAWN:
        return ResampledEstimate(_large_sd_ratio(reference, other, level), np.empty(0))

    def of(ordered: Sample, rng: np.random.Generator) -> _Statistics:
        near = ordered.moved(lambda values: values - ordered[len(ordered) // 2])
        offsets, size = near.repeats, len(near)
        value = float(size * (offsets**2).sum() - offsets.sum() ** 2)
        if size > _MOST_DRAWN:
            drawn = value * np.exp(2 * math.sqrt(_variance_of_log_sd(ordered)) * rng.standard_normal(resamples))
        else:
            drawn = _resampled_squares(near, resamples, rng)
        left_out = _squares_without_each(offsets) * (size / (size - 2))
        return _Statistics(value, drawn, left_out)

    def combine(above: Floats | float, below: Floats | float) -> Floats:
        # One division: equal ratios of whole sums of squares are equal numbers.
        return np.asarray(np.sqrt(np.divide(above, below) * scale), dtype=np.float64)

    scale = (n[0] * (n[0] - 1)) / (n[1] * (n[1] - 1)) if min(n) > 1 else 1.0
    result = _compare("ratio of SDs", reference, other, of, combine, level, resamples, seed, 3)
    few = min(n) <= _FEW_FOR_SPREADS
    return _short(result, remark("holds-ninety")) if few else result


def _large_sd_ratio(reference: Values, other: Values, level: float) -> Estimate:
    from scipy.special import ndtri

    n, parts, logs = (len(reference), len(other)), 0.0, []
    for lane in decimals_of(sample_of_unordered(reference), sample_of_unordered(other)).samples:
        if len(lane.values) == 1:
            return nothing("ratio of SDs", level, n, remark("no-spread-in-a-lane"))
        parts += _variance_of_log_sd(lane)
        logs.append(math.log(lane.sd(1)))
    reach, centre = float(ndtri((1 + level) / 2)) * math.sqrt(parts), logs[1] - logs[0]
    return Estimate(
        name="ratio of SDs", value=math.exp(centre), low=math.exp(centre - reach), high=math.exp(centre + reach), level=level,
        method="normal approximation of log SDs", n=n,
    )  # fmt: skip


def _variance_of_log_sd(values: Sample) -> float:
    """By the fourth moment, for many values, not all equal."""
    away = (values.values - values.mean()) ** 2
    return (values.mean(away**2) / values.mean(away) ** 2 - 1) / (4 * len(values))


def _short(drawn: ResampledEstimate, remark: Remark) -> ResampledEstimate:
    """An estimate whose interval the simulation of docs/differences.md found too short."""
    if drawn.estimate.low is None or drawn.estimate.remark:
        return drawn
    return ResampledEstimate(replace(drawn.estimate, remark=remark), drawn.resampled)


@dataclass(frozen=True, eq=False)
class _Statistics:
    """A statistic of one lane, of its resamples (shape (resamples,)), and with each value left out (shape (n,))."""

    value: float
    drawn: Floats
    left_out: Floats


Sampled = Callable[[Sample, np.random.Generator], _Statistics]
Combine = Callable[[Floats | float, Floats | float], Floats]


def _compare(
    name: str, reference: Values, other: Values, of: Sampled, combine: Combine, level: float, resamples: int, seed: int,
    least: int,
) -> ResampledEstimate:  # fmt: skip
    """``combine(other, reference)`` of a statistic of the lanes' offsets, of its resamples, and with each value left out;
    differences in the unit of the values.
    """
    n = (len(reference), len(other))
    if min(n) < least:
        return ResampledEstimate(nothing(name, level, n, remark("needs-values-in-each", least=least)), np.empty(0))
    decimals = decimals_of(sample_of_unordered(reference), sample_of_unordered(other))
    # Each lane has a stream of its own, whatever the other one needs.
    streams = [np.random.default_rng([seed, lane]) for lane in (0, 1)]
    a, b = (of(lane, stream) for lane, stream in zip(decimals.samples, streams, strict=True))
    if combine is not np.subtract and a.value == 0:
        return ResampledEstimate(nothing(name, level, n, remark("no-spread-in-reference")), np.empty(0))
    with np.errstate(divide="ignore", invalid="ignore"):
        value = float(combine(b.value, a.value))
        drawn = np.asarray(combine(b.drawn, a.drawn), dtype=np.float64)
        left_out = (np.asarray(combine(b.value, a.left_out)), np.asarray(combine(b.left_out, a.value)))
    drawn = drawn[np.isfinite(drawn)]

    def in_unit(apart: float) -> float:
        return decimals.length(apart) if combine is np.subtract else apart

    def answer(low: float | None, high: float | None, method: str, note: Remark | None = None) -> ResampledEstimate:
        estimate = Estimate(
            name=name, value=in_unit(value), low=low, high=high, level=level, method=method, n=n, remark=note
        )  # fmt: skip
        return ResampledEstimate(estimate, decimals.lengths(drawn) if combine is np.subtract else drawn)

    if not all(np.isfinite(each).all() for each in left_out) or len(drawn) < resamples / 2:
        return answer(None, None, "bootstrap BCa", remark("resamples-without-spread"))
    interval = bca_interval(value, drawn, left_out, level)
    if interval is None:
        return answer(None, None, "bootstrap BCa", remark("resamples-on-one-side"))
    method = f"bootstrap BCa, {resamples} resamples, seed {seed}"
    return answer(in_unit(interval.low), in_unit(interval.high), method)
