"""The nine sample quantiles of Hyndman & Fan (1996), The American Statistician 50, 361-365."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
QuantileType = Literal[1, 2, 3, 4, 5, 6, 7, 8, 9]

# The shift m of each definition, as a function of p; a position on the sorted values is n·p + m.
_SHIFT: dict[int, Callable[[float], float]] = {
    1: lambda p: 0.0,
    2: lambda p: 0.0,
    3: lambda p: -0.5,
    4: lambda p: 0.0,
    5: lambda p: 0.5,
    6: lambda p: p,
    7: lambda p: 1.0 - p,
    8: lambda p: (p + 1.0) / 3.0,
    9: lambda p: p / 4.0 + 3.0 / 8.0,
}


def quantile(ordered: Floats, p: float, definition: QuantileType = 7) -> float:
    """One quantile of ``ordered`` (shape (n,), sorted upwards, n ≥ 1) at probability ``p`` in [0, 1].

    Positions that are whole on paper count as whole within a few ulps, so that 0.07 of 100 values is the 7th.
    Raises ValueError for no values or for a probability outside [0, 1].
    """
    n = len(ordered)
    if n == 0:
        raise ValueError("a quantile needs at least one value")
    if not 0.0 <= p <= 1.0:
        raise ValueError("a probability lies between 0 and 1")
    below, share = _position(n, p, definition)
    low = float(ordered[min(max(below, 1), n) - 1])
    high = float(ordered[min(max(below + 1, 1), n) - 1])
    if share == 0.0 or low == high:
        return low
    if share == 1.0:
        return high
    return _between(low, high, share)


def quantiles(ordered: Floats, ps: Sequence[float], definition: QuantileType = 7) -> list[float]:
    """Several quantiles of sorted values; see :func:`quantile`."""
    return [quantile(ordered, p, definition) for p in ps]


def _position(n: int, p: float, definition: int) -> tuple[int, float]:
    """The rank below (from 1, may be 0) and the share of the way to the next one."""
    exact = n * p + _SHIFT[definition](p)
    near = round(exact)
    tolerance = 4.0 * np.finfo(np.float64).eps * max(1.0, float(n))
    below, rest = (near, 0.0) if abs(exact - near) <= tolerance else (math.floor(exact), exact - math.floor(exact))
    if definition == 1:
        return below, (1.0 if rest > 0 else 0.0)
    if definition == 2:
        return below, (1.0 if rest > 0 else 0.5)
    if definition == 3:
        even = below % 2 == 0
        return below, (0.0 if rest == 0 and even else 1.0)
    return below, rest


def _between(low: float, high: float, share: float) -> float:
    """The point a share of the way from low to high, never outside them, without overflow."""
    width = high - low
    if math.isinf(width):
        return low * (1.0 - share) + high * share
    value = low + share * width if share <= 0.5 else high - (1.0 - share) * width
    return min(max(value, low), high)
