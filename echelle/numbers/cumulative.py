"""Shares of rows up to a value, and normal-probability plotting."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from echelle.numbers.quantiles import quantiles
from echelle.numbers.sample import Floats, Rising, sample_of

PlottingPositions = Literal["blom", "hazen", "weibull"]
POSITIONS: tuple[PlottingPositions, ...] = get_args(PlottingPositions)
_SHIFT: dict[PlottingPositions, float] = {"blom": 3 / 8, "hazen": 1 / 2, "weibull": 0.0}


@dataclass(frozen=True)
class Line:
    """value = centre + slope · z."""

    centre: float
    slope: float


def steps(ordered: Rising) -> tuple[Floats, Floats]:
    """The different values (shape (k,)) and the share of rows at or below each."""
    sample = sample_of(ordered)
    return sample.values, sample.ends / len(sample)


def plotting_positions(n: int, kind: PlottingPositions = "blom") -> Floats:
    """The probability of each rank: (i − a)/(n + 1 − 2a), a = 3/8 (Blom 1958), 1/2 (Hazen 1914) or 0 (Weibull 1939)."""
    a = _SHIFT[kind]
    return np.asarray((np.arange(1, n + 1) - a) / (n + 1 - 2 * a), dtype=np.float64)


def normal_scores(n: int, kind: PlottingPositions = "blom") -> Floats:
    """The normal quantiles at the plotting positions."""
    from scipy.special import ndtri

    return np.asarray(ndtri(plotting_positions(n, kind)), dtype=np.float64)


def robust_line(ordered: Rising) -> Line:
    """The line through the quartiles of the values (type 7) and of the normal distribution."""
    from scipy.special import ndtri

    low, high = quantiles(ordered, (0.25, 0.75), 7)
    z = float(ndtri(0.75))
    return Line((low + high) / 2, (high - low) / (2 * z))


def greatest_distance(first: Rising, second: Rising) -> tuple[float, float]:
    """The greatest distance between two step functions (Kolmogorov, Smirnov) and the value at which it stands."""
    both = np.unique(np.concatenate([sample_of(first).values, sample_of(second).values]))
    apart = first.searchsorted(both, "right") / len(first) - second.searchsorted(both, "right") / len(second)
    at = int(np.argmax(np.abs(apart)))
    return float(abs(apart[at])), float(both[at])
