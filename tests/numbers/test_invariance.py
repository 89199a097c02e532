"""What must not change when units or labels do; and rules against plain loops."""

from __future__ import annotations

import itertools
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from echelle.numbers.differences import hypothesis_tests as evidence
from echelle.numbers.differences.bootstrap import iqr_ratio, percentile_difference, sd_ratio
from echelle.numbers.differences.control_rules import control_hits
from echelle.numbers.differences.means import hedges_g, mean_difference, mean_ratio
from echelle.numbers.differences.ranks import hodges_lehmann, superiority
from echelle.numbers.differences.reference_limits import ReferenceLimits, reference_limits
from echelle.numbers.differences.variance_components import components

lanes = st.lists(st.integers(1, 60), min_size=4, max_size=14, unique=True).map(lambda v: np.array(v, dtype=float))
units = st.sampled_from([0.25, 2.0, 8.0, 1024.0])


@settings(max_examples=40)
@given(lanes, lanes, units)
def test_another_unit_scales_differences_and_leaves_ratios(a: np.ndarray, b: np.ndarray, unit: float) -> None:
    for estimate in (mean_difference, hodges_lehmann):
        entry, other = estimate(a, b), estimate(a * unit, b * unit)
        for end in ("value", "low", "high"):
            if getattr(entry, end) is not None:
                assert getattr(other, end) == pytest.approx(unit * getattr(entry, end), rel=1e-9, abs=1e-9)
    for estimate in (mean_ratio, hedges_g, superiority):
        entry, other = estimate(a, b), estimate(a * unit, b * unit)
        for end in ("value", "low", "high"):
            if getattr(entry, end) is not None:
                assert getattr(other, end) == pytest.approx(getattr(entry, end), rel=1e-6, abs=1e-9)
    for resampled in (sd_ratio, iqr_ratio):
        entry, other = resampled(a, b, resamples=500).estimate, resampled(a * unit, b * unit, resamples=500).estimate
        assert (entry.value, entry.low, entry.high) == pytest.approx((other.value, other.low, other.high))


@settings(max_examples=40)
@given(lanes, lanes, st.integers(-20, 20))
def test_moving_both_lanes_moves_no_difference(a: np.ndarray, b: np.ndarray, shift: int) -> None:
    for estimate in (mean_difference, hodges_lehmann, superiority):
        entry, other = estimate(a, b), estimate(a + shift, b + shift)
        assert (entry.value, entry.low, entry.high) == pytest.approx((other.value, other.low, other.high), abs=1e-9)
    entry, other = (
        percentile_difference(a, b, 0.5, resamples=500),
        percentile_difference(a + shift, b + shift, 0.5, resamples=500),
    )
    assert entry.estimate.low == pytest.approx(other.estimate.low)


@given(lanes, lanes)
def test_exchanging_lanes_turns_differences_round(a: np.ndarray, b: np.ndarray) -> None:
    for estimate in (mean_difference, hodges_lehmann, hedges_g):
        entry, other = estimate(a, b), estimate(b, a)
        assert entry.value == pytest.approx(-(other.value or 0.0), abs=1e-9)
        if entry.low is not None:
            assert entry.low == pytest.approx(-(other.high or 0.0), rel=1e-6, abs=1e-9)
    for test in (evidence.welch_t, evidence.mann_whitney, evidence.kolmogorov_smirnov):
        assert test(a, b).p == pytest.approx(test(b, a).p)


@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 30)), min_size=5, max_size=18))
def test_components_of_unequal_runs_in_fractions(rows: list[tuple[int, int]]) -> None:
    runs = [[Fraction(v) for r, v in rows if r == run] for run in sorted({r for r, _ in rows})]
    n, k = len(rows), len(runs)
    result = components(np.array([float(v) for _, v in rows]), np.array([r for r, _ in rows], dtype=np.int32))
    if k < 2 or n == k:
        assert result is None
        return
    assert result is not None
    mean = sum(map(sum, runs)) / n
    inside = sum(((v - sum(run) / len(run)) ** 2 for run in runs for v in run), Fraction(0)) / (n - k)
    between = sum((len(run) * (sum(run) / len(run) - mean) ** 2 for run in runs), Fraction(0)) / (k - 1)
    size = (n - Fraction(sum(len(run) ** 2 for run in runs), n)) / (k - 1)
    run = max(Fraction(0), (between - inside) / size)
    assert [part.sd**2 for part in result.parts] == pytest.approx([float(inside), float(run), float(inside + run)], abs=1e-9)
    for part in result.parts:
        assert part.low is None or part.high is None or part.low <= part.sd <= part.high or part.df < 2


@given(st.lists(st.sampled_from([-3.5, -2.5, -1.5, -0.5, 0.0, 0.5, 1.5, 2.5, 3.5]), min_size=1, max_size=30))
def test_control_rules_against_a_plain_look(z: list[float]) -> None:
    result = {(hit.rule, place) for hit in control_hits(np.array(z), 0.0, 1.0) for place in hit.places}
    expected = {("1-3s" if abs(v) > 3 else "1-2s", i) for i, v in enumerate(z) if abs(v) > 2}
    for i, (first, second) in enumerate(itertools.pairwise(z)):
        if min(abs(first), abs(second)) > 2:
            expected |= {("2-2s" if first * second > 0 else "R-4s", place) for place in (i, i + 1)}
    for rule, beyond, length in (("4-1s", 1.0, 4), ("10-x", 0.0, 10)):
        for start in range(len(z) - length + 1):
            window = z[start : start + length]
            if all(v > beyond for v in window) or all(v < -beyond for v in window):
                expected |= {(rule, place) for place in range(start, start + length)}
    assert result == expected


@settings(max_examples=40)
@given(st.lists(st.integers(1, 500), min_size=39, max_size=200).map(lambda v: np.array(v, dtype=float)))
def test_limits_lie_in_order_and_widen_with_their_share(values: np.ndarray) -> None:
    assume(values.min() < values.max())
    narrow, wide = reference_limits(values, share=0.8), reference_limits(values, share=0.95)
    assert isinstance(narrow, ReferenceLimits) and isinstance(wide, ReferenceLimits)
    assert wide.lower.value <= narrow.lower.value <= narrow.upper.value <= wide.upper.value
    for end in (wide.lower, wide.upper):
        ends = [edge for edge in (end.low, end.value, end.high) if edge is not None]
        assert ends == sorted(ends) and values.min() <= ends[0] and ends[-1] <= values.max()
    assert (wide.remark is not None) == (len(values) < 120)
