"""Rows in use to lanes: who is in which lane, and what became of everyone else."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.figures.scene import PointColumns
from echelle.numbers.moments import Moments, moments
from echelle.numbers.quantiles import Floats
from echelle.recipes.models import Condition, Groups, LeftOut, Recipe
from echelle.tables.table import Column, Mark, Table

Rows = NDArray[np.int64]
Mask = NDArray[np.bool_]
MOST_LANES = 400


@dataclass(frozen=True, eq=False)
class Lane:
    """The values of one group. ``values`` and ``rows`` (shape (n,)) are in row order; ``group`` is None without groups."""

    key: str
    group: str | None
    name: str
    values: Floats
    rows: Rows
    people: int | None
    missing: int
    censored: int
    left_out: int

    @cached_property
    def ordered(self) -> Floats:
        """The values sorted upwards."""
        return np.sort(self.values)

    @cached_property
    def moments(self) -> Moments:
        """Mean, spread and shape."""
        return moments(self.values)

    @cached_property
    def packed(self) -> dict[object, PointColumns]:
        """Packed places of the points, by what decides them: few settings are tried at a time."""
        return {}


@dataclass(frozen=True, eq=False)
class Arrangement:
    """Lanes in drawing order, with the account of all rows of the table.

    Several measures give one lane each; then ``rows`` and the other counts are of values, and ``units`` holds each unit
    once.
    """

    name: str
    heading: str
    units: tuple[str | None, ...]
    groups: Column | None
    lanes: tuple[Lane, ...]
    rows: int
    kept: int
    people: int | None
    missing_by: dict[str, int]
    censored: int
    left_out: int
    ungrouped: int
    not_finite: int

    @property
    def used(self) -> int:
        """How many rows have a value in a lane."""
        return sum(len(lane.values) for lane in self.lanes)

    @cached_property
    def pooled(self) -> Floats:
        """All lanes' values one after the other."""
        return np.concatenate([lane.values for lane in self.lanes]) if self.lanes else np.empty(0)


def arrange(recipe: Recipe, table: Table) -> Arrangement:
    """Cut the table into the recipe's lanes.

    Raises InputError for a column that the table lacks, a measure that holds no numbers, too many levels, or a
    left-out row that is not there.
    """
    measures = [_measure(table, name, place) for place, name in enumerate(recipe.measure.columns)]
    if len(measures) == 1:
        return _by_groups(recipe, table, measures[0])
    return _side_by_side([_by_groups(recipe, table, measure) for measure in measures])


def _side_by_side(each: list[Arrangement]) -> Arrangement:
    """Arrangements of one lane each as lanes of one figure."""
    lanes = tuple(
        replace(lane, key=f"m{place}", group=part.name, name=part.name)
        for place, part in enumerate(each, 1)
        for lane in part.lanes
    )
    units = tuple(dict.fromkeys(unit for part in each for unit in part.units))
    missing: dict[str, int] = {}
    for part in each:
        for text, count in part.missing_by.items():
            missing[text] = missing.get(text, 0) + count
    people = [part.people for part in each if part.people is not None]
    return Arrangement(
        name=", ".join(part.name for part in each[:3]) + (f" and {len(each) - 3} more" if len(each) > 3 else ""),
        heading=f"value ({units[0]})" if len(units) == 1 and units[0] else "value",
        units=units,
        groups=None,
        lanes=lanes,
        rows=sum(part.rows for part in each),
        kept=sum(part.kept for part in each),
        people=max(people) if people else None,
        missing_by=missing,
        censored=sum(part.censored for part in each),
        left_out=sum(part.left_out for part in each),
        ungrouped=0,
        not_finite=sum(part.not_finite for part in each),
    )


