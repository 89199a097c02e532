"""Tests, adjustments, factors, components, limits and control rules: against published examples, SciPy and sums of squares."""

from __future__ import annotations

import itertools
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from echelle.numbers.differences import hypothesis_tests as evidence
from echelle.numbers.differences.anova import anova_of_ranks, anova_two, difference_of_differences
from echelle.numbers.differences.control_rules import control_hits
from echelle.numbers.differences.means import mean_difference
from echelle.numbers.differences.multiple_comparisons import adjust_p_values, dunnett, games_howell, level_of_each, tukey_kramer
from echelle.numbers.differences.permutation import permutation
from echelle.numbers.differences.reference_limits import ReferenceLimits, partition, reference_limits
from echelle.numbers.differences.variance_components import components
from echelle.numbers.remarks import Remark, remark
from tests.numbers.test_differences import EARLY, FIRST, SECOND, TERM

# Snedecor 1937, as in Box, Hunter & Hunter 1978, table 6.1: coagulation times of 24 animals on four diets.
_TIMES = (
    (62, 60, 63, 59), (63, 67, 71, 64, 65, 66), (68, 66, 71, 67, 68, 68), (56, 62, 60, 61, 63, 64, 63, 59),
)  # fmt: skip
DIETS = [np.array(times, dtype=float) for times in _TIMES]


def test_students_sleep() -> None:
    paired = evidence.paired_t(SECOND - FIRST)
    assert (paired.statistic, paired.p) == pytest.approx((4.0621, 0.002833), abs=1e-4) and paired.df == (9.0,)
    apart = evidence.welch_t(FIRST, SECOND)
    assert (apart.statistic, apart.p) == pytest.approx((1.8608, 0.07939), abs=1e-4)
    signed = evidence.wilcoxon(SECOND - FIRST)
    assert signed.n == (9,) and not signed.exact and signed.remark == remark("zeros-left-out", count=1)


def test_hollander_and_wolfes_permeability() -> None:
    result = evidence.mann_whitney(EARLY, TERM)
    assert result.statistic == 35 and result.exact and result.p == pytest.approx(0.2544, abs=1e-4)


def test_several_lanes_against_scipy() -> None:
    result = evidence.kruskal_wallis(DIETS)
    assert (result.statistic, result.p) == pytest.approx(tuple(stats.kruskal(*DIETS)))
    spread = evidence.brown_forsythe(DIETS)
    assert (spread.statistic, spread.p) == pytest.approx(tuple(stats.levene(*DIETS, center="median")))
    assert spread.df == (3.0, 20.0)
    welch = evidence.welch_anova(DIETS)
    expected = stats.f_oneway(*DIETS, equal_var=False)
    assert (welch.statistic, welch.p) == pytest.approx((expected.statistic, expected.pvalue))
    two = evidence.welch_anova(DIETS[:2])
    t = evidence.welch_t(*DIETS[:2])
    assert two.statistic == pytest.approx((t.statistic or 0.0) ** 2) and two.p == pytest.approx(t.p)
    apart = evidence.kolmogorov_smirnov(DIETS[0], DIETS[2])
    assert apart.statistic == 1.0 and apart.exact and apart.p == pytest.approx(2 / 210)


@pytest.mark.parametrize("n", [5, 7, 13, 40])
def test_lanes_as_close_as_can_be_have_an_exact_p_of_one(n: int) -> None:
    a = np.arange(n) * 2.0
    result = evidence.kolmogorov_smirnov(a, a + 1)
    assert result.statistic == pytest.approx(1 / n) and result.p == 1.0 and result.exact
    assert evidence.kolmogorov_smirnov(a, a).p == 1.0


def test_dealing_anew_counts_what_reaches_as_far() -> None:
    a, b = np.array([1.0, 2.0, 3.0, 4.0]), np.array([5.0, 6.0, 7.0, 9.0])
    every = [
        abs(np.mean(np.delete(np.concatenate([a, b]), chosen)) - np.mean(np.concatenate([a, b])[list(chosen)]))
        for chosen in itertools.combinations(range(8), 4)
    ]
    exact = np.mean(np.array(every) >= abs(b.mean() - a.mean()) - 1e-9)
    assert permutation(a, b).p == exact and permutation(a, b).exact
    many = np.arange(40.0) ** 1.5
    first, second = many[::2], many[1::2] + 20
    drawn, again = permutation(first, second), permutation(second[::-1], first[::-1])
    assert drawn.p == again.p and drawn.p == pytest.approx(stats.ttest_ind(first, second).pvalue, abs=0.02)
    # From 200 values on a normal distribution stands for all deals; twice as many that are drawn agree with it.
    rng = np.random.default_rng(5)
    first, second = np.round(rng.gamma(2, 1, 200), 1), np.round(rng.gamma(2, 1.15, 210), 1)
    normal, dealt = permutation(first, second), permutation(first[:199], second, 40_000)
    assert normal.remark.code == "permutations-normal" and dealt.remark.code == "permutations"
    few = stats.permutation_test(
        (first[:199], second[:3]), lambda x, y: abs(y.mean() - x.mean()), n_resamples=20_000, alternative="greater"
    )
    assert permutation(first[:199], second[:3], 20_000).p == pytest.approx(few.pvalue, abs=0.02)
    assert normal.p == pytest.approx(dealt.p, abs=0.02)


