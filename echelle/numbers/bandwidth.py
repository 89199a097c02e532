"""Bandwidth rules. Each names what stood in where it has no answer."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from echelle.numbers.quantiles import Floats, quantiles
from echelle.numbers.remarks import Remark, remark

BandwidthRule = Literal["silverman", "scott", "sheather-jones", "improved-plug-in", "cross-validation"]
BANDWIDTH_RULES: tuple[BandwidthRule, ...] = get_args(BandwidthRule)
EXACT_TO = 5_000
PairSum = Callable[[Callable[[Floats], Floats]], float]
_GRID = 1 << 14


@dataclass(frozen=True)
class Bandwidth:
    """A bandwidth, None where there is none (n < 2, all values equal); ``remark`` says what stood in, or was binned."""

    value: float | None
    remark: Remark | None = None


def bandwidth_of(ordered: Floats, rule: BandwidthRule | float, times: float = 1.0) -> Bandwidth:
    """The bandwidth of ``ordered`` (shape (n,), rising) by a rule or as given, times a smoothing factor.

    Silverman 1986 (3.31); Scott 1992 (6.42); Sheather & Jones 1991, solve the equation; Botev, Grotowski & Kroese 2010;
    least-squares cross-validation, Rudemo 1982 and Bowman 1984.
    """
    n = len(ordered)
    if n < 2 or ordered[0] == ordered[-1]:
        return Bandwidth(None, remark("no-density"))
    if not isinstance(rule, str):
        return Bandwidth(float(rule) * times)
    sd, iqr = spread(ordered)
    chosen = BANDWIDTHS[rule]
    value = chosen.bandwidth(ordered, sd, iqr, times)
    if value is None or not math.isfinite(value) or value <= 0:
        stand_in = BANDWIDTHS[chosen.stand_in].bandwidth(ordered, sd, iqr, times)
        return Bandwidth(stand_in, remark("bandwidth-no-answer", rule=rule, **{"stand-in": chosen.stand_in}))
    binned = chosen.by_pairs and n > EXACT_TO
    return Bandwidth(value, remark("bandwidth-binned", rule=rule, grid=_GRID) if binned else None)


def spread(ordered: Floats) -> tuple[float, float]:
    """Standard deviation (n − 1) and interquartile range (type 7)."""
    middle = ordered[len(ordered) // 2]
    largest = max(abs(ordered[0] - middle), abs(ordered[-1] - middle))
    plain = 1e-100 < largest < 1e100
    apart = ordered - middle if plain else (ordered - middle) / largest
    # The mean lies within one SD of the median, so little is lost by taking its square off.
    centre = float(apart.mean())
    sd = math.sqrt((float(apart @ apart) - len(apart) * centre * centre) / (len(apart) - 1)) * (1.0 if plain else largest)
    low, high = quantiles(ordered, (0.25, 0.75), 7)
    return sd, float(high - low)


def silverman(sd: float, iqr: float, n: int) -> float:
    """0.9 · min(SD, IQR/1.34) · n^(−1/5); the SD alone where the IQR is 0."""
    return float(0.9 * (min(sd, iqr / 1.34) if iqr > 0 else sd) * n**-0.2)


def _pair_sums(values: Floats) -> PairSum:
    """A function that sums any even function of the distance over all pairs i < j.

    Exact up to 5 000 values; beyond, distances between the cells of a fine grid, weighted by the product of counts.
    """
    n = len(values)
    if n <= EXACT_TO:
        gaps = [values[k:] - values[:-k] for k in range(1, n)]
        distances: Floats = np.concatenate(gaps) if gaps else np.empty(0)
        distances.sort()

        def exact(function: Callable[[Floats], Floats]) -> float:
            return float(function(distances).sum())

        return exact
    return _binned_pairs(values)


def _binned_pairs(values: Floats) -> PairSum:
    """The same from the distances between the cells of a fine grid, weighted by the product of their counts."""
    from scipy import fft

    n = len(values)
    step = float(values[-1] - values[0]) / (_GRID - 1)
    place = (values - values[0]) / step
    left = np.minimum(place.astype(np.int64), _GRID - 2)
    share = place - left
    counts = np.bincount(left, weights=1 - share, minlength=_GRID) + np.bincount(left + 1, weights=share, minlength=_GRID)
    power = np.abs(fft.rfft(counts, 2 * _GRID)) ** 2
    pairs = fft.irfft(power)[:_GRID]
    # Each value paired with itself is taken out; a part of that lies at the next lag, where the function is the same.
    pairs[0] = (pairs[0] - n) / 2
    steps: Floats = np.arange(_GRID, dtype=np.float64) * step

    def binned(function: Callable[[Floats], Floats]) -> float:
        return float((pairs * function(steps)).sum())

    return binned


def _gauss4(u: Floats) -> Floats:
    s = u * u
    return np.asarray((s * s - 6 * s + 3) * np.exp(-0.5 * s) / math.sqrt(2 * math.pi), dtype=np.float64)


def _gauss6(u: Floats) -> Floats:
    s = u * u
    return np.asarray((s * s * s - 15 * s * s + 45 * s - 15) * np.exp(-0.5 * s) / math.sqrt(2 * math.pi), dtype=np.float64)


def _sheather_jones(values: Floats) -> float | None:
    """The equation of Sheather & Jones 1991 (12), sums over all i and j divided by n(n − 1); of several roots the largest."""
    from scipy.optimize import brentq

    n = len(values)
    low, high = quantiles(values, (0.25, 0.75), 7)
    iqr = float(high - low)
    # Quartiles so close, where the spread is one, are ties but for rounding.
    if iqr <= 1e-9:
        return None
    # Roots are sought on binned pairs, which is quick; the largest is then settled on all pairs where they are few enough.
    quick = _sj_equation(values, iqr, _binned_pairs(values))
    over = _pair_sums(values)
    equation = _sj_equation(values, iqr, over) if n <= EXACT_TO else quick
    if quick is None or equation is None:
        return None
    top = 4.0 * float(np.std(values))
    steps = np.geomspace(top, top / 4096, 97)
    right, at_right = float(steps[0]), quick(float(steps[0]))
    for h in steps[1:]:
        left, at_left = float(h), quick(float(h))
        if math.isfinite(at_left) and math.isfinite(at_right) and at_left * at_right <= 0:
            low, high = left / 1.02, right * 1.02
            if equation(low) * equation(high) <= 0:
                return float(brentq(equation, low, high, xtol=1e-12, rtol=1e-12))
        right, at_right = left, at_left
    return None


def _sj_equation(values: Floats, iqr: float, over: PairSum) -> Callable[[float], float] | None:
    """The equation whose root is the bandwidth; None where the pilots have no answer."""
    n = len(values)

    def fourth(a: float) -> float:
        return float((2 * over(lambda d: _gauss4(d / a)) + n * _gauss4(np.zeros(1))[0]) / (n * (n - 1) * a**5))

    def sixth(b: float) -> float:
        return float(-(2 * over(lambda d: _gauss6(d / b)) + n * _gauss6(np.zeros(1))[0]) / (n * (n - 1) * b**7))

    a, b = 0.920 * iqr * n ** (-1 / 7), 0.912 * iqr * n ** (-1 / 9)
    ratio = fourth(a) / sixth(b)
    if not ratio > 0:
        return None
    factor = 1.357 * ratio ** (1 / 7)

    def equation(h: float) -> float:
        roughness = fourth(factor * h ** (5 / 7))
        return float((1 / (2 * math.sqrt(math.pi) * n * roughness)) ** 0.2 - h) if roughness > 0 else math.inf

    return equation


def _improved_plug_in(values: Floats) -> float | None:
    """The fixed point of Botev, Grotowski & Kroese 2010 (their algorithm 1, l = 7) on a grid of 2^14 cells."""
    from scipy import fft
    from scipy.optimize import brentq

    low, high = float(values[0]), float(values[-1])
    margin = (high - low) / 2
    low, span = low - margin, (high - low) + 2 * margin
    counts = np.bincount(np.minimum(((values - low) / span * _GRID).astype(np.int64), _GRID - 1), minlength=_GRID)
    n = len(np.unique(values))
    squares = (fft.dct(counts / counts.sum(), type=2)[1:] / 2) ** 2
    k = np.arange(1, _GRID, dtype=np.float64) ** 2

    def fixed_point(t: float) -> float:
        f = 2 * math.pi**14 * float(np.sum(k**7 * squares * np.exp(-k * math.pi**2 * t)))
        for s in range(6, 1, -1):
            odd = math.prod(range(1, 2 * s, 2)) / math.sqrt(2 * math.pi)
            const = (1 + 0.5 ** (s + 0.5)) / 3
            if f <= 0:
                return math.nan
            time = (2 * const * odd / (n * f)) ** (2 / (3 + 2 * s))
            f = 2 * math.pi ** (2 * s) * float(np.sum(k**s * squares * np.exp(-k * math.pi**2 * time)))
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


def _cross_validation(values: Floats) -> float | None:
    """The minimum of the least-squares criterion for the gaussian kernel; None where it falls towards zero (ties)."""
    from scipy.optimize import minimize_scalar

    n = len(values)
    over = _pair_sums(values)

    def criterion(log_h: float) -> float:
        h = math.exp(log_h)

        def both(d: Floats) -> Floats:
            u = (d / h) ** 2
            return np.exp(-0.25 * u) / math.sqrt(4 * math.pi) - 2 * n / (n - 1) * np.exp(-0.5 * u) / math.sqrt(2 * math.pi)

        return (1 / (2 * math.sqrt(math.pi)) + 2 / n * over(both)) / (n * h)

    sd = float(np.std(values, ddof=1))
    grid = np.log(np.geomspace(sd / 200, 3 * sd, 48))
    heights = np.array([criterion(float(g)) for g in grid])
    best = int(np.argmin(heights))
    if best == 0:
        return None
    last = min(best + 1, len(grid) - 1)
    minimum = minimize_scalar(criterion, bounds=(grid[best - 1], grid[last]), method="bounded", options={"xatol": 1e-10})
    return math.exp(float(minimum.x))


@dataclass(frozen=True)
class WidthRule:
    """A published rule for the bandwidth: of values (shape (n,), rising), their SD and IQR and a factor, None where it has no
    answer; whether it sums over pairs of values, which are binned above EXACT_TO; the rule that stands in.
    """

    bandwidth: Callable[[Floats, float, float, float], float | None]
    source: str
    by_pairs: bool = False
    stand_in: BandwidthRule = "silverman"


def _of_unit(rule: Callable[[Floats], float | None]) -> Callable[[Floats, float, float, float], float | None]:
    """A rule that sees values of unit spread about zero, which changes nothing but keeps powers in range."""

    def bandwidth(ordered: Floats, sd: float, iqr: float, times: float) -> float | None:
        unit: Floats = np.asarray((ordered - ordered[len(ordered) // 2]) / sd, dtype=np.float64)
        of_unit = rule(unit)
        return None if of_unit is None else times * sd * of_unit

    return bandwidth


BANDWIDTHS: dict[BandwidthRule, WidthRule] = {
    "silverman": WidthRule(lambda x, sd, iqr, times: times * silverman(sd, iqr, len(x)), "Silverman 1986 (3.31)"),
    "scott": WidthRule(lambda x, sd, iqr, times: times * 1.06 * sd * len(x) ** -0.2, "Scott 1992 (6.42)"),
    "sheather-jones": WidthRule(_of_unit(_sheather_jones), "Sheather & Jones 1991, solve the equation", by_pairs=True),
    "improved-plug-in": WidthRule(_of_unit(_improved_plug_in), "Botev, Grotowski & Kroese 2010"),
    "cross-validation": WidthRule(_of_unit(_cross_validation), "Rudemo 1982; Bowman 1984", by_pairs=True),
}
