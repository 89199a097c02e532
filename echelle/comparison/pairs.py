"""What is computed of each two lanes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from echelle.catalogue.catalogue import catalogue
from echelle.comparison.models import PairAnswer, estimate_line, test_line
from echelle.figures.lanes.lane_pairs import LanePair, Pairing, paired_of, pairing_of
from echelle.numbers.differences import bootstrap as resampled
from echelle.numbers.differences import hypothesis_tests as tests
from echelle.numbers.differences import paired, ranks
from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.differences.hypothesis_tests import Evidence
from echelle.numbers.differences.means import geometric_ratio, hedges_g, mean_difference, mean_ratio
from echelle.numbers.differences.mixed import mixed_difference, mixed_t
from echelle.numbers.differences.multiple_comparisons import adjust_p_values, level_of_each
from echelle.numbers.differences.permutation import permutation
from echelle.numbers.sample import Sample
from echelle.recipes.differences import Differences


@dataclass(frozen=True)
class PairEvidence:
    """What was computed of two lanes, before p-values are adjusted for the number of pairs."""

    estimates: list[Estimate]
    tests: list[Evidence]
    paired: bool
    note: str


def each_of(pairs: list[LanePair], differences: Differences) -> Iterator[PairEvidence]:
    """Estimates and tests of each pair, one after another."""
    level = level_of_each(differences.level, len(pairs), differences.together)
    for pair in pairs:
        yield _pair(pair, differences, level)


def answers(
    pairs: list[LanePair], results: list[PairEvidence], differences: Differences, names: dict[str, str]
) -> list[PairAnswer]:
    """Pairs as they are answered; p-values of one test adjusted over all pairs."""
    tests_of = [item.tests for item in results]
    fixed: dict[tuple[int, int], float | None] = {}
    for place in range(max(map(len, tests_of), default=0)):
        column = [evidence[place].p if place < len(evidence) else None for evidence in tests_of]
        for row, p in enumerate(adjust_p_values(column, differences.adjusted)):
            fixed[row, place] = p
    return [
        PairAnswer(
            reference=names[pair.reference.key], other=names[pair.other.key],
            estimates=[estimate_line(estimate) for estimate in item.estimates],
            tests=[test_line(test, fixed[row, place]) for place, test in enumerate(item.tests)],
            paired=item.paired, note=item.note,
        )
        for row, (pair, item) in enumerate(zip(pairs, results, strict=True))
    ]  # fmt: skip


def _pair(pair: LanePair, differences: Differences, level: float) -> PairEvidence:
    pairing = pairing_of(pair, differences)
    if pairing is not None:
        return _paired_evidence(pair, differences, pairing, level)
    reference, other = pair.reference.ordered, pair.other.ordered
    return PairEvidence(
        _independent_evidence(reference, other, differences, level), _tests(reference, other, differences), False, ""
    )


def _independent_evidence(reference: Sample, other: Sample, differences: Differences, level: float) -> list[Estimate]:
    more = {"level": level, "resamples": differences.resamples, "seed": differences.seed}
    percentiles = [0.5, *(p for p in differences.percentiles if p != 0.5)]
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


def _tests(reference: Sample, other: Sample, differences: Differences) -> list[Evidence]:
    result = [
        tests.welch_t(reference, other), tests.mann_whitney(reference, other),
        permutation(reference, other, seed=differences.seed),
        tests.brown_forsythe([reference, other]), tests.kolmogorov_smirnov(reference, other),
    ]  # fmt: skip
    if differences.margin is not None:
        # Two one-sided tests at the level's own share of error: the interval at twice that share lies inside the margin.
        result.append(tests.equivalence(mean_difference(reference, other, 2 * differences.level - 1), differences.margin))
    return result


def _paired_evidence(pair: LanePair, differences: Differences, pairing: Pairing, level: float) -> PairEvidence:
    result = paired_of(pair, differences, pairing)
    if differences.repeats == "mixed model" and result.reduced:
        return _mixed_evidence(pair, differences, pairing, level)
    words = catalogue()
    by = pairing.said(words)
    notes = [words.say("pairs-by", count=len(result.differences), by=by)]
    if result.reduced:
        notes.append(words.say("pairs-reduced", repeats=differences.repeats, rows=result.reduced))
    if result.unpaired:
        notes.append(words.say("pairs-alone", count=result.unpaired))
    apart = result.differences
    estimates = [paired.paired_mean(apart, level), paired.paired_median(apart, level), paired.paired_g(apart, level)]
    evidence = [tests.paired_t(apart), tests.wilcoxon(apart)]
    if differences.margin is not None:
        evidence.append(tests.equivalence(paired.paired_mean(apart, 2 * differences.level - 1), differences.margin))
    return PairEvidence(estimates, evidence, True, "; ".join(notes) + ".")


def _mixed_evidence(pair: LanePair, differences: Differences, pairing: Pairing, level: float) -> PairEvidence:
    """All rows of all subjects, those that stand in one lane only too."""
    subjects = [pairing.subjects(lane) for lane in (pair.reference, pair.other)]
    sides = (pair.reference.values, subjects[0], pair.other.values, subjects[1])
    difference = mixed_difference(*sides, level)
    evidence = [mixed_t(difference)]
    if differences.margin is not None:
        evidence.append(tests.equivalence(mixed_difference(*sides, 2 * differences.level - 1), differences.margin))
    people = len(np.union1d(subjects[0], subjects[1]))
    note = catalogue().say("pairs-mixed", rows=sum(difference.n), people=people, by=pairing.said(catalogue()))
    return PairEvidence([difference], evidence, True, note)
