"""Rows to the levels of a role: in which order, under which names, joined, dropped, cut into intervals."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.figures.lanes.lane import MOST_LANES, Codes, Level
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import quantile
from echelle.numbers.sample import Floats, Sample, sample_of_unordered
from echelle.recipes.markup import has_marks, plain
from echelle.recipes.roles import Cut, Levels
from echelle.tables.date_parts import Part, date_part_name, date_parts
from echelle.tables.intervals import interval_names, interval_places
from echelle.tables.known_orders import known_order
from echelle.tables.table import Column, Table

NONE, DROPPED = -1, -2
# Two numbers are codes; more are an order.
_LEAST_RISING = 3


@dataclass(frozen=True, eq=False)
class Division:
    """Each row's place among the levels (shape (rows,)): −1 without a value, −2 where its level was dropped."""

    codes: Codes
    levels: tuple[Level, ...]
    column: str | None


Usable = NDArray[np.bool_]


def all_rows(rows: int, key: str, name: str = "") -> Division:
    """All rows in one place, which has a name where nothing else names it."""
    return Division(np.zeros(rows, dtype=np.int32), (Level(key, None, name),), None)


def divide(table: Table, role: Levels, letter: str, where: str, values: Floats, usable: Usable) -> Division:
    """The rows by the levels of a role's column. ``values`` of ``usable`` rows decide orders by median, mean or n.

    Raises InputError for a column that is not there or cannot be cut as asked, and for too many levels.
    """
    column = table.column(role.column, where=f"{where}.column")
    codes, levels, numbers = _levels(column, role, where)
    codes, levels, numbers = _join(codes, levels, numbers, role)
    if len(levels) > MOST_LANES:
        raise InputError(
            f"“{column.name}” has {len(levels):,} levels, more than {MOST_LANES} lanes can show",
            where=f"{where}.column",
            remedy="Choose a column with fewer levels, or keep some of them.",
        )
    shown = [i for i, level in enumerate(levels) if level not in role.dropped]
    ordered = _order(shown, levels, numbers, role, lambda i: _sample(table, values, usable & (codes == i)))
    place = np.full(len(levels) + 1, DROPPED, dtype=np.int32)
    place[-1] = NONE
    place[ordered] = np.arange(len(ordered))
    # Colours come in the order that lanes begin in, and stay with their level whatever is moved or taken away.
    begun = _by_number(list(range(len(levels))), numbers)
    hues = {i: hue for hue, i in enumerate(begun)}
    rises = column.ordered or role.cut is not None or role.dates is not None or all(n is not None for n in numbers)
    span = len(levels) if rises and len(levels) >= _LEAST_RISING else None
    result = tuple(
        _level(f"{letter}{at + 1}", levels[i], role, Level("", None, "", numbers[i], hue=hues[i], of=span))
        for at, i in enumerate(ordered)
    )
    return Division(place[codes], result, column.name)


def _sample(table: Table, values: Floats, here: Usable) -> Sample:
    return sample_of_unordered(values[here]) if table.tally is None else table.tally.sample(values, here)


def _level(key: str, level: str, role: Levels, known: Level) -> Level:
    """A level's own text stands as it is; marks are read in a name that someone gave it."""
    label = role.labels.get(level)
    if label is None:
        return replace(known, key=key, level=level, name=level)
    return replace(known, key=key, level=level, name=plain(label), signed=has_marks(label))


def _by_number(places: list[int], numbers: list[float | None]) -> list[int]:
    """Levels that are numbers in their order; others as they come."""
    if any(numbers[i] is None for i in places):
        return places
    return sorted(places, key=lambda i: numbers[i] or 0.0)


Read = tuple[Codes, list[str], list[float | None]]


def _levels(column: Column, role: Levels, where: str) -> Read:
    """Codes, levels, and the number of each level where it has one."""
    if role.cut is not None:
        return _cut(column, role.cut, where)
    if role.dates is not None:
        return _by_calendar(column, role.dates, where)
    levels = list(column.levels)
    numbers = pl.Series(levels, dtype=pl.String).str.strip_chars().cast(pl.Float64, strict=False).to_list()
    if column.numbers is not None:
        by_text = dict(zip(column.texts.to_list(), column.numbers.tolist(), strict=True))
        numbers = [by_text[level] for level in levels]
    return column.codes, levels, numbers


def _cut(column: Column, cut: Cut, where: str) -> Read:
    if column.numbers is None:
        raise InputError(f"“{column.name}” holds no numbers to cut", where=f"{where}.cut", remedy="Choose a measure.")
    edges = np.array(cut.edges)
    codes = interval_places(column.numbers, edges, cut.closed).astype(np.int32)
    codes[~np.isfinite(column.numbers)] = NONE
    names = cut.names or interval_names(edges, cut.closed, lanes=True)
    return codes, names, [None] * len(names)


def _by_calendar(column: Column, dates: Part, where: str) -> Read:
    if column.kind != "date":
        raise InputError(f"“{column.name}” holds no dates", where=f"{where}.dates", remedy="Choose a column of dates.")
    of_level = date_parts(pl.Series(list(column.levels), dtype=pl.String), dates)
    here = sorted({number for number in of_level if number is not None})
    if not here:
        raise InputError(
            f"the dates of “{column.name}” do not tell {dates}",
            where=f"{where}.dates",
            remedy="Choose a part that they have, such as years.",
        )
    lookup = np.array([here.index(n) if n is not None else NONE for n in of_level] + [NONE], dtype=np.int32)
    return lookup[column.codes], [date_part_name(number, dates) for number in here], [float(number) for number in here]


def _join(codes: Codes, levels: list[str], numbers: list[float | None], role: Levels) -> Read:
    """Several levels as one, in the place of the first of them."""
    if not role.joined:
        return codes, levels, numbers
    into = {level: part.name for part in role.joined for level in part.levels}
    names: dict[str, int] = {}
    for level in levels:
        names.setdefault(into.get(level, level), len(names))
    lookup = np.array([names[into.get(level, level)] for level in levels] + [NONE], dtype=np.int32)
    of_name = [None if name in into.values() else numbers[levels.index(name)] for name in names]
    return lookup[codes], list(names), of_name


def _order(
    shown: list[int], levels: list[str], numbers: list[float | None], role: Levels, values: Callable[[int], Sample]
) -> list[int]:
    """Places of the levels in drawing order. By median, mean or n the highest comes first."""
    if role.sorted in ("by median", "by mean", "by n"):

        def rank(i: int) -> float:
            result = values(i)
            if not len(result) or role.sorted == "by n":
                return len(result) or -np.inf
            return quantile(result, 0.5) if role.sorted == "by median" else moments(result).mean or 0.0

        return sorted(shown, key=rank, reverse=True)
    if role.sorted == "alphabetical":
        return sorted(shown, key=lambda i: (levels[i].casefold(), levels[i]))
    if role.sorted == "calendar":
        known = known_order([levels[i] for i in shown])
        return sorted(shown, key=(lambda i: known.index(levels[i])) if known else (lambda i: levels[i]))
    shown = _by_number(shown, numbers)
    first = [i for name in role.order for i in shown if levels[i] == name]
    return first + [i for i in shown if i not in set(first)]
