"""Many comparisons at once: adjusted p-values, and pairwise tests that know of one another."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from typing import Literal

import numpy as np

from echelle.numbers.decimals import decimals_of, root, rounded
from echelle.numbers.differences.hypothesis_tests import Evidence
from echelle.numbers.differences.lane_sums import LaneSums, lane_sums
from echelle.numbers.differences.means import welch_df
from echelle.numbers.differences.studentised_range import range_sf
from echelle.numbers.remarks import remark
from echelle.numbers.sample import Values, sample_of_unordered

Adjustment = Literal["none", "Holm", "Benjamini–Hochberg", "Bonferroni"]
Pair = tuple[int, int]


def adjust_p_values(ps: Sequence[float | None], by: Adjustment) -> list[float | None]:
    """p-values adjusted for how many there are: family-wise (Holm 1979, Bonferroni) or the share of false findings
    (Benjamini & Hochberg 1995). What has no p keeps none and does not count.
    """
    out: list[float | None] = list(ps)
    rising = sorted((p, place) for place, p in enumerate(ps) if p is not None)
    if not rising or by == "none":
        return out
    m, sorted_ps = len(rising), np.array([p for p, _ in rising])
    rank = np.arange(1, m + 1)
    if by == "Bonferroni":
        adjusted = m * sorted_ps
    elif by == "Holm":
        adjusted = np.maximum.accumulate((m + 1 - rank) * sorted_ps)
    else:
        adjusted = np.minimum.accumulate((m / rank * sorted_ps)[::-1])[::-1]
    for (_, place), p in zip(rising, np.minimum(adjusted, 1.0).tolist(), strict=True):
        out[place] = p
    return out


def level_of_each(level: float, count: int, together: bool) -> float:
    """The level of each of ``count`` intervals so that all hold together with ``level`` at least (Bonferroni)."""
    return 1 - (1 - level) / count if together and count > 1 else level


# SciPy's integral wants the values themselves.
_MOST_WRITTEN = 1_000_000


def tukey_kramer(lanes: Sequence[Values], pairs: Sequence[Pair]) -> list[Evidence]:
    """All pairs by the studentised range, one variance for all lanes (Tukey 1953, Kramer 1956)."""
    k, n = len(lanes), sum(map(len, lanes))
    df = n - k
    if k < 2 or df < 1 or min(map(len, lanes)) < 2:
        return [_no("Tukey–Kramer", lanes, pair) for pair in pairs]
    _, sums = lane_sums(*lanes)
    pooled = sum((lane.squares for lane in sums), Fraction(0)) / df
    errors = [root(pooled / 2 * (Fraction(1, len(lanes[a])) + Fraction(1, len(lanes[b])))) for a, b in pairs]
    return _by_range("Tukey–Kramer", lanes, sums, pairs, errors, [float(df)] * len(pairs))


def games_howell(lanes: Sequence[Values], pairs: Sequence[Pair]) -> list[Evidence]:
    """All pairs by the studentised range, each pair with its own variances (Games & Howell 1976)."""
    if len(lanes) < 2 or min(map(len, lanes)) < 2:
        return [_no("Games–Howell", lanes, pair) for pair in pairs]
    _, sums = lane_sums(*lanes)
    errors, dfs = [], []
    for a, b in pairs:
        parts = (sums[a].error, sums[b].error)
        dfs.append(welch_df(parts, (sums[a].n, sums[b].n)) if any(parts) else 1.0)
        errors.append(math.sqrt(sum(parts) / 2))
    return _by_range("Games–Howell", lanes, sums, pairs, errors, dfs)


def dunnett(lanes: Sequence[Values], reference: int, seed: int = 41) -> list[Evidence]:
    """Each other lane against the reference, one variance for all lanes (Dunnett 1955); in the order of the lanes.

    p by SciPy's multivariate t integral, which draws random numbers: the seed fixes them.
    """
    from scipy import stats

    others = [i for i in range(len(lanes)) if i != reference]
    samples = [sample_of_unordered(lane) for lane in lanes]
    if not others or min(map(len, lanes)) < 2 or all(len(lane.values) == 1 for lane in samples):
        return [_no("Dunnett", lanes, (reference, i)) for i in others]
    if sum(map(len, lanes)) > _MOST_WRITTEN:
        note = remark("test-not-computed", most=f"{_MOST_WRITTEN:,}")
        return [replace(_no("Dunnett", lanes, (reference, i)), remark=note) for i in others]
    offsets = [lane.repeats for lane in decimals_of(*samples).samples]
    result = stats.dunnett(*(offsets[i] for i in others), control=offsets[reference], random_state=np.random.default_rng(seed))
    df = float(sum(map(len, lanes)) - len(lanes))
    return [
        Evidence(
            name="Dunnett",
            statistic=float(t),
            p=float(min(p, 1.0)),
            df=(df,),
            exact=False,
            n=(len(lanes[reference]), len(lanes[i])),
        )
        for i, t, p in zip(others, result.statistic, result.pvalue, strict=True)
    ]


def _by_range(
    name: str, lanes: Sequence[Values], sums: Sequence[LaneSums], pairs: Sequence[Pair], errors: Sequence[float],
    dfs: Sequence[float],
) -> list[Evidence]:  # fmt: skip
    result = [_no(name, lanes, pair) for pair in pairs]
    # Pairs with the same degrees of freedom are integrated together.
    for df in dict.fromkeys(dfs):
        known = [place for place, own in enumerate(dfs) if own == df and errors[place] > 0]
        qs = [rounded(sums[pairs[place][1]].mean - sums[pairs[place][0]].mean) / errors[place] for place in known]
        ps = range_sf(np.abs(np.array(qs)), len(lanes), df).tolist() if known else []
        for place, q, p in zip(known, qs, ps, strict=True):
            n = (sums[pairs[place][0]].n, sums[pairs[place][1]].n)
            result[place] = Evidence(name=name, statistic=q, p=p, df=(df,), exact=False, n=n)
    return result


def _no(name: str, lanes: Sequence[Values], pair: Pair) -> Evidence:
    n = (len(lanes[pair[0]]), len(lanes[pair[1]]))
    return Evidence(name=name, statistic=None, p=None, n=n, remark=remark("needs-two-and-spread-everywhere"))
