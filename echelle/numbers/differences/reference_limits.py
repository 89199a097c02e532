"""Reference limits: the central 95 % of a lane, each limit with its own interval."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from echelle.numbers.differences.bootstrap import resampled_quantiles
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import Floats, quantiles
from echelle.numbers.remarks import Remark, remark

LimitMethod = Literal["non-parametric", "robust", "log-normal", "Box–Cox"]
FEWEST_NONPARAMETRIC = 120
_RESAMPLES = 2_000
_TRIES = np.linspace(-2.0, 2.0, 161)


@dataclass(frozen=True)
class LimitEnd:
    """One limit; the interval's ends are None where n is too small for the level asked."""

    value: float
    low: float | None
    high: float | None


@dataclass(frozen=True, kw_only=True)
class ReferenceLimits:
    """Lower and upper limit of the central share, with intervals at ``level``."""

    lower: LimitEnd
    upper: LimitEnd
    method: LimitMethod
    share: float
    level: float
    n: int
    remark: Remark | None = None


def reference_limits(
    values: Floats, method: LimitMethod = "non-parametric", share: float = 0.95, level: float = 0.9, seed: int = 41
) -> ReferenceLimits | None:
    """The central ``share`` of ``values`` (shape (n,)).

    Non-parametric: quantiles of type 6 with intervals by order statistics, or by resampling where n is too small for those.
    Robust: Horn, Pesce & Copeland (1998), by resampling. Log-normal and Box–Cox (Box & Cox 1964): mean ± z·SD of the
    transformed values, intervals by the limit's own standard error. None for n < 3 or no spread.
    """
    n = len(values)
    ordered = np.sort(values)
    if n < 3 or ordered[0] == ordered[-1]:
        return None
    few = n < FEWEST_NONPARAMETRIC
    note = remark("limits-uncertain", fewest=FEWEST_NONPARAMETRIC) if few else None
    if method == "non-parametric":
        ends = _nonparametric(ordered, share, level, seed)
    elif method == "robust":
        ends = _robust(ordered, share, level, seed)
    else:
        if ordered[0] <= 0:
            return None
        ends = _transform(ordered, 0.0 if method == "log-normal" else _power(ordered), share, level)
    low, high = ends
    return ReferenceLimits(lower=low, upper=high, method=method, share=share, level=level, n=n, remark=note)


def _nonparametric(ordered: Floats, share: float, level: float, seed: int) -> tuple[LimitEnd, LimitEnd]:
    n, ends = len(ordered), []
    for p in ((1 - share) / 2, (1 + share) / 2):
        value = quantiles(ordered, (p,), 6)[0]
        ranks = _ranks(n, p, level)
        if ranks is None:
            drawn = resampled_quantiles(ordered, (p,), _RESAMPLES, np.random.default_rng(seed))[0]
            low, high = np.quantile(drawn, ((1 - level) / 2, (1 + level) / 2))
            ends.append(LimitEnd(value, float(low), float(high)))
        else:
            ends.append(LimitEnd(value, float(ordered[ranks[0] - 1]), float(ordered[ranks[1] - 1])))
    return ends[0], ends[1]


def _ranks(n: int, p: float, level: float) -> tuple[int, int] | None:
    """The narrowest ranks r < s whose values hold the quantile with the level at least, each side with at most half of what is
    left over; None where even the extremes do not reach it.
    """
    from scipy.special import bdtr

    edge = (1 - level) / 2
    below = [r for r in range(1, n + 1) if float(bdtr(r - 1, n, p)) <= edge]
    above = [s for s in range(1, n + 1) if 1.0 - float(bdtr(s - 1, n, p)) <= edge]
    return (below[-1], above[0]) if below and above else None


