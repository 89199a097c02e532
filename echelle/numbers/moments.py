"""Mean, spread and shape of one lane."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from echelle.numbers.quantiles import Floats

_FEW = 2_000


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
    if -900 < power < 900:
        z = values * 2.0**-power
        centre = mean * 2.0**-power
    else:
        z = np.ldexp(values, -power)
        centre = total(z) / n
    z -= centre
    # Again a power of two: the largest deviation is then about 1.
    step = math.frexp(max(centre - math.ldexp(low, -power), math.ldexp(high, -power) - centre))[1]
    z *= 2.0**-step
    z -= float(np.mean(z))
    squares = z * z
    m2 = float(np.mean(squares))
    sd = math.ldexp(math.sqrt(m2 * n / (n - 1)), power + step)
    variance = sd * sd
    skewness = kurtosis = None
    if n >= 3:
        z *= squares
        g1 = float(np.mean(z)) / m2**1.5
        skewness = g1 * math.sqrt(n * (n - 1)) / (n - 2)
    if n >= 4:
        squares *= squares
        g2 = float(np.mean(squares)) / m2**2 - 3.0
        kurtosis = (n - 1) / ((n - 2) * (n - 3)) * ((n + 1) * g2 + 6.0)
    return Moments(mean, variance if math.isfinite(variance) else None, sd, sd / math.sqrt(n), skewness, kurtosis)


@dataclass(frozen=True)
class Geometric:
    """Geometric mean, and the geometric SD: the factor by which values usually differ from it."""

    mean: float
    sd: float | None


def geometric(values: Floats) -> Geometric | None:
    """exp of the mean and SD (n − 1) of the logarithms; None where a value is not above zero, or there is none."""
    if len(values) == 0 or not bool((values > 0).all()):
        return None
    logs = moments(np.log(values))
    assert logs.mean is not None
    return Geometric(math.exp(logs.mean), None if logs.sd is None else math.exp(logs.sd))


def coefficient_of_variation(shape: Moments) -> float | None:
    """SD over mean; None where the mean is not above zero."""
    return shape.sd / shape.mean if shape.sd is not None and shape.mean is not None and shape.mean > 0 else None


def total(values: Floats) -> float:
    """The sum, rounded once. Raises OverflowError where the sum does.

    Of many values the leading bits are added first, so few that every partial sum is exact, then the next ones (Rump, Ogita &
    Oishi 2008, AccSum); after two such parts so little is left that its rounding does not show.
    """
    n = len(values)
    if n <= _FEW:
        return math.fsum(values.tolist())
    largest = max(-float(values.min()), float(values.max()))
    power = math.frexp(largest)[1]
    if not math.isfinite(largest) or power > 900:
        return math.fsum(values.tolist())
    bits = 52 - n.bit_length()
    # Whatever is added to this and taken away again keeps its leading bits alone.
    raised = math.ldexp(1.5, 52 + power - bits)
    rest, parts = values, list[float]()
    for leading in np.empty((2, n)):
        np.add(rest, raised, out=leading)
        leading -= raised
        parts.append(float(leading.sum()))
        rest = np.subtract(rest, leading, out=leading)
        raised = math.ldexp(raised, -bits)
    return math.fsum([*parts, float(rest.sum())])


def _mean(values: Floats) -> float:
    """The mean, rounded once: an exact sum, scaled where the sum itself would overflow."""
    n = len(values)
    try:
        return total(values) / n
    except OverflowError:
        return math.fsum(values / n)
