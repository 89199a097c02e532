"""What is computed of each two lanes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from echelle.comparison.models import PairAnswer, estimate_line, test_line
from echelle.figures.lanes.control_charts import extra_of
from echelle.figures.lanes.lane_pairs import PAIRED_BY, LanePair, paired_of
from echelle.numbers.differences import bootstrap as resampled
from echelle.numbers.differences import hypothesis_tests as tests
from echelle.numbers.differences import paired, ranks
from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.differences.hypothesis_tests import Evidence
from echelle.numbers.differences.means import geometric_ratio, hedges_g, mean_difference, mean_ratio
from echelle.numbers.differences.mixed import mixed_difference, mixed_t
from echelle.numbers.differences.multiple_comparisons import adjust_p_values, level_of_each
from echelle.numbers.quantiles import Floats
from echelle.recipes.differences import Differences


@dataclass(frozen=True)
class Found:
    """What was computed of two lanes, before p-values are adjusted for the number of pairs."""

    estimates: list[Estimate]
    tests: list[Evidence]
    paired: bool
    note: str


def each_of(pairs: list[LanePair], asked: Differences) -> Iterator[Found]:
    """Estimates and tests of each pair, one after another."""
    level = level_of_each(asked.level, len(pairs), asked.together)
    for two in pairs:
        yield _pair(two, asked, level)


def answers(pairs: list[LanePair], found: list[Found], asked: Differences, names: dict[str, str]) -> list[PairAnswer]:
    """Pairs as they are answered; p-values of one test adjusted over all pairs."""
    tests_of = [one.tests for one in found]
    fixed: dict[tuple[int, int], float | None] = {}
    for place in range(max(map(len, tests_of), default=0)):
        column = [evidence[place].p if place < len(evidence) else None for evidence in tests_of]
        for row, p in enumerate(adjust_p_values(column, asked.adjusted)):
            fixed[row, place] = p
    return [
        PairAnswer(
            reference=names[two.reference.key], other=names[two.other.key],
            estimates=[estimate_line(estimate) for estimate in one.estimates],
            tests=[test_line(test, fixed[row, place]) for place, test in enumerate(one.tests)],
            paired=one.paired, note=one.note,
        )
        for row, (two, one) in enumerate(zip(pairs, found, strict=True))
    ]  # fmt: skip


def _pair(two: LanePair, asked: Differences, level: float) -> Found:
    if asked.paired_by is not None:
        return _paired(two, asked, asked.paired_by, level)
    reference, other = two.reference.values, two.other.values
    return Found(_apart(reference, other, asked, level), _tests(reference, other, asked), False, "")


def _apart(reference: Floats, other: Floats, asked: Differences, level: float) -> list[Estimate]:
    more = {"level": level, "resamples": asked.resamples, "seed": asked.seed}
    percentiles = [0.5, *(p for p in asked.percentiles if p != 0.5)]
    return [
        mean_difference(reference, other, level),
        *(resampled.percentile_difference(reference, other, p, **more).estimate for p in percentiles),  # type: ignore[arg-type]
        ranks.hodges_lehmann(reference, other, level),
        mean_ratio(reference, other, level),
        geometric_ratio(reference, other, level),
        resampled.sd_ratio(reference, other, **more).estimate,  # type: ignore[arg-type]
        resampled.iqr_ratio(reference, other, **more).estimate,  # type: ignore[arg-type]
        hedges_g(reference, other, level),
        ranks.superiority(reference, other, level),
        ranks.cliffs_delta(reference, other, level),
    ]


def _tests(reference: Floats, other: Floats, asked: Differences) -> list[Evidence]:
    result = [
        tests.welch_t(reference, other), tests.mann_whitney(reference, other),
        tests.permutation(reference, other, seed=asked.seed),
        tests.brown_forsythe([reference, other]), tests.kolmogorov_smirnov(reference, other),
    ]  # fmt: skip
    if asked.margin is not None:
        # Two one-sided tests at the level's own share of error: the interval at twice that share lies inside the margin.
        result.append(tests.equivalence(mean_difference(reference, other, 2 * asked.level - 1), asked.margin))
    return result


def _paired(two: LanePair, asked: Differences, by: str, level: float) -> Found:
    result = paired_of(two, asked, by)
    if asked.repeats == "mixed model" and result.reduced:
        return _mixed(two, asked, by, level)
    notes = [f"{len(result.differences)} pairs by {by}"]
    if result.reduced:
        notes.append(f"several rows of one subject reduced to their {asked.repeats} ({result.reduced} rows fewer)")
    if result.unpaired:
        notes.append(f"{result.unpaired} subjects stand in one lane only and are left out")
    apart = result.differences
    estimates = [paired.paired_mean(apart, level), paired.paired_median(apart, level), paired.paired_g(apart, level)]
    evidence = [tests.paired_t(apart), tests.wilcoxon(apart)]
    if asked.margin is not None:
        evidence.append(tests.equivalence(paired.paired_mean(apart, 2 * asked.level - 1), asked.margin))
    return Found(estimates, evidence, True, "; ".join(notes) + ".")


def _mixed(two: LanePair, asked: Differences, by: str, level: float) -> Found:
    """All rows of all subjects, those that stand in one lane only too."""
    subjects = [extra_of(lane, by, PAIRED_BY).codes for lane in (two.reference, two.other)]
    sides = (two.reference.values, subjects[0], two.other.values, subjects[1])
    difference = mixed_difference(*sides, level)
    evidence = [mixed_t(difference)]
    if asked.margin is not None:
        evidence.append(tests.equivalence(mixed_difference(*sides, 2 * asked.level - 1), asked.margin))
    people = len(np.union1d(subjects[0], subjects[1]))
    return Found([difference], evidence, True, f"All {sum(difference.n)} rows of {people} subjects by {by}, in a mixed model.")
