"""Data that break careless code: one value, ties, huge and tiny numbers, far clusters."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from echelle.numbers.bandwidth import BANDWIDTH_RULES, BandwidthRule, bandwidth_of
from echelle.numbers.bins import BIN_RULES, BinRule, bin_count, count_in_bins, even_edges
from echelle.numbers.density import density_curve, peaks_of
from echelle.numbers.intervals import mean_interval, median_interval
from echelle.numbers.moments import moments
from echelle.numbers.outliers import OUTLIER_RULES, USUAL_K, OutlierRule, fences_of
from echelle.numbers.stem import stem_and_leaf

RNG = np.random.default_rng(12)
HARD = {
    "one value": [3.5],
    "two equal": [2.0, 2.0],
    "all equal": [7.25] * 9,
    "two": [1.0, 8.626],
    "three": [1.0, 2.0, 4.0],
    "large and close": [1e15 + i / 8 for i in range(12)],
    "tiny": [i * 1e-300 for i in range(1, 12)],
    "huge": [i * 1e300 for i in range(1, 12)],
    "signed zeros": [-0.0, 0.0, 0.0, 1.0],
    "heavy ties": [1.0] * 40 + [2.0] * 3 + [9.0],
    "far clusters": [0.0, 1.0, 2.0, 3.0, 1e9, 1e9 + 1, 1e9 + 2, 1e9 + 3],
}
CASES = pytest.mark.parametrize("values", HARD.values(), ids=HARD.keys())


@CASES
@pytest.mark.parametrize("rule", BIN_RULES)
def test_bins_hold_every_value(values: list[float], rule: BinRule) -> None:
    x = np.sort(np.array(values))
    count, remark = bin_count(x, rule)
    bins = count_in_bins(x, even_edges(x[0], x[-1], count))
    assert bins.counts.sum() == len(x) and bins.below == bins.above == 0 and np.isfinite(bins.edges).all()
    assert count >= 1 and (x[0] != x[-1] or count == 1) and (not remark or dict(remark.values)["stand-in"] == "sturges")


@CASES
@pytest.mark.parametrize("rule", BANDWIDTH_RULES)
def test_a_density_or_the_reason_why_not(values: list[float], rule: BandwidthRule) -> None:
    x = np.sort(np.array(values))
    result = bandwidth_of(x, rule)
    if x[0] == x[-1]:
        assert result.value is None and result.remark.code == "no-density"
        return
    assert result.value is not None and 0 < result.value < np.inf
    # Curves are drawn over a thousand points; where bandwidths are far below that step only their shape is asked for.
    curve = density_curve(x / x[-1], result.value / x[-1], points=4_001)
    assert np.isfinite(curve.values).all() and (curve.values >= 0).all() and curve.values.max() > 0
    assert peaks_of(curve)


@CASES
@pytest.mark.parametrize("rule", OUTLIER_RULES)
def test_fences_never_cross(values: list[float], rule: OutlierRule) -> None:
    result = fences_of(np.sort(np.array(values)), rule, USUAL_K[rule])
    assert result.low <= result.high and not math.isnan(result.low) and not math.isnan(result.high)


@CASES
def test_intervals_hold_their_centre(values: list[float]) -> None:
    x = np.sort(np.array(values))
    mean, median = mean_interval(x), median_interval(x)
    assert (mean is None) == (len(x) < 2) and (median is None) == (len(x) < 6)
    if mean is not None:
        assert mean.low <= (moments(x).mean or 0) <= mean.high
    if median is not None:
        assert median.low <= np.median(x) <= median.high and median.level >= 0.95


@pytest.mark.parametrize("name", ["one value", "all equal", "heavy ties", "three", "signed zeros"])
@pytest.mark.parametrize("split", [1, 2, 5])
def test_stems_hold_a_leaf_a_value(name: str, split: int) -> None:
    lines = stem_and_leaf(np.sort(np.array(HARD[name])), split=split, set_aside=False)  # type: ignore[arg-type]
    assert sum(len(line.partition(" | ")[2]) for line in lines[:-1]) == len(HARD[name])


@settings(max_examples=30)
@given(st.lists(st.floats(-1e9, 1e9) | st.integers(-3, 3).map(float), min_size=1, max_size=9))
def test_every_rule_has_an_answer_for_any_few_values(values: list[float]) -> None:
    x = np.sort(np.array(values))
    with np.errstate(divide="raise", invalid="raise"):
        for rule in BANDWIDTH_RULES:
            result = bandwidth_of(x, rule)
            assert result.remark if result.value is None else 0 < result.value < np.inf
        for bins in BIN_RULES:
            assert bin_count(x, bins)[0] >= 1
        for fence in OUTLIER_RULES:
            fences = fences_of(x, fence, USUAL_K[fence])
            assert fences.low <= fences.high


def test_a_million_values_agree_with_their_halves() -> None:
    x = RNG.lognormal(2, 0.5, 1_000_000)
    whole, entry, two = moments(x), moments(x[:500_000]), moments(x[500_000:])
    assert whole.mean == pytest.approx(((entry.mean or 0) + (two.mean or 0)) / 2, rel=1e-15)
    between = ((entry.mean or 0) - (two.mean or 0)) ** 2 * 250_000
    within = (entry.variance or 0) * 499_999 + (two.variance or 0) * 499_999
    assert whole.variance == pytest.approx((within + between) / 999_999, rel=1e-12)
