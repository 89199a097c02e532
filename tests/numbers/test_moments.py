"""Moments against exact fractions, and on values that spoil naive sums."""

from __future__ import annotations

from fractions import Fraction

import mpmath
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.numbers.moments import moments

mpmath.mp.dps = 60


def reference(values: list[float]) -> dict[str, mpmath.mpf]:
    """Mean, variance, G1 and G2 (Joanes & Gill 1998) at 60 digits."""
    n = len(values)
    x = [mpmath.mpf(v) for v in values]
    mean = mpmath.fsum(x) / n
    m2, m3, m4 = (mpmath.fsum((v - mean) ** k for v in x) / n for k in (2, 3, 4))
    g1 = m3 / m2 ** mpmath.mpf("1.5")
    g2 = m4 / m2**2 - 3
    return {
        "mean": mean,
        "variance": m2 * n / (n - 1),
        "sd": mpmath.sqrt(m2 * n / (n - 1)),
        "skewness": g1 * mpmath.sqrt(n * (n - 1)) / (n - 2),
        "kurtosis": mpmath.mpf(n - 1) / ((n - 2) * (n - 3)) * ((n + 1) * g2 + 6),
    }


HARD = {
    "plain": [2.1, 3.4, 3.9, 5.0, 9.7, 12.25],
    "subnormal": [0.0, 5e-324, 1e-323, 5e-322],
    "tiny": [1e-300, 2e-300, 4e-300, 9e-300],
    "huge": [1e300, 2e300, 4e300, 9e300],
    "offset": [1e15 + k / 8 for k in (0, 1, 1, 3, 6, 7, 11)],
    "both signs": [-1e8, -3.0, 0.5, 2.0, 1e8 + 1],
}


@pytest.mark.parametrize("name", HARD)
def test_agrees_with_sixty_digits(name: str) -> None:
    values = HARD[name]
    result, expected = moments(np.array(values)), reference(values)
    for key in ("mean", "sd", "skewness", "kurtosis"):
        # Two steps of the smallest number there is; shape has no unit, and may cancel to almost nothing.
        least = 1e-323 if key in ("mean", "sd") else 1e-15
        assert getattr(result, key) == pytest.approx(float(expected[key]), rel=1e-9, abs=least), key
    if 1e-290 < expected["variance"] < 1e300:
        assert result.variance == pytest.approx(float(expected["variance"]), rel=1e-9, abs=0)


@given(st.lists(st.integers(-(10**6), 10**6), min_size=1, max_size=200))
def test_the_mean_is_rounded_once(values: list[int]) -> None:
    result = moments(np.array(values, dtype=float))
    assert result.mean == float(Fraction(sum(values), len(values)))


@given(st.lists(st.floats(-1e6, 1e6), min_size=4, max_size=60), st.randoms())
def test_order_does_not_matter(values: list[float], random) -> None:
    shuffled = values[:]
    random.shuffle(shuffled)
    first, second = moments(np.array(values)), moments(np.array(shuffled))
    assert first.mean == second.mean
    assert (first.sd is None) == (second.sd is None)
    if first.sd is not None and second.sd is not None:
        assert first.sd == pytest.approx(second.sd, rel=1e-12)


def test_what_has_no_value_is_none() -> None:
    nothing = moments(np.array([]))
    assert nothing.mean is None and nothing.sd is None
    entry = moments(np.array([4.0]))
    assert (entry.mean, entry.variance, entry.sd, entry.se, entry.skewness) == (4.0, None, None, None, None)
    equal = moments(np.array([4.0, 4.0, 4.0, 4.0]))
    assert (equal.sd, equal.skewness, equal.kurtosis) == (0.0, None, None)
    assert moments(np.array([1.0, 2.0])).skewness is None
    assert moments(np.array([1.0, 2.0, 4.0])).kurtosis is None


def test_standard_error_is_sd_over_root_n() -> None:
    result = moments(np.array([1.0, 2.0, 3.0, 6.0]))
    assert result.se == pytest.approx(result.sd / 2)