def test_equivalence_is_both_one_sided_tests() -> None:
    estimate = mean_difference(FIRST, SECOND + 0.0)
    for margin in (0.5, 2.0, 4.0):
        sides = [
            stats.ttest_ind(SECOND + margin, FIRST, equal_var=False, alternative="greater").pvalue,
            stats.ttest_ind(SECOND - margin, FIRST, equal_var=False, alternative="less").pvalue,
        ]
        assert evidence.equivalence(estimate, margin).p == pytest.approx(max(sides))
    assert evidence.equivalence(estimate, 0.0).p is None


def test_what_cannot_be_tested_is_said() -> None:
    same = np.full(5, 2.0)
    for result in (
        evidence.welch_t(same, same), evidence.mann_whitney(same, same), evidence.kruskal_wallis([same, same]),
        evidence.brown_forsythe([same, same]), evidence.welch_anova([same, FIRST]), evidence.paired_t(same),
        evidence.wilcoxon(np.zeros(4)), permutation(same, same),
    ):  # fmt: skip
        assert result.p is None and result.remark


@pytest.mark.parametrize(
    ("p", "words"),
    [(0.2344, "p = 0.23"), (0.0431, "p = 0.04"), (0.00432, "p = 0.004"), (1e-7, "p < 0.001"), (0.999, "p > 0.99")],
)
def test_p_to_a_journals_precision(p: float, words: str) -> None:
    assert evidence.p_words(p) == words


def test_adjusting_by_hand() -> None:
    ps = [0.01, None, 0.04, 0.03, 0.005]
    assert adjust_p_values(ps, "Holm") == pytest.approx([0.03, None, 0.06, 0.06, 0.02])
    assert adjust_p_values(ps, "Bonferroni") == pytest.approx([0.04, None, 0.16, 0.12, 0.02])
    assert adjust_p_values(ps, "Benjamini–Hochberg") == pytest.approx([0.02, None, 0.04, 0.04, 0.02])
    assert adjust_p_values(ps, "none") == ps and adjust_p_values([], "Holm") == []
    assert level_of_each(0.95, 5, True) == pytest.approx(0.99) and level_of_each(0.95, 5, False) == 0.95


@settings(max_examples=20)
@given(st.lists(st.floats(0, 1), min_size=1, max_size=12))
def test_adjusting_is_scipys_and_keeps_the_order(ps: list[float]) -> None:
    result = adjust_p_values(ps, "Benjamini–Hochberg")
    assert result == pytest.approx(stats.false_discovery_control(ps).tolist())
    # Each p times how many there are; times how many are not smaller, and no smaller than that of a smaller p.
    exact, m = [Fraction(p) for p in ps], len(ps)
    assert adjust_p_values(ps, "Bonferroni") == pytest.approx([float(min(1, m * p)) for p in exact])
    stepped = [min(1, max((m - sum(r < q for r in exact)) * q for q in exact if q <= p)) for p in exact]
    assert adjust_p_values(ps, "Holm") == pytest.approx([float(p) for p in stepped])
    holm = adjust_p_values(ps, "Holm")
    assert all(a is not None and b is not None and a >= b - 1e-12 for a, b in zip(holm, result, strict=True))
    order = np.argsort(ps)
    assert np.all(np.diff(np.array(holm, dtype=float)[order]) >= -1e-12)


def test_pairwise_tests_against_scipy() -> None:
    pairs = list(itertools.combinations(range(4), 2))
    equal, unequal = stats.tukey_hsd(*DIETS), stats.tukey_hsd(*DIETS, equal_var=False)
    for result, expected in ((tukey_kramer(DIETS, pairs), equal), (games_howell(DIETS, pairs), unequal)):
        assert [entry.p for entry in result] == pytest.approx([expected.pvalue[a, b] for a, b in pairs], abs=1e-8)
    against = dunnett(DIETS, 0)
    expected = stats.dunnett(*DIETS[1:], control=DIETS[0], random_state=np.random.default_rng(9))
    assert [entry.p for entry in against] == pytest.approx(expected.pvalue.tolist(), abs=2e-3)
    assert [entry.p for entry in against] == [entry.p for entry in dunnett(DIETS, 0)]
    assert tukey_kramer([DIETS[0], DIETS[1][:1]], [(0, 1)])[0].p is None


