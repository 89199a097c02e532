"""Quantiles against exact fractions, and what must hold for any values."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.numbers.quantiles import quantile, quantiles

DEFINITIONS = range(1, 10)
finite = st.floats(allow_nan=False, allow_infinity=False, width=64)
many = st.lists(finite, min_size=1, max_size=60)
percents = st.integers(0, 1000).map(lambda k: k / 1000)


def exact(ordered: list[float], p: Fraction, definition: int) -> Fraction:
    """Hyndman & Fan (1996), table 1 and equation (1), in whole numbers and fractions only."""
    n = len(ordered)
    shift = {
        1: Fraction(0), 2: Fraction(0), 3: Fraction(-1, 2), 4: Fraction(0), 5: Fraction(1, 2), 6: p, 7: 1 - p,
        8: (p + 1) / 3, 9: p / 4 + Fraction(3, 8),
    }[definition]  # fmt: skip
    place = n * p + shift
    below = math.floor(place)
    rest = place - below
    if definition == 1:
        weight = Fraction(1 if rest > 0 else 0)
    elif definition == 2:
        weight = Fraction(1) if rest > 0 else Fraction(1, 2)
    elif definition == 3:
        weight = Fraction(0 if rest == 0 and below % 2 == 0 else 1)
    else:
        weight = rest

    def at(rank: int) -> Fraction:
        return Fraction(ordered[min(max(rank, 1), n) - 1])

    return (1 - weight) * at(below) + weight * at(below + 1)


@pytest.mark.parametrize("definition", DEFINITIONS)
@given(values=st.lists(st.integers(-10_000, 10_000), min_size=1, max_size=50), thousandths=st.integers(0, 1000))
def test_agrees_with_exact_fractions(definition: int, values: list[int], thousandths: int) -> None:
    ordered = [float(v) for v in sorted(values)]
    result = quantile(np.array(ordered), thousandths / 1000, definition)
    assert result == pytest.approx(float(exact(ordered, Fraction(thousandths, 1000), definition)), rel=1e-13, abs=1e-9)


@pytest.mark.parametrize(
    ("definition", "expected"),
    list(zip(DEFINITIONS, [2, 2.5, 2, 2, 2.5, 2.25, 2.75, 2.4166667, 2.4375], strict=True)),
)
def test_first_quartile_of_eight(definition: int, expected: float) -> None:
    """Positions worked by hand for p = 1/4 and n = 8 on the values 1 to 8."""
    assert quantile(np.arange(1.0, 9.0), 0.25, definition) == pytest.approx(expected, rel=1e-7)


def test_a_position_whole_on_paper_counts_as_whole() -> None:
    assert 0.07 * 100 != 7
    assert quantile(np.arange(1.0, 101.0), 0.07, 1) == 7.0
    assert quantile(np.arange(1.0, 101.0), 0.07, 2) == 7.5


@given(values=many, ps=st.lists(percents, min_size=2, max_size=8), definition=st.sampled_from(list(DEFINITIONS)))
def test_rises_with_p_and_stays_inside(values: list[float], ps: list[float], definition: int) -> None:
    ordered = np.sort(np.array(values))
    result = quantiles(ordered, sorted(ps), definition)
    assert result == sorted(result)
    assert ordered[0] <= result[0] and result[-1] <= ordered[-1]


@given(values=st.lists(st.integers(-1000, 1000), min_size=1, max_size=40), by=st.integers(-500, 500), p=percents)
def test_moves_with_the_values(values: list[int], by: int, p: float) -> None:
    ordered = np.sort(np.array(values, dtype=float))
    assert quantile(ordered + by, p) == pytest.approx(quantile(ordered, p) + by, abs=1e-9)


def test_refuses_what_has_no_answer() -> None:
    with pytest.raises(ValueError, match="at least one"):
        quantile(np.array([]), 0.5)
    with pytest.raises(ValueError, match="between 0 and 1"):
        quantile(np.array([1.0]), 1.5)


def test_far_ends_do_not_overflow() -> None:
    assert quantile(np.array([-1.7e308, 1.7e308]), 0.5) == 0.0
