"""Lines over an order: straight lines, centres at each place, running totals, shares; against exact fractions and SciPy."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from echelle.numbers.least_squares import least_squares
from echelle.numbers.proportion import score_interval
from echelle.numbers.series import centres_in_order, running_total, straight_line, values_in_order

PAIRS = st.lists(st.tuples(st.integers(0, 60), st.integers(-999, 999)), min_size=3, max_size=40).filter(
    lambda pairs: len({x for x, _ in pairs}) > 1
)


def columns(pairs: list[tuple[int, int]]) -> tuple[np.ndarray, np.ndarray]:
    at, values = np.array(pairs, dtype=float).T
    return at, values / 10


@settings(max_examples=60, deadline=None)
@given(PAIRS)
def test_a_straight_line_is_that_of_exact_sums(pairs: list[tuple[int, int]]) -> None:
    at, values = columns(pairs)
    n = len(pairs)
    xs, ys = [Fraction(x) for x, _ in pairs], [Fraction(y, 10) for _, y in pairs]
    middle, centre = sum(xs) / n, sum(ys) / n
    sxx = sum((x - middle) ** 2 for x in xs)
    slope = sum((x - middle) * (y - centre) for x, y in zip(xs, ys, strict=True)) / sxx
    fit = least_squares(at, values)
    scale = 1e-12 * (float(np.abs(values).max()) + 1)
    assert fit.slope == pytest.approx(float(slope), rel=1e-12, abs=scale)
    assert fit.line(np.array([0.0]))[0] == pytest.approx(float(centre - slope * middle), rel=1e-12, abs=60 * scale)
    rest = sum((y - centre - slope * (x - middle)) ** 2 for x, y in zip(xs, ys, strict=True)) / (n - 2)
    assert fit.spread == pytest.approx(float(rest) ** 0.5, rel=1e-9, abs=1e-9)


def test_the_bands_of_a_straight_line_are_those_of_students_t() -> None:
    rng = np.random.default_rng(4)
    at, values = rng.uniform(0, 9, 30), rng.normal(5, 1, 30)
    fit, known = least_squares(at, values), stats.linregress(at, values)
    t = stats.t.ppf(0.975, 28)
    assert fit.slope_reach(0.95) == pytest.approx(t * known.stderr)
    assert fit.reach(np.array([0.0]), 0.95)[0] == pytest.approx(t * known.intercept_stderr)
    # A single value strays about the line as the rest do, and the line by itself.
    wide, narrow = fit.reach(at, 0.9, single=True) ** 2, fit.reach(at, 0.9) ** 2
    assert wide - narrow == pytest.approx(np.full(30, (stats.t.ppf(0.95, 28) * fit.spread) ** 2))


@pytest.mark.parametrize("at", [[1.0, 2.0], [3.0, 3.0, 3.0], []])
def test_too_few_places_or_values_have_no_straight_line(at: list[float]) -> None:
    assert straight_line(np.array(at), np.arange(len(at), dtype=float), "interval", 0.95) is None


@settings(max_examples=60, deadline=None)
@given(PAIRS, st.sampled_from(["means", "medians"]), st.sampled_from(["spread", "interval", "none"]))
def test_centres_are_those_of_each_place_whatever_the_order_of_rows(
    pairs: list[tuple[int, int]], centre: str, band: str
) -> None:
    at, values = columns(pairs)
    line = centres_in_order(at, values, centre, band, 0.9, None)
    assert line.at.tolist() == sorted(set(at.tolist()))
    for place, middle, low, high in zip(line.at, line.values, line.low, line.high, strict=True):
        own = np.sort(values[at == place])
        assert middle == pytest.approx(np.mean(own) if centre == "means" else np.median(own))
        if band == "none" or len(own) == 1:
            assert np.isnan(low) and np.isnan(high)
        elif band == "spread":
            sd = np.std(own, ddof=1)
            ends = (np.mean(own) - sd, np.mean(own) + sd) if centre == "means" else np.quantile(own, (0.25, 0.75))
            assert (low, high) == pytest.approx(tuple(ends))
        elif centre == "means":
            half = stats.t.ppf(0.95, len(own) - 1) * np.std(own, ddof=1) / len(own) ** 0.5
            assert (low, high) == pytest.approx((np.mean(own) - half, np.mean(own) + half), abs=1e-9)
    assert line.bare == (0 if band == "none" else int(np.isnan(line.low).sum()))
    turned = np.random.default_rng(1).permutation(len(at))
    again = centres_in_order(at[turned], values[turned], centre, band, 0.9, None)
    assert np.array_equal(line.values, again.values) and np.array_equal(line.low, again.low, equal_nan=True)


def test_steps_gather_places_from_their_start_on() -> None:
    line = centres_in_order(np.array([-1.0, 0.0, 6.9, 7.0]), np.array([1.0, 2.0, 4.0, 8.0]), "means", "none", 0.95, 7.0)
    assert line.at.tolist() == [-3.5, 3.5, 10.5] and line.values.tolist() == [1.0, 3.0, 8.0]


@settings(max_examples=60, deadline=None)
@given(PAIRS)
def test_a_running_total_ends_with_the_sum_and_takes_ties_together(pairs: list[tuple[int, int]]) -> None:
    at, values = columns(pairs)
    line = running_total(at, values)
    for place, total in zip(line.at.tolist(), line.values.tolist(), strict=True):
        assert total == pytest.approx(float(sum(Fraction(y, 10) for x, y in pairs if x <= place)), rel=1e-14, abs=1e-12)
    assert len(values_in_order(at, values).at) == len(pairs)


@pytest.mark.parametrize(("count", "total"), [(0, 5), (5, 5), (1, 40), (20, 41), (3, 3000)])
def test_ends_of_a_share_are_where_a_score_test_just_accepts(count: int, total: int) -> None:
    low, high = score_interval(count, total, 0.95)
    z = stats.norm.ppf(0.975)
    for end in (low, high):
        if 0 < end < 1:
            assert abs(count / total - end) / (end * (1 - end) / total) ** 0.5 == pytest.approx(z)
    assert (low == 0) == (count == 0) and (high == 1) == (count == total)


@pytest.mark.parametrize("centre", ["means", "medians"])
@pytest.mark.parametrize("band", ["none", "spread", "interval"])
def test_a_value_alone_is_its_own_centre(centre: str, band: str) -> None:
    """Beside places of several values, whose centres it does not change."""
    at = np.array([3.0, 1.0, 2.0, 2.0, 2.0, 4.0])
    values = np.array([30.5, 10.1, 2.0, 4.0, 9.0, 0.3])
    line = centres_in_order(at, values, centre, band, 0.95, None)
    alone = centres_in_order(at[2:5], values[2:5], centre, band, 0.95, None)
    assert line.at.tolist() == [1.0, 2.0, 3.0, 4.0]
    assert line.values.tolist() == [10.1, alone.values[0], 30.5, 0.3]
    for ends, own in ((line.low, alone.low), (line.high, alone.high)):
        assert np.isnan(ends[[0, 2, 3]]).all() and np.array_equal(ends[1:2], own, equal_nan=True)
    assert line.bare == (0 if band == "none" else 3 + alone.bare)
