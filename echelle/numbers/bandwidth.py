"""Bandwidth rules. Each names what stood in where it has no answer."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from echelle.numbers.bins import recording_step
from echelle.numbers.decimals import decimals_of, root, squared_deviations
from echelle.numbers.pair_sums import PairSums
from echelle.numbers.quantiles import exact_quantile
from echelle.numbers.remarks import Remark, remark
from echelle.numbers.sample import Rising, Sample, sample_of

BandwidthRule = Literal["silverman", "scott", "sheather-jones", "improved-plug-in", "cross-validation"]
BANDWIDTH_RULES: tuple[BandwidthRule, ...] = get_args(BandwidthRule)
_GRID = 1 << 14
# Roots are sought at widths this far apart, down to so small a part of the spread.
_STEP, _SMALLEST, _SMALLEST_VALIDATED = 1.09, 1e-6, 1e-3


@dataclass(frozen=True)
class Bandwidth:
    """A bandwidth, None where there is none (n < 2, all values equal); ``remark`` says what stood in."""

    value: float | None
    remark: Remark | None = None


def bandwidth_of(ordered: Rising, rule: BandwidthRule | float, times: float = 1.0) -> Bandwidth:
    """The bandwidth of ``ordered`` (rising) by a rule or as given, times a smoothing factor.

    Silverman 1986 (3.31); Scott 1992 (6.42); Sheather & Jones 1991, solve the equation; Botev, Grotowski & Kroese 2010;
    least-squares cross-validation, Rudemo 1982 and Bowman 1984.
    """
    sample, n = sample_of(ordered), len(ordered)
    if n < 2 or ordered[0] == ordered[-1]:
        return Bandwidth(None, remark("no-density"))
    if not isinstance(rule, str):
        return Bandwidth(float(rule) * times)
    decimals = decimals_of(sample)
    [offsets] = decimals.samples
    sd = root(squared_deviations(offsets, decimals.whole) / (n - 1))
    iqr = float(exact_quantile(offsets, 0.75) - exact_quantile(offsets, 0.25))
    chosen = BANDWIDTHS[rule]
    value, note = chosen.bandwidth(offsets, sd, iqr), None
    if value is None or not math.isfinite(value) or value <= 0:
        value = BANDWIDTHS[chosen.stand_in].bandwidth(offsets, sd, iqr)
        assert value is not None, "a rule that stands in always has an answer"
        note = remark("bandwidth-no-answer", rule=rule, **{"stand-in": chosen.stand_in})
    result = decimals.length(times * value)
    step = _step_above(result, sample)
    if step is None:
        return Bandwidth(result, note)
    if note is not None:
        return Bandwidth(step, remark("bandwidth-no-answer", rule=rule, **{"stand-in": f"the recording step of {step:g}"}))
    return Bandwidth(step, remark("bandwidth-below-step", rule=rule, step=f"{step:g}"))


def _step_above(bandwidth: float, sample: Sample) -> float | None:
    """The step in which values were recorded, where a bandwidth is below it: the curve would show that step alone."""
    distinct = len(sample.values)
    if distinct < 3 or bandwidth * (distinct - 1) >= sample[-1] - sample[0]:
        return None
    step = recording_step(sample)
    return step if step is not None and bandwidth < step else None


def silverman(sd: float, iqr: float, n: int) -> float:
    """0.9 · min(SD, IQR/1.34) · n^(−1/5); the SD alone where the IQR is 0."""
    return float(0.9 * (min(sd, iqr / 1.34) if iqr > 0 else sd) * n**-0.2)


def _sheather_jones(values: Sample, iqr: float) -> float | None:
    """The equation of Sheather & Jones 1991 (12), sums over all i and j divided by n(n − 1); of several roots the largest. One
    there is wherever the interquartile range is above 0.
    """
    from scipy.optimize import brentq

    n = len(values)
    # Quartiles so close, where the spread is one, are ties but for rounding.
    if iqr <= 1e-9:
        return None
    top = 4.0 * values.sd()
    sums = PairSums(values, top)
    a, b = 0.920 * iqr * n ** (-1 / 7), 0.912 * iqr * n ** (-1 / 9)
    if not sums.reaches(min(a, b) / 8):
        return None
    factor = 1.357 * (sums.derivative(a, 4) / -sums.derivative(b, 6)) ** (1 / 7)

    def equation(h: float) -> float:
        roughness = sums.derivative(factor * h ** (5 / 7), 4) / (n * (n - 1))
        return float((1 / (2 * math.sqrt(math.pi) * n * roughness)) ** 0.2 - h)

    # Far out the equation is below 0 and near 0 above it.
    high = top
    while (low := high / _STEP) > _SMALLEST * iqr and sums.reaches(factor * low ** (5 / 7)):
        if equation(low) >= 0:
            return float(brentq(equation, low, high, xtol=1e-14, rtol=1e-12))
        high = low
    return None


def _improved_plug_in(values: Sample, iqr: float) -> float | None:
    """The fixed point of Botev, Grotowski & Kroese 2010 (their algorithm 1, l = 7) on a grid of 2^14 cells."""
    from scipy import fft
    from scipy.optimize import brentq

    low, high = values[0], values[-1]
    margin = (high - low) / 2
    low, span = low - margin, (high - low) + 2 * margin
    cells = np.minimum(((values.values - low) / span * _GRID).astype(np.int64), _GRID - 1)
    counts = np.bincount(cells, weights=values.counts, minlength=_GRID)
    n = len(values.values)
    squares = (fft.dct(counts / counts.sum(), type=2)[1:] / 2) ** 2
    k = np.arange(1, _GRID, dtype=np.float64) ** 2
    powers = {s: k**s * squares for s in range(2, 8)}
    rate = -k * math.pi**2

    def derivative(s: int, time: float) -> float:
        """The squared derivative of order s of the curve at a width's square of ``time``."""
        return 2 * math.pi ** (2 * s) * float(np.sum(powers[s] * np.exp(rate * time)))

    def fixed_point(t: float) -> float:
        f = derivative(7, t)
        for s in range(6, 1, -1):
            odd = math.prod(range(1, 2 * s, 2)) / math.sqrt(2 * math.pi)
            const = (1 + 0.5 ** (s + 0.5)) / 3
            if f <= 0:
                return math.nan
            time = (2 * const * odd / (n * f)) ** (2 / (3 + 2 * s))
            f = derivative(s, time)
        if f <= 0:
            return math.nan
        return float(t - (2 * n * math.sqrt(math.pi) * f) ** -0.4)

    before, at_before = 1e-12, fixed_point(1e-12)
    for t in np.geomspace(1e-10, 0.1, 60):
        now = fixed_point(float(t))
        if math.isfinite(at_before) and at_before < 0 <= now:
            return math.sqrt(float(brentq(fixed_point, before, float(t), xtol=1e-18, rtol=1e-10))) * span
        before, at_before = float(t), now
    return None


