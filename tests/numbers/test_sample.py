"""Counted samples: the numbers of values written out, whatever stands behind a count."""

from __future__ import annotations

import math
from collections.abc import Callable
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from echelle.figures.lanes.counted import with_tails
from echelle.figures.lanes.lane import Extra, Lane
from echelle.numbers.bandwidth import BANDWIDTH_RULES, bandwidth_of
from echelle.numbers.bins import BIN_RULES, bin_count, count_in_bins, even_edges
from echelle.numbers.cumulative import steps
from echelle.numbers.decimals import decimal, decimals_of
from echelle.numbers.density import density_at, density_curve, peaks_of
from echelle.numbers.fences import Fences, count_beyond, whiskers
from echelle.numbers.intervals import median_interval
from echelle.numbers.kernels import KERNELS, KernelName
from echelle.numbers.kernels import kernel as kernel_at
from echelle.numbers.medcouple import medcouple
from echelle.numbers.moments import moments
from echelle.numbers.normality import anderson_darling, shapiro_wilk
from echelle.numbers.outliers import OUTLIER_RULES, USUAL_K, OutlierRule, fences_of
from echelle.numbers.quantiles import QUANTILE_DEFINITIONS, quantile
from echelle.numbers.sample import Sample, merged, sample_of, sample_of_unordered

PAIRS = st.dictionaries(st.integers(-300, 300), st.integers(1, 9), min_size=3, max_size=25)
MANY = 10**9


def counted(pairs: dict[int, int], times: int = 1) -> Sample:
    values = np.array(sorted(pairs)) / 10
    return Sample(values, np.array([pairs[value] * times for value in sorted(pairs)]))


@given(PAIRS)
def test_length_ranks_and_places_are_those_of_the_values_written_out(pairs: dict[int, int]) -> None:
    sample = counted(pairs)
    written = sample.repeats
    assert len(sample) == len(written) == sum(pairs.values())
    assert [sample[rank] for rank in range(-len(written), len(written))] == [*written, *written]
    assert np.array_equal(sample.at(np.arange(len(written))), written)
    for side in ("left", "right"):
        at = np.concatenate([sample.values, sample.values + 0.05, [-99.0]])
        assert np.array_equal(sample.searchsorted(at, side), np.searchsorted(written, at, side))
        assert [sample.searchsorted(float(one), side) for one in at] == np.searchsorted(written, at, side).tolist()
    with pytest.raises(IndexError):
        sample[len(written)]


@given(st.lists(PAIRS, max_size=4), st.randoms())
def test_parts_in_any_order_make_the_same_sample(parts: list[dict[int, int]], random: object) -> None:
    whole = sample_of_unordered(np.concatenate([np.empty(0), *(counted(part).repeats for part in parts)]))
    samples = [counted(part) for part in parts]
    random.shuffle(samples)  # type: ignore[attr-defined]
    result = merged(samples)
    assert np.array_equal(result.values, whole.values) and np.array_equal(result.ends, whole.ends)


@settings(max_examples=40)
@given(PAIRS)
def test_what_is_written_out_is_read_as_counted(pairs: dict[int, int]) -> None:
    """Whoever brings rows and whoever brings counts come to one sample, and so to the same bits."""
    sample = counted(pairs)
    written = sample_of(sample.repeats)
    assert np.array_equal(written.values, sample.values)
    assert np.array_equal(written.ends, sample.ends)


@settings(max_examples=30)
@given(PAIRS)
def test_moments_of_any_count_are_exact(pairs: dict[int, int]) -> None:
    n = sum(pairs.values()) * MANY
    mean = sum((Fraction(value, 10) * count * MANY for value, count in pairs.items()), Fraction(0)) / n
    squares = sum(((Fraction(value, 10) - mean) ** 2 * count * MANY for value, count in pairs.items()), Fraction(0))
    shape = moments(counted(pairs, MANY))
    assert shape.mean == float(mean) and shape.variance == float(squares / (n - 1))


@settings(max_examples=30)
@given(PAIRS, st.sampled_from([0.0, 0.01, 0.25, 0.5, 0.9, 1.0]))
def test_quantiles_of_a_thousand_million_values(pairs: dict[int, int], p: float) -> None:
    """By Fractions from the definition's rank, on which a count of 10^9 weighs."""
    sample, n = counted(pairs, MANY), sum(pairs.values()) * MANY
    for kind, rule in QUANTILE_DEFINITIONS.items():
        place = n * decimal(p) + rule.shift(decimal(p))
        below = math.floor(place)
        rest = place - below if rule.step is None else rule.step(below, place - below)
        low, high = (decimal(sample[min(max(rank, 1), n) - 1]) for rank in (below, below + 1))
        assert quantile(sample, p, kind) == float(low + rest * (high - low))


def direct(pairs: dict[int, int], at: float, width: float, name: KernelName) -> float:
    values = np.array(sorted(pairs)) / 10
    parts = kernel_at(name, (at - values) / width) * np.array([pairs[value] for value in sorted(pairs)])
    return math.fsum(parts.tolist()) / (sum(pairs.values()) * width)


@settings(max_examples=25)
@given(PAIRS, st.sampled_from(KERNELS))
def test_a_density_weighs_by_counts(pairs: dict[int, int], name: KernelName) -> None:
    at, sample = np.linspace(-31, 31, 9), counted(pairs, MANY)
    expected = [direct(pairs, place, 2.5, name) for place in at.tolist()]
    assert density_at(sample, at, 2.5, name) == pytest.approx(expected, rel=1e-9, abs=1e-12)


