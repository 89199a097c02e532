"""Which lanes are set against which, and lanes that hold the differences within subjects."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import combinations, pairwise

import numpy as np

from echelle.catalogue.catalogue import Catalogue, catalogue
from echelle.errors import InputError
from echelle.figures.lanes.control_charts import extra_of
from echelle.figures.lanes.figure_context import cache_on_lane
from echelle.figures.lanes.lane import Arrangement, Extra, Lane, Level, RowAccount, Rows, WithinSubjects
from echelle.numbers.differences.paired import Pairs, within_subjects
from echelle.numbers.intervals import Centre
from echelle.recipes.differences import Differences
from echelle.recipes.recipe import Recipe
from echelle.tables.table import PART_KEYS

MOST_PAIRS = 300
PAIRED_BY = "$.differences.paired_by"


@dataclass(frozen=True, eq=False)
class LanePair:
    """A lane and the one it is set against."""

    reference: Lane
    other: Lane


def pairs_of(arrangement: Arrangement, differences: Differences) -> list[LanePair]:
    """The lanes with values, two by two. Raises InputError for a reference that is no level here, or too many pairs."""
    pairs: list[LanePair] = []
    for panel in arrangement.panels:
        here = [lane for lane in arrangement.of_panel(panel.key) if lane.filled]
        if differences.to == "subgroups":
            by_group = {lane.slot: [other for other in here if other.slot == lane.slot] for lane in here}
            pairs += [LanePair(*pair) for lanes in by_group.values() for pair in combinations(lanes, 2)]
            continue
        for part in sorted({lane.part for lane in here}):
            pairs += _of_part([lane for lane in here if lane.part == part], differences)
    if len(pairs) > MOST_PAIRS:
        raise InputError(
            f"{len(pairs)} pairs are more than {MOST_PAIRS}", where="$.differences.to", remedy="Compare with a reference."
        )
    return pairs


def _of_part(lanes: list[Lane], differences: Differences) -> list[LanePair]:
    if differences.to == "all pairs":
        return [LanePair(*pair) for pair in combinations(lanes, 2)]
    if differences.to == "neighbours":
        return [LanePair(*pair) for pair in pairwise(lanes)]
    if differences.reference is None:
        return [LanePair(lanes[0], lane) for lane in lanes[1:]]
    reference = next((lane for lane in lanes if differences.reference in (lane.group, lane.name)), None)
    if reference is None:
        names = ", ".join(f"“{lane.name}”" for lane in lanes[:6])
        raise InputError(
            f"no lane is called “{differences.reference}”", where="$.differences.reference", remedy=f"Lanes here: {names}."
        )
    return [LanePair(reference, lane) for lane in lanes if lane is not reference]


@dataclass(frozen=True)
class Pairing:
    """By what two values are a pair: the column of an identifier, or None for the row of the file that both stand in."""

    column: str | None

    def subjects(self, lane: Lane) -> Rows:
        """What names the subject of each of a lane's values (shape (n,), −1 for none). Raises InputError for an identifier that
        lanes do not carry.
        """
        if self.column is None:
            return lane.rows % PART_KEYS
        return extra_of(lane, self.column, PAIRED_BY).codes.astype(np.int64)

    def said(self, words: Catalogue) -> str:
        """What pairs are made by, in words."""
        return self.column or words.say("pair-row")


def pairing_of(pair: LanePair, differences: Differences) -> Pairing | None:
    """How a pair's values belong together; None where they are independent. Values of one row (columns side by side, or turned
    wide to long) are pairs unless that is switched off.
    """
    if differences.paired_by is not None:
        return Pairing(differences.paired_by)
    if pair.other.tally is not None:
        return None
    if differences.by_row is None:
        by_row = cache_on_lane(pair.other, ("shares rows", pair.reference.key), lambda: _share_rows(pair))
        return Pairing(None) if by_row else None
    return Pairing(None) if differences.by_row else None


def _share_rows(pair: LanePair) -> bool:
    """Whether a row of the file gave both lanes a value; no more than a row each lane."""
    records = [lane.rows % PART_KEYS for lane in (pair.reference, pair.other)]
    first, other = (np.unique(each) for each in records)
    if len(first) < len(records[0]) or len(other) < len(records[1]):
        return False
    return bool(np.isin(first, other, assume_unique=True).any())


def paired_of(pair: LanePair, differences: Differences, pairing: Pairing) -> Pairs:
    """Differences within subjects of two lanes, repeats reduced first. Raises InputError for an identifier that lanes do not
    carry.
    """
    reference, other = (pairing.subjects(lane) for lane in (pair.reference, pair.other))
    how: Centre = "median" if differences.repeats == "median" else "mean"
    return within_subjects(pair.reference.values, reference, pair.other.values, other, how)


def lanes_shown(recipe: Recipe, arrangement: Arrangement) -> Arrangement:
    """The lanes that the figure draws: those of the question, or where asked a lane for each pair of them, which holds the
    differences within subjects. Raises InputError as :func:`pairs_of` and :func:`paired_of` do.
    """
    differences = recipe.differences
    if differences is None or not differences.drawn or not arrangement.lanes:
        return arrangement
    pairs = pairs_of(arrangement, differences)
    pairing = pairing_of(pairs[0], differences) if pairs else None
    if pairing is None:
        return arrangement
    key = ("pairs", differences.to, differences.reference, pairing, differences.repeats)
    return cache_on_lane(arrangement.lanes[0], key, lambda: _of_pairs(arrangement, differences, pairing))


def _of_pairs(arrangement: Arrangement, differences: Differences, pairing: Pairing) -> Arrangement:
    across_parts = differences.to == "subgroups"
    slots: dict[tuple[int, ...], Level] = {}
    lanes: list[Lane] = []
    alone = 0
    for pair in pairs_of(arrangement, differences):
        a, b = pair.reference, pair.other
        slot = (b.slot, a.part, b.part) if across_parts else (a.slot, b.slot)
        slots.setdefault(slot, _level(arrangement, pair, across_parts))
        result = paired_of(pair, differences, pairing)
        alone += result.unpaired
        lanes.append(_lane(arrangement, pair, result, pairing, (list(slots).index(slot), slots[slot]), across_parts))
    parts = () if across_parts else arrangement.parts
    pairs = sum(lane.n for lane in lanes)
    whom = differences.reference or (arrangement.slots[0].name if differences.to == "reference" and arrangement.slots else "")
    missing = {catalogue().say("pair-missing"): alone} if alone else {}
    return replace(
        arrangement, lanes=tuple(lanes), slots=tuple(slots.values()), parts=parts,
        account=RowAccount(rows=pairs + alone, kept=pairs + alone, missing_by=missing),
        differs=WithinSubjects(whom if differences.to == "reference" else "", pairing.said(catalogue())), identifier=None,
        subgroups=None if across_parts else arrangement.subgroups,
    )  # fmt: skip


def _level(arrangement: Arrangement, pair: LanePair, across_parts: bool) -> Level:
    a, b = pair.reference, pair.other
    if across_parts:
        first, last = arrangement.parts[a.part].name, arrangement.parts[b.part].name
        return Level(f"{b.key}-{a.key}", b.group, f"{arrangement.slots[b.slot].name}: {last} − {first}")
    low, high = arrangement.slots[a.slot], arrangement.slots[b.slot]
    return Level(f"{high.key}-{low.key}", high.level, f"{high.name} − {low.name}", high.value)


def _lane(
    arrangement: Arrangement, pair: LanePair, pairs: Pairs, pairing: Pairing, slot: tuple[int, Level], across_parts: bool
) -> Lane:  # fmt: skip
    """Each difference stands for the subject's first row in the other lane."""
    other = pair.other
    known, at = np.unique(pairing.subjects(other), return_index=True)
    first = at[np.searchsorted(known, pairs.subjects)].astype(np.int64)
    place, level = slot
    part = "" if across_parts or not arrangement.parts else f" · {arrangement.parts[other.part].name}"
    return Lane(
        key=f"{other.key}-{pair.reference.key}", group=level.level, name=level.name + part, values=pairs.differences,
        rows=other.rows[first], people=None, missing=pairs.unpaired, censored=0, left_out=0,
        subgroup=None if across_parts else other.subgroup, panel=other.panel, slot=place,
        part=0 if across_parts else other.part,
        extras={name: _extra_at(extra, first) for name, extra in other.extras.items()},
        hue=other.slot if across_parts or not arrangement.parts else None,
    )  # fmt: skip


def _extra_at(extra: Extra, places: np.ndarray[tuple[int], np.dtype[np.int64]]) -> Extra:
    return Extra(extra.codes[places], extra.levels, None if extra.numbers is None else extra.numbers[places])
