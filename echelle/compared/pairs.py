"""Which lanes are set against which, and what is computed of each two."""

from __future__ import annotations

from itertools import combinations, pairwise

import numpy as np
from numpy.typing import NDArray

from echelle.compared.models import PairAnswer, estimate_line, test_line
from echelle.errors import InputError
from echelle.figures.lanes import Arrangement, Lane
from echelle.numbers.differences import paired, ranks, resampled, tests
from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.differences.means import geometric_ratio, hedges_g, mean_difference, mean_ratio
from echelle.numbers.differences.several import adjusted, level_of_each
from echelle.numbers.differences.tests import Evidence
from echelle.numbers.quantiles import Floats
from echelle.recipes.differences import Differences

MOST_PAIRS = 300
Two = tuple[Lane, Lane]


def pairs_of(arrangement: Arrangement, asked: Differences) -> list[Two]:
    """The lanes with values, two by two. Raises InputError for a reference that is no level here, or too many pairs."""
    found: list[Two] = []
    for panel in arrangement.panels:
        here = [lane for lane in arrangement.of_panel(panel.key) if len(lane.values)]
        if asked.to == "subgroups":
            by_group = {lane.slot: [one for one in here if one.slot == lane.slot] for lane in here}
            found += [two for lanes in by_group.values() for two in combinations(lanes, 2)]
            continue
        for part in sorted({lane.part for lane in here}):
            found += _of_part([lane for lane in here if lane.part == part], asked)
    if len(found) > MOST_PAIRS:
        raise InputError(
            f"{len(found)} pairs are more than {MOST_PAIRS}", where="$.differences.to", remedy="Compare with a reference."
        )
    return found


def _of_part(lanes: list[Lane], asked: Differences) -> list[Two]:
    if asked.to == "all pairs":
        return list(combinations(lanes, 2))
    if asked.to == "neighbours":
        return list(pairwise(lanes))
    if asked.reference is None:
        return [(lanes[0], lane) for lane in lanes[1:]]
    reference = next((lane for lane in lanes if asked.reference in (lane.group, lane.name)), None)
    if reference is None:
        names = ", ".join(f"“{lane.name}”" for lane in lanes[:6])
        raise InputError(
            f"no lane is called “{asked.reference}”", where="$.differences.reference", remedy=f"Lanes here: {names}."
        )
    return [(reference, lane) for lane in lanes if lane is not reference]


def answers(pairs: list[Two], asked: Differences, names: dict[str, str]) -> list[PairAnswer]:
    """Estimates and tests of each pair; p-values of one test adjusted over all pairs."""
    level = level_of_each(asked.level, len(pairs), asked.together)
    found = [_pair(two, asked, level) for two in pairs]
    tests_of = [evidence for _, evidence, _, _ in found]
    fixed: dict[tuple[int, int], float | None] = {}
    for place in range(max(map(len, tests_of), default=0)):
        column = [evidence[place].p if place < len(evidence) else None for evidence in tests_of]
        for row, p in enumerate(adjusted(column, asked.adjusted)):
            fixed[row, place] = p
    return [
        PairAnswer(
            reference=names[two[0].key], other=names[two[1].key], estimates=[estimate_line(one) for one in estimates],
            tests=[test_line(one, fixed[row, place]) for place, one in enumerate(evidence)], paired=is_paired, note=note,
        )
        for row, (two, (estimates, evidence, is_paired, note)) in enumerate(zip(pairs, found, strict=True))
    ]  # fmt: skip


def _pair(two: Two, asked: Differences, level: float) -> tuple[list[Estimate], list[Evidence], bool, str]:
    if asked.paired_by is not None:
        return _paired(two, asked, asked.paired_by, level)
    reference, other = two[0].values, two[1].values
    return _apart(reference, other, asked, level), _tests(reference, other, asked), False, ""


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
    found = [
        tests.welch_t(reference, other), tests.mann_whitney(reference, other),
        tests.permutation(reference, other, seed=asked.seed),
        tests.brown_forsythe([reference, other]), tests.kolmogorov_smirnov(reference, other),
    ]  # fmt: skip
    if asked.margin is not None:
        # Two one-sided tests at the level's own share of error: the interval at twice that share lies inside the margin.
        found.append(tests.equivalence(mean_difference(reference, other, 2 * asked.level - 1), asked.margin))
    return found


def _paired(two: Two, asked: Differences, by: str, level: float) -> tuple[list[Estimate], list[Evidence], bool, str]:
    subjects = [_subjects(lane, by) for lane in two]
    found = paired.pairs_of(two[0].values, subjects[0], two[1].values, subjects[1], asked.reduced)
    notes = [f"{len(found.differences)} pairs by {by}"]
    if found.reduced:
        notes.append(f"several rows of one subject reduced to their {asked.reduced} ({found.reduced} rows fewer)")
    if found.unpaired:
        notes.append(f"{found.unpaired} subjects stand in one lane only and are left out")
    apart = found.differences
    estimates = [paired.paired_mean(apart, level), paired.paired_median(apart, level), paired.paired_g(apart, level)]
    evidence = [tests.paired_t(apart), tests.wilcoxon(apart)]
    if asked.margin is not None:
        evidence.append(tests.equivalence(paired.paired_mean(apart), asked.margin))
    return estimates, evidence, True, "; ".join(notes) + "."


def _subjects(lane: Lane, by: str) -> NDArray[np.int32]:
    extra = lane.extras.get(by)
    if extra is None:
        raise InputError(f"there is no column “{by}”", where="$.differences.paired_by", remedy="Choose an identifier column.")
    return extra.codes
