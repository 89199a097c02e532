"""How well a column tells values apart, against fractions and against every cut there is."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.numbers.variance_explained import best_cut, variance_explained

pairs = st.lists(st.tuples(st.integers(-50, 50), st.integers(0, 3)), min_size=5, max_size=40)


def omega(pairs: list[tuple[int, int]]) -> Fraction:
    """ω² from sums of squares in fractions."""
    values = [Fraction(value) for value, _ in pairs]
    groups = {code: [Fraction(v) for v, c in pairs if c == code] for code in {c for _, c in pairs}}
    mean = sum(values) / len(values)
    total = sum((v - mean) ** 2 for v in values)
    between = sum(len(g) * (sum(g) / len(g) - mean) ** 2 for g in groups.values())
    n, k = len(values), len(groups)
    if k < 2 or n <= k:
        return Fraction(0)
    within = (total - between) / (n - k)
    return max(Fraction(0), (between - (k - 1) * within) / (total + within)) if total + within else Fraction(0)


@given(pairs)
def test_the_share_between_levels(pairs: list[tuple[int, int]]) -> None:
    values = np.array([float(v) for v, _ in pairs])
    codes = np.array([c for _, c in pairs], dtype=np.int32)
    assert variance_explained(values, codes) == pytest.approx(float(omega(pairs)), abs=1e-9)


def test_rows_without_a_level_say_nothing() -> None:
    values = np.array([1.0, 1.1, 9.0, 9.1, 50.0])
    codes = np.array([0, 0, 1, 1, -1], dtype=np.int32)
    assert variance_explained(values, codes) == variance_explained(values[:4], codes[:4]) > 0.99


@given(st.lists(st.tuples(st.integers(0, 9), st.integers(-30, 30)), min_size=4, max_size=30), st.integers(1, 4))
def test_no_cut_tells_more(pairs: list[tuple[int, int]], least: int) -> None:
    by, values = np.array([float(b) for b, _ in pairs]), np.array([float(v) for _, v in pairs])
    result = best_cut(values, by, least)
    shares = []
    for cut in np.unique(by)[:-1] + 0.5:
        low, high = values[by < cut], values[by > cut]
        if min(len(low), len(high)) >= least:
            between = len(low) * (low.mean() - values.mean()) ** 2 + len(high) * (high.mean() - values.mean()) ** 2
            shares.append(between / max(((values - values.mean()) ** 2).sum(), 1e-300))
    if not shares:
        assert result is None
        return
    assert result is not None and result[1] == pytest.approx(max(shares), abs=1e-9)
    assert min((by < result[0]).sum(), (by > result[0]).sum()) >= least