@pytest.mark.parametrize("rule", BANDWIDTH_RULES)
def test_a_bandwidth_of_counts_is_that_of_the_rows(rule: str) -> None:
    """Against rows with a little added to part the ties: what only a count tells apart would differ widely."""
    rng = np.random.default_rng(8)
    rows = np.round(rng.normal(50, 8, 4_000), 1)
    sample = sample_of_unordered(rows)
    assert len(sample.values) < 700
    apart = np.sort(rows + rng.uniform(-0.05, 0.05, len(rows)))
    # Ties mislead cross-validation, and Botev's rule counts different values alone.
    if rule not in ("cross-validation", "improved-plug-in"):
        assert bandwidth_of(sample, rule).value == pytest.approx(bandwidth_of(apart, rule).value, rel=0.2)  # type: ignore[arg-type]


DECISIONS: dict[str, Callable[[Sample], object]] = {
    "whiskers": lambda s: whiskers(s, fences_of(s, "quartiles", 1.5), quantile(s, 0.25), quantile(s, 0.75)),
    "bins": lambda s: count_in_bins(s, even_edges(s[0], s[-1], 7)).counts.tolist(),
    "beyond": lambda s: count_beyond(s, fences_of(s, "mean and SD", 1.0)),
    "median interval": median_interval,
    "medcouple": medcouple,
    "steps": lambda s: [part.tolist() for part in steps(s)],
    **{rule: lambda s, rule=rule: fences_of(s, rule, USUAL_K[rule]) for rule in OUTLIER_RULES},  # type: ignore[misc]
    **{f"{rule} bins": lambda s, rule=rule: bin_count(s, rule) for rule in BIN_RULES},  # type: ignore[misc]
}


@pytest.mark.parametrize("name", DECISIONS)
@settings(max_examples=25)
@given(PAIRS)
def test_decisions_are_those_of_the_rows(name: str, pairs: dict[int, int]) -> None:
    """The rows as a sample that knows no ties: each apart from its equals by a step that no decision sees."""
    sample = counted(pairs)
    rows = np.arange(len(sample)) * 0.0 + sample.repeats
    assert DECISIONS[name](sample) == DECISIONS[name](rows)  # type: ignore[arg-type]


def test_tests_of_shape_count_ties() -> None:
    """Anderson & Darling's sum over rows, written out."""
    from scipy import stats

    rows = np.sort(np.round(np.random.default_rng(5).normal(0, 3, 400)))
    z = (rows - rows.mean()) / rows.std(ddof=1)
    i = np.arange(1, 401)
    sums = (2 * i - 1) * (stats.norm.logcdf(z) + stats.norm.logsf(z[::-1]))
    assert anderson_darling(sample_of(rows)).statistic == pytest.approx(-400 - sums.sum() / 400, rel=1e-9)
    many = Sample(np.array([1.0, 2.0, 3.0]), np.array([MANY, MANY, MANY]))
    refused = shapiro_wilk(many)
    assert refused.p is None and refused.remark is not None and refused.remark.code == "test-not-computed"


def test_extreme_deviates_of_counts_are_those_of_rows() -> None:
    rule: OutlierRule = "extreme deviates"
    sample = Sample(np.array([0.0, 1.0, 2.0, 3.0, 90.0, 95.0]), np.array([40, 80, 80, 40, 2, 1]))
    assert fences_of(sample, rule, 10.0) == fences_of(sample, rule, 3.0)
    assert fences_of(sample, rule, 10.0).high == 3.0 and fences_of(sample, rule, 2.0).high == 90.0
    offsets = decimals_of(sample)
    assert len(offsets.samples[0]) == len(sample) and offsets.place(offsets.samples[0][-1]) == 95.0


def test_no_rule_asks_for_less_than_the_step_in_which_values_were_recorded() -> None:
    """Of many values a rule's bandwidth falls below the step: the curve would be a comb."""
    values = np.round(np.arange(1.0, 9.0, 0.1), 1)
    many = Sample(values, np.round(1e7 * np.exp(-0.5 * ((values - 5.0) / 1.2) ** 2)).astype(np.int64) + 1)
    found = bandwidth_of(many, "silverman")
    assert found.value == 0.1 and found.remark is not None and found.remark.code == "bandwidth-below-step"
    assert len(peaks_of(density_curve(many, found.value))) == 1 < len(peaks_of(density_curve(many, 0.04)))
    few = Sample(many.values, np.maximum(many.counts // 10**6, 1) if many.counts is not None else None)
    assert bandwidth_of(few, "silverman").remark is None
    assert bandwidth_of(many, 0.04).value == 0.04


def test_tails_of_a_counted_lane_are_every_different_value_beyond_its_fences() -> None:
    """Rows at hand keep their ids; the others stand for no single row."""
    tally = Sample(np.array([0.0, 1.0, 2.0, 8.0, 9.0]), np.array([5, MANY, MANY, 3, 1]))
    lane = Lane(
        key="g1", group="A", name="A", values=np.array([1.0, 2.0, 9.0]), rows=np.array([11, 12, 13]), people=None, missing=0,
        censored=0, left_out=0, tally=tally, extras={"shift": Extra(np.array([0, 1, 0], dtype=np.int32), ("x", "y"))},
    )  # fmt: skip
    shown = with_tails(lane, Fences(0.5, 4.0))
    assert shown.values.tolist() == [1.0, 2.0, 0.0, 8.0, 9.0] and shown.rows.tolist() == [11, 12, -1, -2, 13]
    assert shown.extras["shift"].codes.tolist() == [0, 1, -1, -1, -1] and shown.n == 2 * MANY + 9
    assert with_tails(lane, None) is lane