def _cross_validation(values: Sample, iqr: float) -> float | None:
    """The minimum of the least-squares criterion for the gaussian kernel; None where it falls towards zero (ties)."""
    from scipy.optimize import minimize_scalar

    n, usual = len(values), min(1.0, iqr / 1.34) if iqr > 0 else 1.0
    sums = PairSums(values, 6.0)
    own = n / math.sqrt(2 * math.pi)

    def criterion(log_h: float) -> float:
        h = math.exp(log_h)
        return sums.derivative(math.sqrt(2) * h, 0) / n**2 - 2 * (sums.derivative(h, 0) - own / h) / (n * (n - 1))

    # Downwards, until the criterion is worse than that of no curve at all, which it is near 0 where no values tie.
    width, steps, heights = 3.0, list[float](), list[float]()
    while width > usual * _SMALLEST_VALIDATED and sums.reaches(width):
        steps.append(math.log(width))
        heights.append(criterion(steps[-1]))
        if heights[-1] > 0:
            break
        width /= _STEP
    best = int(np.argmin(heights))
    if best == len(steps) - 1:
        return None
    bounds = (steps[best + 1], steps[max(best - 1, 0)])
    minimum = minimize_scalar(criterion, bounds=bounds, method="bounded", options={"xatol": 1e-10})
    return math.exp(float(minimum.x))


@dataclass(frozen=True)
class WidthRule:
    """A published rule for the bandwidth: of a sample, its SD and IQR, None where it has no answer; the rule that stands in;
    about how many seconds it takes of so many different values.
    """

    bandwidth: Callable[[Sample, float, float], float | None]
    source: str
    stand_in: BandwidthRule = "silverman"
    seconds: Callable[[int], float] = lambda distinct: 0.0


def _of_unit(rule: Callable[[Sample, float], float | None]) -> Callable[[Sample, float, float], float | None]:
    """A rule that sees values of unit spread about zero, which changes nothing but keeps powers in range."""

    def bandwidth(ordered: Sample, sd: float, iqr: float) -> float | None:
        middle = ordered[len(ordered) // 2]
        unit = ordered.moved(lambda values: np.asarray((values - middle) / sd, dtype=np.float64))
        of_unit = rule(unit, iqr / sd)
        return None if of_unit is None else sd * of_unit

    return bandwidth


BANDWIDTHS: dict[BandwidthRule, WidthRule] = {
    "silverman": WidthRule(lambda x, sd, iqr: silverman(sd, iqr, len(x)), "Silverman 1986 (3.31)"),
    "scott": WidthRule(lambda x, sd, iqr: 1.06 * sd * len(x) ** -0.2, "Scott 1992 (6.42)"),
    "sheather-jones": WidthRule(
        _of_unit(_sheather_jones), "Sheather & Jones 1991, solve the equation", seconds=lambda n: 0.008 + 1e-6 * n
    ),
    "improved-plug-in": WidthRule(_of_unit(_improved_plug_in), "Botev, Grotowski & Kroese 2010", seconds=lambda n: 0.04),
    "cross-validation": WidthRule(
        _of_unit(_cross_validation), "Rudemo 1982; Bowman 1984", seconds=lambda n: 0.01 + min(0.05, 2e-5 * n) + 2e-6 * n
    ),
}
