"""Tests as evidence beside estimates: statistic, degrees of freedom, p, exact or approximate, and the n used."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from echelle.numbers.cumulative import greatest_distance
from echelle.numbers.decimals import decimals_of, rounded
from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.differences.lane_sums import lane_sums, sums_of_differences
from echelle.numbers.differences.means import mean_difference
from echelle.numbers.remarks import Remark, remark
from echelle.numbers.rounding import fixed_decimals
from echelle.numbers.sample import Floats, Sample, Values, merged, sample_of_unordered, tally_of

_EXACT_BELOW = 50


@dataclass(frozen=True, kw_only=True)
class Evidence:
    """A test's result; ``p`` is two-sided, None where the values do not allow one, and ``remark`` says why."""

    name: str
    statistic: float | None
    p: float | None
    df: tuple[float, ...] = ()
    exact: bool = False
    n: tuple[int, ...] = ()
    remark: Remark | None = None


def welch_t(reference: Values, other: Values) -> Evidence:
    """Welch's t test (1947): unequal variances."""
    from scipy import stats

    result, n = mean_difference(reference, other), (len(reference), len(other))
    t = result.t
    if t is None or result.df is None:
        return Evidence(name="Welch t", statistic=None, p=None, n=n, remark=result.remark)
    return Evidence(name="Welch t", statistic=t, p=float(2 * stats.t.sf(abs(t), result.df)), df=(result.df,), exact=False, n=n)


def mann_whitney(reference: Values, other: Values) -> Evidence:
    """Mann and Whitney's U (1947) of ``other``: exact for small lanes without ties, else normal, corrected for ties."""
    from scipy import stats

    n, name = (len(reference), len(other)), "Mann–Whitney"
    x, y = sample_of_unordered(reference), sample_of_unordered(other)
    both = merged([x, y])
    if min(n) < 1 or len(both.values) == 1:
        return Evidence(name=name, statistic=None, p=None, n=n, remark=remark("no-two-different"))
    if max(n) < _EXACT_BELOW and both.counts is None:
        test = stats.mannwhitneyu(y.values, x.values, method="exact")
        return Evidence(name=name, statistic=float(test.statistic), p=float(test.pvalue), exact=True, n=n)
    u = y.total((x.searchsorted(y.values, "left") + x.searchsorted(y.values, "right")) / 2)
    apart = abs(u - n[0] * n[1] / 2) - 0.5
    p = 2 * float(stats.norm.sf(max(apart, -0.5) / math.sqrt(n[0] * n[1] / 12 * (sum(n) + 1 - tie_share(both)))))
    return Evidence(name=name, statistic=u, p=min(p, 1.0), n=n, remark=remark("normal-approximation"))


def tie_share(both: Sample) -> float:
    """The sum of t³ − t over ties of t values, over n(n − 1): what ties take off n + 1 in the variance of rank sums."""
    n = len(both)
    return (
        0.0
        if both.counts is None or n < 2
        else float(np.sum(both.counts.astype(np.float64) ** 3 - both.counts)) / (n * (n - 1))
    )


def kolmogorov_smirnov(reference: Values, other: Values) -> Evidence:
    """The greatest distance of the cumulative shares (Smirnov 1939), sensitive to any difference of shape."""
    from scipy import stats

    n = (len(reference), len(other))
    if min(n) < 1:
        return Evidence(name="Kolmogorov–Smirnov", statistic=None, p=None, n=n, remark=remark("needs-value-in-each"))
    x, y = sample_of_unordered(reference), sample_of_unordered(other)
    exact, apart = max(n) < 1_000, greatest_distance(x, y)[0]
    if exact and apart * max(n) <= 1 + 1e-9:
        # No two lanes lie closer: the exact count of paths would stumble over its own rounding here.
        return Evidence(name="Kolmogorov–Smirnov", statistic=apart, p=1.0, df=(), exact=True, n=n)
    if exact:
        p = float(stats.ks_2samp(x.repeats, y.repeats, method="exact").pvalue)
    else:
        # Hodges 1958, with the number of values that one sample of the same spread would have.
        p = float(stats.kstwo.sf(apart, round(n[0] * n[1] / sum(n))))
    return Evidence(name="Kolmogorov–Smirnov", statistic=apart, p=p, df=(), exact=exact, n=n)


