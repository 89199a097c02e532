"""How well a second column tells values apart: the share of their variance that lies between its levels."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.decimals import decimals_of
from echelle.numbers.sample import Floats


def variance_explained(values: Floats, codes: NDArray[np.int32]) -> float:
    """ω² of ``values`` (shape (n,)) between the levels of ``codes`` (shape (n,), −1 for none): 0 where levels differ no more
    than chance makes them, 1 where they tell all. At least 0 (Hays 1963).
    """
    known = codes >= 0
    values, codes = values[known], codes[known]
    levels, places = np.unique(codes, return_inverse=True)
    n, k = len(values), len(levels)
    if k < 2 or n <= k:
        return 0.0
    [values] = decimals_of(values).samples
    values = values - values.mean()
    sums, counts = np.bincount(places, values), np.bincount(places)
    between = float((sums**2 / counts).sum())
    total = float((values**2).sum())
    within = (total - between) / (n - k)
    if total + within <= 0:
        return 0.0
    return max(0.0, (between - (k - 1) * within) / (total + within))


def best_cut(values: Floats, by: Floats, least: int = 5) -> tuple[float, float] | None:
    """Where to cut the numbers ``by`` (shape (n,), NaN for none) so that both sides' ``values`` differ most: the cut, half way
    between two numbers, and the share of variance between the sides. None where no side can have ``least`` values.

    The first split of a regression tree (Breiman et al. 1984).
    """
    known = np.isfinite(by)
    order = np.argsort(by[known], kind="stable")
    by, values = by[known][order], values[known][order]
    n = len(by)
    places = np.flatnonzero(by[1:] > by[:-1]) + 1
    places = places[(places >= least) & (places <= n - least)]
    if not len(places):
        return None
    [values] = decimals_of(values).samples
    values = values - values.mean()
    total = float((values**2).sum())
    left = np.cumsum(values)[places - 1]
    between = left**2 / places + left**2 / (n - places)
    best = int(np.argmax(between))
    cut = float(by[places[best] - 1] + by[places[best]]) / 2
    return cut, float(between[best]) / total if total > 0 else 0.0
