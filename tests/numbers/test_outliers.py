"""Outlier rules, the medcouple and the dip against their definitions and published examples."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from echelle.numbers.dip import dip, dip_p
from echelle.numbers.medcouple import medcouple
from echelle.numbers.outliers import OUTLIER_RULES, USUAL_K, OutlierRule, extreme_deviates, fences_of

X = np.array([1.0, 2.0, 2.0, 3.0, 4.0, 5.0, 6.0, 9.0, 30.0])
SMALL = st.lists(st.integers(-5, 5).map(float), min_size=1, max_size=25)


def test_limits_by_hand() -> None:
    def ends(rule: OutlierRule, k: float) -> tuple[float, float]:
        result = fences_of(X, rule, k)
        return result.low, result.high

    assert ends("quartiles", 1.5) == (2 - 6, 6 + 6)
    assert ends("percentiles", 0.125) == (2.0, 9.0)
    assert ends("none", 0.0) == ends("full range", 0.0) == (-math.inf, math.inf)
    mean, sd = float(X.mean()), float(np.std(X, ddof=1))
    assert ends("mean and SD", 2.0) == pytest.approx((mean - 2 * sd, mean + 2 * sd))
    assert ends("median and MAD", 3.5) == pytest.approx((4 - 3.5 * 1.4826 * 2, 4 + 3.5 * 1.4826 * 2))
    skew = medcouple(X)
    assert skew > 0
    assert ends("skew-adjusted", 1.5) == pytest.approx((2 - 6 * math.exp(-4 * skew), 6 + 6 * math.exp(3 * skew)))


# Of two equally extreme values, the extreme deviates take the lower one first.
@given(SMALL, st.sampled_from([rule for rule in OUTLIER_RULES if rule != "extreme deviates"]))
def test_rules_follow_a_turn_of_the_axis(values: list[float], rule: OutlierRule) -> None:
    x = np.sort(np.array(values))
    first, second = fences_of(x, rule, USUAL_K[rule]), fences_of(np.sort(-x), rule, USUAL_K[rule])
    assert (first.low, first.high) == pytest.approx((-second.high, -second.low), rel=1e-9, abs=1e-9)


def naive_medcouple(x: np.ndarray) -> float:
    """Every pair, as Brys, Hubert & Struyf (2004) define it."""
    m = float(np.median(x))
    upper, lower = x[x >= m][::-1], x[x <= m][::-1]
    result = [
        float(np.sign(len(upper) - 1 - i - j)) if a == b == m else ((a - m) - (m - b)) / (a - b)
        for i, a in enumerate(upper)
        for j, b in enumerate(lower)
    ]
    return float(np.median(result))


@given(st.one_of(SMALL, st.lists(st.floats(-100, 100).map(lambda v: round(v, 2)), min_size=1, max_size=40)))
def test_the_medcouple_is_the_median_of_all_pairs(values: list[float]) -> None:
    x = np.sort(np.array(values))
    assert medcouple(x) == pytest.approx(naive_medcouple(x), abs=1e-12)


def test_extreme_deviates_of_the_published_example() -> None:
    """Rosner (1983), Technometrics 25, 165-172, example: three outliers among 54 values."""
    text = """-0.25 0.68 0.94 1.15 1.20 1.26 1.26 1.34 1.38 1.43 1.49 1.49 1.55 1.56 1.58 1.65 1.69 1.70 1.76 1.77 1.81 1.91
    1.94 1.96 1.99 2.06 2.09 2.10 2.14 2.15 2.23 2.24 2.26 2.35 2.37 2.40 2.47 2.54 2.62 2.64 2.90 2.92 2.92 2.93 3.21 3.26
    3.30 3.59 3.68 4.30 4.64 5.34 5.42 6.01"""
    values = np.array([float(word) for word in text.split()])
    assert extreme_deviates(values, 10) == (0, 3) and values[-3:].tolist() == [5.34, 5.42, 6.01]
    assert extreme_deviates(np.zeros(10), 3) == (0, 0)


def test_the_dip_of_known_shapes() -> None:
    assert dip(np.arange(1.0, 101.0)) == 1 / 200
    assert dip(np.repeat([0.0, 1.0], 50)) == 0.25
    assert dip(np.array([3.0])) == 0.5 and dip(np.full(8, 2.0)) == 1 / 16
    rng = np.random.default_rng(1)
    first, second = np.sort(rng.normal(size=400)), np.sort(np.concatenate([rng.normal(size=200), rng.normal(6, 1, 200)]))
    assert dip(second) > 4 * dip(first)


@given(st.lists(st.floats(-100, 100), min_size=4, max_size=40))
def test_the_dip_lies_between_its_bounds_and_ignores_scale(values: list[float]) -> None:
    x = np.sort(np.array(values))
    result = dip(x)
    assert 1 / (2 * len(x)) <= result <= 0.25 + 1e-12
    assert dip(np.sort(-x)) == pytest.approx(result, abs=1e-9)


def test_extreme_deviates_as_fences_leave_the_same_values_out() -> None:
    values = np.sort(np.concatenate([np.linspace(-1, 1, 40), [9.0, 11.0, -8.0]]))
    fences = fences_of(values, "extreme deviates", 10)
    assert (fences.low, fences.high) == (-1.0, 1.0)
    assert extreme_deviates(values, 10) == (1, 2)


def test_the_p_value_of_the_dip_tells_one_peak_from_two() -> None:
    rng = np.random.default_rng(3)
    first, second = np.sort(rng.normal(size=300)), np.sort(np.concatenate([rng.normal(size=150), rng.normal(5, 1, 150)]))
    assert dip_p(dip(first), 300) > 0.1
    assert dip_p(dip(second), 300) == 1 / 1000
    # Uniform samples themselves give every p-value alike.
    ps = [dip_p(dip(np.sort(rng.random(50))), 50) for _ in range(200)]
    assert stats.kstest(ps, "uniform").pvalue > 0.01
