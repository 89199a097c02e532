"""Which values count as outliers: the rules besides Tukey's fences."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.decimals import Floats, decimal, decimals_of, exact_root, mean_and_squares, rounded
from echelle.numbers.fences import Fences, fences_at, quartile_fences
from echelle.numbers.medcouple import medcouple
from echelle.numbers.quantiles import QuantileType, exact_quantile, quantiles

OutlierRule = Literal[
    "quartiles", "percentiles", "full range", "none", "mean and SD", "median and MAD", "skew-adjusted", "extreme deviates"
]
FenceScale = Literal["values", "logarithms"]
OUTLIER_RULES: tuple[OutlierRule, ...] = get_args(OutlierRule)
_FEWEST_DEVIATES = 15
# Makes the median absolute deviation of a normal distribution its standard deviation.
MAD_SCALE = 1.4826


def fences_of(ordered: Floats, rule: OutlierRule, k: float, definition: QuantileType = 7, of: FenceScale = "values") -> Fences:
    """The limits of a rule for rising ``ordered`` (shape (n,), n ≥ 1); infinite where nothing counts as an outlier.

    ``k`` is the reach in IQRs, SDs or MADs; for percentiles the share cut off at each end; for extreme deviates the most
    outliers looked for, and the fences stand at the outermost values that are none. ``of`` logarithms, the rule works on these
    and its fences are brought back; of the values where one is not above zero. Sources: :data:`OUTLIER_FENCES`.
    """
    if of == "logarithms" and ordered[0] > 0:
        logs = OUTLIER_FENCES[rule].fences(np.log(ordered), k, definition)
        with np.errstate(over="ignore"):
            return Fences(*np.exp([logs.low, logs.high]).tolist())
    return OUTLIER_FENCES[rule].fences(ordered, k, definition)


def _none(ordered: Floats, k: float, definition: QuantileType) -> Fences:
    return Fences(-math.inf, math.inf)


def _percentiles(ordered: Floats, k: float, definition: QuantileType) -> Fences:
    return Fences(*quantiles(ordered, (k, 1.0 - k), definition))


def _mean_and_sd(ordered: Floats, k: float, definition: QuantileType) -> Fences:
    decimals = decimals_of(ordered)
    centre, squares = mean_and_squares(decimals.samples[0], decimals.whole)
    sd = exact_root(squares / max(1, len(ordered) - 1))
    centre = decimals.pivot + decimals.step * centre
    return fences_at(centre, centre, decimal(k) * decimals.step * sd)


def _median_and_mad(ordered: Floats, k: float, definition: QuantileType) -> Fences:
    centre = exact_quantile(ordered, 0.5)
    # Distances in float64 find the middle ones; the decimals say how large these are.
    places = np.argsort(np.abs(ordered - float(centre)), kind="stable")
    middle = [abs(decimal(ordered[places[rank]]) - centre) for rank in ((len(places) - 1) // 2, len(places) // 2)]
    return fences_at(centre, centre, decimal(k) * decimal(MAD_SCALE) * sum(middle) / 2)


def _extreme_deviates(ordered: Floats, k: float, definition: QuantileType) -> Fences:
    rest = np.delete(ordered, extreme_deviates(ordered, int(k)))
    return Fences(float(rest[0]), float(rest[-1]))


def _quartiles(ordered: Floats, k: float, definition: QuantileType) -> Fences:
    q1, q3 = (exact_quantile(ordered, p, definition) for p in (0.25, 0.75))
    return quartile_fences(q1, q3, k)


def _skew_adjusted(ordered: Floats, k: float, definition: QuantileType) -> Fences:
    q1, q3 = (exact_quantile(ordered, p, definition) for p in (0.25, 0.75))
    skew = medcouple(ordered)
    low, high = (-4.0, 3.0) if skew >= 0 else (-3.0, 4.0)
    below, above = (Fraction(k * math.exp(side * skew)) * (q3 - q1) for side in (low, high))
    return Fences(rounded(q1 - below), rounded(q3 + above))


def extreme_deviates(values: Floats, most: int, alpha: float = 0.05) -> NDArray[np.intp]:
    """Places of the outliers that the generalised extreme Studentised deviate test finds, at most ``most`` (Rosner 1983).

    The number of outliers is the largest r at which R_r exceeds its critical value λ_r. Its approximation is fair from 15
    and good from 25 values on: none is found among fewer than 15.
    """
    from scipy.special import stdtrit

    if len(values) < _FEWEST_DEVIATES:
        return np.empty(0, dtype=np.intp)
    [values] = decimals_of(values).samples
    left = np.arange(len(values))
    gone: list[int] = []
    result = 0
    for i in range(1, min(most, len(values) - 2) + 1):
        rest = values[left]
        sd = float(np.std(rest, ddof=1))
        if sd == 0:
            break
        apart = np.abs(rest - rest.mean()) / sd
        worst = int(np.argmax(apart))
        gone.append(int(left[worst]))
        left = np.delete(left, worst)
        n = len(values)
        t = float(stdtrit(n - i - 1, 1 - alpha / (2 * (n - i + 1))))
        critical = (n - i) * t / math.sqrt((n - i - 1 + t * t) * (n - i + 1))
        if apart[worst] > critical:
            result = i
    return np.sort(np.array(gone[:result], dtype=np.intp))


@dataclass(frozen=True)
class FenceRule:
    """A rule for outliers: its fences of rising values, its usual reach, its source, and among how few values it finds none."""

    fences: Callable[[Floats, float, QuantileType], Fences]
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
