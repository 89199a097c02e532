"""Fences, whiskers, outliers, jitter and rounding."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.numbers.fences import Fences, beyond_fence, quartile_fences, whiskers
from echelle.numbers.point_spread import jitter
from echelle.numbers.quantiles import quantiles

samples = st.lists(st.integers(-500, 500), min_size=1, max_size=80)


def test_fences_worked_by_hand() -> None:
    """1 to 11 and 30: Q1 = 3.75, Q3 = 9.25 (type 7), IQR 5.5, fences −4.5 and 17.5."""
    values = np.array([*range(1, 12), 30.0])
    q1, q3 = quantiles(values, (0.25, 0.75))
    fences = quartile_fences(q1, q3)
    assert (q1, q3) == (3.75, 9.25)
    assert (fences.low, fences.high) == (-4.5, 17.5)
    assert whiskers(values, fences, q1, q3) == (1.0, 11.0)
    assert beyond_fence(values, fences).tolist() == [11]


def test_a_value_on_the_fence_is_inside() -> None:
    values = np.array([0.0, 4.0, 5.0, 6.0, 10.0])
    fences = Fences(0.0, 10.0)
    assert beyond_fence(values, fences).size == 0
    assert whiskers(values, fences, 4.0, 6.0) == (0.0, 10.0)


def test_without_values_inside_the_fences_whiskers_stand_at_the_quartiles() -> None:
    assert whiskers(np.array([0.0, 10.0]), Fences(4.9, 5.1), 2.5, 7.5) == (2.5, 7.5)


def test_a_negative_reach_is_refused() -> None:
    with pytest.raises(ValueError, match="0 or more"):
        quartile_fences(1.0, 2.0, -0.5)


@given(samples, st.floats(0, 5))
def test_outliers_and_whiskers_share_the_values(values: list[int], k: float) -> None:
    ordered = np.sort(np.array(values, dtype=float))
    q1, q3 = quantiles(ordered, (0.25, 0.75))
    fences = quartile_fences(q1, q3, k)
    low, high = whiskers(ordered, fences, q1, q3)
    outside = ordered[beyond_fence(ordered, fences)]
    inside = ordered[(ordered >= fences.low) & (ordered <= fences.high)]
    assert len(outside) + len(inside) == len(ordered)
    assert low <= q1 and high >= q3
    assert not np.any((inside < low) & (inside < q1)) and not np.any((inside > high) & (inside > q3))


@given(st.lists(st.integers(1, 10**9), min_size=2, max_size=300, unique=True), st.integers(0, 2**31 - 1))
def test_a_point_keeps_its_place_when_others_leave(rows: list[int], seed: int) -> None:
    ids = np.array(rows, dtype=np.int64)
    everyone = jitter(ids, seed)
    assert np.all((everyone >= -0.5) & (everyone < 0.5))
    assert np.array_equal(jitter(ids[1:], seed), everyone[1:])


def test_jitter_is_even_and_uncorrelated() -> None:
    offsets = jitter(np.arange(1, 100_001, dtype=np.int64), 41)
    assert abs(offsets.mean()) < 0.004
    assert offsets.var() == pytest.approx(1 / 12, rel=0.01)
    assert abs(np.corrcoef(offsets[:-1], offsets[1:])[0, 1]) < 0.01
    assert not np.allclose(offsets, jitter(np.arange(1, 100_001, dtype=np.int64), 42))