def two_factors(seed: int = 4) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    rng = np.random.default_rng(seed)
    a, b = rng.integers(0, 3, 60), rng.integers(0, 2, 60)
    return 5 + a + 2.0 * b * (a == 2) + rng.normal(0, 1, 60), a.astype(np.int32), b.astype(np.int32)


def test_balanced_factors_split_the_whole_sum_of_squares() -> None:
    rng = np.random.default_rng(2)
    a, b = np.repeat(np.arange(3), 8).astype(np.int32), np.tile(np.repeat([0, 1], 4), 3).astype(np.int32)
    values = rng.normal(a * 1.0 + b, 1.0)
    lines = anova_two(values, a, b, ("shift", "sample"))
    assert [line.source for line in lines] == ["shift", "sample", "shift × sample", "residual"]
    assert sum(line.squares for line in lines) == pytest.approx(((values - values.mean()) ** 2).sum())
    means = np.array([values[a == i].mean() for i in range(3)])
    assert lines[0].squares == pytest.approx(8 * ((means - values.mean()) ** 2).sum())
    assert lines[0].p == pytest.approx(float(stats.f.sf(lines[0].f, 2, 18)))


def test_unbalanced_factors_are_each_tested_after_the_other() -> None:
    values, a, b = two_factors()
    lines = anova_two(values, a, b, ("a", "b"))
    swapped = anova_two(values, b, a, ("b", "a"))
    assert [line.squares for line in lines[:2]] == pytest.approx([line.squares for line in swapped[1::-1]])
    ranks = anova_of_ranks(values, a, b, ("a", "b"))
    assert [line.df for line in ranks] == [2, 1, 2] and all(line.p is not None and 0 <= line.p <= 1 for line in ranks)
    assert (ranks[2].p or 1) < 0.05 and (lines[2].p or 1) < 0.05
    assert anova_two(values[:3], a[:3], b[:3], ("a", "b")) == []


def test_the_difference_of_differences() -> None:
    cells = (np.array([1.0, 2.0, 3.0]), np.array([2.0, 3.0, 5.0]), np.array([1.0, 1.5, 2.0]), np.array([6.0, 8.0, 7.0, 7.0]))
    result = difference_of_differences(cells)
    assert result.value == pytest.approx((7.0 - 1.5) - (10 / 3 - 2.0))
    spread = sum(cell.var(ddof=1) / len(cell) for cell in cells) ** 0.5
    assert result.spread == pytest.approx(spread) and (result.high or 0) - (result.low or 0) == pytest.approx(
        2 * spread * stats.t.ppf(0.975, result.df)
    )
    assert difference_of_differences((cells[0][:1], *cells[1:])).value is None


def test_components_of_equal_runs_by_mean_squares() -> None:
    values = np.array([10.1, 10.3, 9.9, 10.9, 11.2, 11.0, 9.2, 9.5, 9.1, 10.4, 10.6, 10.2])
    runs = np.repeat(np.arange(4), 3).astype(np.int32)
    result = components(values, runs)
    assert result is not None
    table = values.reshape(4, 3)
    inside = table.var(axis=1, ddof=1).mean()
    between = 3 * table.mean(axis=1).var(ddof=1)
    within, run, total = result.parts
    assert within.sd**2 == pytest.approx(inside) and run.sd**2 == pytest.approx((between - inside) / 3)
    assert total.sd**2 == pytest.approx(inside + (between - inside) / 3)
    assert total.cv == pytest.approx(100 * total.sd / values.mean())
    assert within.low == pytest.approx((8 * inside / stats.chi2.ppf(0.975, 8)) ** 0.5) and within.df == 8
    assert run.low is not None and run.high is not None and run.low < run.sd < run.high
    alike = components(np.array([1.0, 3.0, 1.1, 2.9, 0.9, 3.1]), np.repeat(np.arange(3), 2).astype(np.int32))
    assert alike is not None and alike.parts[1].sd == 0 and alike.remark.code == "between-runs-none"
    assert components(values, np.zeros(12, dtype=np.int32)) is None


