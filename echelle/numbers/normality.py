"""Tests of normality, through SciPy, with the limits of n said."""

from __future__ import annotations

import warnings
from dataclasses import dataclass

import numpy as np

from echelle.numbers.decimals import Floats, decimals_of
from echelle.numbers.remarks import Remark, remark

SHAPIRO_MOST = 5_000


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


def shapiro_wilk(values: Floats) -> ShapeTest:
    """Shapiro & Wilk 1965, by Royston 1995; needs 3 different values at least, its p-value holds up to n = 5 000."""
    from scipy import stats

    if len(values) < 3 or np.ptp(values) == 0:
        return ShapeTest(None, None, remark("needs-three-different"))
    with warnings.catch_warnings():
        # The limit of n is in the remark.
        warnings.simplefilter("ignore")
        [offsets] = decimals_of(np.sort(values)).samples
        test = stats.shapiro((offsets - offsets[0]) / (offsets[-1] - offsets[0]))
    note = remark("p-unreliable", most=SHAPIRO_MOST) if len(values) > SHAPIRO_MOST else None
    return ShapeTest(float(test.statistic), float(test.pvalue), note)


def anderson_darling(ordered: Floats) -> ShapeTest:
    """Anderson & Darling 1954 against a normal with the lane's mean and SD; p by D'Agostino & Stephens 1986, table 4.9."""
    from scipy import stats

    n = len(ordered)
    if n < 8 or ordered[0] == ordered[-1]:
        return ShapeTest(None, None, remark("needs-eight-different"))
    [offsets] = decimals_of(ordered).samples
    z = (offsets - offsets.mean()) / np.std(offsets, ddof=1)
    below, above = stats.norm.logcdf(z), stats.norm.logsf(z[::-1])
    a2 = -n - float(np.sum((2 * np.arange(1, n + 1) - 1) * (below + above))) / n
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
