"""Differences by order alone: the Hodges–Lehmann shift, the probability of superiority and Cliff's delta."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from echelle.numbers.decimals import decimals_of
from echelle.numbers.differences.estimate import Estimate, nothing, t_reach
from echelle.numbers.differences.hypothesis_tests import tie_share
from echelle.numbers.differences.means import welch_df
from echelle.numbers.remarks import remark
from echelle.numbers.sample import Floats, Sample, Values, sample_of_unordered

_EXACT_BELOW = 50
MOST = 50_000


def hodges_lehmann(reference: Values, other: Values, level: float = 0.95) -> Estimate:
    """The median of all differences other − reference (Hodges & Lehmann 1963), its interval by order statistics: from the
    exact distribution of Mann and Whitney's U for small lanes without ties, else from its normal approximation.
    """
    name, n = "Hodges–Lehmann shift", (len(reference), len(other))
    if min(n) < 1:
        return nothing(name, level, n, remark("needs-value-in-each"))
    if max(n) > MOST:
        return nothing(name, level, n, remark("not-computed", most=MOST))
    decimals = decimals_of(sample_of_unordered(reference), sample_of_unordered(other))
    x, y = (lane.repeats for lane in decimals.samples)
    pairs = n[0] * n[1]
    ranks = ((pairs - 1) // 2 + 1, pairs // 2 + 1)
    value = decimals.length(sum(_kth(x, y, k) for k in ranks) / 2)
    exact = max(n) < _EXACT_BELOW and len(np.unique(np.concatenate([x, y]))) == sum(n)
    below = _exact_below(n, level) if exact else _normal_below(x, y, level)
    method = "order statistics, " + ("exact" if exact else "normal approximation")
    if below < 0:
        return Estimate(
            name=name, value=value, low=None, high=None, level=level, method=method, n=n, remark=remark("too-few-for-level")
        )
    low, high = (decimals.length(_kth(x, y, rank)) for rank in (below + 1, pairs - below))
    return Estimate(name=name, value=value, low=low, high=high, level=level, method=method, n=n)


def _exact_below(n: tuple[int, int], level: float) -> int:
    """How many of the smallest differences lie outside: the largest k with P(U < k) ≤ (1 − level)/2; −1 for none."""
    ways = np.zeros(n[0] * n[1] + 1)
    ways[0] = 1.0
    # The generating function of U: a product of (1 − q^(m+i))/(1 − q^i).
    for i in range(1, n[0] + 1):
        shift = n[1] + i
        if shift < len(ways):
            ways[shift:] -= ways[:-shift].copy()
        for place in range(i, len(ways)):
            ways[place] += ways[place - i]
    shares = np.cumsum(ways) / ways.sum()
    return int(np.searchsorted(shares, (1 - level) / 2, side="right")) - 1


def _normal_below(x: Floats, y: Floats, level: float) -> int:
    """The same by the normal approximation, its variance corrected for ties."""
    from scipy.special import ndtri

    n, m = len(x), len(y)
    size = n + m
    ties = tie_share(sample_of_unordered(np.concatenate([x, y])))
    sd = math.sqrt(n * m / 12 * (size + 1 - ties))
    below = math.floor(n * m / 2 - float(ndtri((1 + level) / 2)) * sd)
    return below - 1 if below >= 1 else -1


def _kth(x: Floats, y: Floats, k: int) -> float:
    """The k-th smallest (from 1) of all differences y − x of rising ``x`` (shape (n,)) and ``y`` (shape (m,)): by halving the
    range until no difference lies inside, so that the n·m differences are never written down.
    """
    low, high = float(y[0] - x[-1]), float(y[-1] - x[0])

    def up_to(limit: float) -> int:
        return int(np.searchsorted(y, limit + x, side="right").sum())

    for _ in range(200):
        middle = low + (high - low) / 2
        if not low < middle < high:
            break
        if up_to(middle) >= k:
            high = middle
        else:
            low = middle
    # The largest difference at or under the end found; sums may be rounded by an ulp, so both neighbours are looked at.
    places = np.searchsorted(y, high + x, side="right") - 1
    near = [y[np.clip(places + step, 0, len(y) - 1)] - x for step in (0, 1)]
    candidates = np.unique(np.concatenate(near))
    return float(candidates[np.argmin(np.abs(candidates - high))])


def superiority(reference: Values, other: Values, level: float = 0.95) -> Estimate:
    """How often a value of ``other`` is above one of ``reference``, ties half: interval by the placements' variance (Brunner &
    Munzel 2000) on the logit scale, so that it stays between 0 and 1.
    """
    from scipy.special import expit

    name, n = "probability of superiority", (len(reference), len(other))
    if min(n) < 2:
        return nothing(name, level, n, remark("needs-two-in-each"))
    x, y = sample_of_unordered(reference), sample_of_unordered(other)
    above_x, above_y = _ranks_among(x, y), _ranks_among(y, x)
    share = y.mean(above_y) / n[0]
    parts = (_variance(x, above_x) / (n[1] ** 2 * n[0]), _variance(y, above_y) / (n[0] ** 2 * n[1]))
    if sum(parts) == 0 and 0 < share < 1:
        note = remark("no-spread-in-either")
        return Estimate(name=name, value=share, low=None, high=None, level=level, method="", n=n, remark=note)
    method = "placements, logit"
    if sum(parts) == 0 or not 0 < share < 1:
        # Lanes apart: the exact bound of one of n·m pairs is all that can be said.
        edge = (1 - level) / 2
        bound = edge ** (1 / min(n))
        low = bound if share == 1 else 0.0 if share == 0 else None
        high = 1.0 if share == 1 else 1 - bound if share == 0 else None
        return Estimate(
            name=name,
            value=share,
            low=low,
            high=high,
            level=level,
            method="bound from the smaller lane",
            n=n,
            remark=remark("no-overlap"),
        )
    spread = math.sqrt(sum(parts)) / (share * (1 - share))
    reach = t_reach(welch_df(parts, n), level) * spread
    centre = math.log(share / (1 - share))
    low, high = (float(expit(centre + side * reach)) for side in (-1, 1))
    return Estimate(name=name, value=share, low=low, high=high, level=level, method=method, n=n, df=welch_df(parts, n))


def _ranks_among(values: Sample, others: Sample) -> Floats:
    """How many of ``others`` lie below each different one of ``values``, ties half."""
    return np.asarray((others.searchsorted(values.values, "left") + others.searchsorted(values.values, "right")) / 2)


def _variance(of: Sample, numbers: Floats) -> float:
    """With n − 1 below, of a number for each value."""
    return of.total((numbers - of.mean(numbers)) ** 2) / (len(of) - 1)


def cliffs_delta(reference: Values, other: Values, level: float = 0.95) -> Estimate:
    """Cliff's delta (1993): twice the probability of superiority less 1."""
    result = superiority(reference, other, level)
    value, low, high = (None if end is None else 2 * end - 1 for end in (result.value, result.low, result.high))
    return replace(result, name="Cliff's delta", value=value, low=low, high=high)
