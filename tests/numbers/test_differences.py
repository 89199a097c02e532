"""Estimates of a difference: against published examples, SciPy, direct computation and one another."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from echelle.numbers.differences.bootstrap import (
    iqr_ratio,
    percentile_difference,
    resampled_quantiles,
    sd_ratio,
)
from echelle.numbers.differences.means import geometric_ratio, hedges_g, mean_difference, mean_ratio
from echelle.numbers.differences.paired import paired_g, paired_mean, paired_median, within_subjects
from echelle.numbers.differences.ranks import cliffs_delta, hodges_lehmann, superiority
from echelle.numbers.quantiles import quantiles_without_each
from echelle.numbers.sample import sample_of

# Student 1908, table of "The probable error of a mean": additional hours of sleep with two drugs, ten patients.
FIRST = np.array([0.7, -1.6, -0.2, -1.2, -0.1, 3.4, 3.7, 0.8, 0.0, 2.0])
SECOND = np.array([1.9, 0.8, 1.1, 0.1, -0.1, 4.4, 5.5, 1.6, 4.6, 3.4])
# Hollander & Wolfe 1973, table 4.1: permeability constants of chorioamnion, at term and at 12 to 26 weeks.
TERM = np.array([0.80, 0.83, 1.89, 1.04, 1.45, 1.38, 1.91, 1.64, 0.73, 1.46])
EARLY = np.array([1.15, 0.88, 0.90, 0.74, 1.21])

lanes = st.lists(st.integers(-40, 40).map(lambda v: v / 4), min_size=2, max_size=12).map(np.array)


def test_students_sleep_as_two_lanes_and_as_pairs() -> None:
    apart = mean_difference(FIRST, SECOND)
    assert apart.value == pytest.approx(1.58) and apart.df == pytest.approx(17.7765, abs=1e-4)
    assert (apart.low, apart.high) == pytest.approx((-0.2054832, 3.3654832), abs=1e-6)
    codes = np.arange(10, dtype=np.int32)
    pairs = within_subjects(FIRST, codes, SECOND, codes[::-1][::-1])
    within = paired_mean(pairs.differences)
    assert within.value == pytest.approx(1.58) and within.df == 9
    assert (within.low, within.high) == pytest.approx((0.7001142, 2.4598858), abs=1e-6)


def test_the_shift_of_hollander_and_wolfe() -> None:
    result = hodges_lehmann(EARLY, TERM)
    assert result.value == pytest.approx(0.305) and "exact" in result.method
    assert (result.low, result.high) == pytest.approx((-0.15, 0.76))


@given(lanes, lanes)
def test_the_mean_difference_is_scipys(a: np.ndarray, b: np.ndarray) -> None:
    result = mean_difference(a, b)
    if np.ptp(a) == 0 and np.ptp(b) == 0:
        assert result.low == result.high == result.value
        return
    expected = stats.ttest_ind(b, a, equal_var=False)
    interval = expected.confidence_interval(0.95)
    assert (result.low, result.high) == pytest.approx((interval.low, interval.high), rel=1e-9, abs=1e-9)
    assert result.df == pytest.approx(expected.df)


@given(lanes, lanes)
def test_the_shift_and_its_ends_are_among_all_differences(a: np.ndarray, b: np.ndarray) -> None:
    every = np.sort((b[:, None] - a[None, :]).ravel())
    result = hodges_lehmann(a, b)
    assert result.value == pytest.approx(float(np.median(every)), abs=1e-12)
    if result.low is not None and result.high is not None:
        assert np.abs(every - result.low).min() < 1e-12 and np.abs(every - result.high).min() < 1e-12
        below, above = (every < result.low - 1e-12).sum(), (every > result.high + 1e-12).sum()
        assert abs(int(below) - int(above)) <= max(
            np.sum(np.isclose(every, result.low)), np.sum(np.isclose(every, result.high))
        )


@settings(max_examples=30)
@given(st.integers(3, 7), st.integers(3, 7), st.integers(0, 1000))
def test_the_exact_interval_of_the_shift_inverts_the_exact_test(n: int, m: int, seed: int) -> None:
    rng = np.random.default_rng(seed)
    a, b = rng.permutation(1000)[:n].astype(float), rng.permutation(1000)[:m] + 0.5
    result = hodges_lehmann(a, b)
    if result.low is None or result.high is None:
        least = 2 / math.comb(n + m, n)
        assert least > 0.05
        return
    for inside, shift in (
        (True, result.low + 1e-6),
        (True, result.high - 1e-6),
        (False, result.low - 1e-6),
        (False, result.high + 1e-6),
    ):
        p = stats.mannwhitneyu(b - shift, a, method="exact").pvalue
        assert (p > 0.05) == inside


@given(lanes, lanes)
def test_superiority_counts_pairs(a: np.ndarray, b: np.ndarray) -> None:
    wins = sum((y > x) + (y == x) / 2 for x, y in itertools.product(a, b)) / (len(a) * len(b))
    result, delta = superiority(a, b), cliffs_delta(a, b)
    assert result.value == pytest.approx(wins) and delta.value == pytest.approx(2 * wins - 1)
    if result.low is not None and result.high is not None:
        assert 0 <= result.low <= wins + 1e-9 and wins - 1e-9 <= result.high <= 1
    other_way = superiority(b, a)
    assert other_way.value == pytest.approx(1 - wins)
    if result.low is not None and other_way.high is not None:
        assert other_way.high == pytest.approx(1 - result.low, abs=1e-9)


@given(st.lists(st.integers(1, 400).map(lambda v: v / 8), min_size=3, max_size=10).map(np.array),
       st.lists(st.integers(1, 400).map(lambda v: v / 8), min_size=3, max_size=10).map(np.array))  # fmt: skip
def test_fiellers_ends_are_ratios_that_welch_just_allows(a: np.ndarray, b: np.ndarray) -> None:
    result = mean_ratio(a, b)
    if result.low is None or result.high is None or result.low == result.high:
        return
    va, vb = a.var(ddof=1) / len(a), b.var(ddof=1) / len(b)
    parts = ((b.mean() / a.mean()) ** 2 * va, vb)
    df = sum(parts) ** 2 / (parts[0] ** 2 / (len(a) - 1) + parts[1] ** 2 / (len(b) - 1))
    reach = stats.t.ppf(0.975, df)
    for end in (result.low, result.high):
        assert abs(b.mean() - end * a.mean()) == pytest.approx(reach * math.sqrt(vb + end**2 * va), rel=1e-6, abs=1e-9)
    assert result.low <= b.mean() / a.mean() <= result.high


def test_a_reference_about_zero_has_no_ratio() -> None:
    assert mean_ratio(np.array([-1.0, 0.1, 1.0]), np.array([5.0, 6.0])).low is None
    assert mean_ratio(np.array([-1.0, 1.0]), np.array([5.0, 6.0])).remark.code == "reference-mean-zero"
    assert geometric_ratio(np.array([0.0, 1.0]), np.array([5.0, 6.0])).remark.code == "needs-values-above-zero"


def test_the_geometric_ratio_is_a_difference_of_logarithms() -> None:
    a, b = np.array([1.0, 2.0, 4.0]), np.array([3.0, 6.0, 12.0])
    assert geometric_ratio(a, b).value == pytest.approx(3.0)
    logs = mean_difference(np.log(a), np.log(b))
    assert geometric_ratio(a, b).low == pytest.approx(math.exp(logs.low or 0.0))


@pytest.mark.parametrize("far", [10.0, 1e4, 1e9, -1e9])
@pytest.mark.parametrize("level", [0.5, 0.95, 0.999])
def test_hedges_g_has_an_interval_however_far_lanes_lie_apart(far: float, level: float) -> None:
    g = hedges_g(np.array([2.0, 3.5]), np.array([far, far]), level)
    assert g.value is not None and g.low is not None and g.high is not None and g.low <= g.value <= g.high


def test_hedges_g_and_its_noncentral_interval() -> None:
    result = hedges_g(FIRST, SECOND)
    pooled = math.sqrt((FIRST.var(ddof=1) + SECOND.var(ddof=1)) / 2)
    assert result.value == pytest.approx(1.58 / pooled * 0.9576, abs=1e-3)
    j = result.value / (1.58 / pooled)
    for end, share in ((result.low, 0.975), (result.high, 0.025)):
        shift = (end or 0.0) / j * math.sqrt(5)
        assert stats.nct.cdf(1.58 / pooled * math.sqrt(5), 18, shift) == pytest.approx(share, abs=1e-6)
    assert hedges_g(np.ones(3), np.ones(4)).value is None


@pytest.mark.parametrize("p", [0.1, 0.25, 0.5, 0.9])
def test_resampled_quantiles_have_the_bootstraps_distribution(p: float) -> None:
    ordered = np.sort(np.random.default_rng(3).lognormal(1, 0.6, 21))
    drawn = resampled_quantiles(sample_of(ordered), (p,), 40_000, np.random.default_rng(1))[0]
    rng = np.random.default_rng(2)
    plain = np.quantile(ordered[rng.integers(0, 21, (40_000, 21))], p, axis=1)
    assert stats.ks_2samp(drawn, plain).statistic < 0.015
    assert drawn.mean() == pytest.approx(plain.mean(), rel=0.01) and drawn.std() == pytest.approx(plain.std(), rel=0.03)


@given(st.lists(st.integers(-20, 20).map(float), min_size=3, max_size=15).map(np.sort), st.sampled_from([0.1, 0.25, 0.5, 0.75]))
def test_each_value_left_out_in_turn(ordered: np.ndarray, p: float) -> None:
    expected = [float(np.quantile(np.delete(ordered, i), p)) for i in range(len(ordered))]
    assert quantiles_without_each(ordered, p) == pytest.approx(expected)


def resampled_by_scipy(a: np.ndarray, b: np.ndarray, statistic):  # type: ignore[no-untyped-def]
    """Both ends by SciPy's own bootstrap."""
    rng = np.random.default_rng(1)
    result = stats.bootstrap((b, a), statistic, vectorized=True, n_resamples=9_999, method="BCa", rng=rng)
    return result.confidence_interval


