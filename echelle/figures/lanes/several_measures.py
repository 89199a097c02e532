"""Several measures in one figure: a lane each, beside one another in each group, or a panel each."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from typing import Any

import numpy as np

from echelle.catalogue.catalogue import catalogue
from echelle.errors import InputError
from echelle.figures.lanes.lane import MOST_LANES, Arrangement, Lane, Level, PanelOf, RowAccount, SubstitutedLimits


def side_by_side(each: list[Arrangement]) -> Arrangement:
    """Arrangements of one lane each as lanes of one figure; measures in different units get a panel for each unit."""
    words = catalogue()
    units = tuple(dict.fromkeys(unit for part in each for unit in part.units))
    panels = each[0].panels
    apart = len(units) > 1 and len(panels) == 1
    if apart:
        panels = tuple(PanelOf(f"p{i}", unit or words.say("no-unit-panel"), i - 1, 0) for i, unit in enumerate(units, 1))
    lanes = tuple(
        replace(
            lane, key=f"m{place}" if len(panels) == 1 or apart else f"{lane.panel}m{place}", group=part.name, name=part.name,
            slot=place - 1, panel=panels[units.index(part.units[0])].key if apart else lane.panel,
        )
        for place, part in enumerate(each, 1)
        for lane in part.lanes
    )  # fmt: skip
    slots = tuple(Level(f"m{place}", part.name, part.name) for place, part in enumerate(each, 1))
    return _of_several(each, list(lanes), slots=slots, panels=panels)


def with_the_same_slots(each: list[Arrangement]) -> list[Arrangement]:
    """Arrangements by one column, with a place for every group that any of them has: columns may be of unequal length."""
    known = {level.key: level for part in each for level in part.slots}
    slots = tuple(known[key] for key in sorted(known, key=lambda key: int(key.lstrip("g"))))
    place = {level.key: at for at, level in enumerate(slots)}
    return [
        replace(part, slots=slots, lanes=tuple(replace(lane, slot=place[part.slots[lane.slot].key]) for lane in part.lanes))
        for part in each
    ]


def within_groups(each: list[Arrangement]) -> Arrangement:
    """Measures in one unit beside one another in each group, where subgroups would stand."""
    names = [part.name for part in each]
    lanes = [
        replace(
            lane, key=f"{lane.key}m{place}", name=f"{lane.name} · {part.name}", subgroup=part.name, part=place - 1,
        )
        for place, part in enumerate(each, 1)
        for lane in part.lanes
    ]  # fmt: skip
    panels = [panel.key for panel in each[0].panels]
    lanes.sort(key=lambda lane: (panels.index(lane.panel), lane.slot, lane.part))
    parts = tuple(Level(f"m{place}", name, name) for place, name in enumerate(names, 1))
    return _of_several(each, lanes, parts=parts, subgroups=catalogue().say("several-measures"))


def in_panels(each: list[Arrangement]) -> Arrangement:
    """A panel for each measure, named as the column is."""
    panels = tuple(PanelOf(f"p{place}", part.heading, place - 1, 0, level=part.name) for place, part in enumerate(each, 1))
    lanes = [
        replace(lane, key=f"{panel.key}{lane.key}", panel=panel.key)
        for panel, part in zip(panels, each, strict=True)
        for lane in part.lanes
    ]
    return _of_several(each, lanes, panels=panels)


def _of_several(each: list[Arrangement], lanes: list[Lane], **update: Any) -> Arrangement:
    """One arrangement of several measures over the same groups. Raises InputError for more lanes than a figure has."""
    if len(lanes) > MOST_LANES:
        raise InputError(
            f"the groups and measures make {len(lanes):,} lanes, more than {MOST_LANES}", where="$.measure.columns",
            remedy="Choose fewer measures, or keep some of the groups.",
        )  # fmt: skip
    units = tuple(dict.fromkeys(unit for part in each for unit in part.units))
    more = len(each) - 3
    words = catalogue()
    name = ", ".join(part.name for part in each[:3]) + (f" {words.say('more-entries', more=more)}" if more > 0 else "")
    heading = words.say("several-measures") + (f" ({units[0]})" if len(units) == 1 and units[0] else "")
    account = _sum_of([part.account for part in each])
    return replace(each[0], name=name, heading=heading, units=units, lanes=tuple(lanes), account=account, **update)


def _sum_of(accounts: list[RowAccount]) -> RowAccount:
    """The account of the values of several measures."""
    missing: Counter[str] = Counter()
    for account in accounts:
        missing.update(account.missing_by)
    people = [account.people for account in accounts if account.people is not None]
    return RowAccount(
        rows=sum(account.rows for account in accounts),
        kept=sum(account.kept for account in accounts),
        read=accounts[0].read,
        prepared=accounts[0].prepared,
        people=max(people, default=None),
        missing_by=dict(missing),
        censored=sum(account.censored for account in accounts),
        left_out=sum(account.left_out for account in accounts),
        ungrouped=sum(account.ungrouped for account in accounts),
        dropped=sum(account.dropped for account in accounts),
        not_finite=sum(account.not_finite for account in accounts),
        stand_ins=_all_stand_ins([account.stand_ins for account in accounts if account.stand_ins]),
        aside={why: np.unique(np.concatenate([account.aside[why] for account in accounts])) for why in accounts[0].aside},
    )


def _all_stand_ins(each: list[SubstitutedLimits]) -> SubstitutedLimits | None:
    """Those of several measures."""
    if not each:
        return None
    low, high = float(np.fmin.reduce([limits.low for limits in each])), float(np.fmax.reduce([limits.high for limits in each]))
    return SubstitutedLimits(sum(limits.count for limits in each), low, high, sum(limits.computed for limits in each))
