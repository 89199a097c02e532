"""Intervals, cumulative shares, limits in order, stem and leaf."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy import stats

from echelle.numbers.censored_quantiles import Limit, quantile_in_order
from echelle.numbers.cumulative import greatest_distance, normal_scores, plotting_positions, robust_line, steps
from echelle.numbers.intervals import (
    INTERVAL_RULES,
    Centre,
    CentreInterval,
    Interval,
    IntervalSettings,
    bca_interval,
    centre_interval,
    draws,
    mean_interval,
    median_interval,
)
from echelle.numbers.moments import moments
from echelle.numbers.stem import stem_and_leaf

X = np.sort(np.random.default_rng(8).lognormal(1, 0.5, 60))


def test_the_mean_by_t_and_the_median_by_ranks() -> None:
    result = mean_interval(X, 0.9)
    assert result is not None
    assert (result.low, result.high) == pytest.approx(stats.t.interval(0.9, 59, X.mean(), stats.sem(X)), rel=1e-12)
    middle = median_interval(X)
    assert middle is not None
    r = int(np.searchsorted(X, middle.low)) + 1
    held = 1 - 2 * stats.binom.cdf(r - 1, 60, 0.5)
    assert X[60 - r] == middle.high and middle.level == pytest.approx(held)
    assert held >= 0.95 > 1 - 2 * stats.binom.cdf(r, 60, 0.5)
    assert median_interval(X[:5]) is None and mean_interval(X[:1]) is None
    assert median_interval(X[:6]) is not None


def line(values: np.ndarray, rule: CentreInterval, centre: str = "mean", level: float = 0.95) -> Interval | None:
    return centre_interval(values, moments(values), rule, IntervalSettings(centre, level, 4_000, 11))  # type: ignore[arg-type]


def test_bootstrap_is_seeded_and_agrees_with_scipy() -> None:
    assert line(X, "bootstrap percentile") == line(X, "bootstrap percentile")
    for method, rule in (("percentile", "bootstrap percentile"), ("BCa", "bootstrap BCa")):
        interval = line(X, rule)  # type: ignore[arg-type]
        theirs = stats.bootstrap((X,), np.mean, n_resamples=20_000, method=method, random_state=3, vectorized=True)
        assert interval is not None
        width = theirs.confidence_interval.high - theirs.confidence_interval.low
        assert interval.low == pytest.approx(theirs.confidence_interval.low, abs=0.05 * width)
        assert interval.high == pytest.approx(theirs.confidence_interval.high, abs=0.05 * width)
    constant = line(np.full(5, 2.0), "bootstrap BCa")
    assert constant is not None and constant.low == constant.high == 2.0
    assert bca_interval(float(X.mean()), X + 100, (X,)) is None


def test_each_rule_of_a_line_is_what_its_name_says() -> None:
    shape = moments(X)
    assert shape.mean is not None and shape.sd is not None and shape.se is not None
    ends = {rule: line(X, rule) for rule in INTERVAL_RULES}
    assert ends["none"] is None
    for rule, half in (("SD", shape.sd), ("SE", shape.se)):
        assert ends[rule] == Interval(shape.mean - half, shape.mean + half, 0.95, rule)
    by_t, by_ranks = mean_interval(X), median_interval(X)
    assert ends["confidence"] == by_t and line(X, "confidence", "median") == by_ranks
    # Beyond its most values, and where it has no answer, another rule stands in.
    long = np.sort(np.random.default_rng(1).normal(size=5_001))
    stood_in, percentile = line(long, "bootstrap BCa"), line(long, "bootstrap percentile")
    assert stood_in is not None and percentile is not None and stood_in.remark.code == "interval-too-many"
    assert (stood_in.low, stood_in.high, stood_in.rule) == (percentile.low, percentile.high, "bootstrap percentile")
    about_median = line(X, "SE", "median")
    assert about_median is not None and about_median.remark.code == "interval-of-the-mean"
    assert (about_median.low, about_median.high) == (by_ranks.low, by_ranks.high)
    assert all(line(X[:1], rule) is None for rule in INTERVAL_RULES)


def test_cumulative_shares_and_plotting_positions() -> None:
    values, shares = steps(np.array([1.0, 2.0, 2.0, 5.0]))
    assert values.tolist() == [1, 2, 5] and shares.tolist() == [0.25, 0.75, 1.0]
    assert plotting_positions(4, "hazen").tolist() == [0.125, 0.375, 0.625, 0.875]
    assert plotting_positions(4, "weibull").tolist() == [0.2, 0.4, 0.6, 0.8]
    assert plotting_positions(4)[0] == pytest.approx((1 - 0.375) / 4.25)
    assert normal_scores(5)[2] == 0
    straight = robust_line(np.sort(stats.norm.ppf(plotting_positions(4001, "hazen"), 10, 3)))
    assert (straight.centre, straight.slope) == (pytest.approx(10), pytest.approx(3, rel=1e-3))
    other = X * 1.3
    assert greatest_distance(X, other)[0] == pytest.approx(stats.ks_2samp(X, other).statistic, rel=1e-12)


def test_quantiles_in_order_stop_at_limits() -> None:
    values, below, above = np.array([0.5, 1.0, 2.0, 3.0]), np.array([0.4, 0.4, 0.4]), np.array([10.0])
    assert str(quantile_in_order(values, below, above, 0.25)) == "<0.4"
    assert quantile_in_order(values, below, above, 0.5) == (0.5 + 1.0) / 2
    assert quantile_in_order(values, below, above, 1.0) == Limit(above=10.0)
    # Between a limit and a number there is no number either.
    assert quantile_in_order(values, below, np.empty(0), 2.5 / 6) == Limit(below=0.4)
    assert quantile_in_order(np.array([0.4, 5.0]), np.array([0.4]), np.empty(0), 0.5) == 0.4


def test_stem_and_leaf() -> None:
    """Leaves are cut, stems without leaves stand, values beyond the fences are set aside."""
    lines = stem_and_leaf(np.array([12.0, 13.9, 15.0, 21.0, 22.0, 24.0, 45.0, 200.0]), 1.0)
    assert lines == ["1 | 235", "2 | 124", "3 | ", "4 | 5", "high | 200", "unit 1: 2 | 1 = 21"]
    split = stem_and_leaf(np.array([10.0, 14.0, 15.0, 19.0]), 1.0, split=2)
    assert split[:2] == ["1 | 04", "1 | 59"]
    below = stem_and_leaf(np.array([-12.0, -3.0, 0.0, 4.0]), 1.0)
    assert [line.strip() for line in below[:3]] == ["−1 | 2", "−0 | 3", "0 | 04"]
    body = [line for line in stem_and_leaf(X) if line[0].isdigit()]
    high = sum(line.count(",") + 1 for line in stem_and_leaf(X) if line.startswith("high"))
    assert sum(len(line.partition(" | ")[2]) for line in body) + high == len(X)


@pytest.mark.parametrize("centre", ["mean", "median"])
@pytest.mark.parametrize("step", [None, 0.5])
def test_centres_of_resamples_spread_as_those_of_drawn_resamples_do(centre: Centre, step: float | None) -> None:
    """Few different values are drawn by their counts, medians by their ranks: both ends as of resamples drawn one by one."""
    rng = np.random.default_rng(3)
    values = np.sort(rng.lognormal(1, 0.5, 301) if step is None else rng.integers(0, 8, 301) * step)
    drawn = getattr(np, centre)(values[rng.integers(0, 301, (40_000, 301))], axis=1)
    interval = centre_interval(values, moments(values), "bootstrap percentile", IntervalSettings(centre, 0.9, 20_000, 1))
    assert interval is not None
    assert (interval.low, interval.high) == pytest.approx(np.quantile(drawn, (0.05, 0.95)), abs=0.02)


def test_what_resamples_cost_is_known_before() -> None:
    asked = IntervalSettings("mean", 0.95, 2_000, 1)
    values, few = np.arange(90_000) / 7, np.sort(np.arange(90_000) % 30 / 10)
    assert draws(values, "bootstrap BCa", asked) == 2_000 * 90_000 and draws(few, "bootstrap BCa", asked) == 2_000 * 300
    assert draws(values, "bootstrap percentile", replace(asked, centre="median")) == 2_000
    assert draws(values, "confidence", asked) == draws(values, "SD", asked) == 0
