"""Rows in use to lanes: who is in which lane, and what became of everyone else."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.catalogue.catalogue import catalogue
from echelle.errors import InputError
from echelle.figures.lanes.lane import (
    MOST_LANES,
    Arrangement,
    AtLimit,
    Extra,
    Lane,
    Level,
    RowAccount,
    Rows,
    SubstitutedLimits,
    SummaryStatistics,
)
from echelle.figures.lanes.row_lookup import Mask, RowPlaces, row_places
from echelle.figures.lanes.several_measures import in_panels, side_by_side, with_the_same_slots, within_groups
from echelle.numbers.sample import Sample, less
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Groups
from echelle.recipes.used_columns import extra_columns
from echelle.tables.coding import code_texts, written
from echelle.tables.column_builders import as_measure
from echelle.tables.dates import days_of
from echelle.tables.steps.conditions import ColumnCondition, rows_where
from echelle.tables.steps.left_out import mask_of
from echelle.tables.summary_statistics_tables import SummaryColumns, summary_columns
from echelle.tables.table import Column, Mark, StandInState, Table

# Kinds of columns whose cells may be numbers all the same.
_CODED = ("category", "identifier", "yes/no")


def arrange(recipe: Recipe, table: Table) -> Arrangement:
    """Cut the table into the recipe's lanes.

    Raises InputError for a column that the table lacks, a measure that holds no numbers, too many levels, or a
    left-out row that is not there.
    """
    counted = bool(recipe.layers) and all(layer.counts_rows for layer in recipe.layers)
    names = enumerate(recipe.measure.columns)
    measures = [_measure(table.counted_for(name), name, place, counted) for place, name in names]
    summary = _summary(table) if table.tally is None else None
    if summary is not None and summary.mean in {column.name for column in measures}:
        return _of_summaries(recipe, table, summary)
    if len(measures) == 1:
        arrangement = replace(_by_groups(recipe, table, measures[0]), counted=measures[0].kind != "measure")
    elif recipe.groups is None:
        arrangement = side_by_side([_by_groups(recipe, table.counted_for(measure.name), measure) for measure in measures])
    else:
        each = with_the_same_slots(_of_each(recipe, table, measures))
        alike = len({measure.unit for measure in measures}) == 1
        arrangement = within_groups(each) if recipe.measure.placed == "within groups" and alike else in_panels(each)
    columns = [] if counted else [table.counted_for(name).column(name) for name in recipe.measure.columns]
    return replace(arrangement, reread={column.name: column.kind for column in columns if column.kind in _CODED})


def _of_each(recipe: Recipe, table: Table, measures: list[Column]) -> list[Arrangement]:
    """Each measure in its groups, which the first one orders for all."""
    assert recipe.groups is not None, "without groups measures stand side by side"
    if table.tally is None:
        roles = row_places(recipe, table, measures[0], _finite(recipe, table, measures[0]))
        return [_by_groups(recipe, table, measure, roles) for measure in measures]
    first = _by_groups(recipe, table.counted_for(measures[0].name), measures[0])
    order = [slot.level for slot in first.slots if slot.level is not None]
    groups = recipe.groups.model_copy(update={"sorted": "by hand", "order": order})
    others = recipe.model_copy(update={"groups": groups})
    return [first, *(_by_groups(others, table.counted_for(measure.name), measure) for measure in measures[1:])]


def _summary(table: Table) -> SummaryColumns | None:
    """The roles of a table of summaries, which is never long."""
    return summary_columns(table.columns, table.rows) if table.rows <= MOST_LANES else None


def _of_summaries(recipe: Recipe, table: Table, summary: SummaryColumns) -> Arrangement:
    """A lane for each row that gives a mean. Raises InputError for layers that would need the rows behind it."""
    drawn = next((layer for layer in recipe.shown_layers if not layer.summarises), None)
    if drawn is not None or len(recipe.measure.columns) > 1:
        what = "several measures" if drawn is None else drawn.marks or drawn.kind()
        raise InputError(
            f"the table holds summaries ({summary.words()} for each group), not rows, so {what} cannot be drawn",
            where="$.layers",
            remedy="Draw means with intervals, or bring the table of single values.",
        )
    mean, names = table.column(summary.mean), table.column(summary.group)
    asked = recipe.groups and table.column(recipe.groups.column, where="$.groups.column")
    if asked is not None and asked is not names:
        raise InputError(
            f"the summaries are per {names.name}", where="$.groups.column", remedy=f"Choose “{names.name}” as groups."
        )
    recipe = recipe.model_copy(update={"groups": recipe.groups or Groups(column=names.name)})
    plain = _by_groups(recipe, table, mean)

    def number(name: str | None, row: int) -> float | None:
        numbers = None if name is None else table.column(name).numbers
        return None if numbers is None or not np.isfinite(numbers[row]) else float(numbers[row])

    lanes = []
    for lane in plain.lanes:
        if not lane.filled:
            continue
        row = int(np.flatnonzero(table.row_ids.keys == lane.rows[0])[0])
        n, sd, se = (number(name, row) for name in (summary.n, summary.sd, summary.se))
        root = None if n is None or n < 1 else n**0.5
        sd = se * root if sd is None and se is not None and root else sd
        se = sd / root if se is None and sd is not None and root else se
        low, high = number(summary.low, row), number(summary.high, row)
        given = SummaryStatistics(None if n is None else int(n), float(lane.values[0]), sd, se, low, high)
        lanes.append(replace(lane, values=lane.values[:0], rows=lane.rows[:0], given=given))
    slots = tuple(plain.slots[lane.slot] for lane in lanes)
    lanes = [replace(lane, slot=place) for place, lane in enumerate(lanes)]
    return replace(plain, lanes=tuple(lanes), slots=slots)


def _kept_and_out(recipe: Recipe, table: Table, measure: Column) -> tuple[Mask, Mask]:
    """Which rows of the measure's column are kept, and which of them are left out one by one."""
    kept = _kept_rows(table, recipe.keep)
    if measure.length is not None:
        kept[measure.length :] = False
    if table.tally is not None:
        # Which rows these are, the rows at hand tell.
        return kept, np.zeros(table.rows, dtype=np.bool_)
    return kept, mask_of(recipe.left_out, table, "$.left_out") & kept