def test_reference_limits_by_order_statistics() -> None:
    values = np.arange(1.0, 241.0)
    result = reference_limits(values)
    assert isinstance(result, ReferenceLimits)
    assert (result.lower.value, result.upper.value) == pytest.approx((6.025, 234.975))
    # CLSI C28-A2 (2000), table 8: of 240 values the 90 % interval of the lower limit runs from rank 2 to rank 11 (outer ranks).
    assert (result.lower.low, result.lower.high) in {(2.0, 10.0), (2.0, 11.0), (2.0, 12.0)}
    assert result.upper.low == 241 - (result.lower.high or 0) and result.upper.high == 241 - (result.lower.low or 0)
    few, too_few = reference_limits(values[:39]), reference_limits(values[:38])
    assert isinstance(few, ReferenceLimits) and few.remark.code == "limits-uncertain"
    assert isinstance(too_few, Remark) and too_few.code == "limits-too-few"
    assert isinstance(reference_limits(values[:38], share=0.9), ReferenceLimits)


@pytest.mark.parametrize("method", ["robust", "log-normal", "Box–Cox", "non-parametric"])
def test_limits_of_a_known_population(method) -> None:  # type: ignore[no-untyped-def]
    rng = np.random.default_rng(12)
    values = rng.normal(100, 10, 400) if method == "robust" else np.exp(rng.normal(2, 0.25, 400))
    result = reference_limits(values, method)
    assert isinstance(result, ReferenceLimits)
    expected = (80.4, 119.6) if method == "robust" else tuple(np.exp(2 + np.array([-1.96, 1.96]) * 0.25))
    assert (result.lower.value, result.upper.value) == pytest.approx(expected, rel=0.06)
    for end in (result.lower, result.upper):
        assert end.low is not None and end.high is not None and end.low < end.value < end.high
    nothing = reference_limits(np.ones(40), method)
    assert isinstance(nothing, Remark) and nothing.code == "limits-no-spread"


@pytest.mark.parametrize("method", ["robust", "log-normal", "Box–Cox", "non-parametric"])
def test_limits_know_no_unit(method) -> None:  # type: ignore[no-untyped-def]
    values = np.round(np.random.default_rng(5).gamma(9, 8, 90), 3)
    plain = reference_limits(values, method)
    assert isinstance(plain, ReferenceLimits)
    for unit in (1e-9, 1e-3, 1e6):
        other = reference_limits(np.array([float(f"{v * unit:.12g}") for v in values]), method)
        assert isinstance(other, ReferenceLimits)
        for end, same in ((plain.lower, other.lower), (plain.upper, other.upper)):
            for a, b in ((end.value, same.value), (end.low, same.low), (end.high, same.high)):
                # 90 values are too few for the 90 % interval of a limit without a distribution.
                assert (a is None) == (b is None) and (a is None or b == pytest.approx(a * unit, rel=1e-9))
    moved = reference_limits(values + 1e6, "robust")
    assert (isinstance(moved, ReferenceLimits) and method == "robust") or moved.method == "robust"


def test_limits_where_none_stands() -> None:
    far = np.concatenate([np.linspace(1, 1.001, 25), np.linspace(2, 90, 20)])
    usual, wide = reference_limits(far, "Box–Cox"), reference_limits(far, "Box–Cox", share=0.999)
    assert isinstance(usual, ReferenceLimits) and usual.upper.value is not None and usual.upper.high is None
    assert isinstance(wide, ReferenceLimits) and wide.upper.value is None and wide.remark.code == "limits-open"


def test_partition_by_means_and_by_spread() -> None:
    rng = np.random.default_rng(3)
    a = rng.normal(10, 1, 200)
    apart = partition(a, rng.normal(12, 1, 200))
    assert apart is not None and apart.apart and apart.critical == pytest.approx(3 * (200 / 120) ** 0.5)
    wide = partition(a, rng.normal(10, 2, 200))
    assert wide is not None and wide.apart and wide.sd_ratio > 1.5
    same = partition(a, rng.normal(10, 1, 200))
    assert same is not None and not same.apart


def test_each_control_rule() -> None:
    def rules(*z: float) -> dict[str, tuple[int, ...]]:
        return {hit.rule: hit.places for hit in control_hits(np.array(z) * 2 + 50, 50.0, 2.0)}

    assert rules(0, 2.5, 0) == {"1-2s": (1,)}
    assert rules(0, -3.5) == {"1-3s": (1,)}
    assert rules(0.1, 2.1, 2.2)["2-2s"] == (1, 2) and "R-4s" not in rules(0.1, 2.1, 2.2)
    assert rules(2.1, -2.2)["R-4s"] == (0, 1) and "2-2s" not in rules(2.1, -2.2)
    assert rules(-0.5, 1.1, 1.2, 1.3, 1.4) == {"4-1s": (1, 2, 3, 4)}
    assert rules(*[0.2] * 12, -0.1) == {"10-x": tuple(range(12))}
    assert rules(*[0.2] * 9, -0.1) == {}
    with pytest.raises(ValueError, match="above 0"):
        control_hits(np.ones(3), 1.0, 0.0)
