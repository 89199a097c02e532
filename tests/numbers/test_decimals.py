"""Readings are decimals: another unit and a shift change no decision, no statistic and no p, to the last bit."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from decimal import Decimal
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import scipy
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from echelle.numbers.bandwidth import BANDWIDTH_RULES, bandwidth_of
from echelle.numbers.bins import BIN_RULES, bin_count, count_in_bins, edges_of_width, even_edges
from echelle.numbers.decimals import decimal, decimals_of, exact_root, mean_and_squares, root
from echelle.numbers.differences import hypothesis_tests as tests
from echelle.numbers.differences.anova import anova_of_ranks, anova_two
from echelle.numbers.differences.bootstrap import iqr_ratio, percentile_difference, sd_ratio
from echelle.numbers.differences.control_rules import control_hits
from echelle.numbers.differences.means import hedges_g, mean_difference, mean_ratio
from echelle.numbers.differences.multiple_comparisons import games_howell, tukey_kramer
from echelle.numbers.differences.paired import paired_g, within_subjects
from echelle.numbers.differences.permutation import permutation
from echelle.numbers.differences.ranks import hodges_lehmann, superiority
from echelle.numbers.differences.variance_components import components
from echelle.numbers.dip import dip
from echelle.numbers.fences import beyond_fence
from echelle.numbers.intervals import IntervalSettings, centre_interval
from echelle.numbers.medcouple import medcouple
from echelle.numbers.moments import moments
from echelle.numbers.normality import anderson_darling, shapiro_wilk
from echelle.numbers.outliers import OUTLIER_RULES, USUAL_K, fences_of
from echelle.numbers.quantiles import quantile
from echelle.numbers.sample import Floats, sample_of_unordered
from echelle.numbers.variance_explained import variance_explained

NIST = Path(scipy.__file__).parent / "stats" / "tests" / "data" / "nist_anova"
CODES = {n: np.arange(n, dtype=np.int32) for n in range(200)}


def written(whole: Sequence[int], power: int, shift: int = 0) -> Floats:
    """Whole numbers, moved by a whole number, times a power of ten: the nearest float64 of each decimal."""
    return np.array([float(Decimal(value + shift).scaleb(power)) for value in whole])


samples = st.lists(st.one_of(st.integers(0, 30), st.integers(0, 2_000)), min_size=6, max_size=24)
# Up to 15 digits in all.
powers, shifts = st.integers(-12, 8), st.integers(-(10**6), 10**6)


def both_ways(a: Sequence[int], b: Sequence[int], power: int, shift: int) -> list[tuple[Floats, Floats]]:
    return [
        (written(a, 0), written(b, 0)),
        (written(a, power), written(b, power)),
        (written(a, -1, shift), written(b, -1, shift)),
    ]


def sizes(line: Any) -> tuple[Any, ...]:
    return line.statistic, line.p, line.df, line.n


UNIT_FREE: dict[str, Callable[[Floats, Floats], Any]] = {
    "Welch t": lambda a, b: sizes(tests.welch_t(a, b)),
    "Mann–Whitney": lambda a, b: sizes(tests.mann_whitney(a, b)),
    "Kolmogorov–Smirnov": lambda a, b: sizes(tests.kolmogorov_smirnov(a, b)),
    "Brown–Forsythe": lambda a, b: sizes(tests.brown_forsythe([a, b])),
    "one way": lambda a, b: sizes(tests.one_way([a, b])),
    "Welch analysis of variance": lambda a, b: sizes(tests.welch_anova([a, b, np.concatenate([a, b])])),
    "Kruskal–Wallis": lambda a, b: sizes(tests.kruskal_wallis([a, b])),
    "permutation": lambda a, b: permutation(a, b, 199).p,
    "Tukey–Kramer": lambda a, b: sizes(tukey_kramer([a, b], [(0, 1)])[0]),
    "Games–Howell": lambda a, b: sizes(games_howell([a, b], [(0, 1)])[0]),
    "Hedges g": lambda a, b: (hedges_g(a, b).value, hedges_g(a, b).low),
    "superiority": lambda a, b: superiority(a, b).low,
    "ratio of SDs": lambda a, b: (sd_ratio(a, b, resamples=200).estimate.value, sd_ratio(a, b, resamples=200).estimate.low),
    "ratio of IQRs": lambda a, b: iqr_ratio(a, b, resamples=200).estimate.high,
    "skewness, kurtosis": lambda a, b: (moments(a).skewness, moments(b).kurtosis),
    "medcouple": lambda a, b: medcouple(np.sort(a)),
    "variance explained": lambda a, b: variance_explained(
        np.concatenate([a, b]), np.repeat([0, 1], (len(a), len(b))).astype(np.int32)
    ),
    "normality": lambda a, b: (shapiro_wilk(sample_of_unordered(a)).p, anderson_darling(sample_of_unordered(b)).p),
    "dip": lambda a, b: dip(np.sort(a)),
    "bins": lambda a, b: [bin_count(np.sort(a), rule)[0] for rule in BIN_RULES],
    "outliers": lambda a, b: [
        beyond_fence(a, fences_of(np.sort(a), rule, USUAL_K[rule])).tolist() for rule in OUTLIER_RULES
    ],
    "paired": lambda a, b: (
        sizes(tests.paired_t(pairs(a, b))), sizes(tests.wilcoxon(pairs(a, b))), paired_g(pairs(a, b)).value
    ),
    "two factors": lambda a, b: [(line.f, line.p) for way in (anova_two, anova_of_ranks) for line in way(*crossed(a, b))],
}  # fmt: skip


def pairs(a: Floats, b: Floats) -> Floats:
    n = min(len(a), len(b))
    return within_subjects(a[:n], CODES[n] // 2, b[:n], CODES[n] // 2).differences


def crossed(a: Floats, b: Floats) -> tuple[Floats, Any, Any, tuple[str, str]]:
    n = len(a) + len(b)
    return np.concatenate([a, b]), CODES[n] % 2, (CODES[n] // 2) % 2, ("first", "second")


@pytest.mark.parametrize("name", UNIT_FREE)
@settings(max_examples=30)
@given(samples, samples, powers, shifts)
def test_what_has_no_unit_keeps_every_bit(name: str, a: list[int], b: list[int], power: int, shift: int) -> None:
    plain, *others = [UNIT_FREE[name](*each) for each in both_ways(a, b, power, shift)]
    assert others == [plain, plain]


WITH_UNIT: dict[str, Callable[[Floats, Floats], list[float | None]]] = {
    "difference of means": lambda a, b: ends(mean_difference(a, b)),
    "Hodges–Lehmann": lambda a, b: ends(hodges_lehmann(a, b)),
    "difference of medians": lambda a, b: ends(percentile_difference(a, b, 0.5, resamples=200).estimate),
    "difference of 90 % percentiles": lambda a, b: ends(percentile_difference(a, b, 0.9, resamples=200).estimate),
    "SD, SE": lambda a, b: [moments(a).sd, moments(b).se],
    "bandwidths": lambda a, b: [bandwidth_of(np.sort(a), rule).value for rule in BANDWIDTH_RULES],
    "components": lambda a, b: [part.sd for part in getattr(components(a, CODES[len(a)] // 3), "parts", ())],
}  # fmt: skip


@settings(max_examples=30)
@given(samples, samples, powers)
def test_a_ratio_keeps_every_bit_in_another_unit(a: list[int], b: list[int], power: int) -> None:
    first, second = (mean_ratio(*each) for each in both_ways(a, b, power, 0)[:2])
    assert ends(first) == ends(second)


def ends(estimate: Any) -> list[float | None]:
    return [estimate.value, estimate.low, estimate.high]


@pytest.mark.parametrize("name", WITH_UNIT)
@settings(max_examples=25)
@given(samples, samples, powers, shifts)
def test_distances_scale_and_stay_under_a_shift(name: str, a: list[int], b: list[int], power: int, shift: int) -> None:
    plain, scaled, moved = [WITH_UNIT[name](*each) for each in both_ways(a, b, power, shift)]
    for one, other, third in zip(plain, scaled, moved, strict=True):
        if one is None:
            assert other is None and third is None
            continue
        assert other == pytest.approx(float(decimal(one) * Fraction(10) ** power), rel=4e-16, abs=0)
        assert third == pytest.approx(one / 10, rel=4e-16, abs=0)


@given(samples, powers, shifts, st.sampled_from(["mean", "median"]), st.sampled_from(["confidence", "bootstrap BCa"]))
def test_intervals_of_a_centre_move_with_the_values(a: list[int], power: int, shift: int, centre: Any, rule: Any) -> None:
    asked = IntervalSettings(centre, 0.9, 200, 1)
    plain, other = (
        centre_interval(np.sort(values), moments(values), rule, asked) for values in (written(a, 0), written(a, power, shift))
    )
    assert (plain is None) == (other is None)
    if plain is not None and other is not None:
        for one, two in ((plain.low, other.low), (plain.high, other.high)):
            assert two == pytest.approx(
                float((decimal(one) + shift) * Fraction(10) ** power), rel=1e-9, abs=10.0 ** (power - 9)
            )


@given(st.lists(st.integers(-(10**6), 10**6), min_size=1, max_size=60), st.integers(-18, 6))
def test_offsets_give_every_value_back(whole: list[int], power: int) -> None:
    values = written(whole, power)
    result = decimals_of(values, values[:1])
    assert result.whole and [result.place(offset) for offset in result.samples[0].tolist()] == values.tolist()
    assert math.gcd(*(int(offset) for offset in result.samples[0])) <= 1
    mean, squares = mean_and_squares(result.samples[0], result.whole)
    exact = [Decimal(value).scaleb(power) for value in whole]
    assert result.place(mean) == float(Fraction(sum(map(Fraction, exact))) / len(exact))
    assert squares == sum((Fraction(int(x)) - mean) ** 2 for x in result.samples[0])


@given(st.lists(st.floats(-1e300, 1e300), min_size=1, max_size=30))
def test_values_without_a_last_place_stay_near(values: list[float]) -> None:
    result = decimals_of(np.array(values))
    span = max(values) - min(values) if max(values) - min(values) < math.inf else 1e301
    for value, offset in zip(values, result.samples[0].tolist(), strict=True):
        assert abs(result.place(offset) - value) <= 1e-15 * span + 1e-323


@given(st.integers(0, 10**9), st.integers(1, 10**6))
def test_roots_of_fractions(above: int, below: int) -> None:
    assert exact_root(Fraction(above, below) ** 2) == Fraction(above, below)
    assert root(Fraction(above, below)) == pytest.approx(math.sqrt(above / below), rel=2e-16)


# Faults that float64 makes of one decimal.


def test_a_value_on_a_fence_is_no_outlier() -> None:
    values = np.array([4.9, 4.9, 5.1, 5.1, 5.2, 5.3, 5.5, 5.8])
    fences = fences_of(values, "quartiles", 1.5)
    assert fences.high == 5.8 and not len(beyond_fence(values, fences))
    on_two_sd = np.array([0.1, 0.1, 0.3, 0.3, 0.2])  # mean 0.2, SD 0.1
    assert fences_of(np.sort(on_two_sd), "mean and SD", 1.0).high == 0.3


def test_control_limits_are_those_on_paper() -> None:
    assert control_hits(np.array([4.3]), 5.2, 0.3) == control_hits(np.array([43.0]), 52.0, 3.0)
    assert [hit.rule for hit in control_hits(np.array([4.3]), 5.2, 0.3)] == ["1-2s"]
    assert control_hits(np.array([5.8]), 5.2, 0.3) == []


@given(st.integers(1, 60), st.integers(0, 400), st.integers(1, 60), st.integers(-6, 6))
def test_columns_of_decimals_are_those_of_whole_numbers(width: int, span: int, count: int, power: int) -> None:
    whole = list(range(span + 1))
    for unit in (power, 0):
        values = written(whole, unit)
        counted = count_in_bins(values, edges_of_width(values[0], values[-1], float(written([width], unit)[0]))).counts
        expected = [sum(low <= v < low + width for v in whole) for low in range(0, max(span, 1), width)]
        expected[-1] += span % width == 0 and span > 0
        assert counted.tolist() == expected
        even = count_in_bins(values, even_edges(values[0], values[-1], count)).counts.tolist() if span else [1] * count
        inside = [Fraction(span * i, count) for i in range(count + 1)]
        right = [sum(a <= v < b or (v == b == span) for v in whole) for a, b in itertools.pairwise(inside)]
        assert even == right or not span


def test_lanes_without_spread_have_no_ratio() -> None:
    nothing = tests.brown_forsythe([np.array([0.1, 0.3]), np.array([0.1, 0.7])])
    assert nothing.p is None
    assert sd_ratio(np.full(9, 0.1), np.arange(9.0)).estimate.value is None
    cells = np.array([0, 0, 1, 1] * 3, dtype=np.int32), np.array([0, 1, 0, 1] * 3, dtype=np.int32)
    constant = anova_two(np.array([0.1, 0.2, 0.3, 0.7] * 3), *cells, ("a", "b"))
    assert [line.f for line in constant] == [None] * 4 and constant[-1].squares == 0.0


@given(st.lists(st.integers(1, 40), min_size=3, max_size=12), st.integers(-3, 1))
def test_equal_readings_differ_by_nothing(whole: list[int], power: int) -> None:
    first, apart = written(whole, power), written([1], power)[0]
    second = written([value + 1 for value in whole], power)
    result = within_subjects(first, CODES[len(whole)], second, CODES[len(whole)]).differences
    assert set(result.tolist()) == {apart} and tests.paired_t(result).p is None
    same = within_subjects(first, CODES[len(whole)], first.copy(), CODES[len(whole)]).differences
    assert not same.any() and tests.wilcoxon(same).p is None


@given(st.lists(st.integers(0, 50), min_size=1, max_size=40), st.integers(-6, 3), st.integers(1, 9), st.integers(0, 100))
def test_quantiles_are_rounded_once(whole: list[int], power: int, definition: Any, percent: int) -> None:
    ordered = sorted(whole)
    plain = quantile(written(ordered, 0), percent / 100, definition)
    assume(abs(decimal(plain) * 900 - round(decimal(plain) * 900)) < Fraction(1, 10**6))
    exact = Fraction(round(decimal(plain) * 900), 900) * Fraction(10) ** power
    assert quantile(written(ordered, power), percent / 100, definition) == float(exact)


# Certified values of NIST's statistical reference data (public domain): as SciPy carries them, and by their formulas.


def certified(name: str) -> tuple[list[Floats], dict[str, list[float]]]:
    lines = (NIST / name).read_text().splitlines()
    rows = [line.split() for line in lines[60:] if line.strip()]
    lanes = [np.array([float(y) for _, y in group]) for _, group in itertools.groupby(rows, key=lambda row: row[0])]
    words = {line.split()[0]: line.split() for line in lines[:60] if line.startswith(("Between", "Within"))}
    return lanes, {key: [float(word) for word in line if word[0].isdigit()] for key, line in words.items()}


@pytest.mark.parametrize("name", sorted(path.name for path in NIST.glob("*.dat")))
def test_certified_analyses_of_variance(name: str) -> None:
    lanes, table = certified(name)
    (df, squares, square, f), (df_within, left, residual) = table["Between"], table["Within"]
    result = tests.one_way(lanes)
    assert result.df == (df, df_within) and result.statistic == pytest.approx(f, rel=1e-14)
    runs = np.repeat(np.arange(len(lanes)), [len(lane) for lane in lanes]).astype(np.int32)
    parts = components(np.concatenate(lanes), runs)
    assert parts is not None and parts.parts[0].sd == pytest.approx(math.sqrt(residual), rel=1e-14)
    size = (sum(map(len, lanes)) - sum(len(lane) ** 2 for lane in lanes) / sum(map(len, lanes))) / (len(lanes) - 1)
    between = max(0.0, (square - residual) / size)
    assert parts.parts[1].sd == pytest.approx(math.sqrt(between), rel=1e-13)
    assert squares / df == pytest.approx(square, rel=1e-14) and left / df_within == pytest.approx(residual, rel=1e-14)


@pytest.mark.parametrize("size", [1, 2, 3])
def test_thirteen_leading_digits_give_the_bits_of_one(size: int) -> None:
    first, *others = [certified(f"SmLs0{size + more}.dat")[0] for more in (0, 3, 6)]
    for lanes in others:
        assert tests.one_way(lanes) == tests.one_way(first)
        assert [moments(lane).sd for lane in lanes] == [moments(lane).sd for lane in first]
        assert tests.welch_t(lanes[0], lanes[3]) == tests.welch_t(first[0], first[3])
        assert tests.brown_forsythe(lanes) == tests.brown_forsythe(first)
        assert tukey_kramer(lanes, [(0, 8)]) == tukey_kramer(first, [(0, 8)])


@pytest.mark.parametrize(
    ("values", "mean", "sd"),
    [
        ([10000001.0, 10000003.0, 10000002.0], 10000002.0, 1.0),
        ([1.2, *[1.1, 1.3] * 500], 1.2, 0.1),
        ([1000000.2, *[1000000.1, 1000000.3] * 500], 1000000.2, 0.1),
        ([10000000.2, *[10000000.1, 10000000.3] * 500], 10000000.2, 0.1),
    ],
    ids=["NumAcc1", "NumAcc2", "NumAcc3", "NumAcc4"],
)
def test_certified_means_and_spreads(values: list[float], mean: float, sd: float) -> None:
    result = moments(np.array(values))
    assert (result.mean, result.sd) == (mean, sd)