def _finite(recipe: Recipe, table: Table, measure: Column) -> Mask:
    """The rows whose value counts."""
    assert measure.numbers is not None and measure.marks is not None
    kept, out = _kept_and_out(recipe, table, measure)
    return np.asarray(kept & ~out & (measure.marks == Mark.NUMBER) & np.isfinite(measure.numbers))


def _by_groups(recipe: Recipe, table: Table, measure: Column, roles: RowPlaces | None = None) -> Arrangement:
    """The lanes of one measure: one for each group, subgroup and panel that has rows; ``roles`` where they are known."""
    numbers, marks = measure.numbers, measure.marks
    assert numbers is not None and marks is not None
    kept, out = _kept_and_out(recipe, table, measure)
    inside = kept & ~out
    number = inside & (marks == Mark.NUMBER)
    finite = number & np.isfinite(numbers)
    roles = roles or row_places(recipe, table, measure, finite)
    grouped = kept & (roles.place >= 0)
    here = inside & grouped
    usable, infinite = finite & grouped, number & ~finite & grouped
    absent = here & ((marks == Mark.MISSING) | infinite)
    censored = here & (marks >= Mark.BELOW)
    identifier = _repeating_identifier(table)
    people = identifier.codes if identifier else None
    weights = None if table.tally is None else table.tally.counts

    def counted(mask: Mask) -> NDArray[np.intp]:
        """How many rows of a mask stand in each place."""
        return np.bincount(roles.place[mask], weights=None if weights is None else weights[mask], minlength=roles.size).astype(
            np.intp
        )

    present = counted(grouped)
    examples = {} if table.tally is None else _examples(recipe, table.tally.examples, measure.name)
    split = dict(_split(roles.place, usable, roles.size))
    under, over = (dict(_split(roles.place, here & (marks == mark), roles.size)) for mark in (Mark.BELOW, Mark.ABOVE))
    gone = dict(_split(roles.place, out & grouped & (marks == Mark.NUMBER) & np.isfinite(numbers), roles.size))
    counts = {name: counted(mask) for name, mask in (("missing", absent), ("censored", censored), ("out", out & grouped))}
    slots, slot_of = _slots(recipe, roles, present)
    extras = {name: table.column(name, where="$.layers") for name in extra_columns(recipe)}
    lanes = []
    keys = table.row_ids.keys
    for place in np.flatnonzero(present).tolist():
        panel, group, part = roles.split(place)
        level, subgroup = roles.groups.levels[group], roles.parts.levels[part]
        members = split[place]
        key = (panel.key if len(roles.panels) > 1 else "") + level.key + (subgroup.key if roles.parts.column else "")
        lane = Lane(
            key=key,
            group=level.level,
            name=" · ".join(one.name for one in (level, subgroup) if one.level is not None) or level.name,
            values=numbers[members],
            rows=keys[members],
            people=_distinct(people, members),
            missing=int(counts["missing"][place]),
            censored=int(counts["censored"][place]),
            left_out=int(counts["out"][place]),
            below=AtLimit(numbers[under[place]], keys[under[place]]),
            above=AtLimit(numbers[over[place]], keys[over[place]]),
            out=AtLimit(numbers[gone[place]], keys[gone[place]]),
            subgroup=subgroup.level,
            panel=panel.key,
            slot=slot_of[group],
            part=part,
            extras={name: _extra(column, members) for name, column in extras.items()},
        )
        if table.tally is not None:
            lane = _of_source(lane, table.tally.sample(numbers, members), examples.get((panel.name, *lane.level_names)))
        lanes.append(lane)
    if len(lanes) > MOST_LANES:
        raise InputError(
            f"the groups, subgroups and panels make {len(lanes):,} lanes, more than {MOST_LANES}", where="$.subgroups",
            remedy="Choose columns with fewer levels, or keep some of them.",
        )  # fmt: skip
    ungrouped, dropped = inside & (roles.place < 0) & ~roles.dropped, inside & roles.dropped
    account = RowAccount(
        rows=table.in_use if measure.length is None else _in_use(table, measure.length),
        kept=table.count(kept),
        read=table.read,
        prepared=table.prepared,
        people=_distinct(people, np.flatnonzero(usable)),
        missing_by=_missing_by(table, measure, absent, infinite),
        censored=table.count(censored),
        left_out=table.count(out) if table.tally is None else sum(lane.left_out for lane in lanes),
        ungrouped=table.count(ungrouped),
        not_finite=table.count(infinite),
        dropped=table.count(dropped),
        stand_ins=_stand_ins(table, measure, usable),
        parts=None if table.tally is None else (table.tally.parts, table.tally.of),
        gathered=None if table.tally is None else table.tally.gathered,
        aside={} if table.tally is not None else {
            "missing": keys[absent], "beyond a limit": keys[censored], "left out": keys[out], "ungrouped": keys[ungrouped],
            "not shown": keys[dropped],
        },
    )  # fmt: skip
    return Arrangement(
        name=measure.name,
        heading=measure.heading,
        units=(measure.unit,),
        groups=roles.groups.column,
        lanes=tuple(lanes),
        account=account,
        slots=slots,
        parts=roles.parts.levels if roles.parts.column else (),
        subgroups=roles.parts.column,
        panels=roles.panels,
        panelled=roles.columns,
        extras={name: column.levels for name, column in extras.items() if column.kind != "measure"},
        identifier=identifier.name if identifier else None,
    )