def _by_groups(recipe: Recipe, table: Table, measure: Column) -> Arrangement:
    """The lanes of one measure, one a level."""
    numbers, marks = measure.numbers, measure.marks
    assert numbers is not None and marks is not None
    kept = _kept(table, recipe.keep)
    if measure.length is not None:
        kept[measure.length :] = False
    out = _left_out(table, recipe.left_out) & kept
    lane_of, levels, names, groups = _levels(table, recipe.groups)
    grouped = kept & (lane_of >= 0)
    here = grouped & ~out
    number = here & (marks == Mark.NUMBER)
    infinite = number & ~np.isfinite(numbers)
    usable = number & ~infinite
    absent = here & ((marks == Mark.MISSING) | infinite)
    censored = here & (marks >= Mark.BELOW)
    identifier = _repeating_identifier(table)
    people = identifier.codes if identifier else None
    present = np.bincount(lane_of[grouped], minlength=len(levels))
    split = dict(_split(lane_of, usable, len(levels)))
    counts = {name: np.bincount(lane_of[mask], minlength=len(levels)) for name, mask in
              (("missing", absent), ("censored", censored), ("out", out & grouped))}  # fmt: skip
    lanes = []
    for place, level in enumerate(levels):
        if not present[place]:
            continue
        members = split[place]
        lanes.append(
            Lane(
                key="all" if level is None else f"g{place + 1}",
                group=level,
                name=names[place],
                values=numbers[members],
                rows=members + 1,
                people=_distinct(people, members),
                missing=int(counts["missing"][place]),
                censored=int(counts["censored"][place]),
                left_out=int(counts["out"][place]),
            )
        )
    return Arrangement(
        name=measure.name,
        heading=measure.heading,
        units=(measure.unit,),
        groups=groups,
        lanes=tuple(lanes),
        rows=table.rows if measure.length is None else measure.length,
        kept=int(kept.sum()),
        people=_distinct(people, np.flatnonzero(usable)),
        missing_by=_missing_by(measure, absent, infinite),
        censored=int(censored.sum()),
        left_out=int(out.sum()),
        ungrouped=int((kept & (lane_of < 0)).sum()),
        not_finite=int(infinite.sum()),
    )


def _measure(table: Table, name: str, place: int) -> Column:
    column = table.column(name, where=f"$.measure.columns[{place}]")
    if column.kind != "measure" or column.numbers is None:
        names = ", ".join(f"“{c.name}”" for c in list(table.measures())[:5])
        remedy = f"Columns of numbers here: {names}." if names else "The table has no column of numbers."
        kind = {"yes/no": "a yes/no", "identifier": "an identifier"}.get(column.kind, f"a {column.kind}")
        raise InputError(f"“{column.name}” is {kind} and not a measure", where=f"$.measure.columns[{place}]", remedy=remedy)
    return column


def _kept(table: Table, conditions: list[Condition]) -> Mask:
    kept = np.ones(table.rows, dtype=np.bool_)
    for place, condition in enumerate(conditions):
        column = table.column(condition.column, where=f"$.keep[{place}].column")
        wanted = [i for i, level in enumerate(column.levels) if level in set(condition.values)]
        kept &= np.isin(column.codes, wanted)
    return kept


def _left_out(table: Table, left_out: list[LeftOut]) -> Mask:
    out = np.zeros(table.rows, dtype=np.bool_)
    for place, entry in enumerate(left_out):
        if entry.row > table.rows:
            raise InputError(
                f"row {entry.row} is not in the table of {table.rows} rows",
                where=f"$.left_out[{place}].row",
                remedy="Take the entry out or correct the row.",
            )
        out[entry.row - 1] = True
    return out


def _levels(table: Table, groups: Groups | None) -> tuple[NDArray[np.int32], list[str | None], list[str], Column | None]:
    """Each row's place in the list of levels (−1 for none), the levels in lane order, and their names."""
    if groups is None:
        return np.zeros(table.rows, dtype=np.int32), [None], ["all rows"], None
    column = table.column(groups.column, where="$.groups.column")
    if len(column.levels) > MOST_LANES:
        raise InputError(
            f"“{column.name}” has {len(column.levels):,} levels, more than {MOST_LANES} lanes can show",
            where="$.groups.column",
            remedy="Choose a column with fewer levels, or keep some of them.",
        )
    natural = list(column.levels)
    if column.numbers is not None:
        numbers = dict(zip(column.texts.to_list(), column.numbers.tolist(), strict=True))
        natural.sort(key=lambda level: numbers[level])
    first = [level for level in groups.order if level in natural]
    levels = first + [level for level in natural if level not in set(first)]
    place = {level: i for i, level in enumerate(levels)}
    lookup = np.array([place[level] for level in column.levels] + [-1], dtype=np.int32)
    return lookup[column.codes], list(levels), [groups.labels.get(level, level) for level in levels], column


def _split(lane_of: NDArray[np.int32], usable: Mask, lanes: int) -> Iterator[tuple[int, Rows]]:
    """The places of each lane's usable rows, in row order."""
    places = np.flatnonzero(usable)
    codes = lane_of[places]
    by_lane = places[np.argsort(codes, kind="stable")]
    ends = np.cumsum(np.bincount(codes, minlength=lanes))
    for lane, part in enumerate(np.split(by_lane, ends[:-1])):
        yield lane, part.astype(np.int64)


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


def _missing_by(measure: Column, absent: Mask, infinite: Mask) -> dict[str, int]:
    """Missing cells by how they are written; blanks and infinities by a name in words."""
    texts = measure.texts.filter(absent & ~infinite)
    by: dict[str, int] = {}
    for text, count in texts.value_counts(sort=True).iter_rows():
        by["empty" if text is None else str(text)] = int(count)
    if infinite.any():
        by["infinite"] = int(infinite.sum())
    return by
