"""Fences, whiskers and outliers (Tukey 1977, Exploratory Data Analysis, chapter 2)."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.decimals import decimal, rounded
from echelle.numbers.sample import Floats, Rising


@dataclass(frozen=True)
class Fences:
    """The limits beyond which a value counts as an outlier, in the unit of the values."""

    low: float
    high: float


def quartile_fences(q1: float | Fraction, q3: float | Fraction, k: float = 1.5) -> Fences:
    """Q1 − k·IQR and Q3 + k·IQR, rounded once: a value on a fence on paper lies on it here. Raises ValueError for a negative
    ``k``.
    """
    if k < 0:
        raise ValueError("a fence lies at or outside the quartiles, so k is 0 or more")
    low, high = (end if isinstance(end, Fraction) else decimal(end) for end in (q1, q3))
    return fences_at(low, high, decimal(k) * (high - low))


def fences_at(low: Fraction, high: Fraction, reach: Fraction) -> Fences:
    """Fences so far below ``low`` and above ``high``, rounded once; infinite beyond what float64 holds."""
    return Fences(rounded(low - reach), rounded(high + reach))


def whiskers(ordered: Rising, fences: Fences, q1: float, q3: float) -> tuple[float, float]:
    """The furthest values on or inside the fences, never inside the box.

    ``ordered`` has shape (n,), sorted upwards. With no value inside the fences they stand at q1 and q3.
    """
    first = int(ordered.searchsorted(fences.low, "left"))
    last = int(ordered.searchsorted(fences.high, "right")) - 1
    if first > last:
        return q1, q3
    return min(float(ordered[first]), q1), max(float(ordered[last]), q3)


def count_beyond(ordered: Rising, fences: Fences) -> int:
    """How many values lie strictly beyond a fence."""
    return int(ordered.searchsorted(fences.low, "left")) + len(ordered) - int(ordered.searchsorted(fences.high, "right"))


def beyond_fence(values: Floats, fences: Fences) -> NDArray[np.intp]:
    """Places (from 0) of the values strictly beyond a fence, in the order of ``values``."""
    beyond = values < fences.low
    beyond |= values > fences.high
    return np.flatnonzero(beyond)