def _in_use(table: Table, length: int) -> int:
    """How many of the first rows are not left out."""
    return length - (0 if table.left_out is None else int(np.count_nonzero(table.left_out[:length])))


def _slots(recipe: Recipe, roles: RowPlaces, present: NDArray[np.intp]) -> tuple[tuple[Level, ...], dict[int, int]]:
    """The groups that get a place, and the place of each: those without rows keep theirs only where asked."""
    by_group = present.reshape(len(roles.panels), len(roles.groups.levels), len(roles.parts.levels)).sum(axis=(0, 2))
    keep = recipe.groups is not None and recipe.groups.empty == "keep"
    shown = [i for i in range(len(by_group)) if keep or by_group[i]]
    return tuple(roles.groups.levels[i] for i in shown), {group: place for place, group in enumerate(shown)}


def _extra(column: Column, members: Rows) -> Extra:
    numbers = None if column.numbers is None else column.numbers[members]
    if column.kind == "date":
        days = days_of(pl.Series(list(column.levels), dtype=pl.String))
        of_level = np.append(days.to_physical().cast(pl.Float64).fill_null(np.nan).to_numpy(), np.nan)
        numbers = of_level[column.codes[members]]
    return Extra(column.codes[members], column.levels, numbers)


def _measure(table: Table, name: str, place: int, counted: bool) -> Column:
    """The measured column. Where rows are counted and nothing else, any column may stand there."""
    column = table.column(name, where=f"$.measure.columns[{place}]")
    if counted and column.numbers is None:
        there = column.present
        marks = np.where(there, np.int8(Mark.NUMBER), np.int8(Mark.MISSING))
        return replace(column, numbers=np.where(there, 0.0, np.nan), marks=marks)
    if column.kind in _CODED:
        # Whoever names a column of codes as the measure knows better than the guess.
        read, others = as_measure(column)
        if others == 0 and read.present.any():
            return read
    if column.kind != "measure" or column.numbers is None:
        names = ", ".join(f"“{c.name}”" for c in list(table.measures())[:5])
        remedy = f"Columns of numbers here: {names}." if names else "The table has no column of numbers."
        kind = {"yes/no": "a yes/no", "identifier": "an identifier"}.get(column.kind, f"a {column.kind}")
        raise InputError(f"“{column.name}” is {kind} and not a measure", where=f"$.measure.columns[{place}]", remedy=remedy)
    return column


