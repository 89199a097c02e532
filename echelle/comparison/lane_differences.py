"""Lanes set against one another: sizes with their uncertainty first, tests as evidence beside them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from echelle.catalogue.catalogue import catalogue
from echelle.comparison.laboratory import components_of, control_of, limits_line, limits_of
from echelle.comparison.models import LaneDifferences, TestLine, TwoFactors, VarianceAnswer, estimate_line, test_line
from echelle.comparison.pairs import answers, each_of
from echelle.comparison.recommendations import guide_of
from echelle.figures.lanes.counted import refuse_differences_of_counts
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.figures.lanes.lane_pairs import LanePair, pairs_of
from echelle.numbers.differences import hypothesis_tests as tests
from echelle.numbers.differences.anova import VarianceLine, anova_of_ranks, anova_two, difference_of_differences
from echelle.numbers.differences.multiple_comparisons import dunnett, games_howell, tukey_kramer
from echelle.recipes.differences import Differences

_MOST_RANGE = 20


@dataclass(frozen=True)
class Step:
    """How many pieces of how many are done: pairs compared, lanes whose reference limits were sought."""

    done: int
    of: int


def compare_lanes(arrangement: Arrangement, differences: Differences) -> LaneDifferences:
    """All of it. Raises InputError for a reference or an identifier that is not there, or too many pairs."""
    *_, last = compare_stepwise(arrangement, differences)
    assert isinstance(last, LaneDifferences)
    return last


def compare_stepwise(arrangement: Arrangement, differences: Differences) -> Iterator[Step | LaneDifferences]:
    """All of it, with a step after each pair and each lane's reference limits, and the answer at last. Raises InputError as
    :func:`compare_lanes` does.
    """
    refuse_differences_of_counts(differences, arrangement)
    pairs = pairs_of(arrangement, differences)
    names = {lane.key: arrangement.full_name(lane) for lane in arrangement.lanes}
    lanes = [lane for lane in arrangement.lanes if lane.filled]
    result, of = [], len(pairs) + (len(lanes) if differences.limits is not None else 0)
    for done, item in enumerate(each_of(pairs, differences), 1):
        result.append(item)
        yield Step(done, of)
    if differences.limits is not None:
        for done, lane in enumerate(lanes, len(pairs) + 1):
            limits_line(lane, differences.limits)
            yield Step(done, of)
    one_line = len(arrangement.panels) == 1 and not arrangement.parts
    independent = not any(item.paired for item in result)
    yield LaneDifferences(
        measure=arrangement.name, unit=arrangement.units[0] if len(arrangement.units) == 1 else None, groups=arrangement.groups,
        asked=differences, pairs=answers(pairs, result, differences, names),
        overall=_overall(lanes) if one_line and independent else [],
        pairwise=_pairwise(lanes, pairs, differences, names) if one_line and independent else [],
        two_factors=_two_factors(arrangement, differences) if independent else None,
        limits=None if differences.limits is None else limits_of(arrangement, differences.limits),
        components=None if differences.runs is None else components_of(arrangement, differences.runs, differences.level),
        control=None if differences.control is None else control_of(arrangement, differences.control),
        guide=guide_of(arrangement, differences, result),
        remarks=_remarks(arrangement, differences),
    )  # fmt: skip


def _overall(lanes: list[Lane]) -> list[TestLine]:
    values = [lane.ordered for lane in lanes]
    if len(values) < 2:
        return []
    result = (
        tests.welch_anova(values), tests.one_way(values), tests.kruskal_wallis(values), tests.brown_forsythe(values),
    )  # fmt: skip
    return [test_line(test) for test in result]


def _pairwise(lanes: list[Lane], pairs: list[LanePair], differences: Differences, names: dict[str, str]) -> list[TestLine]:
    """Tests that know how many lanes there are; each line is named by its pair."""
    if len(lanes) < 3 or len(lanes) > _MOST_RANGE or not pairs:
        return []
    values, place = [lane.ordered for lane in lanes], {lane.key: i for i, lane in enumerate(lanes)}
    result = []
    if differences.to == "reference":
        reference = place[pairs[0].reference.key]
        others = [i for i in range(len(lanes)) if i != reference]
        result = [(test, (reference, i)) for test, i in zip(dunnett(values, reference, differences.seed), others, strict=True)]
    else:
        at = [(place[two.reference.key], place[two.other.key]) for two in pairs]
        result = [*zip(games_howell(values, at), at, strict=True), *zip(tukey_kramer(values, at), at, strict=True)]
    return [
        test_line(test).model_copy(update={"name": f"{test.name}: {names[lanes[b].key]} − {names[lanes[a].key]}"})
        for test, (a, b) in result
    ]


def _two_factors(arrangement: Arrangement, differences: Differences) -> TwoFactors | None:
    """Where groups are split in one panel."""
    if len(arrangement.panels) > 1 or len(arrangement.parts) < 2 or len(arrangement.slots) < 2:
        return None
    lanes = {(lane.slot, lane.part): lane for lane in arrangement.lanes if lane.filled}
    if not lanes or arrangement.account.parts is not None:
        return None
    result, words = [], catalogue()
    for a, b in combinations(range(len(arrangement.slots)), 2):
        for c, d in combinations(range(len(arrangement.parts)), 2):
            cells = [lanes.get(key) for key in ((a, c), (a, d), (b, c), (b, d))]
            if all(cell is not None for cell in cells):
                values = tuple(cell.values for cell in cells if cell is not None)
                line = estimate_line(difference_of_differences(values, differences.level))  # type: ignore[arg-type]
                first, last = arrangement.parts[c].name, arrangement.parts[d].name
                places = {"reference": arrangement.slots[a].name, "other": arrangement.slots[b].name}
                name = words.say("difference-of-differences", first=first, last=last, **places)
                result.append(line.model_copy(update={"name": name}))
    whole = [lane for lane in arrangement.lanes if lane.filled]
    measured = np.concatenate([lane.values for lane in whole])
    counts = [lane.n for lane in whole]
    slots, parts = (np.repeat([getattr(lane, way) for lane in whole], counts).astype(np.int32) for way in ("slot", "part"))
    factors = (arrangement.groups or "groups", arrangement.subgroups or "subgroups")
    return TwoFactors(
        differences=result,
        variance=_lines(anova_two(measured, slots, parts, factors)),
        ranks=_lines(anova_of_ranks(measured, slots, parts, factors)),
    )


def _lines(lines: list[VarianceLine]) -> list[VarianceAnswer]:
    return [
        VarianceAnswer(source=line.source, squares=line.squares, df=line.df, mean_square=line.mean_square, f=line.f, p=line.p)
        for line in lines
    ]


def _remarks(arrangement: Arrangement, differences: Differences) -> list[str]:
    remarks, words = [], catalogue()
    if arrangement.account.censored:
        remarks.append(words.say("result-censored", count=arrangement.account.censored))
    if arrangement.account.parts is not None and arrangement.parts:
        remarks.append(words.say("result-counted"))
    if differences.together:
        remarks.append(words.say("result-together"))
    return remarks