def test_medians_and_spreads_are_seeded_and_reach_where_they_should() -> None:
    rng = np.random.default_rng(8)
    a, b = rng.normal(10, 2, 80), rng.normal(12, 4, 60)
    first, second = percentile_difference(a, b, 0.5), percentile_difference(a, b, 0.5)
    assert first.estimate == second.estimate and first.estimate.value == pytest.approx(np.median(b) - np.median(a))
    assert percentile_difference(a, b, 0.5, seed=5).estimate.low != first.estimate.low
    assert (first.estimate.low or 9) < (first.estimate.value or 0) < (first.estimate.high or -9)
    expected = resampled_by_scipy(a, b, lambda y, x, axis: np.median(y, axis=axis) - np.median(x, axis=axis))
    assert (first.estimate.low, first.estimate.high) == pytest.approx((expected.low, expected.high), abs=0.12)
    ratio = sd_ratio(a, b).estimate
    expected = resampled_by_scipy(a, b, lambda y, x, axis: np.std(y, axis=axis, ddof=1) / np.std(x, axis=axis, ddof=1))
    assert ratio.value == pytest.approx(b.std(ddof=1) / a.std(ddof=1))
    assert (ratio.low, ratio.high) == pytest.approx((expected.low, expected.high), abs=0.06)
    spread = iqr_ratio(a, b).estimate
    assert spread.value == pytest.approx(stats.iqr(b) / stats.iqr(a)) and (spread.low or 9) < (spread.value or 0) < (
        spread.high or 0
    )


