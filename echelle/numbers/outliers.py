"""Which values count as outliers: the rules besides Tukey's fences."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, get_args

import numpy as np

from echelle.numbers.decimals import decimal, decimals_of, exact_root, mean_and_squares, rounded
from echelle.numbers.fences import Fences, fences_at, quartile_fences
from echelle.numbers.medcouple import medcouple
from echelle.numbers.quantiles import QuantileType, exact_quantile, quantiles
from echelle.numbers.sample import Rising, Sample, sample_of

OutlierRule = Literal[
    "quartiles", "percentiles", "full range", "none", "mean and SD", "median and MAD", "skew-adjusted", "extreme deviates"
]
FenceScale = Literal["values", "logarithms"]
OUTLIER_RULES: tuple[OutlierRule, ...] = get_args(OutlierRule)
_FEWEST_DEVIATES = 15
# Makes the median absolute deviation of a normal distribution its standard deviation.
MAD_SCALE = 1.4826


def fences_of(ordered: Rising, rule: OutlierRule, k: float, definition: QuantileType = 7, of: FenceScale = "values") -> Fences:
    """The limits of a rule for rising ``ordered`` (shape (n,), n ≥ 1); infinite where nothing counts as an outlier.

    ``k`` is the reach in IQRs, SDs or MADs; for percentiles the share cut off at each end; for extreme deviates the most
    outliers looked for, and the fences stand at the outermost values that are none. ``of`` logarithms, the rule works on these
    and its fences are brought back; of the values where one is not above zero. Sources: :data:`OUTLIER_FENCES`.
    """
    sample = sample_of(ordered)
    if of == "logarithms" and sample[0] > 0:
        logs = OUTLIER_FENCES[rule].fences(sample.moved(np.log), k, definition)
        with np.errstate(over="ignore"):
            return Fences(*np.exp([logs.low, logs.high]).tolist())
    return OUTLIER_FENCES[rule].fences(sample, k, definition)


def _none(ordered: Sample, k: float, definition: QuantileType) -> Fences:
    return Fences(-math.inf, math.inf)


def _percentiles(ordered: Sample, k: float, definition: QuantileType) -> Fences:
    return Fences(*quantiles(ordered, (k, 1.0 - k), definition))


def _mean_and_sd(ordered: Sample, k: float, definition: QuantileType) -> Fences:
    decimals = decimals_of(ordered)
    centre, squares = mean_and_squares(decimals.samples[0], decimals.whole)
    sd = exact_root(squares / max(1, len(ordered) - 1))
    centre = decimals.pivot + decimals.step * centre
    return fences_at(centre, centre, decimal(k) * decimals.step * sd)


def _median_and_mad(ordered: Sample, k: float, definition: QuantileType) -> Fences:
    centre = exact_quantile(ordered, 0.5)
    # Distances in float64 find the middle ones; the decimals say how large these are.
    away = np.abs(ordered.values - float(centre))
    places = np.argsort(away, kind="stable")
    ends, n = np.cumsum(ordered.often[places]), len(ordered)
    found = [places[np.searchsorted(ends, rank, side="right")] for rank in ((n - 1) // 2, n // 2)]
    if ordered.cells is not None:
        for place in found:
            ordered.cells.around(int(place))
    middle = [abs(decimal(ordered.values[place]) - centre) for place in found]
    return fences_at(centre, centre, decimal(k) * decimal(MAD_SCALE) * sum(middle) / 2)


def _extreme_deviates(ordered: Sample, k: float, definition: QuantileType) -> Fences:
    below, above = extreme_deviates(ordered, int(k))
    return Fences(ordered[below], ordered[len(ordered) - 1 - above])


def _quartiles(ordered: Sample, k: float, definition: QuantileType) -> Fences:
    q1, q3 = (exact_quantile(ordered, p, definition) for p in (0.25, 0.75))
    return quartile_fences(q1, q3, k)


def _skew_adjusted(ordered: Sample, k: float, definition: QuantileType) -> Fences:
    q1, q3 = (exact_quantile(ordered, p, definition) for p in (0.25, 0.75))
    skew = medcouple(ordered)
    low, high = (-4.0, 3.0) if skew >= 0 else (-3.0, 4.0)
    below, above = (Fraction(k * math.exp(side * skew)) * (q3 - q1) for side in (low, high))
    return Fences(rounded(q1 - below), rounded(q3 + above))


def extreme_deviates(ordered: Rising, most: int, alpha: float = 0.05) -> tuple[int, int]:
    """How many of the smallest and of the largest values the generalised extreme Studentised deviate test finds to be outliers,
    at most ``most`` in all (Rosner 1983).

    The number of outliers is the largest r at which R_r exceeds its critical value λ_r. Its approximation is fair from 15
    and good from 25 values on: none is found among fewer than 15.
    """
    from scipy.special import stdtrit

    if len(ordered) < _FEWEST_DEVIATES:
        return 0, 0
    [sample] = decimals_of(sample_of(ordered)).samples
    n, below, above, result = len(sample), 0, 0, (0, 0)
    for i in range(1, min(most, n - 2) + 1):
        rest = _without(sample, below, above)
        centre, sd = rest.mean(), rest.sd(1)
        if sd == 0:
            break
        low, high = centre - rest[0], rest[-1] - centre
        below, above = (below + 1, above) if low >= high else (below, above + 1)
        t = float(stdtrit(n - i - 1, 1 - alpha / (2 * (n - i + 1))))
        critical = (n - i) * t / math.sqrt((n - i - 1 + t * t) * (n - i + 1))
        if max(low, high) / sd > critical:
            result = below, above
    return result


def _without(sample: Sample, below: int, above: int) -> Sample:
    """The sample without so many of its smallest and largest values."""
    ends = np.clip(sample.ends, below, len(sample) - above) - below
    counts = np.diff(ends, prepend=0)
    held = counts > 0
    return Sample(sample.values[held], None if sample.counts is None else counts[held])


@dataclass(frozen=True)
class FenceRule:
    """A rule for outliers: its fences of rising values, its usual reach, its source, and among how few values it finds none."""

    fences: Callable[[Sample, float, QuantileType], Fences]
    usual_k: float
    source: str
    fewest: int = 1


OUTLIER_FENCES: dict[OutlierRule, FenceRule] = {
    "quartiles": FenceRule(_quartiles, 1.5, "Tukey 1977"),
    "percentiles": FenceRule(_percentiles, 0.05, "by usage"),
    "full range": FenceRule(_none, 0.0, "by usage"),
    "none": FenceRule(_none, 0.0, "by usage"),
    "mean and SD": FenceRule(_mean_and_sd, 3.0, "by usage"),
    "median and MAD": FenceRule(_median_and_mad, 3.5, "Iglewicz & Hoaglin 1993"),
    "skew-adjusted": FenceRule(_skew_adjusted, 1.5, "Hubert & Vandervieren 2008"),
    "extreme deviates": FenceRule(_extreme_deviates, 10.0, "Rosner 1983", _FEWEST_DEVIATES),
}
USUAL_K: dict[OutlierRule, float] = {rule: entry.usual_k for rule, entry in OUTLIER_FENCES.items()}
