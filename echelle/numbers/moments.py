"""Mean, spread and shape of one lane."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from echelle.numbers.quantiles import Floats


@dataclass(frozen=True)
class Moments:
    """What has no value is None: SD needs n ≥ 2, skewness n ≥ 3, excess kurtosis n ≥ 4 and some spread."""

    mean: float | None
    variance: float | None
    sd: float | None
    se: float | None
    skewness: float | None
    kurtosis: float | None


def moments(values: Floats) -> Moments:
    """Moments of ``values`` (shape (n,), finite).

    Variance has n − 1 below; skewness is the adjusted Fisher-Pearson G1 and kurtosis the bias-adjusted excess G2
    (Joanes & Gill 1998, The Statistician 47, 183-189). Deviations are scaled by the largest one, so that squares
    neither overflow nor vanish.
    """
    n = len(values)
    if n == 0:
        return Moments(None, None, None, None, None, None)
    mean = _mean(values)
    if n == 1:
        return Moments(mean, None, None, None, None, None)
    low, high = float(np.min(values)), float(np.max(values))
    if low == high:
        return Moments(low, 0.0, 0.0, 0.0, None, None)
    # Powers of two bring the largest value near 1 without rounding: nothing overflows, nothing vanishes.
    power = math.frexp(max(abs(low), abs(high)))[1]
    scaled = np.ldexp(values, -power)
    apart = scaled - math.fsum(scaled) / n
    unit = float(np.max(np.abs(apart)))
    z = apart / unit
    z = z - float(np.mean(z))
    squares = z * z
    m2 = float(np.mean(squares))
    sd = math.ldexp(unit * math.sqrt(m2 * n / (n - 1)), power)
    variance = sd * sd
    skewness = kurtosis = None
    if n >= 3:
        g1 = float(np.mean(squares * z)) / m2**1.5
        skewness = g1 * math.sqrt(n * (n - 1)) / (n - 2)
    if n >= 4:
        g2 = float(np.mean(squares * squares)) / m2**2 - 3.0
        kurtosis = (n - 1) / ((n - 2) * (n - 3)) * ((n + 1) * g2 + 6.0)
    return Moments(mean, variance if math.isfinite(variance) else None, sd, sd / math.sqrt(n), skewness, kurtosis)


def _mean(values: Floats) -> float:
    """The mean, rounded once: an exact sum, scaled where the sum itself would overflow."""
    n = len(values)
    try:
        return math.fsum(values) / n
    except OverflowError:
        return math.fsum(values / n)
