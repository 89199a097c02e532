"""Densities and bandwidths against direct sums, published formulas and SciPy."""

from __future__ import annotations

import math

import mpmath
import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy import stats

from echelle.numbers import density as d
from echelle.numbers.bandwidth import BANDWIDTH_RULES, BandwidthRule, bandwidth_of
from echelle.numbers.kernels import KERNELS, REACH, KernelName, kernel
from echelle.numbers.pair_sums import PairSums
from echelle.numbers.sample import sample_of

RNG = np.random.default_rng(20)
SKEWED = np.sort(RNG.lognormal(1.0, 0.6, 300))
VALUES = st.lists(st.floats(-50, 50).map(lambda x: round(x, 2)), min_size=1, max_size=40)


@pytest.mark.parametrize("name", KERNELS)
def test_kernels_hold_one_and_have_unit_spread(name: KernelName) -> None:
    def weight(power: int) -> mpmath.mpf:
        def value(u: mpmath.mpf) -> mpmath.mpf:
            return u**power * float(kernel(name, np.array([float(u)]))[0])

        return mpmath.quad(value, [-REACH[name], 0, REACH[name]])

    assert float(weight(0)) == pytest.approx(1, abs=1e-9) and float(weight(2)) == pytest.approx(1, abs=1e-8)


@given(VALUES, st.sampled_from(KERNELS), st.floats(0.05, 20))
def test_every_path_is_the_direct_sum(values: list[float], name: KernelName, bandwidth: float) -> None:
    x = np.sort(np.array(values))
    at = np.linspace(x[0] - 2 * bandwidth, x[-1] + 2 * bandwidth, 41)
    direct = np.array([math.fsum(kernel(name, (a - x) / bandwidth)) / (len(x) * bandwidth) for a in at])
    result = d.density_at(x, at, bandwidth, name)
    # At the very edge of a kernel that ends in a step, a value may fall to either side.
    edge = np.abs(np.abs(at[:, None] - x[None, :]) - REACH[name] * bandwidth).min(axis=1) < 1e-9 * (1 + np.abs(at))
    assert np.allclose(result[~edge], direct[~edge], rtol=0, atol=1e-11 * max(direct.max(), 1e-300) + 1e-15)


@pytest.mark.parametrize(
    "values",
    [
        RNG.normal(size=20_000),
        np.repeat([0.0, 7.123], 9_000),
        RNG.lognormal(0, 1.5, 20_000),
        np.round(RNG.normal(size=20_000), 1),
    ],
    ids=["normal", "two clusters", "skewed", "ties"],
)
@pytest.mark.parametrize("times", [0.3, 1.0])
def test_binning_keeps_within_a_millionth_of_the_maximum(values: np.ndarray, times: float) -> None:
    x = np.sort(values)
    bandwidth = bandwidth_of(x, "silverman", times).value
    assert bandwidth is not None
    at = np.linspace(x[0] - bandwidth, x[-1] + bandwidth, 301)
    sample = sample_of(x)
    direct = d._direct(sample, at, bandwidth)
    assert np.abs(d._by_transform(sample, at, bandwidth) - direct).max() <= 1e-6 * direct.max()


@pytest.mark.parametrize("name", KERNELS)
def test_folded_at_a_limit_nothing_is_lost(name: KernelName) -> None:
    curve = d.density_curve(SKEWED, 0.8, name, 20_001, "fold", low=0.0)
    tail = 1 - stats.norm.cdf(3.5) if name == "gaussian" else 0.0
    assert np.trapezoid(curve.values, curve.at) == pytest.approx(1, abs=2e-4 + 3 * tail)
    assert curve.at[0] == 0.0 and d.density_at(SKEWED, np.array([-0.1]), 0.8, name, low=0.0)[0] == 0
    free = d.density_at(SKEWED, np.array([0.3, -0.3]), 0.8, name)
    assert d.density_at(SKEWED, np.array([0.3]), 0.8, name, low=0.0)[0] == pytest.approx(free.sum())


def test_the_gaussian_agrees_with_scipy() -> None:
    reference = stats.gaussian_kde(SKEWED, 0.37 / np.std(SKEWED, ddof=1))
    at = np.linspace(0, 12, 77)
    assert np.allclose(d.density_at(SKEWED, at, 0.37), reference(at), rtol=1e-12)


def test_ends_and_peaks() -> None:
    two = np.sort(np.concatenate([RNG.normal(0, 1, 400), RNG.normal(8, 1, 200)]))
    stopped, past = d.density_curve(two, 0.5, ends="stop"), d.density_curve(two, 0.5)
    assert (stopped.at[0], stopped.at[-1]) == (two[0], two[-1]) and past.at[0] == pytest.approx(two[0] - 1.75)
    peaks = [peak for peak in d.peaks_of(past) if peak.height > 0.02]
    assert [round(peak.at) for peak in peaks] == [0, 8] and peaks[0].height > 1.5 * peaks[1].height


def test_silverman_and_scott_are_their_formulas() -> None:
    x = np.array([1.0, 2.0, 4.0, 7.0, 11.0])
    sd, iqr = float(np.std(x, ddof=1)), 5.0
    assert bandwidth_of(x, "silverman").value == pytest.approx(0.9 * min(sd, iqr / 1.34) * 5**-0.2, rel=1e-14)
    assert bandwidth_of(x, "scott", 2.0).value == pytest.approx(2 * 1.06 * sd * 5**-0.2, rel=1e-14)
    tied = np.array([1.0, 5.0, 5.0, 5.0, 5.0, 9.0])
    assert bandwidth_of(tied, "silverman").value == pytest.approx(0.9 * float(np.std(tied, ddof=1)) * 6**-0.2, rel=1e-14)
    assert bandwidth_of(tied, "sheather-jones").remark.code == "bandwidth-no-answer"
    assert bandwidth_of(np.array([3.0, 3.0]), "scott").value is None and bandwidth_of(x, 0.5, 3.0).value == 1.5


