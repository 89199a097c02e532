"""Sums of float64 numbers and their squares, against sums of fractions."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from echelle.numbers.binary_sums import binary_sums
from echelle.numbers.decimals import mean_and_squares
from echelle.numbers.moments import moments
from echelle.numbers.sample import Sample

ANY = st.floats(allow_nan=False, allow_infinity=False)


@given(st.dictionaries(ANY, st.one_of(st.integers(1, 9), st.integers(1, 2**40)), min_size=1, max_size=30))
def test_sums_are_those_of_fractions(pairs: dict[float, int]) -> None:
    exact = [(Fraction(value), count) for value, count in pairs.items()]
    first, second = binary_sums(np.array(list(pairs)), np.array(list(pairs.values())))
    assert first == sum(value * count for value, count in exact)
    assert second == sum(value * value * count for value, count in exact)


def test_the_smallest_numbers_beside_zero() -> None:
    values = np.arange(40) * 5e-324
    exact = [Fraction(value) for value in values.tolist()]
    assert binary_sums(values) == (sum(exact), sum(value * value for value in exact))


@given(st.lists(ANY, min_size=1, max_size=40), st.integers(0, 40), st.integers(1, 3_000))
def test_parts_come_to_the_same(values: list[float], cut: int, times: int) -> None:
    x = np.tile(np.array(values), times)
    parts = [binary_sums(part) for part in (x[:cut], x[cut:])]
    assert binary_sums(x) == (parts[0][0] + parts[1][0], parts[0][1] + parts[1][1])


@given(st.lists(st.floats(-1e150, 1e150), min_size=2, max_size=30))
def test_moments_of_computed_values_are_rounded_once(values: list[float]) -> None:
    x = np.sort(np.array([*values, math.pi]))
    sample = Sample(np.unique(x), np.unique(x, return_counts=True)[1])
    exact = [Fraction(value) for value in x.tolist()]
    mean = sum(exact, Fraction(0)) / len(exact)
    squares = sum(((value - mean) ** 2 for value in exact), Fraction(0))
    assert moments(x) == moments(sample)
    assert moments(x).mean == float(mean) and moments(x).variance == float(squares / (len(exact) - 1))
    assert mean_and_squares(x, False) == (mean, squares)
