"""Hartigan's dip: how far the values are from any distribution with one peak."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from echelle.numbers.decimals import decimals_of
from echelle.numbers.sample import Rising, sample_of

_MOST_SIMULATED = 200


def dip(ordered: Rising) -> float:
    """The dip statistic of rising ``ordered`` (shape (n,), n ≥ 1): between 1/(2n) and 1/4.

    The greatest distance between the empirical distribution and the nearest unimodal one, by the modal interval's greatest
    convex minorant and least concave majorant (Hartigan & Hartigan 1985; algorithm AS 217, P. M. Hartigan 1985).
    """
    n = len(ordered)
    if n < 4 or ordered[0] == ordered[-1]:
        return 1 / (2 * n)
    x = [0.0, *decimals_of(sample_of(ordered)).samples[0].repeats.tolist()]
    minorant, majorant = _minorant(x, n), _majorant(x, n)
    low, high, best = 1, n, 1.0
    while True:
        gcm = _chain(minorant, high, low)
        lcm = _chain(majorant, low, high)
        d, ig, ih = _farthest(x, gcm, lcm)
        if d < best:
            break
        below = max((_below(x, gcm[j + 1], gcm[j]) for j in range(ig, len(gcm) - 1)), default=0.0)
        above = max((_above(x, lcm[j], lcm[j + 1]) for j in range(ih, len(lcm) - 1)), default=0.0)
        best = max(best, below, above)
        if low == gcm[ig] and high == lcm[ih]:
            break
        low, high = gcm[ig], lcm[ih]
    return best / (2 * n)


def dip_p(statistic: float, n: int, resamples: int = 999, seed: int = 41) -> float:
    """How often a sample of a uniform distribution, the least favourable with one peak, has a dip as large (Hartigan &
    Hartigan 1985): (1 + how many of ``resamples`` reach it)/(resamples + 1).

    Samples have n values, above 200 they have 200 and dips are compared times √n, which is what they settle to.
    """
    size = min(n, _MOST_SIMULATED)
    reached = sum(math.sqrt(size) * d >= math.sqrt(n) * statistic for d in _uniform_dips(size, resamples, seed))
    return (1 + reached) / (resamples + 1)


@lru_cache(64)
def _uniform_dips(n: int, resamples: int, seed: int) -> tuple[float, ...]:
    rng = np.random.default_rng(seed)
    return tuple(dip(line) for line in np.sort(rng.random((resamples, n)), axis=1))


def _minorant(x: list[float], n: int) -> list[int]:
    link = [0, 1] + [0] * (n - 1)
    for j in range(2, n + 1):
        link[j] = j - 1
        while True:
            a = link[j]
            b = link[a]
            if a == 1 or (x[j] - x[a]) * (a - b) < (x[a] - x[b]) * (j - a):
                break
            link[j] = b
    return link


def _majorant(x: list[float], n: int) -> list[int]:
    link = [0] * n + [n]
    for k in range(n - 1, 0, -1):
        link[k] = k + 1
        while True:
            a = link[k]
            b = link[a]
            if a == n or (x[k] - x[a]) * (a - b) < (x[a] - x[b]) * (k - a):
                break
            link[k] = b
    return link


def _chain(link: list[int], start: int, end: int) -> list[int]:
    places = [start]
    while places[-1] != end:
        places.append(link[places[-1]])
    return places


def _farthest(x: list[float], gcm: list[int], lcm: list[int]) -> tuple[float, int, int]:
    """The greatest distance between minorant and majorant, and where in both chains it stands."""
    ig, ih = len(gcm) - 1, len(lcm) - 1
    if len(gcm) == 2 and len(lcm) == 2:
        return 1.0, ig, ih
    d, ix, iv = 0.0, len(gcm) - 2, 1
    while True:
        g, m = gcm[ix], lcm[iv]
        if g > m:
            before = gcm[ix + 1]
            gap = (m - before + 1) - (x[m] - x[before]) * (g - before) / (x[g] - x[before])
            iv += 1
            if gap >= d:
                d, ig, ih = gap, ix + 1, iv - 1
        else:
            before = lcm[iv - 1]
            gap = (x[g] - x[before]) * (m - before) / (x[m] - x[before]) - (g - before - 1)
            ix -= 1
            if gap >= d:
                d, ig, ih = gap, ix + 1, iv
        ix, iv = max(ix, 0), min(iv, len(lcm) - 1)
        if gcm[ix] == lcm[iv]:
            return d, ig, ih


def _below(x: list[float], start: int, end: int) -> float:
    """How far the steps stand above a chord of the minorant."""
    if end - start <= 1 or x[end] == x[start]:
        return 1.0
    slope = (end - start) / (x[end] - x[start])
    part = np.array(x[start : end + 1])
    return max(1.0, float(np.max(np.arange(1, len(part) + 1) - (part - part[0]) * slope)))


def _above(x: list[float], start: int, end: int) -> float:
    """How far the steps stand below a chord of the majorant."""
    if end - start <= 1 or x[end] == x[start]:
        return 1.0
    slope = (end - start) / (x[end] - x[start])
    part = np.array(x[start : end + 1])
    return max(1.0, float(np.max((part - part[0]) * slope - (np.arange(len(part)) - 1))))
