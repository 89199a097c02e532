"""The permutation test of a difference of means."""

from __future__ import annotations

import math
from fractions import Fraction
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.decimals import root, rounded
from echelle.numbers.differences.hypothesis_tests import Evidence
from echelle.numbers.differences.lane_sums import LaneSums, lane_sums
from echelle.numbers.remarks import remark
from echelle.numbers.sample import Values, merged, sample_of_unordered

RESAMPLES = 9_999
_NORMAL_FROM = 200
_MOST_LISTED = 20_000
# Offsets that are no whole numbers lose their last digits when added in another order.
_ROUNDING = 1e-12


def permutation(reference: Values, other: Values, resamples: int = RESAMPLES, seed: int = 41) -> Evidence:
    """How often two lanes whose values are dealt anew differ in means as much or more.

    All deals where there are 20 000 or fewer; else ``resamples`` of them, seeded: (1 + how many)/(resamples + 1). With 200
    values or more in each lane the mean of a deal is normal (Wald & Wolfowitz 1944) with a variance known exactly.
    """
    n = (len(reference), len(other))
    if min(n) < 1 or len(merged([sample_of_unordered(reference), sample_of_unordered(other)]).values) == 1:
        return Evidence(name="permutation", statistic=None, p=None, n=n, remark=remark("no-two-different"))
    decimals, sums = lane_sums(reference, other)
    apart = sums[1].mean - sums[0].mean
    observed = decimals.length(apart)
    if min(n) >= _NORMAL_FROM:
        note = remark("permutations-normal")
        return Evidence(name="permutation", statistic=observed, p=_normal_p(apart, sums), n=n, remark=note)
    offsets = merged(decimals.samples).repeats
    size = min(n)
    exact = math.comb(len(offsets), size) <= _MOST_LISTED
    dealt = _all_deals(len(offsets), size) if exact else _deals(len(offsets), size, resamples, np.random.default_rng(seed))
    # The difference of means times both numbers: whole where offsets are.
    away = np.abs(offsets[dealt].sum(axis=0) * len(offsets) - offsets.sum() * size)
    bound = rounded(abs(apart) * n[0] * n[1])
    reached = int(np.count_nonzero(away >= (bound if decimals.whole else bound * (1 - _ROUNDING))))
    if exact:
        note = remark("permutations-all", count=dealt.shape[1])
        return Evidence(name="permutation", statistic=observed, p=reached / dealt.shape[1], exact=True, n=n, remark=note)
    note = remark("permutations", resamples=resamples, seed=seed)
    return Evidence(name="permutation", statistic=observed, p=(1 + reached) / (resamples + 1), n=n, remark=note)


def _normal_p(apart: Fraction, sums: list[LaneSums]) -> float:
    """p by the normal distribution of the difference of means over all deals, with its exact variance."""
    from scipy.special import ndtr

    a, b = sums
    n = a.n + b.n
    squares = a.squares + b.squares + apart**2 * a.n * b.n / n
    spread = root(squares * n / ((n - 1) * a.n * b.n))
    return float(2 * ndtr(-abs(rounded(apart)) / spread))


def _all_deals(n: int, size: int) -> NDArray[np.intp]:
    """The places of all hands of ``size`` among n, shape (size, hands)."""
    return np.array(list(combinations(range(n), size)), dtype=np.intp).T


def _deals(n: int, size: int, count: int, rng: np.random.Generator) -> NDArray[np.intp]:
    """The places of random hands, shape (size, count): each without repeats (Bentley & Floyd 1987)."""
    hands = np.empty((size, count), dtype=np.intp)
    for place, last in enumerate(range(n - size, n)):
        drawn = rng.integers(0, last + 1, count)
        there = (hands[:place] == drawn).any(axis=0)
        hands[place] = np.where(there, last, drawn)
    return hands