@pytest.mark.parametrize("estimate", [mean_difference, mean_ratio, geometric_ratio, hedges_g, superiority, cliffs_delta])
def test_too_few_values_are_said(estimate) -> None:  # type: ignore[no-untyped-def]
    result = estimate(np.array([1.0]), np.array([2.0, 3.0]))
    assert result.value is None and result.low is None and result.remark.code == "needs-two-in-each"


def test_so_few_values_that_logarithms_reach_beyond_all_numbers() -> None:
    few = np.array([1e-60, 1.0]), np.array([1.0, 1e60])
    wide = geometric_ratio(*few, level=0.999)
    assert wide.value is not None and wide.low is None and wide.high is None and wide.remark.code == "interval-beyond-numbers"
    share = superiority(np.array([1.0, 2.0, 2.0, 2.0]), np.array([0.5, 2.5]), 0.9999)
    assert 0 <= (share.low or 0.0) < 0.5 < (share.high or 0.0) <= 1


def test_constant_lanes_have_no_ratio_of_spreads() -> None:
    constant, plain = np.full(9, 3.0), np.arange(9.0)
    assert sd_ratio(constant, plain).estimate.remark.code == "no-spread-in-reference"
    assert iqr_ratio(plain, constant).estimate.value == 0.0


def test_repeats_are_reduced_and_pairs_found_by_subject() -> None:
    values = np.array([1.0, 3.0, 10.0, 5.0, 7.0, 100.0])
    subjects = np.array([2, 2, 0, 5, 5, -1], dtype=np.int32)
    means = within_subjects(values, subjects, np.array([0.0, 0.0, 0.0]), np.array([0, 2, 5], dtype=np.int32), "mean")
    assert means.subjects.tolist() == [0, 2, 5] and means.differences.tolist() == [-10.0, -2.0, -6.0]
    result = within_subjects(values, subjects, np.array([4.0, 9.0, 1.0, 2.0]), np.array([2, 5, 7, 2], dtype=np.int32), "median")
    assert result.subjects.tolist() == [2, 5] and result.differences.tolist() == [1.0, 3.0]
    assert result.unpaired == 2 and result.reduced == 3


def test_median_and_size_of_paired_differences() -> None:
    differences = SECOND - FIRST
    median = paired_median(differences)
    assert median.value == pytest.approx(1.3) and median.level > 0.95
    size = paired_g(differences)
    assert size.value == pytest.approx(differences.mean() / differences.std(ddof=1) * 0.9139, abs=1e-3)
    assert paired_mean(differences[:1]).value is None and paired_median(differences[:0]).value is None


def test_very_long_lanes_are_answered_at_once_or_say_why_not() -> None:
    rng = np.random.default_rng(2)
    a, b = rng.gamma(3.0, 2.0, 30_000), rng.gamma(3.0, 3.0, 30_000)
    result = sd_ratio(a, b).estimate
    assert result.value == pytest.approx(b.std(ddof=1) / a.std(ddof=1)) and "normal approximation" in result.method
    drawn = [rng.choice(b, 30_000).std() / rng.choice(a, 30_000).std() for _ in range(300)]
    assert (result.low, result.high) == pytest.approx(tuple(np.quantile(drawn, (0.025, 0.975))), rel=0.01)
    few = hodges_lehmann(a[:2000], b[:2000])
    assert few.value == pytest.approx(float(np.median(b[:2000, None] - a[None, :2000])), rel=1e-12)
    assert hodges_lehmann(np.arange(60_000.0), b).remark.code == "not-computed"
    assert sd_ratio(np.ones(30_000), b).estimate.remark.code == "no-spread-in-a-lane"
