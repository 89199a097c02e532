"""Reference limits: the central 95 % of a lane, each limit with its own interval."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from echelle.numbers.decimals import decimals_of, root
from echelle.numbers.differences.lane_sums import lane_sums
from echelle.numbers.differences.robust_limits import robust_ends
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import quantile
from echelle.numbers.remarks import Remark, remark
from echelle.numbers.sample import Floats

LimitMethod = Literal["non-parametric", "robust", "log-normal", "Box–Cox"]
FEWEST_NONPARAMETRIC = 120
_STEPS = 40
_FAR = 2


@dataclass(frozen=True)
class LimitEnd:
    """One limit, None where the transformed values set none on that side; the interval's ends are None where n is too small
    for the level asked, or where that end is beyond any value.
    """

    value: float | None
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
) -> ReferenceLimits | Remark:
    """The central ``share`` of ``values`` (shape (n,)); where there are no limits, why.

    Non-parametric: quantiles of type 6 with intervals by order statistics, for 39 values or more (with fewer the 95 % has no
    limit among them). Robust: Horn, Pesce & Copeland (1998), by resampling. Log-normal and Box–Cox (Box & Cox 1964): mean ±
    z·SD of the transformed values, intervals by the limit's own standard error.
    """
    n, ordered = len(values), np.sort(values)
    reason = _no_limits(ordered, method, share)
    if reason is not None:
        return reason
    few = n < FEWEST_NONPARAMETRIC
    note = remark("limits-uncertain", fewest=FEWEST_NONPARAMETRIC) if few else None
    if method == "non-parametric":
        ends = _nonparametric(ordered, share, level)
    elif method == "robust":
        ends = _robust(ordered, share, level, seed)
    else:
        ends = _transform(ordered, 0.0 if method == "log-normal" else _power(ordered), share, level)
    if any(end.value is None for end in ends):
        note = remark("limits-open")
    return ReferenceLimits(lower=ends[0], upper=ends[1], method=method, share=share, level=level, n=n, remark=note)


def _no_limits(ordered: Floats, method: LimitMethod, share: float) -> Remark | None:
    n = len(ordered)
    fewest = math.ceil(round(2 / (1 - share), 9)) - 1 if method == "non-parametric" else 3
    if n < fewest:
        return remark("limits-too-few" if method == "non-parametric" else "limits-need-values", n=n, fewest=fewest)
    if ordered[0] == ordered[-1]:
        return remark("limits-no-spread")
    if method in ("log-normal", "Box–Cox") and ordered[0] <= 0:
        return remark("limits-need-above-zero")
    return None


def _nonparametric(ordered: Floats, share: float, level: float) -> tuple[LimitEnd, LimitEnd]:
    n, ends = len(ordered), []
    for p in ((1 - share) / 2, (1 + share) / 2):
        below, above = _ranks(n, p, level)
        low, high = (None if rank is None else float(ordered[rank - 1]) for rank in (below, above))
        ends.append(LimitEnd(quantile(ordered, p, 6), low, high))
    return ends[0], ends[1]


def _ranks(n: int, p: float, level: float) -> tuple[int | None, int | None]:
    """The narrowest ranks r < s whose values hold the quantile with the level at least, each side with at most half of what is
    left over; None where even the extreme does not reach it.
    """
    from scipy.special import bdtr

    edge = (1 - level) / 2
    # How likely fewer than r values lie below the quantile rises with r.
    chances = bdtr(np.arange(n), n, p)
    below = int(np.searchsorted(chances, edge, side="right"))
    above = int(np.searchsorted(1.0 - chances[::-1], edge, side="right"))
    return below or None, n - above + 1 if above else None


def _robust(ordered: Floats, share: float, level: float, seed: int) -> tuple[LimitEnd, LimitEnd]:
    decimals = decimals_of(ordered)
    ends, intervals = robust_ends(decimals.samples[0], share, level, seed)
    lower, upper = (
        LimitEnd(decimals.place(end), *(decimals.place(float(edge)) for edge in interval))
        for end, interval in zip(ends, intervals, strict=True)
    )
    return lower, upper


def _power(ordered: Floats) -> float:
    """The Box–Cox power of the greatest likelihood, in steps of 1/40 from −2 to 2; the likelihood has one peak."""
    logs = np.log(ordered)
    logs -= logs.mean()
    known: dict[int, float] = {}

    def likelihood(step: int) -> float:
        if step not in known:
            power = step / _STEPS
            moved = logs if step == 0 else np.expm1(power * logs) / power
            known[step] = -len(logs) / 2 * math.log(float(moved.var()))
        return known[step]

    low, high = -_FAR * _STEPS, _FAR * _STEPS
    while high - low > 2:
        third = (high - low) // 3
        first, second = low + third, high - third
        low, high = (low, second) if likelihood(first) >= likelihood(second) else (first, high)
    return max(range(low, high + 1), key=likelihood) / _STEPS


def _transform(ordered: Floats, power: float, share: float, level: float) -> tuple[LimitEnd, LimitEnd]:
    from scipy.special import ndtri

    # About the geometric mean, which changes nothing but keeps powers in range.
    logs = np.log(ordered)
    middle = float(logs.mean())
    logs -= middle
    moved = logs if power == 0 else np.expm1(power * logs) / power
    shape, n = moments(moved), len(ordered)
    assert shape.mean is not None and shape.sd is not None
    z = float(ndtri((1 + share) / 2))
    se = shape.sd * math.sqrt(1 / n + z * z / (2 * (n - 1)))
    reach = float(ndtri((1 + level) / 2)) * se
    ends = []
    for side in (-1, 1):
        at = shape.mean + side * z * shape.sd
        low, value, high = (_back(x, power, math.exp(middle)) for x in (at - reach, at, at + reach))
        ends.append(LimitEnd(value, low, high))
    return ends[0], ends[1]


def _back(x: float, power: float, unit: float) -> float | None:
    """The value that is x when transformed, times a unit; 0 below them all, None above them all."""
    if power * x + 1 <= 0:
        return 0.0 if power > 0 else None
    with np.errstate(over="ignore"):
        value = float(np.exp(x if power == 0 else np.log1p(power * x) / power)) * unit
    return value if math.isfinite(value) else None


@dataclass(frozen=True)
class Partition:
    """Whether two classes need limits of their own (Harris & Boyd 1990): z beside its critical value, and the ratio of SDs."""

    z: float
    critical: float
    sd_ratio: float
    apart: bool


def partition(first: Floats, second: Floats) -> Partition | None:
    """Harris and Boyd's test: z of the means against 3·√(n/120), n the mean number; or one SD above 1.5 times the other."""
    if min(len(first), len(second)) < 2:
        return None
    _, (a, b) = lane_sums(first, second)
    if a.squares == 0 or b.squares == 0:
        return None
    z = abs(float(a.mean - b.mean)) / math.sqrt(a.error + b.error)
    critical = 3 * math.sqrt((len(first) + len(second)) / 2 / 120)
    ratio = root(max(a.variance, b.variance) / min(a.variance, b.variance))
    return Partition(z, critical, ratio, z > critical or ratio > 1.5)
