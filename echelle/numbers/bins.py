"""Bins: how many and where, and what falls into them."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, get_args

import numpy as np

from echelle.numbers.decimals import EXACT, decimal, decimals_of, rounded
from echelle.numbers.quantiles import quantiles
from echelle.numbers.remarks import Remark, remark
from echelle.numbers.sample import Floats, Rising, Sample, sample_of

BinRule = Literal["sturges", "scott", "freedman-diaconis", "square-root", "rice", "doane"]
BIN_RULES: tuple[BinRule, ...] = get_args(BinRule)
Closed = Literal["left", "right"]
MOST_BINS = 100_000
# Whole numbers below this are float64 too.


class NoBins(ValueError):
    """A width that makes no bins; ``remark`` says why."""

    def __init__(self, remark: Remark) -> None:
        super().__init__(remark.code)
        self.remark = remark


@dataclass(frozen=True, eq=False)
class Bins:
    """Edges (shape (k + 1,)) and counts (shape (k,)); how many values lie below the first and above the last edge.

    The first edge may be −∞ and the last ∞: such a bin is open and has a count and a share, but no density.
    """

    edges: Floats
    counts: np.ndarray[tuple[int], np.dtype[np.int64]]
    below: int = 0
    above: int = 0

    @property
    def shares(self) -> Floats:
        """Counts over all values that are inside."""
        return self.counts / max(int(self.counts.sum()), 1)

    @property
    def densities(self) -> Floats:
        """Shares per unit of the measure: they integrate to 1. NaN in an open bin."""
        widths = np.diff(self.edges)
        return np.where(np.isfinite(widths), self.shares / widths, np.nan)

    @property
    def cumulative(self) -> Floats:
        """Running sum of the shares."""
        return np.cumsum(self.shares)


@dataclass(frozen=True)
class CountRule:
    """A published rule for the number of bins: of a sample on [0, 1], a real number, or None where the
    formula has no answer; ``no_answer`` is the remark's code, ``stand_in`` the rule that counts then.
    """

    count: Callable[[Sample], float | None]
    source: str
    no_answer: str = ""
    stand_in: BinRule = "sturges"


def _sturges(unit: Sample) -> float:
    return _up(math.log2(len(unit))) + 1


def _doane(unit: Sample) -> float | None:
    n = len(unit)
    if n < 3:
        return None
    apart = unit.values - unit.mean()
    skew = unit.mean(apart**3) / unit.mean(apart**2) ** 1.5
    error = math.sqrt(6 * (n - 2) / ((n + 1) * (n + 3)))
    return 1 + math.log2(n) + math.log2(1 + abs(skew) / error)


def _scott(unit: Sample) -> float | None:
    return _of_width(3.49 * unit.sd(1) * len(unit) ** (-1 / 3))


def _freedman_diaconis(unit: Sample) -> float | None:
    low, high = quantiles(unit, (0.25, 0.75), 7)
    return _of_width(2 * float(high - low) * len(unit) ** (-1 / 3))


def _of_width(width: float) -> float | None:
    return 1 / width if width > 0 else None


BIN_COUNTS: dict[BinRule, CountRule] = {
    "freedman-diaconis": CountRule(_freedman_diaconis, "Freedman & Diaconis 1981", "bins-no-spread"),
    "sturges": CountRule(_sturges, "Sturges 1926"),
    "scott": CountRule(_scott, "Scott 1979", "bins-no-spread"),
    "square-root": CountRule(lambda unit: math.sqrt(len(unit)), "by usage"),
    "rice": CountRule(lambda unit: 2 * len(unit) ** (1 / 3), "Lane 2013"),
    "doane": CountRule(_doane, "Doane 1976", "bins-too-few"),
}


def bin_count(ordered: Rising, rule: BinRule) -> tuple[int, Remark | None]:
    """How many bins a rule gives for ``ordered`` (shape (n,), rising, n ≥ 1), and a remark where another stood in.

    The ceiling of the published formula over [min, max]: Sturges 1926; Scott 1979 (3.49·SD·n^(−1/3)); Freedman & Diaconis
    1981 (2·IQR·n^(−1/3), IQR of type 7); square root; Rice (2·n^(1/3), Lane 2013); Doane 1976 (with g1 over n). A constant
    lane has one bin.
    """
    [offsets] = decimals_of(sample_of(ordered)).samples
    least, span = offsets[0], offsets[-1] - offsets[0]
    if span == 0:
        return 1, None
    unit, chosen = Sample((offsets.values - least) / span, offsets.counts), BIN_COUNTS[rule]
    count = chosen.count(unit)
    if count is not None and count <= MOST_BINS:
        return _up(count), None
    stand_in = BIN_COUNTS[chosen.stand_in].count(unit)
    assert stand_in is not None, "a rule that stands in always has an answer"
    code = chosen.no_answer if count is None else "bins-too-many"
    return _up(stand_in), remark(code, rule=rule, most=f"{MOST_BINS:,}", **{"stand-in": chosen.stand_in})


def _up(value: float) -> int:
    """The ceiling, where a few ulps above a whole number count as that number."""
    near = round(value)
    return max(1, near if abs(value - near) <= 1e-9 * max(1.0, near) else math.ceil(value))


def even_edges(low: float, high: float, count: int) -> Floats:
    """``count`` bins of equal width over [low, high]; a constant lane gets one bin about its value."""
    if low == high:
        half = abs(low) * 0.5 or 0.5
        return np.array([low - half, high + half])
    least, span = decimal(low), decimal(high) - decimal(low)
    return _edges(least, span / count, 0, count)


def edges_of_width(low: float, high: float, width: float, anchor: float = 0.0) -> Floats:
    """Multiples of ``width`` from ``anchor``, from the last at or below ``low`` to the first at or above ``high``.

    Raises ValueError for a width that is not above zero, or that would give more than 100 000 bins.
    """
    if not width > 0 or not math.isfinite(width):
        raise NoBins(remark("bin-width-not-positive"))
    step, start = decimal(width), decimal(anchor)
    if (decimal(high) - decimal(low)) / step > MOST_BINS:
        raise NoBins(remark("bin-width-too-many", most=f"{MOST_BINS:,}"))
    first, last = math.floor((decimal(low) - start) / step), math.ceil((decimal(high) - start) / step)
    return _edges(start, step, first, max(last, first + 1))


def _edges(start: Fraction, step: Fraction, first: int, last: int) -> Floats:
    """``start`` + i·``step`` for i from ``first`` to ``last``, each rounded once, so that a value on an edge lies on it."""
    parts = math.lcm(start.denominator, step.denominator)
    whole, apart = start.numerator * (parts // start.denominator), step.numerator * (parts // step.denominator)
    if parts < EXACT and max(abs(whole + first * apart), abs(whole + last * apart)) < EXACT:
        return np.asarray((whole + apart * np.arange(first, last + 1)) / parts, dtype=np.float64)
    return np.array([rounded(start + i * step) for i in range(first, last + 1)])


def count_in_bins(ordered: Rising, edges: Floats, closed: Closed = "left") -> Bins:
    """How many of ``ordered`` (rising) lie in each bin: [a, b) with the last closed, or (a, b] with the first closed."""
    places = np.array(ordered.searchsorted(edges, "left" if closed == "left" else "right"))
    if closed == "left":
        places[-1] = ordered.searchsorted(float(edges[-1]), "right")
    else:
        places[0] = ordered.searchsorted(float(edges[0]), "left")
    counts = np.diff(places).astype(np.int64)
    return Bins(edges, counts, int(places[0]), int(len(ordered) - places[-1]))


def recording_step(ordered: Rising) -> float | None:
    """The usual distance between neighbouring different values: the step in which the data were recorded.

    The largest decimal step (1, 2 or 5 times a power of ten) of which every value is a multiple; None where there is none
    or where nearly all values differ by no common step.
    """
    distinct = sample_of(ordered).values
    sample = distinct[:: max(1, len(distinct) // 20_000)]
    if len(sample) < 3:
        return None
    gap = float(np.median(np.diff(sample)))
    power = math.floor(math.log10(gap)) + 1 if gap > 0 else 0
    for exponent in range(power, power - 8, -1):
        for digit in (5.0, 2.0, 1.0):
            step = digit * 10.0**exponent
            steps = sample / step
            if np.all(np.abs(steps - np.round(steps)) <= 1e-6 * np.maximum(1.0, np.abs(steps)) * 1e-3):
                return step
    return None
