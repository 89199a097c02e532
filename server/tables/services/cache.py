"""Columns, prepared tables and lanes that a worker has at hand.

Keys name the content (release, an immutable table, its steps, the arranging part of a recipe), so nothing is ever
invalidated. Look-ups come after the access check.
"""

from __future__ import annotations

import sys
import threading
import uuid
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any, TypeVar, cast
from uuid import UUID

from cachetools import LRUCache
from django.conf import settings

from echelle import RELEASE
from echelle.errors import InputError
from echelle.far.counted_file import FORMAT, CountedFile, counted_file
from echelle.far.far_table import Counted, checked_table, several_counted
from echelle.far.rows import rows_at
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.lane import MOST_LANES, Arrangement
from echelle.recipes.recipe import Recipe
from echelle.recipes.used_columns import columns_of, extra_columns
from echelle.render import scene_of
from echelle.tables.column_summary import ColumnSummary, summary_of
from echelle.tables.steps.joining import TableRef
from echelle.tables.steps.lineage import needed_for
from echelle.tables.steps.prepare import PreparationResult, TableOf, all_steps, prepare
from echelle.tables.steps.registry import Step
from echelle.tables.storage.arrow_store import unpack_column
from echelle.tables.summary_statistics_tables import names_mean
from echelle.tables.table import Column, Source, Table
from server.tables.models import DataTable, StoredColumn
from server.tables.services.counting import Patience, counted_for, far_table_of, values_in_cells
from server.tables.services.preparation import steps_key, table_named
from server.tables.services.reading import read_pieces

V = TypeVar("V")


class Cache:
    """A thread-safe cache, bounded in bytes, least recently used out first."""

    def __init__(self, megabytes: float) -> None:
        self._held: LRUCache[Any, tuple[Any, int]] = LRUCache(megabytes * 1e6, getsizeof=lambda item: item[1])
        self._lock = threading.Lock()

    def get(self, key: object, make: Callable[[], V], size: Callable[[V], int]) -> V:
        """The value of a key, made when it is not at hand."""
        with self._lock:
            result = self._held.get((RELEASE, key))
        if result is not None:
            return cast(V, result[0])
        value = make()
        with self._lock:
            if size(value) <= self._held.maxsize:
                self._held[RELEASE, key] = (value, size(value))
        return value


_columns = Cache(settings.CACHE_MEGABYTES)
_prepared = Cache(settings.CACHE_MEGABYTES)
_lanes = Cache(settings.CACHE_MEGABYTES / 2)
_summaries = Cache(settings.CACHE_MEGABYTES / 16)


def table_of(stored: DataTable) -> Table:
    """The whole table as read."""
    return _of_places(stored, range(len(stored.columns)))


def prepared_of(stored: DataTable, steps: Sequence[Step]) -> PreparationResult:
    """The table after its steps, or up to the one that no longer fits."""
    if not steps:
        return PreparationResult(table_of(stored), (), None)

    key = (stored.pk, steps_key(steps))
    return _prepared.get(
        key, lambda: prepare(table_of(stored), steps, lambda ref: named_table(stored.study_id, ref)), _prepared_size
    )


def named_table(study: uuid.UUID, ref: TableRef) -> Table:
    """The raw table that a step names; another sheet of a file is read when it is first asked for."""
    result = table_named(study, ref)
    if isinstance(result, DataTable):
        return table_of(result)

    def made() -> PreparationResult:
        read = read_pieces(result.pieces(), ref.options.model_dump(mode="json", exclude_none=True))
        columns = tuple(unpack_column(data) for data in read.columns)
        return PreparationResult(Table(columns, read.meta["rows"]), (), None)

    return _prepared.get((result.pk, ref.options.model_dump_json()), made, _prepared_size).table


