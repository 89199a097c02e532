"""Tests as evidence beside estimates: statistic, degrees of freedom, p, exact or approximate, and the n used."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.differences.means import mean_difference
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import Floats
from echelle.numbers.remarks import Remark, remark
from echelle.numbers.rounding import fixed_decimals

_EXACT_BELOW = 50
MOST_DEALT = 20_000


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


def welch_t(reference: Floats, other: Floats) -> Evidence:
    """Welch's t test (1947): unequal variances."""
    from scipy import stats

    result, n = mean_difference(reference, other), (len(reference), len(other))
    if result.value is None or not result.spread or result.df is None:
        return Evidence(name="Welch t", statistic=None, p=None, n=n, remark=result.remark)
    t = result.value / result.spread
    return Evidence(name="Welch t", statistic=t, p=float(2 * stats.t.sf(abs(t), result.df)), df=(result.df,), exact=False, n=n)


def mann_whitney(reference: Floats, other: Floats) -> Evidence:
    """Mann and Whitney's U (1947) of ``other``: exact for small lanes without ties, else normal, corrected for ties."""
    from scipy import stats

    n = (len(reference), len(other))
    both = np.concatenate([reference, other])
    if min(n) < 1 or both.min() == both.max():
        return Evidence(name="Mann–Whitney", statistic=None, p=None, n=n, remark=remark("no-two-different"))
    exact = max(n) < _EXACT_BELOW and len(np.unique(both)) == len(both)
    test = stats.mannwhitneyu(other, reference, method="exact" if exact else "asymptotic")
    note = None if exact else remark("normal-approximation")
    return Evidence(
        name="Mann–Whitney", statistic=float(test.statistic), p=float(test.pvalue), df=(), exact=exact, n=n, remark=note
    )


def kolmogorov_smirnov(reference: Floats, other: Floats) -> Evidence:
    """The greatest distance of the cumulative shares (Smirnov 1939), sensitive to any difference of shape."""
    from scipy import stats

    n = (len(reference), len(other))
    if min(n) < 1:
        return Evidence(name="Kolmogorov–Smirnov", statistic=None, p=None, n=n, remark=remark("needs-value-in-each"))
    exact = max(n) < 1_000
    result = stats.ks_2samp(reference, other, method="asymp")
    if exact and result.statistic * max(n) <= 1 + 1e-9:
        # No two lanes lie closer: the exact count of paths would stumble over its own rounding here.
        return Evidence(name="Kolmogorov–Smirnov", statistic=float(result.statistic), p=1.0, df=(), exact=True, n=n)
    if exact:
        result = stats.ks_2samp(reference, other, method="exact")
    return Evidence(
        name="Kolmogorov–Smirnov", statistic=float(result.statistic), p=float(result.pvalue), df=(), exact=exact, n=n
    )


def brown_forsythe(lanes: Sequence[Floats]) -> Evidence:
    """Equal spread: analysis of variance of the distances from each lane's median (Brown & Forsythe 1974)."""
    from scipy import stats

    n = tuple(map(len, lanes))
    away = [np.abs(lane - np.median(lane)) for lane in lanes]
    if len(lanes) < 2 or min(n) < 2 or all(np.ptp(each) == 0 for each in away):
        return Evidence(name="Brown–Forsythe", statistic=None, p=None, n=n, remark=remark("needs-spread-and-two-in-each"))
    test = stats.levene(*lanes, center="median")
    df = (float(len(lanes) - 1), float(sum(n) - len(lanes)))
    return Evidence(name="Brown–Forsythe", statistic=float(test.statistic), p=float(test.pvalue), df=df, exact=False, n=n)


def welch_anova(lanes: Sequence[Floats]) -> Evidence:
    """Welch's analysis of variance (1951): equal means, whatever the spreads."""
    from scipy import stats

    n = tuple(map(len, lanes))
    shapes = [moments(lane) for lane in lanes]
    if len(lanes) < 2 or min(n) < 2 or any(not shape.variance for shape in shapes):
        return Evidence(
            name="Welch analysis of variance", statistic=None, p=None, n=n, remark=remark("needs-spread-everywhere")
        )
    k = len(lanes)
    weights = np.array([size / (shape.variance or 1.0) for size, shape in zip(n, shapes, strict=True)])
    means = np.array([shape.mean for shape in shapes], dtype=np.float64)
    total = float(weights.sum())
    centre = float((weights * means).sum()) / total
    between = float((weights * (means - centre) ** 2).sum()) / (k - 1)
    uneven = float(((1 - weights / total) ** 2 / (np.array(n) - 1)).sum())
    f = between / (1 + 2 * (k - 2) / (k * k - 1) * uneven)
    df = (float(k - 1), (k * k - 1) / (3 * uneven))
    return Evidence(name="Welch analysis of variance", statistic=f, p=float(stats.f.sf(f, *df)), df=df, exact=False, n=n)


def kruskal_wallis(lanes: Sequence[Floats]) -> Evidence:
    """Kruskal and Wallis' H (1952), corrected for ties."""
    from scipy import stats

    n = tuple(map(len, lanes))
    both = np.concatenate(list(lanes)) if lanes else np.empty(0)
    if len(lanes) < 2 or min(n) < 1 or both.min() == both.max():
        return Evidence(name="Kruskal–Wallis", statistic=None, p=None, n=n, remark=remark("no-two-different"))
    test = stats.kruskal(*lanes)
    return Evidence(
        name="Kruskal–Wallis",
        statistic=float(test.statistic),
        p=float(test.pvalue),
        df=(float(len(lanes) - 1),),
        exact=False,
        n=n,
    )


def paired_t(differences: Floats) -> Evidence:
    """Student's t (1908) of differences within subjects."""
    from scipy import stats

    n, shape = len(differences), moments(differences)
    if n < 2 or not shape.se or shape.mean is None:
        return Evidence(name="paired t", statistic=None, p=None, n=(n,), remark=remark("needs-two-differences"))
    t = shape.mean / shape.se
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


def permutation(
    reference: Floats, other: Floats, statistic: str = "difference of means", resamples: int = 9_999, seed: int = 41
) -> Evidence:
    """How often lanes dealt anew differ as much: of means, or of medians; (1 + how many)/(resamples + 1), seeded."""
    n = (len(reference), len(other))
    both = np.concatenate([reference, other])
    if min(n) < 1 or both.min() == both.max():
        return Evidence(name="permutation", statistic=None, p=None, n=n, remark=remark("no-two-different"))
    if len(both) > MOST_DEALT:
        note = remark("not-dealt", most=MOST_DEALT)
        return Evidence(name="permutation", statistic=None, p=None, n=n, remark=note)
    middle = np.median if statistic == "difference of medians" else np.mean
    observed = float(middle(other) - middle(reference))
    rng, reached = np.random.default_rng(seed), 0
    block = max(1, 2_000_000 // len(both))
    # Sums in another order differ in the last digits: what is as large counts as reached.
    bound = abs(observed) * (1 - 1e-12)
    for start in range(0, resamples, block):
        dealt = rng.permuted(np.broadcast_to(both, (min(block, resamples - start), len(both))), axis=1)
        apart = middle(dealt[:, n[0] :], axis=1) - middle(dealt[:, : n[0]], axis=1)
        reached += int(np.count_nonzero(np.abs(apart) >= bound))
    note = remark("permutations", statistic=statistic, resamples=resamples, seed=seed)
    return Evidence(
        name="permutation", statistic=observed, p=(1 + reached) / (resamples + 1), df=(), exact=False, n=n, remark=note
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