# The bandwidth of the last two is a hundredth of their spread.
FAR = (np.sort(RNG.lognormal(0, 2, 700)), np.sort(np.append(RNG.normal(size=299), 60.0)))


@pytest.mark.parametrize("x", [SKEWED, *FAR], ids=["skewed", "log-normal", "one far out"])
def test_sheather_jones_solves_its_equation(x: np.ndarray) -> None:
    """Equation 12 of Sheather & Jones (1991), with the double sums written out."""
    n, iqr = len(x), float(np.quantile(x, 0.75) - np.quantile(x, 0.25))
    u = x[:, None] - x[None, :]

    def fourth(a: float) -> float:
        s = (u / a) ** 2
        return float(((s**2 - 6 * s + 3) * stats.norm.pdf(u / a)).sum() / (n * (n - 1) * a**5))

    def sixth(b: float) -> float:
        s = (u / b) ** 2
        return -float(((s**3 - 15 * s**2 + 45 * s - 15) * stats.norm.pdf(u / b)).sum() / (n * (n - 1) * b**7))

    h = bandwidth_of(x, "sheather-jones").value
    assert h is not None
    factor = 1.357 * (fourth(0.920 * iqr * n ** (-1 / 7)) / sixth(0.912 * iqr * n ** (-1 / 9))) ** (1 / 7)
    right = (1 / (2 * math.sqrt(math.pi)) / (n * fourth(factor * h ** (5 / 7)))) ** 0.2
    assert h == pytest.approx(right, rel=1e-9) and h < 0.8


def test_cross_validation_minimises_its_criterion() -> None:
    x = SKEWED
    n = len(x)
    grid = np.linspace(x[0] - 6, x[-1] + 6, 40_001)

    def criterion(h: float) -> float:
        f = d.density_at(x, grid, h)
        others = (d.density_at(x, x, h) * n - 1 / (h * math.sqrt(2 * math.pi))) / (n - 1)
        return float(np.trapezoid(f * f, grid) - 2 * others.mean())

    h = bandwidth_of(x, "cross-validation").value
    assert h is not None and criterion(h) < min(criterion(0.9 * h), criterion(1.1 * h))
    assert bandwidth_of(np.sort(np.round(x)), "cross-validation").remark.code == "bandwidth-no-answer"


@pytest.mark.parametrize("order", [0, 4, 6])
@given(st.lists(st.one_of(st.floats(0, 9), st.integers(0, 9)), min_size=3, max_size=40), st.sampled_from([0.02, 0.3, 2.0]))
def test_sums_over_all_pairs_are_the_direct_ones(order: int, values: list[float], width: float) -> None:
    x = np.sort(np.array(values, dtype=np.float64))
    assume(x[-1] - x[0] > 1e-3)
    u = ((x[:, None] - x[None, :]) / width) ** 2
    hermite = {0: np.ones_like(u), 4: u * u - 6 * u + 3, 6: u**3 - 15 * u * u + 45 * u - 15}[order]
    terms = hermite * np.exp(-u / 2) / math.sqrt(2 * math.pi) / width ** (order + 1)
    result = PairSums(sample_of(x), width).derivative(width, order)
    assert result == pytest.approx(float(terms.sum()), abs=1e-11 * float(np.abs(terms).sum()))


def test_the_improved_plug_in_finds_the_right_order() -> None:
    """For a normal sample it comes near the best bandwidth 1.06·σ·n^(−1/5); for two far clusters it is not fooled."""
    x = np.sort(np.random.default_rng(3).normal(size=4_000))
    best = 1.06 * 4_000**-0.2
    assert bandwidth_of(x, "improved-plug-in").value == pytest.approx(best, rel=0.15)
    far = np.sort(np.concatenate([x, x + 100]))
    assert bandwidth_of(far, "improved-plug-in").value == pytest.approx(best * 2**-0.2, rel=0.25)


@pytest.mark.parametrize("rule", BANDWIDTH_RULES)
def test_bandwidths_follow_shift_and_scale(rule: BandwidthRule) -> None:
    first, second = bandwidth_of(SKEWED, rule).value, bandwidth_of(SKEWED * 1000 - 7, rule).value
    # On a grid a value at the border of two cells may fall to either side.
    assert first is not None and second == pytest.approx(1000 * first, rel=1e-3 if rule == "improved-plug-in" else 1e-6)


def test_sizes_that_curves_are_drawn_to() -> None:
    wide, narrow = (d.density_curve(np.array([-s, 0.0, s]), s) for s in (1.0, 0.1))
    curves, counts = [wide, narrow, None], [3, 30, 1]
    assert d.size_factors(curves, counts, "equal area") == [1.0, 1.0, 0.0]
    assert d.size_factors(curves, counts, "by n") == [3.0, 30.0, 0.0]
    widths = [f * c.values.max() for f, c in zip(d.size_factors(curves, counts, "equal width"), (wide, narrow), strict=False)]
    assert widths == pytest.approx([1.0, 1.0])