def rows_in_use(stored: DataTable, steps: Sequence[Step]) -> Table:
    """The table after all its steps. Raises InputError that names the step at which the preparation stops."""
    result = prepared_of(stored, steps)
    if result.stopped is not None:
        error, number = result.stopped, len(result.results) + 1
        where = f"preparation of {stored.name}, step {number}"
        raise InputError(error.what, where=f"{where}, {error.where}".rstrip(", "), remedy=error.remedy)
    return result.table


def summaries_of(stored: DataTable, steps: Sequence[Step]) -> list[ColumnSummary]:
    """The columns in small, after the steps that fit."""
    if not steps:
        return [ColumnSummary.model_validate(column) for column in stored.columns]

    def made() -> list[ColumnSummary]:
        return [summary_of(column) for column in prepared_of(stored, steps).table.columns]

    return _summaries.get((stored.pk, steps_key(steps)), made, lambda summaries: 2_000 * len(summaries))


def rows_for(recipe: Recipe, stored: DataTable, steps: Sequence[Step]) -> Table:
    """The rows that a recipe is drawn of: all of them, prepared; of a far table what was counted for the recipe.

    Raises InputError as :func:`rows_in_use` does, and BeingCounted while files are being counted.
    """
    return counted_rows(recipe, stored, steps) if stored.is_far else rows_in_use(stored, steps)


def lanes_of(recipe: Recipe, stored: DataTable, steps: Sequence[Step] = (), patience: Patience = "whole") -> Arrangement:
    """The recipe's lanes over a prepared table; of an unprepared one only the columns needed are read. Of a far table they are
    counted: ``patience`` says whether they must be of all files.

    Raises InputError for what does not fit, and BeingCounted while files are being counted.
    """
    parts = recipe.model_dump_json(include={"measure", "groups", "subgroups", "panels", "keep", "left_out"})
    named = extra_columns(recipe)
    if stored.is_far:
        # Which values are looked into, and so become known, the whole recipe tells; in small none is.
        key = (stored.pk, steps_key(steps), parts if patience == "look" else recipe.model_dump_json(), *named)
        size = _lanes_size if patience == "look" else _final_size
        return _lanes.get(key, lambda: arrange(recipe, counted_rows(recipe, stored, steps, patience)), size)

    def made() -> Arrangement:
        return arrange(recipe, rows_in_use(stored, steps) if steps else _needed_tables(recipe, stored))

    return _lanes.get((stored.pk, steps_key(steps), parts, *named), made, _lanes_size)


def counted_rows(recipe: Recipe, stored: DataTable, steps: Sequence[Step], patience: Patience = "whole") -> Table:
    """What was counted of a far table for a recipe, with the values in cells that its figure looks into: while these are being
    counted without them, unless the whole is asked for.

    Raises InputError for what cannot be counted, BeingCounted meanwhile.
    """
    if stored.counts_alone:
        _, kept = needed_for(columns_of(recipe), steps)
        return checked_table(all_steps(_counts_of(stored), kept, _tables_of(stored)), partial(scene_of, recipe))
    return _counted(recipe, stored, steps, patience)[0]


def _counts_of(stored: DataTable) -> Table:
    """What a bundle brought of a far table."""
    return _prepared.get(
        (stored.pk, FORMAT),
        lambda: PreparationResult(CountedFile.unpacked(b"".join(stored.raw.pieces())).table(), (), None),
        _prepared_size,
    ).table


def counted_bytes(recipe: Recipe, stored: DataTable, steps: Sequence[Step]) -> bytes:
    """The same as a file that needs no source."""
    if stored.counts_alone:
        return b"".join(stored.raw.pieces())
    measure, *others = recipe.measure.columns
    if others:
        raise InputError("a bundle of a far table holds one measure", remedy="Make one for each measure.")
    return counted_file(far_table_of(stored, table_of(stored)), _counted(recipe, stored, steps, "whole")[1][measure])


