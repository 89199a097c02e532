"""Paired and repeated data: one value a subject and lane, and what differs within subjects."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.differences.estimate import Estimate, nothing, t_reach
from echelle.numbers.intervals import median_interval
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import Floats, quantiles
from echelle.numbers.remarks import remark

Reduce = Literal["mean", "median"]


@dataclass(frozen=True)
class Pairs:
    """Subjects with a value in both lanes (codes, shape (k,), rising) and their differences other − reference (shape (k,)); how
    many stand in one lane only, and how many rows were reduced to one a subject.
    """

    subjects: NDArray[np.int32]
    differences: Floats
    unpaired: int
    reduced: int


def by_subject(values: Floats, subjects: NDArray[np.int32], how: Reduce) -> tuple[NDArray[np.int32], Floats]:
    """One value for each subject (codes, −1 for none), rising by code: the mean or the median of its rows."""
    known = subjects >= 0
    order = np.argsort(subjects[known], kind="stable")
    codes, numbers = subjects[known][order], values[known][order]
    result, starts = np.unique(codes, return_index=True)
    if how == "mean":
        counts = np.diff(np.append(starts, len(codes)))
        return result, np.add.reduceat(numbers, starts) / counts if len(result) else numbers
    return result, np.array([float(np.median(part)) for part in np.split(numbers, starts[1:])]) if len(result) else numbers


def within_subjects(
    reference: Floats,
    reference_subjects: NDArray[np.int32],
    other: Floats,
    other_subjects: NDArray[np.int32],
    how: Reduce = "mean",
) -> Pairs:
    """Differences within subjects, several rows of one reduced first."""
    first, a = by_subject(reference, reference_subjects, how)
    second, b = by_subject(other, other_subjects, how)
    both, at_a, at_b = np.intersect1d(first, second, assume_unique=True, return_indices=True)
    rows = int((reference_subjects >= 0).sum() + (other_subjects >= 0).sum())
    apart = b[at_b] - a[at_a]
    # Equal but for rounding is equal: else a tiny spread would make a huge t.
    if len(apart) and np.ptp(apart) <= 8 * np.finfo(np.float64).eps * max(np.abs(a[at_a]).max(), np.abs(b[at_b]).max()):
        apart = np.full(len(apart), apart[0])
    return Pairs(both, apart, len(first) + len(second) - 2 * len(both), rows - len(first) - len(second))


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
    result, n = paired_mean(differences, level), (len(differences), len(differences))
    sd = moments(differences).sd
    if result.value is None or result.low is None or result.high is None or not sd:
        return nothing("paired Hedges g", level, n, remark("needs-two-pairs-that-differ"))
    df = n[0] - 1
    correction = math.exp(math.lgamma(df / 2) - math.lgamma((df - 1) / 2)) / math.sqrt(df / 2) if df > 1 else 1.0
    value, low, high = (end / sd * correction for end in (result.value, result.low, result.high))
    return Estimate(name="paired Hedges g", value=value, low=low, high=high, level=level, method="t", n=n, df=float(df))
