"""Several rows of one subject, all kept: the difference of two lanes by a mixed model with the subject as a random effect."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from echelle.numbers.decimals import decimals_of
from echelle.numbers.differences.estimate import Estimate, nothing, t_reach
from echelle.numbers.differences.hypothesis_tests import Evidence
from echelle.numbers.differences.paired import Subjects as SubjectCodes
from echelle.numbers.remarks import remark
from echelle.numbers.sample import Floats

MOST_ROWS = 20_000
NAME = "difference of means, mixed model"
METHOD = "REML, random intercept of the subject; t by Satterthwaite"
_STEP = 1e-3
# Logarithms of the ratio of variances between and within subjects, from where to where it is sought.
_RATIOS = (-14.0, 14.0)


@dataclass(frozen=True, eq=False)
class Subjects:
    """Sums over each subject's rows (shape (k,)): rows, rows in the other lane, values, and values in the other lane; and the
    sums of squares and of values over all rows.
    """

    rows: Floats
    other: Floats
    values: Floats
    values_other: Floats
    squares: float

    @classmethod
    def of(cls, values: Floats, in_other: Floats, subjects: SubjectCodes) -> Subjects:
        """Of values (shape (n,)) with 1 for those in the other lane, else 0, by subject (codes, shape (n,))."""
        codes = np.unique(subjects, return_inverse=True)[1]
        parts = (np.ones(len(codes)), in_other, values, values * in_other)
        rows, other, sums, sums_other = (np.asarray(np.bincount(codes, part), dtype=np.float64) for part in parts)
        return cls(rows, other, sums, sums_other, float((values**2).sum()))


def least_squares(sums: Subjects, between: float, within: float) -> tuple[Floats, Floats, float]:
    """Coefficients (the reference's mean, the difference), their covariance, and −2 × the restricted log-likelihood but for a
    constant, where variances ``between`` and ``within`` subjects are known (Laird & Ware 1982).
    """
    shrink = between / (within + sums.rows * between)
    design = np.stack([sums.rows, sums.other])
    whole = np.array([[sums.rows.sum(), sums.other.sum()], [sums.other.sum(), sums.other.sum()]])
    information = (whole - (design * shrink) @ design.T) / within
    right = (np.array([sums.values.sum(), sums.values_other.sum()]) - (design * shrink) @ sums.values) / within
    solution = np.linalg.solve(information, right)
    left = (sums.squares - float((shrink * sums.values**2).sum())) / within - float(right @ solution)
    spread = float(((sums.rows - 1) * np.log(within) + np.log(within + sums.rows * between)).sum())
    return (
        np.asarray(solution),
        np.asarray(np.linalg.inv(information)),
        spread + float(np.linalg.slogdet(information)[1]) + left,
    )


def _df(sums: Subjects, between: float, within: float) -> float:
    """Degrees of freedom of the difference (Satterthwaite 1946; Giesbrecht & Burns 1985), by numeric derivatives."""
    at, steps = np.array([between, within]), _STEP * np.array([between, within])

    def moved(i: int, j: int, a: int, b: int) -> tuple[float, float]:
        place = at.copy()
        place[i] += a * steps[i]
        place[j] += b * steps[j]
        _, covariance, minus = least_squares(sums, *place)
        return float(covariance[1, 1]), minus

    slope = np.array([(moved(i, i, 1, 0)[0] - moved(i, i, -1, 0)[0]) / (2 * steps[i]) for i in range(2)])
    bend = np.empty((2, 2))
    for i in range(2):
        for j in range(2):
            ends = moved(i, j, 1, 1)[1] - moved(i, j, 1, -1)[1] - moved(i, j, -1, 1)[1] + moved(i, j, -1, -1)[1]
            bend[i, j] = ends / (4 * steps[i] * steps[j])
    # The covariance of the variances is twice the inverse of the bend of −2 log-likelihood.
    variance = least_squares(sums, between, within)[1][1, 1]
    return float(2 * variance**2 / (slope @ (2 * np.linalg.inv(bend)) @ slope))


def mixed_difference(
    reference: Floats, reference_subjects: SubjectCodes, other: Floats, other_subjects: SubjectCodes,
    level: float = 0.95,
) -> Estimate:  # fmt: skip
    """The difference other − reference, every row kept; rows without a subject (code −1) are left out. ``n`` is in rows."""
    keep_a, keep_b = reference_subjects >= 0, other_subjects >= 0
    values = np.concatenate([reference[keep_a], other[keep_b]])
    subjects = np.concatenate([reference_subjects[keep_a], other_subjects[keep_b]])
    n = (int(keep_a.sum()), int(keep_b.sum()))
    k = len(np.unique(subjects))
    if min(n) < 1 or k < 3 or k == len(values):
        return nothing(NAME, level, n, remark("needs-three-subjects"))
    if len(values) > MOST_ROWS:
        return nothing(NAME, level, n, remark("too-many-rows", most=f"{MOST_ROWS:,}"))
    in_other = np.repeat([0.0, 1.0], n)
    decimals = decimals_of(values)
    [offsets] = decimals.samples
    if not offsets.any():
        return nothing(NAME, level, n, remark("no-spread"))
    scale = float(offsets.std())
    scaled = (offsets - offsets.mean()) / scale
    scale = decimals.length(scale)
    sums = Subjects.of(scaled, in_other, subjects)
    between, within = _fit(sums)
    if not within > 1e-12:
        return nothing(NAME, level, n, remark("model-without-end"))
    result, covariance, _ = least_squares(sums, between, within)
    none = between == 0.0
    df = float(len(values) - 2) if none else _df(sums, between, within)
    spread, value = float(np.sqrt(covariance[1, 1])) * scale, float(result[1]) * scale
    reach = t_reach(df, level) * spread
    note = remark("no-variance-between-subjects") if none else None
    return Estimate(
        name=NAME,
        value=value,
        low=value - reach,
        high=value + reach,
        level=level,
        method=METHOD,
        n=n,
        spread=spread,
        df=df,
        remark=note,
    )


def _fit(sums: Subjects) -> tuple[float, float]:
    """Variances between and within subjects by REML: over their ratio alone, at which the variance within subjects is known; 0
    between subjects where that is as likely.
    """
    from scipy.optimize import minimize_scalar

    n = float(sums.rows.sum())

    def profile(ratio: float) -> tuple[float, float]:
        """−2 × the restricted log-likelihood, and the variance within subjects."""
        _, covariance, minus = least_squares(sums, ratio, 1.0)
        spread, shape = float(np.log1p(sums.rows * ratio).sum()), float(np.linalg.slogdet(covariance)[1])
        within = max((minus - spread + shape) / (n - 2), 0.0)
        return (n - 2) * math.log(within or 5e-324) + spread - shape, within

    steps = np.linspace(*_RATIOS, 61)
    best = int(np.argmin([profile(math.exp(step))[0] for step in steps]))
    bounds = (steps[max(best - 1, 0)], steps[min(best + 1, len(steps) - 1)])
    settled = minimize_scalar(
        lambda step: profile(math.exp(step))[0], bounds=bounds, method="bounded", options={"xatol": 1e-10}
    )
    ratio, none = math.exp(float(settled.x)), profile(0.0)
    if none[0] <= profile(ratio)[0] + 1e-9:
        return 0.0, none[1]
    within = profile(ratio)[1]
    return ratio * within, within


def mixed_t(estimate: Estimate) -> Evidence:
    """The test that goes with the estimate."""
    from scipy.stats import t as student

    if estimate.value is None or estimate.df is None or not estimate.spread:
        return Evidence(name="t of the mixed model", statistic=None, p=None, n=estimate.n, remark=estimate.remark)
    t = estimate.value / estimate.spread
    p = 2 * float(student.sf(abs(t), estimate.df))
    return Evidence(
        name="t of the mixed model", statistic=t, p=p, df=(estimate.df,), exact=False, n=estimate.n, remark=estimate.remark
    )