def brown_forsythe(lanes: Sequence[Values]) -> Evidence:
    """Equal spread: analysis of variance of the distances from each lane's median (Brown & Forsythe 1974)."""

    n = tuple(map(len, lanes))
    if len(lanes) < 2 or min(n) < 2:
        return Evidence(name="Brown–Forsythe", statistic=None, p=None, n=n, remark=remark("needs-spread-and-two-in-each"))
    ratio = _variance_ratio([_from_median(lane) for lane in decimals_of(*map(sample_of_unordered, lanes)).samples])
    if ratio is None:
        return Evidence(name="Brown–Forsythe", statistic=None, p=None, n=n, remark=remark("needs-spread-and-two-in-each"))
    return _f_test("Brown–Forsythe", ratio, n)


def _from_median(offsets: Sample) -> Sample:
    """Distances from the median, twice as large: medians are whole numbers then, and distances exact."""
    middle = offsets[(len(offsets) - 1) // 2] + offsets[len(offsets) // 2]
    counts = offsets.often
    return tally_of(np.abs(2 * offsets.values - middle), counts)


def one_way(lanes: Sequence[Values]) -> Evidence:
    """The analysis of variance of one factor (Fisher 1925): equal means where spreads are equal."""
    n, name = tuple(map(len, lanes)), "analysis of variance"
    ratio = _variance_ratio(lanes) if len(lanes) > 1 and min(n) > 0 and sum(n) > len(n) else None
    if ratio is None:
        return Evidence(name=name, statistic=None, p=None, n=n, remark=remark("needs-spread-within"))
    return _f_test(name, ratio, n)


def _variance_ratio(lanes: Sequence[Values]) -> float | None:
    """The mean square between lanes over the one within; None without any within."""
    _, sums = lane_sums(*lanes)
    k, n = len(sums), sum(lane.n for lane in sums)
    within = sum((lane.squares for lane in sums), Fraction(0))
    if within == 0:
        return None
    whole = sum((lane.n * lane.mean for lane in sums), Fraction(0))
    between = sum((lane.n * lane.mean**2 for lane in sums), Fraction(0)) - whole**2 / n
    return rounded((between / (k - 1)) / (within / (n - k)))


def _f_test(name: str, ratio: float, n: tuple[int, ...]) -> Evidence:
    from scipy.special import fdtrc

    df = (float(len(n) - 1), float(sum(n) - len(n)))
    return Evidence(name=name, statistic=ratio, p=float(fdtrc(*df, ratio)), df=df, exact=False, n=n)


def welch_anova(lanes: Sequence[Values]) -> Evidence:
    """Welch's analysis of variance (1951): equal means, whatever the spreads."""
    from scipy import stats

    n, name = tuple(map(len, lanes)), "Welch analysis of variance"
    few = len(lanes) < 2 or min(n) < 2
    sums = [] if few else lane_sums(*lanes)[1]
    if few or any(lane.squares == 0 for lane in sums):
        return Evidence(name=name, statistic=None, p=None, n=n, remark=remark("needs-spread-everywhere"))
    k = len(lanes)
    weights = np.array([1 / lane.error for lane in sums])
    means = np.array([rounded(lane.mean) for lane in sums])
    total = float(weights.sum())
    centre = float((weights * means).sum()) / total
    between = float((weights * (means - centre) ** 2).sum()) / (k - 1)
    uneven = float(((1 - weights / total) ** 2 / (np.array(n) - 1)).sum())
    f = between / (1 + 2 * (k - 2) / (k * k - 1) * uneven)
    df = (float(k - 1), (k * k - 1) / (3 * uneven))
    return Evidence(name=name, statistic=f, p=float(stats.f.sf(f, *df)), df=df, exact=False, n=n)


def kruskal_wallis(lanes: Sequence[Values]) -> Evidence:
    """Kruskal and Wallis' H (1952), corrected for ties."""
    from scipy import stats

    n, name = tuple(map(len, lanes)), "Kruskal–Wallis"
    samples = [sample_of_unordered(lane) for lane in lanes]
    both = merged(samples)
    if len(lanes) < 2 or min(n) < 1 or len(both.values) == 1:
        return Evidence(name=name, statistic=None, p=None, n=n, remark=remark("no-two-different"))
    # Ranks about their mean: (n + 1)/2 for all.
    ranks = [
        (both.searchsorted(lane.values, "left") + both.searchsorted(lane.values, "right") - sum(n)) / 2 for lane in samples
    ]
    between = math.fsum(lane.total(rank) ** 2 / len(lane) for lane, rank in zip(samples, ranks, strict=True))
    h = 12 * between / (sum(n) * (sum(n) + 1 - tie_share(both)))
    return Evidence(name=name, statistic=h, p=float(stats.chi2.sf(h, len(lanes) - 1)), df=(float(len(lanes) - 1),), n=n)


def paired_t(differences: Floats) -> Evidence:
    """Student's t (1908) of differences within subjects."""
    from scipy import stats

    n = len(differences)
    known = sums_of_differences(differences)
    if known is None:
        return Evidence(name="paired t", statistic=None, p=None, n=(n,), remark=remark("needs-two-differences"))
    t = known.mean / math.sqrt(known.sums.error)
    return Evidence(
        name="paired t", statistic=t, p=float(2 * stats.t.sf(abs(t), n - 1)), df=(float(n - 1),), exact=False, n=(n,)
    )


def wilcoxon(differences: Floats) -> Evidence:
    """Wilcoxon's signed ranks (1945): exact for small n without ties, zeros left out."""
    from scipy import stats

    moved = differences[differences != 0]
    n = len(moved)
    if n < 1:
        return Evidence(name="Wilcoxon signed rank", statistic=None, p=None, n=(n,), remark=remark("only-zero-differences"))
    exact = n <= _EXACT_BELOW and len(np.unique(np.abs(moved))) == n
    result = stats.wilcoxon(moved, method="exact" if exact else "asymptotic")
    gone = len(differences) - n
    note = remark("zeros-left-out", count=gone) if gone else None
    return Evidence(
        name="Wilcoxon signed rank",
        statistic=float(result.statistic),
        p=float(result.pvalue),
        df=(),
        exact=exact,
        n=(n,),
        remark=note,
    )


def equivalence(estimate: Estimate, margin: float) -> Evidence:
    """Two one-sided tests (Schuirmann 1987) that a difference with a t density lies within ± margin; p is the larger one."""
    from scipy import stats

    if estimate.value is None or not estimate.spread or estimate.df is None or margin <= 0:
        return Evidence(name="equivalence", statistic=None, p=None, n=estimate.n, remark=remark("needs-margin"))
    lower, upper = (estimate.value + margin) / estimate.spread, (estimate.value - margin) / estimate.spread
    p = max(float(stats.t.sf(lower, estimate.df)), float(stats.t.cdf(upper, estimate.df)))
    t = lower if abs(lower) < abs(upper) else upper
    return Evidence(
        name="equivalence",
        statistic=t,
        p=p,
        df=(estimate.df,),
        exact=False,
        n=estimate.n,
        remark=remark("margin", margin=f"{margin:g}"),
    )


def p_words(p: float) -> str:
    """A p-value to a journal's precision: two digits from 0.01 on, three below, never below "p < 0.001"."""
    if p < 0.001:
        return "p < 0.001"
    return "p > 0.99" if p >= 0.995 else f"p = {fixed_decimals(p, 3 if p < 0.01 else 2)}"
