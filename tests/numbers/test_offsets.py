"""Offsets of points: repeatable, inside the lane, never overlapping where there is room."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.numbers.moments import coefficient_of_variation, geometric, moments
from echelle.numbers.normality import anderson_darling, normal_curve, shapiro_wilk
from echelle.numbers.point_spread import jitter, shaped_jitter, stack, swarm
from echelle.numbers.sample import sample_of, sample_of_unordered

PLACES = st.lists(st.floats(0, 60).map(lambda x: round(x, 1)), min_size=1, max_size=40)


@given(PLACES, st.integers(0, 1000))
def test_a_point_keeps_its_place_when_others_leave(values: list[float], seed: int) -> None:
    rows = np.arange(1, len(values) + 1)
    kept = rows[::2]
    assert np.array_equal(jitter(rows, seed)[::2], jitter(kept, seed))
    assert np.all(np.abs(shaped_jitter(rows, seed, np.ones(len(rows)))) <= 0.5)


@given(PLACES)
def test_a_swarm_never_overlaps_where_there_is_room(values: list[float]) -> None:
    along = np.array(values)
    result = swarm(along, np.arange(len(along)), 3.0, room=1e6)
    assert result.crowded == 0
    gaps = np.hypot(along[:, None] - along[None, :], result.offsets[:, None] - result.offsets[None, :])
    assert gaps[~np.eye(len(along), dtype=bool)].min(initial=9.0) >= 3.0 - 1e-6
    back = np.argsort(np.random.default_rng(0).permutation(len(along)), kind="stable")
    again = swarm(along[back], np.arange(len(along))[back], 3.0, room=1e6)
    assert np.array_equal(again.offsets, result.offsets[back])


@given(PLACES)
def test_a_swarm_stays_in_its_lane_and_counts_who_found_no_place(values: list[float]) -> None:
    along = np.array([*values, *values, *values, 5.0, 5.0, 5.0, 5.0])
    result = swarm(along, np.arange(len(along)), 3.0, room=3.0)
    assert np.abs(result.offsets).max() <= 3.0 and result.crowded > 0


@given(PLACES)
def test_piles_count_up(values: list[float]) -> None:
    along = np.array(values)
    offsets = stack(along, np.arange(len(along)), 2.0)
    for step in np.unique(np.floor(along / 2 + 0.5)):
        pile = np.sort(offsets[np.floor(along / 2 + 0.5) == step])
        assert pile.tolist() == [2.0 * i for i in range(len(pile))]


def test_geometric_mean_and_variation() -> None:
    result = geometric(sample_of(np.array([1.0, 10.0, 100.0])))
    assert result is not None and abs(result.mean - 10) < 1e-12 and result.sd is not None and abs(result.sd - 10) < 1e-12
    assert geometric(sample_of(np.array([0.0, 1.0]))) is None
    assert coefficient_of_variation(moments(np.array([9.0, 11.0]))) == np.sqrt(2) / 10
    assert coefficient_of_variation(moments(np.array([-1.0, 1.0]))) is None


def test_tests_of_normality_tell_shapes_apart_and_say_their_limits() -> None:
    rng = np.random.default_rng(2)
    normal, skewed = np.sort(rng.normal(5, 2, 200)), np.sort(rng.lognormal(0, 0.8, 200))
    for test in (shapiro_wilk, anderson_darling):
        good, bad = test(sample_of(normal)), test(sample_of(skewed))
        assert good.p is not None and bad.p is not None and good.p > 0.05 > 1e-6 > bad.p
        assert test(sample_of(np.full(20, 3.0))).p is None and test(sample_of(np.full(20, 3.0))).remark.code.endswith(
            "-different"
        )
        scaled = test(sample_of(normal * 1e6 - 3))
        assert scaled.statistic is not None and abs(scaled.statistic - (good.statistic or 0)) < 1e-8
    assert shapiro_wilk(sample_of_unordered(rng.normal(size=6000))).remark.code == "p-unreliable"
    # D'Agostino & Stephens (1986): at the 5 % point of the modified statistic, 0.752, the p-value is 0.05.
    assert abs(np.exp(1.2937 - 5.709 * 0.752 + 0.0186 * 0.752**2) - 0.05) < 5e-4


def test_the_normal_curve_has_the_lanes_mean_and_sd() -> None:
    at = np.linspace(-30, 40, 7001)
    curve = normal_curve(at, 3.0, 2.5)
    step = at[1] - at[0]
    mean = float((curve * at).sum() * step)
    assert (float(curve.sum() * step), mean) == pytest.approx((1.0, 3.0))
    assert float((curve * (at - mean) ** 2).sum() * step) == pytest.approx(6.25)


@given(st.lists(st.sampled_from([0.0, 0.4, 1.0, 2.5, 9.0]), min_size=1, max_size=60))
def test_a_crowded_swarm_is_the_one_of_the_plain_rule(values: list[float]) -> None:
    """Point by point: the free place nearest to the line among the ends of what earlier ones take, else a side."""
    along, size, room = np.sort(np.array(values)), 1.5, 2.0
    places: list[float] = []
    crowded = 0
    for at, here in enumerate(along):
        earlier = [(other, place) for other, place in zip(along, places, strict=False) if here - other < size]
        taken = [(place, math.sqrt(size**2 - (here - other) ** 2) * (1 + 1e-9)) for other, place in earlier]
        ends = [0.0, *(place + side * gap for place, gap in taken for side in (-1, 1))]
        free = [end for end in ends if abs(end) <= room and all(not place - gap < end < place + gap for place, gap in taken)]
        crowded += not free
        side = room if len(earlier) % 2 else -room
        places.append(min(free, key=lambda end: (abs(end), end)) if free else side)
        assert at + 1 == len(places)
    result = swarm(along, np.arange(len(along)), size, room)
    assert result.crowded == crowded and np.allclose(result.offsets, places, atol=1e-9)
