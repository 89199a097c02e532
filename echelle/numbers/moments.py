"""Mean, spread and shape of one lane."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from echelle.numbers.decimals import decimals_of, finite, mean_and_squares, quick_total, root
from echelle.numbers.sample import Floats, Sample, sample_of_unordered


@dataclass(frozen=True)
class Moments:
    """What has no value is None: SD needs n ≥ 2, skewness n ≥ 3, excess kurtosis n ≥ 4 and some spread."""

    mean: float | None
    variance: float | None
    sd: float | None
    se: float | None
    skewness: float | None
    kurtosis: float | None


def moments(values: Floats | Sample) -> Moments:
    """Moments of finite values: a sample, or shape (n,) in any order.

    Variance has n − 1 below; skewness is the adjusted Fisher-Pearson G1 and kurtosis the bias-adjusted excess G2
    (Joanes & Gill 1998, The Statistician 47, 183-189). Mean and variance of decimals are exact until they are rounded once.
    """
    sample = sample_of_unordered(values)
    n = len(sample)
    if n == 0:
        return Moments(None, None, None, None, None, None)
    decimals = decimals_of(sample)
    [offsets] = decimals.samples
    centre, squares = mean_and_squares(offsets, decimals.whole)
    mean = decimals.place(centre)
    if n == 1:
        return Moments(mean, None, None, None, None, None)
    if not squares:
        return Moments(mean, 0.0, 0.0, 0.0, None, None)
    unit = decimals.step**2
    variance, sd, se = squares / (n - 1) * unit, root(squares / (n - 1) * unit), root(squares / (n - 1) / n * unit)
    skewness, kurtosis = _shape(offsets, centre, squares)
    return Moments(mean, finite(variance), sd, se, skewness, kurtosis)


def _shape(offsets: Sample, centre: Fraction, squares: Fraction) -> tuple[float | None, float | None]:
    """Skewness and kurtosis of offsets about their mean with its sum of squares."""
    n = len(offsets)
    z = offsets.values - float(centre)
    # A power of two brings the largest deviation near 1, so that powers neither overflow nor vanish.
    step = math.frexp(max(float(z.max()), -float(z.min())))[1]
    z *= 2.0**-step
    m2 = float(squares / n / Fraction(4) ** step)
    skewness = kurtosis = None
    powers = z * z
    # Cubes take the place of the deviations, and fourth powers that of their squares.
    for power, by in ((z, powers), (powers, powers)):
        np.multiply(power, by, out=power)
    if offsets.counts is not None:
        z *= offsets.counts
        powers *= offsets.counts
    if n >= 3:
        skewness = quick_total(z) / n / m2**1.5 * math.sqrt(n * (n - 1)) / (n - 2)
    if n >= 4:
        kurtosis = (n - 1) / ((n - 2) * (n - 3)) * ((n + 1) * (quick_total(powers) / n / m2**2 - 3.0) + 6.0)
    return skewness, kurtosis


@dataclass(frozen=True)
class Geometric:
    """Geometric mean, and the geometric SD: the factor by which values usually differ from it."""

    mean: float
    sd: float | None


def geometric(sample: Sample) -> Geometric | None:
    """exp of the mean and SD (n − 1) of the logarithms; None where a value is not above zero, or there is none."""
    if len(sample) == 0 or sample[0] <= 0:
        return None
    logs = moments(sample.moved(np.log))
    assert logs.mean is not None
    return Geometric(math.exp(logs.mean), None if logs.sd is None else math.exp(logs.sd))


def coefficient_of_variation(shape: Moments) -> float | None:
    """SD over mean; None where the mean is not above zero."""
    return shape.sd / shape.mean if shape.sd is not None and shape.mean is not None and shape.mean > 0 else None
