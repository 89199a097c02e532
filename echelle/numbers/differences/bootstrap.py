"""Differences whose intervals come from resampling: medians and other percentiles, ratios of SDs and of IQRs.

Resampled order statistics are drawn from their exact distribution, without drawing the resamples themselves.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from echelle.numbers.differences.estimate import Estimate, nothing
from echelle.numbers.intervals import bca_interval
from echelle.numbers.quantiles import Floats, quantiles
from echelle.numbers.remarks import Remark, remark

RESAMPLES = 10_000
SEED = 41
_BLOCK = 4_000_000
_MOST_DRAWN = 20_000
_FEW_FOR_TAILS, _FEW_FOR_SPREADS = 30, 100


@dataclass(frozen=True)
class ResampledEstimate:
    """An estimate with the statistic of all resamples (shape (resamples,)), for its density."""

    estimate: Estimate
    resampled: Floats


def resampled_quantiles(ordered: Floats, ps: Sequence[float], resamples: int, rng: np.random.Generator) -> Floats:
    """Type-7 quantiles of resamples of rising ``ordered`` (shape (n,)), shape (len(ps), resamples).

    The k-th smallest of n draws stands where the k-th smallest of n uniform numbers does; those follow beta distributions,
    one given the one before (David & Nagaraja 2003, 2.5).
    """
    n = len(ordered)
    places = [(n - 1) * p for p in ps]
    ranks = sorted({rank for place in places for rank in (math.floor(place) + 1, math.ceil(place) + 1)})
    at: dict[int, Floats] = {}
    before, last = np.zeros(resamples), 0
    for rank in ranks:
        before = before + (1 - before) * rng.beta(rank - last, n - rank + 1, resamples)
        last = rank
        at[rank] = ordered[np.minimum((before * n).astype(np.intp), n - 1)]
    result = []
    for place in places:
        low, high = at[math.floor(place) + 1], at[math.ceil(place) + 1]
        result.append(low + (place - math.floor(place)) * (high - low))
    return np.array(result)


def without_each(ordered: Floats, p: float) -> Floats:
    """The type-7 quantile with each value left out in turn, shape (n,)."""
    n = len(ordered)
    place = (n - 2) * p
    low, high = math.floor(place), math.ceil(place)
    each = np.arange(n)
    a, b = ordered[low + (low >= each)], ordered[high + (high >= each)]
    return np.asarray(a + (place - low) * (b - a), dtype=np.float64)


def _resampled_sds(values: Floats, resamples: int, rng: np.random.Generator) -> Floats:
    n, out = len(values), np.empty(resamples)
    centred = values - values.mean()
    block = max(1, _BLOCK // n)
    for start in range(0, resamples, block):
        size = min(block, resamples - start)
        drawn = centred[rng.integers(0, n, (size, n))]
        out[start : start + size] = drawn.std(axis=1, ddof=1)
    return out


def _sds_without_each(values: Floats) -> Floats:
    n = len(values)
    centred = values - values.mean()
    total = float((centred**2).sum())
    squares = total - centred**2 * n / (n - 1)
    return np.asarray(np.sqrt(np.maximum(squares, 0.0) / (n - 2)), dtype=np.float64)


def percentile_difference(
    reference: Floats, other: Floats, p: float, level: float = 0.95, resamples: int = RESAMPLES, seed: int = SEED
) -> ResampledEstimate:
    """Difference of type-7 percentiles, interval by the bootstrap (BCa)."""
    name = "difference of medians" if p == 0.5 else f"difference of {100 * p:g} % percentiles"

    def of(ordered: Floats, rng: np.random.Generator) -> tuple[float, Floats, Floats]:
        return quantiles(ordered, (p,), 7)[0], resampled_quantiles(ordered, (p,), resamples, rng)[0], without_each(ordered, p)

    result = _compare(name, reference, other, of, np.subtract, level, resamples, seed, 2)
    few = min(len(reference), len(other)) < _FEW_FOR_TAILS and not 0.25 <= p <= 0.75
    return _short(result, remark("holds-less-often")) if few else result


def iqr_ratio(
    reference: Floats, other: Floats, level: float = 0.95, resamples: int = RESAMPLES, seed: int = SEED
) -> ResampledEstimate:
    """Ratio of interquartile ranges, interval by the bootstrap (BCa)."""

    def of(ordered: Floats, rng: np.random.Generator) -> tuple[float, Floats, Floats]:
        low, high = quantiles(ordered, (0.25, 0.75), 7)
        drawn = resampled_quantiles(ordered, (0.25, 0.75), resamples, rng)
        return high - low, drawn[1] - drawn[0], without_each(ordered, 0.75) - without_each(ordered, 0.25)

    return _compare("ratio of IQRs", reference, other, of, np.divide, level, resamples, seed, 4)


def sd_ratio(
    reference: Floats, other: Floats, level: float = 0.95, resamples: int = RESAMPLES, seed: int = SEED
) -> ResampledEstimate:
    """Ratio of standard deviations, interval by the bootstrap (BCa); of very long lanes by the variance of log s, which the
    fourth moment gives.
    """
    if min(len(reference), len(other)) > 2 and max(len(reference), len(other)) > _MOST_DRAWN:
        return ResampledEstimate(_large_sd_ratio(reference, other, level), np.empty(0))

    def of(ordered: Floats, rng: np.random.Generator) -> tuple[float, Floats, Floats]:
        return float(ordered.std(ddof=1)), _resampled_sds(ordered, resamples, rng), _sds_without_each(ordered)

    result = _compare("ratio of SDs", reference, other, of, np.divide, level, resamples, seed, 3)
    few = min(len(reference), len(other)) <= _FEW_FOR_SPREADS
    return _short(result, remark("holds-ninety")) if few else result


def _large_sd_ratio(reference: Floats, other: Floats, level: float) -> Estimate:
    from scipy.special import ndtri

    n, parts, logs = (len(reference), len(other)), 0.0, []
    for lane in (reference, other):
        away = (lane - lane.mean()) ** 2
        second = float(away.mean())
        if second == 0:
            return nothing("ratio of SDs", level, n, remark("no-spread-in-a-lane"))
        parts += (float((away**2).mean()) / second**2 - 1) / (4 * len(lane))
        logs.append(0.5 * math.log(second * len(lane) / (len(lane) - 1)))
    reach, centre = float(ndtri((1 + level) / 2)) * math.sqrt(parts), logs[1] - logs[0]
    return Estimate(
        name="ratio of SDs", value=math.exp(centre), low=math.exp(centre - reach), high=math.exp(centre + reach), level=level,
        method="normal approximation of log SDs", n=n,
    )  # fmt: skip


def _short(drawn: ResampledEstimate, remark: Remark) -> ResampledEstimate:
    """An estimate whose interval the simulation of docs/differences.md found too short."""
    if drawn.estimate.low is None or drawn.estimate.remark:
        return drawn
    return ResampledEstimate(replace(drawn.estimate, remark=remark), drawn.resampled)


Sampled = Callable[[Floats, np.random.Generator], tuple[float, Floats, Floats]]


def _compare(
    name: str, reference: Floats, other: Floats, of: Sampled, combine: np.ufunc, level: float, resamples: int, seed: int,
    least: int,
) -> ResampledEstimate:  # fmt: skip
    """``combine(other, reference)`` of a statistic, of its resamples, and with each value left out."""
    n = (len(reference), len(other))
    if min(n) < least:
        return ResampledEstimate(nothing(name, level, n, remark("needs-values-in-each", least=least)), np.empty(0))
    # Each lane has a stream of its own, whatever the other one needs.
    streams = [np.random.default_rng([seed, lane]) for lane in (0, 1)]
    a, drawn_a, out_a = of(np.sort(reference), streams[0])
    b, drawn_b, out_b = of(np.sort(other), streams[1])
    if combine is np.divide and a == 0:
        return ResampledEstimate(nothing(name, level, n, remark("no-spread-in-reference")), np.empty(0))
    with np.errstate(divide="ignore", invalid="ignore"):
        value = float(combine(b, a))
        drawn = np.asarray(combine(drawn_b, drawn_a), dtype=np.float64)
        left_out = (np.asarray(combine(b, out_a)), np.asarray(combine(out_b, a)))
    drawn = drawn[np.isfinite(drawn)]

    def without_interval(note: Remark) -> ResampledEstimate:
        estimate = Estimate(name=name, value=value, low=None, high=None, level=level, method="bootstrap BCa", n=n, remark=note)
        return ResampledEstimate(estimate, drawn)

    if not all(np.isfinite(each).all() for each in left_out) or len(drawn) < resamples / 2:
        return without_interval(remark("resamples-without-spread"))
    interval = bca_interval(value, drawn, left_out, level)
    if interval is None:
        return without_interval(remark("resamples-on-one-side"))
    method = f"bootstrap BCa, {resamples} resamples, seed {seed}"
    estimate = Estimate(name=name, value=value, low=interval.low, high=interval.high, level=level, method=method, n=n)
    return ResampledEstimate(estimate, drawn)