def _counted(recipe: Recipe, stored: DataTable, steps: Sequence[Step], patience: Patience) -> tuple[Table, dict[str, Counted]]:
    columns, tables = columns_of(recipe) - set(recipe.measure.columns), _tables_of(stored)
    far = far_table_of(stored, table_of(stored))
    counted = {
        measure: counted_for(stored, far, far.question(measure, columns, steps, tables), patience)
        for measure in recipe.measure.columns
    }
    if patience == "look":
        return several_counted({measure: far.table_of(part, recipe.left_out) for measure, part in counted.items()}), counted
    values = partial(values_in_cells, stored, far, patience=patience)
    return far.opened(counted, partial(scene_of, recipe), values, recipe.left_out)


def _tables_of(stored: DataTable) -> TableOf:
    return lambda ref: named_table(stored.study_id, ref)


def single_rows(recipe: Recipe, stored: DataTable, steps: Sequence[Step], key: int | None = None) -> Table:
    """The rows that marks of a figure may stand for; of a far table those that are drawn one by one, or, whole, that of a key.

    Raises InputError as :func:`rows_in_use` does, and for a key that no row has.
    """
    if not stored.is_far:
        return rows_in_use(stored, steps)
    if key is None or stored.counts_alone:
        tally = counted_rows(recipe, stored, steps).tally
        assert tally is not None, "what was counted has a tally"
        return tally.examples
    far = far_table_of(stored, table_of(stored))
    return all_steps(rows_at(far.manifest, far.sample, [key]), steps, _tables_of(stored))


def _needed_tables(recipe: Recipe, stored: DataTable) -> Table:
    """A table of the columns that arranging looks at; every name stays known, so that errors can name the nearest."""
    if stored.rows <= MOST_LANES and any(names_mean(column["name"]) for column in stored.columns):
        # It may hold summaries, which only all of its columns can tell.
        return table_of(stored)
    asked = columns_of(recipe)
    headings = [{c["name"], f"{c['name']} ({c['unit']})"} for c in stored.columns]
    if not all(any(name in heading for heading in headings) for name in asked):
        return table_of(stored)
    return _of_places(
        stored,
        [
            i
            for i, (c, heading) in enumerate(zip(stored.columns, headings, strict=True))
            if asked & heading or c["kind"] == "identifier"
        ],
    )


def _of_places(stored: DataTable, places: Sequence[int]) -> Table:
    columns = tuple(_column(stored.pk, place) for place in places)
    whole = range(len(stored.columns))
    source = Source(
        lambda: stored.raw.sha256, lambda: Table(tuple(_column(stored.pk, place) for place in whole), stored.rows_held)
    )
    return Table(columns, stored.rows_held, source=source)


def _column(table: UUID, place: int) -> Column:
    return _columns.get((table, place), lambda: _load(table, place), _column_size)


def _load(table: UUID, place: int) -> Column:
    stored = StoredColumn.objects.filter(table=table, place=place).first()
    if stored is None:
        raise InputError("this table was erased", remedy="Choose another one.")
    return unpack_column(bytes(stored.buffer))


def _column_size(column: Column) -> int:
    numbers = 0 if column.numbers is None else column.numbers.nbytes * 9 // 8
    return int(column.cells.estimated_size()) + numbers + 4 * len(column.cells)


def _prepared_size(prepared: PreparationResult) -> int:
    return sum(map(_column_size, prepared.table.columns)) + 8 * prepared.table.rows


def _final_size(lanes: Arrangement) -> int:
    """The size of lanes of a far table; those that more files or values will change are held by nobody."""
    account = lanes.account
    whole = account.parts is None or account.parts[0] == account.parts[1]
    gathered = account.gathered
    return _lanes_size(lanes) if whole and (gathered is None or gathered.known or not gathered.waits) else sys.maxsize


def _lanes_size(arrangement: Arrangement) -> int:
    """Values, rows and sorted values, and what layers keep of them: x and y of points or steps, four times, packed."""
    return sum(lane.values.nbytes * 16 + 100_000 for lane in arrangement.lanes) + 1000
