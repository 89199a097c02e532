"""Bins: published rules by hand, counts that add up, edges as asked."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.numbers.bins import (
    BIN_RULES,
    BinRule,
    NoBins,
    bin_count,
    count_in_bins,
    edges_of_width,
    even_edges,
    recording_step,
)

TEN = np.array([1.0, 2.0, 2.5, 3.0, 3.5, 4.0, 4.5, 5.0, 6.0, 20.0])
VALUES = st.lists(st.floats(-1e6, 1e6).map(lambda x: round(x, 3)), min_size=1, max_size=60)


def test_rules_by_hand() -> None:
    n, sd = 10, float(np.std(TEN, ddof=1))
    g1 = float(np.mean((TEN - TEN.mean()) ** 3) / np.std(TEN) ** 3)
    doane = 1 + math.log2(n) + math.log2(1 + abs(g1) / math.sqrt(6 * (n - 2) / ((n + 1) * (n + 3))))
    expected = {
        "sturges": math.ceil(math.log2(10)) + 1,
        "scott": math.ceil(19 / (3.49 * sd * 10 ** (-1 / 3))),
        "freedman-diaconis": math.ceil(19 / (2 * (4.875 - 2.625) * 10 ** (-1 / 3))),
        "square-root": 4,
        "rice": math.ceil(2 * 10 ** (1 / 3)),
        "doane": math.ceil(doane),
    }
    assert {rule: bin_count(TEN, rule)[0] for rule in BIN_RULES} == expected
    # 2·8^(1/3) and the square root of 16 are whole on paper.
    assert bin_count(np.arange(8.0), "rice")[0] == 4 and bin_count(np.arange(16.0), "square-root")[0] == 4


def test_a_rule_without_an_answer_names_what_stands_in() -> None:
    tied = np.array([1.0, 5.0, 5.0, 5.0, 5.0, 5.0, 5.0, 9.0])
    count, remark = bin_count(tied, "freedman-diaconis")
    assert (count, remark.code, dict(remark.values)["stand-in"]) == (4, "bins-no-spread", "sturges")  # type: ignore[union-attr]
    assert bin_count(np.array([4.0, 4.0]), "scott") == (1, None)


@given(VALUES, st.sampled_from(BIN_RULES), st.sampled_from(["left", "right"]))
def test_every_value_is_counted_once(values: list[float], rule: BinRule, closed: str) -> None:
    x = np.sort(np.array(values))
    bins = count_in_bins(x, even_edges(x[0], x[-1], bin_count(x, rule)[0]), closed)  # type: ignore[arg-type]
    assert bins.counts.sum() == len(x) and bins.below == bins.above == 0
    assert bins.cumulative[-1] == pytest.approx(1) and (bins.densities * np.diff(bins.edges)).sum() == pytest.approx(1)
    assert np.all(np.diff(bins.edges) > 0)


def test_the_closed_side_decides_where_an_edge_belongs() -> None:
    x, edges = np.array([100.0, 125.0, 125.0, 150.0, 175.0, 200.0]), np.array([100.0, 125.0, 150.0, 175.0])
    assert count_in_bins(x, edges).counts.tolist() == [1, 2, 2] and count_in_bins(x, edges).above == 1
    assert count_in_bins(x, edges, "right").counts.tolist() == [3, 1, 1]
    inner = count_in_bins(x, np.array([125.0, 150.0]))
    assert (inner.below, inner.counts.tolist(), inner.above) == (1, [3], 2)


@given(st.floats(-1e3, 1e3), st.floats(0, 1e3), st.sampled_from([0.1, 0.25, 2.0, 7.5]))
def test_edges_of_a_width_are_its_multiples_about_the_data(low: float, span: float, width: float) -> None:
    edges = edges_of_width(low, low + span, width)
    assert np.allclose(edges / width, np.round(edges / width)) and len(edges) >= 2
    assert edges[0] <= low + 1e-9 * width + 1e-12 and edges[-1] >= low + span - 1e-9 * (abs(low) + span + width)
    assert len(edges) <= 2 or (edges[1] > low - 1e-6 and edges[-2] < low + span + 1e-6)
    with pytest.raises(NoBins, match="not-positive"):
        edges_of_width(0, 1, 0)


@pytest.mark.parametrize("step", [0.1, 0.5, 2.0, 10.0, 0.01])
def test_the_recording_step_is_found(step: float) -> None:
    rng = np.random.default_rng(5)
    assert recording_step(np.sort(np.round(rng.normal(100, 20, 500) / step) * step)) == pytest.approx(step)
    assert recording_step(np.sort(rng.normal(size=500))) is None


def test_open_ends_hold_what_lies_beyond() -> None:
    values = np.array([-40.0, 1.0, 5.0, 7.0, 900.0])
    bins = count_in_bins(values, np.array([-math.inf, 5.0, 10.0, math.inf]))
    assert (bins.counts.tolist(), bins.below, bins.above) == ([2, 2, 1], 0, 0)
    assert bins.cumulative.tolist() == pytest.approx([0.4, 0.8, 1.0])
    np.testing.assert_allclose(bins.densities, [math.nan, 0.4 / 5, math.nan])