def _robust(ordered: Floats, share: float, level: float, seed: int) -> tuple[LimitEnd, LimitEnd]:
    lower, upper = _robust_ends(ordered, share)
    rng, drawn = np.random.default_rng(seed), []
    for _ in range(_RESAMPLES // 2):
        part = np.sort(ordered[rng.integers(0, len(ordered), len(ordered))])
        if part[0] < part[-1]:
            drawn.append(_robust_ends(part, share))
    edges = np.quantile(np.array(drawn), ((1 - level) / 2, (1 + level) / 2), axis=0)
    return LimitEnd(lower, float(edges[0, 0]), float(edges[1, 0])), LimitEnd(upper, float(edges[0, 1]), float(edges[1, 1]))


def _robust_ends(ordered: Floats, share: float) -> tuple[float, float]:
    """Biweight centre with c = 3.7, spreads with c = 3.7 and 205.6, and t with n − 1 degrees of freedom."""
    from scipy.stats import t

    n = len(ordered)
    median = float(np.median(ordered))
    mad = float(np.median(np.abs(ordered - median)))
    if mad == 0:
        shape = moments(ordered)
        reach = float(t.ppf((1 + share) / 2, n - 1)) * (shape.sd or 0.0) * math.sqrt(1 + 1 / n)
        return (shape.mean or 0.0) - reach, (shape.mean or 0.0) + reach
    centre = median
    for _ in range(100):
        u = (ordered - centre) / (3.7 * mad / 0.6745)
        w = np.where(np.abs(u) < 1, (1 - u**2) ** 2, 0.0)
        moved = float((w * ordered).sum() / w.sum())
        if abs(moved - centre) < 1e-9 * max(1.0, abs(centre)):
            break
        centre = moved
    wide = _biweight_spread(ordered, median, 205.6 * mad / 0.6745)
    near = _biweight_spread(ordered, centre, 3.7 * wide)
    reach = float(t.ppf((1 + share) / 2, n - 1)) * math.sqrt(wide**2 + near**2 / n)
    return centre - reach, centre + reach


def _biweight_spread(ordered: Floats, centre: float, scale: float) -> float:
    """The biweight estimate of spread about a centre (Lax 1985)."""
    n = len(ordered)
    u = (ordered - centre) / scale
    u2 = np.where(np.abs(u) < 1, u * u, 1.0)
    top = float((((ordered - centre) ** 2) * (1 - u2) ** 4).sum())
    below = float(((1 - u2) * (1 - 5 * u2) * (np.abs(u) < 1)).sum())
    return math.sqrt(n * top / (below * max(1.0, below - 1)))


def _power(ordered: Floats) -> float:
    """The Box–Cox power of the greatest likelihood, on a grid of 1/40 from −2 to 2."""
    from scipy.stats import boxcox_llf

    return float(_TRIES[int(np.argmax([boxcox_llf(power, ordered) for power in _TRIES]))])


def _transform(ordered: Floats, power: float, share: float, level: float) -> tuple[LimitEnd, LimitEnd]:
    from scipy.special import ndtri

    moved = np.log(ordered) if power == 0 else (ordered**power - 1) / power
    shape, n = moments(moved), len(ordered)
    assert shape.mean is not None and shape.sd is not None
    z = float(ndtri((1 + share) / 2))
    se = shape.sd * math.sqrt(1 / n + z * z / (2 * (n - 1)))
    reach = float(ndtri((1 + level) / 2)) * se
    ends = []
    for side in (-1, 1):
        at = shape.mean + side * z * shape.sd
        low, value, high = (_back(x, power) for x in (at - reach, at, at + reach))
        ends.append(LimitEnd(value, low, high))
    return ends[0], ends[1]


def _back(x: float, power: float) -> float:
    if power == 0:
        return math.exp(x)
    return max(0.0, power * x + 1) ** (1 / power) if power * x + 1 > 0 or power > 0 else math.inf


@dataclass(frozen=True)
class Partition:
    """Whether two classes need limits of their own (Harris & Boyd 1990): z beside its critical value, and the ratio of SDs."""

    z: float
    critical: float
    sd_ratio: float
    apart: bool


def partition(first: Floats, second: Floats) -> Partition | None:
    """Harris and Boyd's test: z of the means against 3·√(n/120), n the mean number; or one SD above 1.5 times the other."""
    a, b = moments(first), moments(second)
    if a.mean is None or b.mean is None or not a.sd or not b.sd:
        return None
    z = abs(a.mean - b.mean) / math.sqrt(a.sd**2 / len(first) + b.sd**2 / len(second))
    critical = 3 * math.sqrt((len(first) + len(second)) / 2 / 120)
    ratio = max(a.sd, b.sd) / min(a.sd, b.sd)
    return Partition(z, critical, ratio, z > critical or ratio > 1.5)
