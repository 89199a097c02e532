"""Spread components of laboratory runs: within run, between runs, in all."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.decimals import root, rounded
from echelle.numbers.differences.lane_sums import lane_sums
from echelle.numbers.remarks import Remark, remark
from echelle.numbers.sample import Floats


@dataclass(frozen=True)
class Component:
    """A variance component as SD with its interval, and CV in per cent of the mean (None where that is not above zero)."""

    name: str
    sd: float
    cv: float | None
    low: float | None
    high: float | None
    df: float


@dataclass(frozen=True)
class Components:
    """Within-run, between-run and total; ``remark`` says where between-run variance came out below zero and counts as none."""

    parts: tuple[Component, Component, Component]
    mean: float
    runs: int
    n: int
    level: float
    remark: Remark | None = None


def components(values: Floats, runs: NDArray[np.int32], level: float = 0.95) -> Components | None:
    """By analysis of variance of one nested factor (Searle, Casella & McCulloch 1992, 3.6), for unequal runs too.

    The within-run interval is by χ² and exact; those of the other two by Satterthwaite's degrees of freedom. ``runs`` are codes
    (shape (n,), −1 for none). None for fewer than two runs, or no run with two values.
    """
    known = runs >= 0
    values, codes = values[known], np.unique(runs[known], return_inverse=True)[1]
    k, n = int(codes.max(initial=-1)) + 1, len(values)
    if k < 2 or n <= k:
        return None
    order = np.argsort(codes, kind="stable")
    decimals, sums_of = lane_sums(*np.split(values[order], np.cumsum(np.bincount(codes))[:-1]))
    whole = sum((lane.n * lane.mean for lane in sums_of), Fraction(0))
    squares = sum((lane.n * lane.mean**2 for lane in sums_of), Fraction(0)) - whole**2 / n
    unit, mean = decimals.step**2, decimals.place(whole / n)
    inside = sum((lane.squares for lane in sums_of), Fraction(0)) / (n - k)
    between = squares / (k - 1)
    size = Fraction(n * n - sum(lane.n**2 for lane in sums_of), n * (k - 1))
    run = max(Fraction(0), (between - inside) / size)
    note = remark("between-runs-none") if between < inside else None
    df_run = _df([(between / size, k - 1), (inside / size, n - k)], run)
    df_total = _df([(between / size, k - 1), (inside * (1 - 1 / size), n - k)], run + inside)
    parts = (
        _component("within run", inside * unit, float(n - k), mean, level),
        _component("between runs", run * unit, df_run, mean, level),
        _component("total", (run + inside) * unit, df_total, mean, level),
    )
    return Components(parts, mean, k, n, level, note)


def _df(squares: list[tuple[Fraction, int]], variance: Fraction) -> float:
    below = sum((part**2 / df for part, df in squares), Fraction(0))
    return rounded(variance**2 / below) if below > 0 else 0.0


def _component(name: str, variance: Fraction, df: float, mean: float, level: float) -> Component:
    from scipy.stats import chi2

    sd = root(variance)
    cv = 100 * sd / mean if mean > 0 else None
    # With less than one degree of freedom the upper end is anywhere.
    if df < 1 or variance <= 0:
        return Component(name, sd, cv, None, None, df)
    low, high = (sd * math.sqrt(df / float(chi2.ppf(edge, df))) for edge in ((1 + level) / 2, (1 - level) / 2))
    return Component(name, sd, cv, low, high, df)
