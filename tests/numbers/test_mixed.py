"""The mixed model: paired t where every subject stands once in each lane, the restricted likelihood's own maximum elsewhere."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import optimize, stats

from echelle.numbers.differences.mixed import NAME, mixed_difference, mixed_t
from echelle.numbers.differences.paired import paired_mean, within_subjects
from echelle.numbers.sample import Floats

# Student 1908: additional hours of sleep with two drugs, ten patients.
FIRST = np.array([0.7, -1.6, -0.2, -1.2, -0.1, 3.4, 3.7, 0.8, 0.0, 2.0])
SECOND = np.array([1.9, 0.8, 1.1, 0.1, -0.1, 4.4, 5.5, 1.6, 4.6, 3.4])
TEN = np.arange(10, dtype=np.int32)


def repeats(seed: int, subjects: int = 18) -> tuple[Floats, NDArray[np.int32], Floats, NDArray[np.int32]]:
    """Unequal repeats, some subjects in one lane only, the second lane 1.5 higher."""
    rng = np.random.default_rng(seed)
    own = rng.normal(10, 2, subjects)
    sides = []
    for lane in range(2):
        who = np.repeat(np.arange(subjects, dtype=np.int32), rng.integers(0 if lane else 1, 5, subjects))
        sides += [own[who] + 1.5 * lane + rng.normal(0, 1, len(who)), who]
    return tuple(sides)  # type: ignore[return-value]


def restricted(a: Floats, who_a: NDArray[np.int32], b: Floats, who_b: NDArray[np.int32]) -> tuple[float, float, float]:
    """The difference, its standard error and −2 log-likelihood at the best variances, by whole matrices."""
    y, who = np.concatenate([a, b]), np.concatenate([who_a, who_b])
    x = np.column_stack([np.ones(len(y)), np.repeat([0.0, 1.0], [len(a), len(b)])])
    same = (who[:, None] == who).astype(float)

    def solved(logs: Floats) -> tuple[Floats, Floats, float]:
        between, within = np.exp(logs)
        inverse = np.linalg.inv(within * np.eye(len(y)) + between * same)
        information = x.T @ inverse @ x
        result = np.linalg.solve(information, x.T @ inverse @ y)
        left = y - x @ result
        spread = -np.linalg.slogdet(inverse)[1] + np.linalg.slogdet(information)[1]
        return result, np.linalg.inv(information), float(spread + left @ inverse @ left)

    options = {"xatol": 1e-9, "fatol": 1e-10}
    best = optimize.minimize(lambda logs: solved(logs)[2], [0.0, 0.0], method="Nelder-Mead", options=options)
    result, covariance, minus = solved(best.x)
    return float(result[1]), float(np.sqrt(covariance[1, 1])), minus


def test_students_sleep_is_the_paired_t() -> None:
    result = mixed_difference(FIRST, TEN, SECOND, TEN)
    pairs = paired_mean(SECOND - FIRST)
    assert (result.value, result.low, result.high) == pytest.approx((pairs.value, pairs.low, pairs.high), abs=2e-6)
    assert result.df == pytest.approx(9, abs=1e-4) and result.n == (10, 10) and result.name == NAME
    test = mixed_t(result)
    expected = stats.ttest_rel(SECOND, FIRST)
    assert test.statistic == pytest.approx(4.0621, abs=1e-3) and test.p == pytest.approx(expected.pvalue, abs=1e-5)


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_unequal_repeats_reach_the_likelihoods_maximum(seed: int) -> None:
    sides = repeats(seed)
    result = mixed_difference(*sides)
    value, error, _ = restricted(*sides)
    assert result.value == pytest.approx(value, abs=1e-7) and result.spread == pytest.approx(error, rel=1e-6)
    whole = len(sides[0]) + len(sides[2])
    assert result.df is not None and 2 < result.df < whole - 2


def test_scale_and_place_of_the_values_do_not_matter() -> None:
    a, who_a, b, who_b = repeats(4)
    plain, moved = mixed_difference(a, who_a, b, who_b), mixed_difference(1e6 + 3e-3 * a, who_a, 1e6 + 3e-3 * b, who_b)
    for end in ("value", "low", "high"):
        assert getattr(moved, end) == pytest.approx(3e-3 * getattr(plain, end), rel=1e-3, abs=1e-7)
    back = mixed_difference(b, who_b, a, who_a)
    assert back.value == pytest.approx(-(plain.value or 0), abs=1e-6) and back.df == pytest.approx(plain.df, rel=1e-3)


def test_intervals_hold_as_often_as_they_say() -> None:
    inside = 0
    for seed in range(200):
        result = mixed_difference(*repeats(1000 + seed, subjects=8))
        inside += result.low is not None and result.high is not None and result.low <= 1.5 <= result.high
    assert 0.90 <= inside / 200 <= 0.99


def test_what_the_rows_do_not_allow_says_why() -> None:
    few = np.zeros(2, dtype=np.int32)
    assert mixed_difference(FIRST[:2], few, SECOND[:2], few).remark.code == "needs-three-subjects"
    flat = mixed_difference(np.ones(10), TEN, np.ones(10), TEN)
    assert flat.value is None and flat.remark.code == "no-spread" and mixed_t(flat).p is None
    nobody = np.full(10, -1, dtype=np.int32)
    assert mixed_difference(FIRST, nobody, SECOND, nobody).value is None
    many = np.arange(20_002, dtype=np.int32) % 5
    assert mixed_difference(many * 1.0, many, many * 2.0, many).remark.code == "too-many-rows"


def test_without_spread_between_subjects_the_remark_says_so() -> None:
    rng = np.random.default_rng(3)
    who = np.repeat(np.arange(6, dtype=np.int32), 8)
    # Every subject has the same mean in each lane.
    a = np.concatenate([(part - part.mean()) for part in rng.normal(0, 1, (6, 8))])
    b = np.concatenate([(part - part.mean()) + 1 for part in rng.normal(0, 1, (6, 8))])
    result = mixed_difference(a, who, b, who)
    assert result.remark.code == "no-variance-between-subjects" and result.df == 94.0
    assert result.value == pytest.approx(1.0)


def test_differences_equal_but_for_rounding_have_no_spread() -> None:
    before = np.array([0.1, 0.2, 0.3, 0.7, 1.1])
    result = within_subjects(before, TEN[:5], before + 0.1, TEN[:5])
    assert len(set(result.differences.tolist())) == 1
    assert paired_mean(result.differences).spread == 0.0
