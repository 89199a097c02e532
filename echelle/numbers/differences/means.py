"""Differences and ratios of means, and the standardised difference."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction

import numpy as np

from echelle.numbers.decimals import Decimals, root, rounded
from echelle.numbers.differences.estimate import Estimate, nothing, t_reach
from echelle.numbers.differences.lane_sums import LaneSums, lane_sums
from echelle.numbers.remarks import Remark, remark
from echelle.numbers.sample import Sample, Values, sample_of_unordered

_FEW = remark("needs-two-in-each")


def mean_difference(reference: Values, other: Values, level: float = 0.95) -> Estimate:
    """Mean of ``other`` minus mean of ``reference``, variances apart (Welch 1938; degrees of freedom Satterthwaite 1946)."""
    name, n = "difference of means", (len(reference), len(other))
    if min(n) < 2:
        return nothing(name, level, n, _FEW)
    decimals, lanes = lane_sums(reference, other)
    return welch_estimate(name, decimals, lanes, (-1, 1), level=level, n=n, no_spread=remark("no-spread-in-either"))


def welch_estimate(
    name: str, decimals: Decimals[Sample], lanes: list[LaneSums], signs: tuple[int, ...], *, level: float, n: tuple[int, int],
    no_spread: Remark,
) -> Estimate:  # fmt: skip
    """The sum of the lanes' means, each with its sign, with its interval by t; without spread both ends are the value, and
    ``no_spread`` says so.
    """
    apart = sum((sign * lane.mean for sign, lane in zip(signs, lanes, strict=True)), Fraction(0))
    value, parts = decimals.length(apart), tuple(lane.error for lane in lanes)
    spread = math.sqrt(math.fsum(parts))
    if spread == 0:
        return Estimate(
            name=name, value=value, low=value, high=value, level=level, method="Welch t", n=n, spread=0.0, remark=no_spread
        )
    df = welch_df(parts, tuple(lane.n for lane in lanes))
    reach = Fraction(t_reach(df, level) * spread)
    low, high = (decimals.length(end) for end in (apart - reach, apart + reach))
    return Estimate(
        name=name, value=value, low=low, high=high, level=level, method="Welch t", n=n, spread=decimals.length(spread), df=df,
        t=rounded(apart) / spread,
    )  # fmt: skip


def welch_df(parts: tuple[float, ...], n: tuple[int, ...]) -> float:
    """Degrees of freedom of a sum of squared standard errors (Satterthwaite 1946)."""
    return sum(parts) ** 2 / sum(part**2 / (size - 1) for part, size in zip(parts, n, strict=True) if part > 0)


def mean_ratio(reference: Values, other: Values, level: float = 0.95) -> Estimate:
    """Mean of ``other`` over mean of ``reference`` with Fieller's interval (1954), variances apart.

    No interval where the reference's mean cannot be told from zero.
    """
    name, n = "ratio of means", (len(reference), len(other))
    if min(n) < 2:
        return nothing(name, level, n, _FEW)
    decimals, lanes = lane_sums(reference, other)
    # In steps of the last place, from zero: the ratio depends on where zero is, but on no unit.
    start = decimals.pivot / decimals.step
    a, b = (start + lane.mean for lane in lanes)
    if a == 0:
        return nothing(name, level, n, remark("reference-mean-zero"))
    va, vb = (lane.variance / lane.n for lane in lanes)
    ratio = rounded(b / a)
    parts = (rounded((b / a) ** 2 * va), rounded(vb))
    if math.fsum(parts) == 0:
        return Estimate(
            name=name, value=ratio, low=ratio, high=ratio, level=level, method="Fieller", n=n,
            remark=remark("no-spread-in-either"),
        )  # fmt: skip
    t2 = Fraction(t_reach(welch_df(parts, n), level)) ** 2
    # (b − θa)² ≤ t²(vb + θ²va), a parabola in θ.
    lead, half, rest = a**2 - t2 * va, a * b, b**2 - t2 * vb
    if lead <= 0:
        note = remark("reference-mean-near-zero")
        return Estimate(name=name, value=ratio, low=None, high=None, level=level, method="Fieller", n=n, remark=note)
    away = Fraction(root(half**2 - lead * rest))
    low, high = (rounded((half + side * away) / lead) for side in (-1, 1))
    return Estimate(name=name, value=ratio, low=low, high=high, level=level, method="Fieller", n=n)


def geometric_ratio(reference: Values, other: Values, level: float = 0.95) -> Estimate:
    """Ratio of geometric means: Welch's difference of the logarithms, back from them. Needs values above zero."""
    name, n = "ratio of geometric means", (len(reference), len(other))
    if min(n) < 2:
        return nothing(name, level, n, _FEW)
    lanes = sample_of_unordered(reference), sample_of_unordered(other)
    if min(lane[0] for lane in lanes) <= 0:
        return nothing(name, level, n, remark("needs-values-above-zero"))
    difference = mean_difference(lanes[0].moved(np.log), lanes[1].moved(np.log), level)
    assert difference.value is not None and difference.low is not None and difference.high is not None
    with np.errstate(over="ignore"):
        ratio, low, high = np.exp([difference.value, difference.low, difference.high]).tolist()
    result = replace(difference, name=name, value=ratio, low=low, high=high, method="Welch t of logarithms", spread=None)
    if not math.isfinite(high):
        return replace(result, low=None, high=None, remark=remark("interval-beyond-numbers"))
    return result


def hedges_g(reference: Values, other: Values, level: float = 0.95) -> Estimate:
    """The difference of means in pooled SDs, corrected for small n (Hedges 1981); interval by the noncentral t."""
    name, n = "Hedges g", (len(reference), len(other))
    if min(n) < 2:
        return nothing(name, level, n, _FEW)
    _, (a, b) = lane_sums(reference, other)
    df = n[0] + n[1] - 2
    pooled = root((a.squares + b.squares) / df)
    if pooled == 0:
        return nothing(name, level, n, remark("no-spread-in-either"))
    scale = math.sqrt(n[0] * n[1] / (n[0] + n[1]))
    d = rounded(b.mean - a.mean) / pooled
    correction = math.exp(math.lgamma(df / 2) - math.lgamma((df - 1) / 2)) / math.sqrt(df / 2)
    ends = [_noncentrality(d * scale, df, share) / scale for share in ((1 + level) / 2, (1 - level) / 2)]
    note = remark("assumes-equal-spread")
    return Estimate(
        name=name,
        value=d * correction,
        low=ends[0] * correction,
        high=ends[1] * correction,
        level=level,
        method="noncentral t",
        n=n,
        remark=note,
    )


def _noncentrality(t: float, df: int, share: float) -> float:
    """The noncentrality at which ``share`` of t lies below the one observed."""
    from scipy.optimize import brentq

    def missing(shift: float) -> float:
        return _below(t, df, shift) - share

    # The share falls with the shift; with few degrees of freedom the ends lie far out.
    reach = 10.0 + abs(t)
    while missing(t - reach) < 0 or missing(t + reach) > 0:
        reach *= 2
    return float(brentq(missing, t - reach, t + reach, xtol=1e-10))


def _below(t: float, df: int, shift: float) -> float:
    """P(T ≤ t) of the noncentral t; where the series fails far out, the normal approximation (Abramowitz & Stegun 26.7.10)."""
    from scipy.special import nctdtr, ndtr

    exact = float(nctdtr(df, shift, t))
    if math.isfinite(exact):
        return exact
    return float(ndtr((t * (1 - 1 / (4 * df)) - shift) / math.sqrt(1 + t * t / (2 * df))))
