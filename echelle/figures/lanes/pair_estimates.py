"""How two lanes of a figure differ, and the test beside it: by rows, within subjects, or by a mixed model."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from echelle.figures.lanes.figure_context import cache_on_lane
from echelle.figures.lanes.lane_pairs import LanePair, paired_of, pairing_of
from echelle.numbers.differences import hypothesis_tests as tests
from echelle.numbers.differences import paired
from echelle.numbers.differences.bootstrap import percentile_difference
from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.differences.hypothesis_tests import Evidence
from echelle.numbers.differences.means import mean_difference
from echelle.numbers.differences.mixed import mixed_difference, mixed_t
from echelle.numbers.differences.ranks import hodges_lehmann
from echelle.numbers.sample import Floats
from echelle.recipes.differences import Differences

DifferenceOf = Literal["means", "medians", "shift"]
Way = Literal["rows", "subjects", "mixed model"]


@dataclass(frozen=True, eq=False)
class PairEstimate:
    """An estimate, how it was come by, and the resampled statistic (shape (resamples,)) where there is one."""

    estimate: Estimate
    way: Way
    resampled: Floats | None = None


def way_of(pair: LanePair, differences: Differences, of: DifferenceOf) -> Way:
    """How a pair is compared. Raises InputError for an identifier that lanes do not carry."""
    pairing = pairing_of(pair, differences)
    if pairing is None:
        return "rows"
    mixed = differences.repeats == "mixed model" and of == "means"
    return "mixed model" if mixed and paired_of(pair, differences, pairing).reduced else "subjects"


def _apart(pair: LanePair, differences: Differences) -> Floats:
    pairing = pairing_of(pair, differences)
    assert pairing is not None, "only pairs are within subjects"
    return paired_of(pair, differences, pairing).differences


def pair_estimate(pair: LanePair, differences: Differences, of: DifferenceOf, level: float, seed: int) -> PairEstimate:
    """The difference of a pair at a level. Raises InputError as :func:`way_of` does."""
    asked = (differences.paired_by, differences.by_row, differences.repeats, differences.resamples)
    key = ("pair estimate", pair.reference.key, of, level, seed, asked)
    return cache_on_lane(pair.other, key, lambda: _estimate(pair, differences, of, level, seed))


def _estimate(pair: LanePair, differences: Differences, of: DifferenceOf, level: float, seed: int) -> PairEstimate:
    way = way_of(pair, differences, of)
    reference, other = pair.reference.ordered, pair.other.ordered
    if way == "mixed model":
        return PairEstimate(_mixed(pair, differences, level), way)
    if way == "subjects":
        apart = _apart(pair, differences)
        by = paired.paired_mean if of == "means" else paired.paired_median
        return PairEstimate(by(apart, level), way)
    if of == "means":
        return PairEstimate(mean_difference(reference, other, level), way)
    if of == "shift":
        return PairEstimate(hodges_lehmann(reference, other, level), way)
    drawn = percentile_difference(reference, other, 0.5, level, differences.resamples, seed)
    return PairEstimate(drawn.estimate, way, drawn.resampled)


def pair_test(pair: LanePair, differences: Differences, of: DifferenceOf) -> Evidence:
    """The test that goes with it. Raises InputError as :func:`way_of` does."""
    key = ("pair test", pair.reference.key, of, differences.paired_by, differences.by_row, differences.repeats)
    return cache_on_lane(pair.other, key, lambda: _test(pair, differences, of))


def _test(pair: LanePair, differences: Differences, of: DifferenceOf) -> Evidence:
    way = way_of(pair, differences, of)
    if way == "mixed model":
        return mixed_t(_mixed(pair, differences, differences.level))
    if way == "subjects":
        apart = _apart(pair, differences)
        return tests.paired_t(apart) if of == "means" else tests.wilcoxon(apart)
    by = tests.welch_t if of == "means" else tests.mann_whitney
    return by(pair.reference.ordered, pair.other.ordered)


def _mixed(pair: LanePair, differences: Differences, level: float) -> Estimate:
    pairing = pairing_of(pair, differences)
    assert pairing is not None, "only pairs are within subjects"
    a, b = pair.reference, pair.other
    return mixed_difference(a.values, pairing.subjects(a), b.values, pairing.subjects(b), level)
