"""Robust reference limits (Horn, Pesce & Copeland 1998), of values and of many resamples of them at once."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.sample import Floats

_RESAMPLES = 1_000
_MOST_CELLS = 2_000
_TURNS = 100
_SETTLED = 1e-11
# A normal distribution's MAD in SDs.
_MAD = 0.6745


def robust_ends(offsets: Floats, share: float, level: float, seed: int) -> tuple[tuple[float, float], Floats]:
    """Lower and upper limit of rising ``offsets`` (shape (n,), not all equal), and the ends of the interval of each by
    resampling (shape (2, 2)).

    Resamples are counts of the different values; above 2 000 of these, of neighbouring values put together.
    """
    values, counts = np.unique(offsets, return_counts=True)
    own = _ends(values, counts[None, :].astype(np.float64), share)[0]
    if len(values) > _MOST_CELLS:
        starts = np.linspace(0, len(offsets), _MOST_CELLS + 1).astype(np.intp)[:-1]
        counts = np.diff(np.append(starts, len(offsets)))
        values = np.add.reduceat(offsets, starts) / counts
    drawn = np.random.default_rng(seed).multinomial(len(offsets), counts / len(offsets), _RESAMPLES).astype(np.float64)
    drawn = drawn[np.count_nonzero(drawn, axis=1) > 1]
    edges = np.quantile(_ends(values, drawn, share), ((1 - level) / 2, (1 + level) / 2), axis=0)
    return (float(own[0]), float(own[1])), np.asarray(edges.T, dtype=np.float64)


def _ends(values: Floats, weights: Floats, share: float) -> Floats:
    """Limits of rising ``values`` (shape (k,)) by how often each stands in a sample (shape (samples, k)); shape (samples, 2).

    A biweight centre with c = 3.7, spreads with c = 205.6 and 3.7, and t with n − 1 degrees of freedom; mean and SD where more
    than half of the values are one.
    """
    from scipy.special import stdtrit

    n = float(weights[0].sum())
    t = float(stdtrit(n - 1, (1 + share) / 2))
    median = _middle(np.broadcast_to(values, weights.shape), weights)
    away = np.abs(values - median[:, None])
    order = np.argsort(away, axis=1, kind="stable")
    mad = _middle(np.take_along_axis(away, order, 1), np.take_along_axis(weights, order, 1))
    flat = mad == 0
    mad = np.where(flat, 1.0, mad)
    centre = median
    for _ in range(_TURNS):
        u = (values - centre[:, None]) / (3.7 * mad / _MAD)[:, None]
        pull = weights * np.where(np.abs(u) < 1, (1 - u * u) ** 2, 0.0)
        moved = pull @ values / pull.sum(axis=1)
        settled = bool((np.abs(moved - centre) <= _SETTLED * mad).all())
        centre = moved
        if settled:
            break
    wide = _spread(values, weights, median, 205.6 * mad / _MAD)
    near = _spread(values, weights, centre, 3.7 * wide)
    mean = weights @ values / n
    sd = np.sqrt((weights * (values - mean[:, None]) ** 2).sum(axis=1) / (n - 1))
    middle = np.where(flat, mean, centre)
    reach = t * np.where(flat, sd * np.sqrt(1 + 1 / n), np.sqrt(wide**2 + near**2 / n))
    return np.stack([middle - reach, middle + reach], axis=1)


def _middle(values: NDArray[np.float64], weights: Floats) -> Floats:
    """The median of each line of rising values by their weights."""
    below = np.cumsum(weights, axis=1)
    n = below[0, -1]
    lines = np.arange(len(below))
    ranks = ((n - 1) // 2, n // 2)
    ends = [values[lines, (below <= rank).sum(axis=1)] for rank in ranks]
    return np.asarray((ends[0] + ends[1]) / 2, dtype=np.float64)


def _spread(values: Floats, weights: Floats, centre: Floats, scale: Floats) -> Floats:
    """The biweight estimate of spread about a centre (Lax 1985)."""
    n = weights[0].sum()
    apart = values - centre[:, None]
    u2 = (apart / scale[:, None]) ** 2
    inside = u2 < 1
    u2 = np.where(inside, u2, 1.0)
    above = (weights * apart**2 * (1 - u2) ** 4).sum(axis=1)
    below = (weights * (1 - u2) * (1 - 5 * u2) * inside).sum(axis=1)
    return np.asarray(np.sqrt(n * above / (below * np.maximum(1.0, below - 1))), dtype=np.float64)
