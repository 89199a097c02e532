"""Numbers as they are read: rounded as the exact value says, the same in files and on the page."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.numbers.rounding import decimals_of, digits_of_step, display_number, fixed_decimals


@pytest.mark.parametrize(
    ("value", "places", "text"),
    [
        (12.345, 1, "12.3"), (-0.04, 1, "0.0"), (-3.0, 0, "−3"), (None, 2, "–"), (1.5e9, 1, "1.50e+9"), (0.0, 2, "0.00"),
        (11.25, 1, "11.3"), (-11.25, 1, "−11.3"), (2.5, 0, "3"), (2.675, 2, "2.67"), (0.0001234, 1, "0.000123"),
        (9.996e-7, 2, "0.00000100"), (1.25e-9, 2, "1.25e−9"), (9.9961e21, 0, "1.00e+22"), (math.inf, 1, "inf"),
    ],
)  # fmt: skip
def test_numbers_for_the_reader(value: float | None, places: int, text: str) -> None:
    assert display_number(value, places) == text


@given(st.floats(-1e9, 1e9), st.integers(0, 12))
def test_the_nearest_decimal_is_written_and_of_two_the_one_away_from_zero(value: float, places: int) -> None:
    text = fixed_decimals(value, places)
    written, exact, unit = Fraction(text), Fraction(value), Fraction(1, 10**places)
    assert len(text.partition(".")[2]) == places and (written == 0) <= (not text.startswith("-"))
    assert abs(written - exact) <= unit / 2
    assert abs(written - exact) < unit / 2 or abs(written) > abs(exact)


@given(st.floats(1e7, 1e300) | st.floats(1e-300, 1e-6))
def test_far_numbers_have_three_digits(value: float) -> None:
    for number in (value, -value):
        text = display_number(number, 3).replace("−", "-")
        assert abs(Fraction(text) / Fraction(number) - 1) <= Fraction(1, 200)
        digits = text.lstrip("-").partition("e")[0].replace(".", "").lstrip("0")
        assert len(digits) == 3


def test_decimals_follow_the_data() -> None:
    assert decimals_of(np.array([1.0, 2.0])) == 0
    assert decimals_of(np.array([1.5, 2.25])) == 2
    assert decimals_of(np.array([])) == 0
    assert [digits_of_step(step) for step in (10.0, 2.5, 0.05, 0.0025)] == [0, 1, 2, 4]


def test_numbers_as_far_apart_as_can_be_have_no_decimals() -> None:
    assert decimals_of(np.array([-1.7e308, 0.123456789, 1.7e308])) == 0
