"""Columns and lanes that a worker has at hand.

Keys name the content (an immutable table, a column, the arranging part of a recipe), so nothing is ever
invalidated. Look-ups come after the access check.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any, TypeVar, cast
from uuid import UUID

from cachetools import LRUCache
from django.conf import settings

from echelle.errors import InputError
from echelle.figures.arrange import Arrangement, arrange
from echelle.recipes.models import Recipe
from echelle.tables.store import unpack_column
from echelle.tables.table import Column, Table
from server.tables.models import DataTable, StoredColumn

V = TypeVar("V")


class Cache:
    """A thread-safe cache, bounded in bytes, least recently used out first."""

    def __init__(self, megabytes: float) -> None:
        self._held: LRUCache[Any, tuple[Any, int]] = LRUCache(megabytes * 1e6, getsizeof=lambda item: item[1])
        self._lock = threading.Lock()

    def get(self, key: object, make: Callable[[], V], size: Callable[[V], int]) -> V:
        """The value of a key, made when it is not at hand."""
        with self._lock:
            found = self._held.get(key)
        if found is not None:
            return cast(V, found[0])
        value = make()
        with self._lock:
            if size(value) <= self._held.maxsize:
                self._held[key] = (value, size(value))
        return value


_columns = Cache(settings.CACHE_MEGABYTES)
_lanes = Cache(settings.CACHE_MEGABYTES / 2)


def table_of(stored: DataTable) -> Table:
    """The whole table."""
    return Table(tuple(_column(stored.pk, place) for place in range(len(stored.columns))), stored.rows)


def lanes_of(recipe: Recipe, stored: DataTable) -> Arrangement:
    """The recipe's lanes over a stored table; only the columns it needs are read."""
    parts = recipe.model_dump_json(include={"measure", "groups", "keep", "left_out"})
    return _lanes.get((stored.pk, parts), lambda: arrange(recipe, _needed(recipe, stored)), _lanes_size)


def _needed(recipe: Recipe, stored: DataTable) -> Table:
    """A table of the columns that arranging looks at; every name stays known, so that errors can name the nearest."""
    asked = {*recipe.measure.columns, *(c.column for c in recipe.keep), *([recipe.groups.column] if recipe.groups else [])}
    headings = [{c["name"], f"{c['name']} ({c['unit']})"} for c in stored.columns]
    if not all(any(name in heading for heading in headings) for name in asked):
        return table_of(stored)
    places = [
        i
        for i, (c, heading) in enumerate(zip(stored.columns, headings, strict=True))
        if asked & heading or c["kind"] == "identifier"
    ]
    return Table(tuple(_column(stored.pk, place) for place in places), stored.rows)


def _column(table: UUID, place: int) -> Column:
    return _columns.get((table, place), lambda: _load(table, place), _column_size)


def _load(table: UUID, place: int) -> Column:
    stored = StoredColumn.objects.filter(table=table, place=place).first()
    if stored is None:
        raise InputError("this table was erased", remedy="Choose another one.")
    return unpack_column(bytes(stored.buffer))


def _column_size(column: Column) -> int:
    numbers = 0 if column.numbers is None else column.numbers.nbytes * 9 // 8
    return int(column.texts.estimated_size()) + numbers + 4 * len(column.texts)


def _lanes_size(arrangement: Arrangement) -> int:
    return sum(lane.values.nbytes * 6 for lane in arrangement.lanes) + 1000
