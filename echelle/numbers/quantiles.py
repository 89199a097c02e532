"""The nine sample quantiles of Hyndman & Fan (1996), The American Statistician 50, 361-365."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Literal

import numpy as np

from echelle.numbers.decimals import decimal
from echelle.numbers.sample import Floats, Rising, sample_of

QuantileType = Literal[1, 2, 3, 4, 5, 6, 7, 8, 9]
_HALF, _ZERO, _ONE = Fraction(1, 2), Fraction(0), Fraction(1)


@dataclass(frozen=True)
class QuantileDefinition:
    """A definition of a quantile: a position on the sorted values is n·p + m, m the ``shift`` at p; what stands between two
    ranks is a point on the way from the one to the other, or by ``step`` one of them or their middle.
    """

    shift: Callable[[Fraction], Fraction]
    step: Callable[[int, Fraction], Fraction] | None = None
    source: str = "Hyndman & Fan 1996"


def _next(below: int, rest: Fraction) -> Fraction:
    return _ONE if rest > 0 else _ZERO


def _middle_of_ties(below: int, rest: Fraction) -> Fraction:
    return _ONE if rest > 0 else _HALF


def _nearest_even(below: int, rest: Fraction) -> Fraction:
    return _ZERO if rest == 0 and below % 2 == 0 else _ONE


QUANTILE_DEFINITIONS: dict[QuantileType, QuantileDefinition] = {
    1: QuantileDefinition(lambda p: _ZERO, _next),
    2: QuantileDefinition(lambda p: _ZERO, _middle_of_ties),
    3: QuantileDefinition(lambda p: -_HALF, _nearest_even),
    4: QuantileDefinition(lambda p: _ZERO, source="Parzen 1979"),
    5: QuantileDefinition(lambda p: _HALF, source="Hazen 1914"),
    6: QuantileDefinition(lambda p: p, source="Weibull 1939"),
    7: QuantileDefinition(lambda p: 1 - p, source="Gumbel 1939"),
    8: QuantileDefinition(lambda p: (p + 1) / 3),
    9: QuantileDefinition(lambda p: p / 4 + Fraction(3, 8), source="Blom 1958"),
}


def quantile(ordered: Rising, p: float, definition: QuantileType = 7) -> float:
    """One quantile of ``ordered`` (shape (n,), sorted upwards, n ≥ 1) at probability ``p`` in [0, 1], rounded once.

    Positions that are whole on paper count as whole within a few ulps, so that 0.07 of 100 values is the 7th.
    Raises ValueError for no values or for a probability outside [0, 1].
    """
    return float(exact_quantile(ordered, p, definition))


def quantiles(ordered: Rising, ps: Sequence[float], definition: QuantileType = 7) -> list[float]:
    """Several quantiles of sorted values; see :func:`quantile`."""
    return [quantile(ordered, p, definition) for p in ps]


def quantiles_without_each(ordered: Rising, p: float) -> Floats:
    """The type-7 quantile with each of rising values (n ≥ 2) left out in turn, shape (n,)."""
    values, n = sample_of(ordered).repeats, len(ordered)
    below, share = position(n - 1, p)
    low, high = below - 1, min(below, n - 2)
    each = np.arange(n)
    return on_the_way(values[low + (low >= each)], values[high + (high >= each)], share)


def on_the_way(low: Floats, high: Floats, share: Fraction) -> Floats:
    """A share of the way from low to high: one rounding where these are whole, so that ties stay ties."""
    above, below = share.numerator, share.denominator
    return np.asarray((low * float(below - above) + high * float(above)) / float(below), dtype=np.float64)


def exact_quantile(ordered: Rising, p: float, definition: QuantileType = 7) -> Fraction:
    """The quantile of the decimals that the values stand for; see :func:`quantile`."""
    if len(ordered) == 0:
        raise ValueError("a quantile needs at least one value")
    n = len(ordered)
    below, share = position(n, p, definition)
    low, high = (float(ordered[min(max(rank, 1), n) - 1]) for rank in (below, below + 1))
    if low == high or share == 0:
        return decimal(low)
    least = decimal(low)
    return least + share * (decimal(high) - least)


@lru_cache(4_096)
def position(n: int, p: float, definition: QuantileType = 7) -> tuple[int, Fraction]:
    """The rank below (from 1, may be 0) and the share of the way to the next one."""
    if not 0.0 <= p <= 1.0:
        raise ValueError("a probability lies between 0 and 1")
    rule, share = QUANTILE_DEFINITIONS[definition], decimal(p)
    exact = n * share + rule.shift(share)
    near = round(exact)
    whole = abs(exact - near) <= 4.0 * np.finfo(np.float64).eps * max(1, n)
    below = near if whole else math.floor(exact)
    rest = _ZERO if whole else exact - below
    return below, rest if rule.step is None else rule.step(below, rest)
