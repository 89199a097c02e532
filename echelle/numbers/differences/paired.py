"""Paired and repeated data: one value a subject and lane, and what differs within subjects."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.decimals import decimals_of, root
from echelle.numbers.differences.estimate import Estimate, nothing, t_reach
from echelle.numbers.differences.lane_sums import sums_of_differences
from echelle.numbers.intervals import median_interval
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import quantiles
from echelle.numbers.remarks import remark
from echelle.numbers.sample import Floats

Reduce = Literal["mean", "median"]
# A code for each value, −1 for none.
Subjects = NDArray[np.integer[Any]]


@dataclass(frozen=True)
class Pairs:
    """Subjects with a value in both lanes (codes, shape (k,), rising) and their differences other − reference (shape (k,)); how
    many stand in one lane only, and how many rows were reduced to one a subject.
    """

    subjects: Subjects
    differences: Floats
    unpaired: int
    reduced: int


@dataclass(frozen=True, eq=False)
class _Reduced:
    """Subjects (codes, rising, shape (k,)) with one value each: ``above`` / ``below``, whole numbers where offsets are."""

    subjects: Subjects
    above: Floats
    below: Floats


def _reduce(offsets: Floats, subjects: Subjects, how: Reduce) -> _Reduced:
    known = subjects >= 0
    order = np.lexsort((offsets[known], subjects[known]))
    codes, numbers = subjects[known][order], offsets[known][order]
    found, starts, counts = np.unique(codes, return_index=True, return_counts=True)
    if how == "mean":
        sums = np.add.reduceat(numbers, starts) if len(found) else numbers
        return _Reduced(found, sums, counts.astype(np.float64))
    middle = numbers[starts + (counts - 1) // 2] + numbers[starts + counts // 2]
    return _Reduced(found, middle, np.full(len(found), 2.0))


def within_subjects(
    reference: Floats,
    reference_subjects: Subjects,
    other: Floats,
    other_subjects: Subjects,
    how: Reduce = "mean",
) -> Pairs:
    """Differences within subjects (codes, −1 for none), several rows of one reduced to their mean or median first; those of
    decimals are rounded once.
    """
    decimals = decimals_of(reference, other)
    first, second = (
        _reduce(offsets, subjects, how)
        for offsets, subjects in zip(decimals.samples, (reference_subjects, other_subjects), strict=True)
    )
    both, at_a, at_b = np.intersect1d(first.subjects, second.subjects, assume_unique=True, return_indices=True)
    rows = int((reference_subjects >= 0).sum() + (other_subjects >= 0).sum())
    above = second.above[at_b] * first.below[at_a] - first.above[at_a] * second.below[at_b]
    below = first.below[at_a] * second.below[at_b]
    apart = decimals.lengths(above, below)
    # Equal but for rounding is equal: else a tiny spread would make a huge t.
    if not decimals.whole and len(apart) and np.ptp(apart) <= 8 * np.finfo(np.float64).eps * decimals.length(2.0):
        apart = np.full(len(apart), apart[0])
    subjects = len(first.subjects) + len(second.subjects)
    return Pairs(both, apart, subjects - 2 * len(both), rows - subjects)


def paired_mean(differences: Floats, level: float = 0.95) -> Estimate:
    """The mean difference within subjects, with its t interval."""
    n = (len(differences), len(differences))
    shape = moments(differences)
    if shape.mean is None or shape.se is None:
        return nothing("mean paired difference", level, n, remark("needs-two-pairs"))
    df = float(len(differences) - 1)
    reach = t_reach(df, level) * shape.se
    return Estimate(
        name="mean paired difference", value=shape.mean, low=shape.mean - reach, high=shape.mean + reach, level=level,
        method="t", n=n, spread=shape.se, df=df,
    )  # fmt: skip


def paired_median(differences: Floats, level: float = 0.95) -> Estimate:
    """The median difference within subjects, with its interval by order statistics."""
    n = (len(differences), len(differences))
    if not len(differences):
        return nothing("median paired difference", level, n, remark("no-pairs"))
    ordered = np.sort(differences)
    interval = median_interval(ordered, level)
    value = quantiles(ordered, (0.5,), 7)[0]
    low, high, reached = (None, None, level) if interval is None else (interval.low, interval.high, interval.level)
    return Estimate(
        name="median paired difference", value=value, low=low, high=high, level=reached, method="order statistics", n=n,
        remark=remark("too-few-pairs") if interval is None else None,
    )  # fmt: skip


def paired_g(differences: Floats, level: float = 0.95) -> Estimate:
    """The mean difference in SDs of the differences, corrected for small n (Hedges 1981)."""
    n, size = (len(differences), len(differences)), len(differences)
    known = sums_of_differences(differences)
    if known is None:
        return nothing("paired Hedges g", level, n, remark("needs-two-pairs-that-differ"))
    df = size - 1
    correction = math.exp(math.lgamma(df / 2) - math.lgamma((df - 1) / 2)) / math.sqrt(df / 2) if df > 1 else 1.0
    mean, sd = known.mean, root(known.sums.variance)
    reach = t_reach(float(df), level) * math.sqrt(known.sums.error)
    value, low, high = (end / sd * correction for end in (mean, mean - reach, mean + reach))
    return Estimate(name="paired Hedges g", value=value, low=low, high=high, level=level, method="t", n=n, df=float(df))
