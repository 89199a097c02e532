"""Tests of normality, through SciPy, with the limits of n said."""

from __future__ import annotations

import warnings
from dataclasses import dataclass

import numpy as np

from echelle.numbers.decimals import decimals_of
from echelle.numbers.remarks import Remark, remark
from echelle.numbers.sample import Floats, Sample

SHAPIRO_MOST = 5_000
# Beyond so many values the statistic says nothing that a figure does not.
_MOST_WRITTEN = 1_000_000


@dataclass(frozen=True)
class ShapeTest:
    """A statistic with its p-value; ``remark`` says why there is none, or how far to trust it."""

    statistic: float | None
    p: float | None
    remark: Remark | None = None


def normal_curve(at: Floats, mean: float, sd: float) -> Floats:
    """The normal density with a lane's mean and SD (above zero) at ``at``, of the same shape, per unit of the measure."""
    from scipy import stats

    return np.asarray(stats.norm.pdf(at, mean, sd), dtype=np.float64)


def shapiro_wilk(sample: Sample) -> ShapeTest:
    """Shapiro & Wilk 1965, by Royston 1995; needs 3 different values at least, its p-value holds up to n = 5 000."""
    from scipy import stats

    if len(sample) < 3 or len(sample.values) == 1:
        return ShapeTest(None, None, remark("needs-three-different"))
    if len(sample) > _MOST_WRITTEN:
        return ShapeTest(None, None, remark("test-not-computed", most=f"{_MOST_WRITTEN:,}"))
    with warnings.catch_warnings():
        # The limit of n is in the remark.
        warnings.simplefilter("ignore")
        offsets = decimals_of(sample).samples[0].repeats
        test = stats.shapiro((offsets - offsets[0]) / (offsets[-1] - offsets[0]))
    note = remark("p-unreliable", most=SHAPIRO_MOST) if len(sample) > SHAPIRO_MOST else None
    return ShapeTest(float(test.statistic), float(test.pvalue), note)


def anderson_darling(sample: Sample) -> ShapeTest:
    """Anderson & Darling 1954 against a normal with the lane's mean and SD; p by D'Agostino & Stephens 1986, table 4.9."""
    from scipy import stats

    n = len(sample)
    if n < 8 or len(sample.values) == 1:
        return ShapeTest(None, None, remark("needs-eight-different"))
    [offsets] = decimals_of(sample).samples
    z = (offsets.values - offsets.mean()) / offsets.sd(1)
    # The sum of 2i − 1 over ranks that tie is a difference of squares; for the upper tail ranks count from the other end.
    last = offsets.ends.astype(np.float64)
    before = last - offsets.weights
    lower, upper = last**2 - before**2, (n - before) ** 2 - (n - last) ** 2
    a2 = -n - float(np.sum(lower * stats.norm.logcdf(z) + upper * stats.norm.logsf(z))) / n
    a = a2 * (1 + 0.75 / n + 2.25 / n**2)
    if a >= 0.6:
        p = np.exp(1.2937 - 5.709 * a + 0.0186 * a * a)
    elif a > 0.34:
        p = np.exp(0.9177 - 4.279 * a - 1.38 * a * a)
    elif a > 0.2:
        p = 1 - np.exp(-8.318 + 42.796 * a - 59.938 * a * a)
    else:
        p = 1 - np.exp(-13.436 + 101.14 * a - 223.73 * a * a)
    return ShapeTest(a2, float(np.clip(p, 0, 1)))