def _kept_rows(table: Table, conditions: list[ColumnCondition]) -> Mask:
    """The rows in use for which every condition holds."""
    kept = np.ones(table.rows, dtype=np.bool_) if table.left_out is None else ~table.left_out
    for place, condition in enumerate(conditions):
        kept &= rows_where(table, condition, f"$.keep[{place}]")
    return kept


def _split(place_of: Rows, usable: Mask, places: int) -> Iterator[tuple[int, Rows]]:
    """The rows of each place, in row order."""
    rows = np.flatnonzero(usable)
    codes = place_of[rows]
    by_place = rows[np.argsort(codes.astype(np.int16) if places < 1 << 15 else codes, kind="stable")]
    ends = np.cumsum(np.bincount(codes, minlength=places))
    for place, part in enumerate(np.split(by_place, ends[:-1])):
        yield place, part.astype(np.int64)


def _repeating_identifier(table: Table) -> Column | None:
    """The first identifier column in which values repeat: several rows of one subject."""
    for column in table.columns:
        if column.kind == "identifier" and 1 < len(column.levels) < int((column.codes >= 0).sum()):
            return column
    return None


def _distinct(people: NDArray[np.int32] | None, members: NDArray[np.intp]) -> int | None:
    if people is None:
        return None
    codes = people[members]
    return len(np.unique(codes[codes >= 0]))


def _stand_ins(table: Table, measure: Column, usable: Mask) -> SubstitutedLimits | None:
    """The values in use that stand for a limit, or come from one that does."""
    if measure.stood_in is None or measure.numbers is None:
        return None
    values = measure.numbers[usable & (measure.stood_in == StandInState.ITSELF)]
    low, high = (float(values.min()), float(values.max())) if len(values) else (np.nan, np.nan)
    itself, computed = (usable & (measure.stood_in == state) for state in (StandInState.ITSELF, StandInState.COMPUTED))
    return SubstitutedLimits(table.count(itself), low, high, table.count(computed))


def _missing_by(table: Table, measure: Column, absent: Mask, infinite: Mask) -> dict[str, int]:
    """Missing cells by how they are written; blanks and infinities by a name in words."""
    here = np.flatnonzero(absent & ~infinite)
    codes, texts = code_texts(written(measure.cells.gather(here)).fill_null(""))
    weights = None if table.tally is None else table.tally.counts[here]
    counts = np.bincount(codes, weights=weights, minlength=len(texts)).astype(np.int64).tolist()
    words, by = catalogue(), dict[str, int]()
    for text, count in sorted(zip(texts.to_list(), counts, strict=True), key=lambda item: -item[1]):
        by[text or words.say("missing-empty")] = count
    if infinite.any():
        by[words.say("missing-infinite")] = table.count(infinite)
    return by


Levels = tuple[str, str | None, str | None]


def _examples(recipe: Recipe, examples: Table, measure: str) -> dict[Levels, Lane]:
    """The lanes of a source's rows that may be drawn one by one, by the names of their panel, group and subgroup."""
    arrangement = _by_groups(recipe, examples, examples.column(measure))
    names = {panel.key: panel.name for panel in arrangement.panels}
    return {(names[lane.panel], *lane.level_names): lane for lane in arrangement.lanes}


def _of_source(lane: Lane, tally: Sample, examples: Lane | None) -> Lane:
    """The lane with all values of its source, without those left out, and the rows of it that are at hand."""
    if examples is None:
        return replace(
            lane, values=lane.values[:0], rows=lane.rows[:0], below=AtLimit(), above=AtLimit(), extras={}, tally=tally
        )
    return replace(
        lane, values=examples.values, rows=examples.rows, below=examples.below, above=examples.above, extras=examples.extras,
        people=None, out=examples.out, left_out=examples.left_out, tally=less(tally, examples.out.limits),
    )  # fmt: skip
