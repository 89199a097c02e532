"""A part to its different rows with their counts, and to the rows of it that may be drawn one by one."""

from __future__ import annotations

import math

import numpy as np
import polars as pl
import pyarrow as pa
from numpy.typing import NDArray

from echelle.far.cells import COUNT
from echelle.far.cells_of_batch import cells_of_batch
from echelle.far.codes import MOST_CELLS, CodedColumn, apart, coded_levels, coded_measure, keys_of, numbers_of, together
from echelle.far.examples import HASHES, ORDER, ROW, bounds_of_lanes, candidates, extremes_of, hashed, outer_of_lanes, outermost
from echelle.far.lane_numbers import LaneNumbers
from echelle.far.manifest import Manifest
from echelle.far.part_batches import Piece, batches
from echelle.far.question import CountQuestion
from echelle.far.tally import PartTally, merged_tallies, with_tally
from echelle.tables.table import PART_KEYS

_SIZE = "\x00size"
_MOST_KEYS = 20_000


def count_piece(manifest: Manifest, piece: Piece, question: CountQuestion, separator: str = ",") -> PartTally:
    """A part, or some row groups of it, batch by batch. Raises InputError for what cannot be read, that lacks a column, or
    whose rows differ too much to be counted.
    """
    part = manifest.parts[piece.place]
    tallies: list[PartTally] = []
    for first, table in batches(manifest, piece, question, separator):
        if question.cells:
            tallies = with_tally(tallies, cells_of_batch(table, coded_keys(table, question), question), question)
            continue
        tallies = with_tally(tallies, _batch(table, first, piece.place, question), question, part.name)
    if len(tallies) == 1 and tallies[0].is_plain:
        return tallies[0]
    return merged_tallies(tallies, question, part.name)


def _batch(table: pa.Table, first: int, place: int, question: CountQuestion) -> PartTally:
    coded = _coded(table, question)
    if coded is not None:
        return _counted_by_codes(coded, first, place, question, table.num_rows)
    keys = coded_keys(table, question)
    if keys is not None and pa.types.is_floating(table.column(question.measure).type):
        return _counted_by_sorting(table, keys, first, place, question)
    frame = pl.DataFrame(pl.from_arrow(table))
    counted = frame.group_by(question.every).agg(pl.len().cast(pl.Int64).alias(COUNT))
    ids = _ids(first, place, np.arange(frame.height))
    known = frame.with_columns(pl.Series(ROW, ids), pl.Series(ORDER, hashed(first, place, frame.height, question.seed)))
    rows = pl.lit(frame.height)
    if question.lanes:
        size = counted.group_by(question.lanes).agg(pl.col(COUNT).sum().alias(_SIZE))
        known = known.join(size, on=question.lanes, nulls_equal=True, how="left")
        rows = pl.col(_SIZE)
    picked = [known.filter(pl.col(ORDER) <= candidates(question) / rows * HASHES), *extremes_of(known, counted, question)]
    examples = pl.concat([part.select([*question.every, ROW, ORDER]) for part in picked])
    return PartTally(_plain(counted), _plain(examples.unique(ROW)), frame.height)


def _coded(table: pa.Table, question: CountQuestion) -> list[CodedColumn] | None:
    """The columns as codes, the lanes' first, then others, the measure's last; None where they have too many."""
    if not table.num_rows:
        return None
    keys, measure = coded_keys(table, question), coded_measure(table.column(question.measure))
    if keys is None or measure is None or math.prod(column.size for column in keys) * measure.size > MOST_CELLS:
        return None
    return [*keys, measure]


def coded_keys(table: pa.Table, question: CountQuestion) -> list[CodedColumn] | None:
    """All columns but the measure as codes, the lanes' first; None where they have too many."""
    columns = [coded_levels(table.column(name)) for name in question.keys]
    known = [column for column in columns if column is not None]
    few = len(known) == len(columns) and math.prod(column.size for column in known) <= _MOST_KEYS
    return known if few else None


def _counted_by_sorting(table: pa.Table, keys: list[CodedColumn], first: int, place: int, question: CountQuestion) -> PartTally:
    """Numbers in no steps: each lane's stand together, as they come."""
    rows, column = table.num_rows, table.column(question.measure)
    values, null = numbers_of(column), np.asarray(column.is_null().to_numpy())
    key, order = together(keys, rows), hashed(first, place, rows, question.seed)
    size = math.prod(column.size for column in keys)
    by_key = np.argsort(key.astype(np.int16) if size < 1 << 15 else key, kind="stable")
    sizes = np.bincount(key, minlength=size)
    numbers = values[by_key]
    # One zero.
    numbers += 0.0
    finite = np.isfinite(numbers)
    codes = np.flatnonzero(sizes)
    starts = np.cumsum(sizes)[codes] - sizes[codes]
    lanes = []
    for levels_of, start, count in zip(keys_of(codes, keys), starts.tolist(), sizes[codes].tolist(), strict=True):
        here = slice(start, start + count)
        lane = numbers[here] if finite[here].all() else numbers[here][finite[here]]
        if len(lane):
            lanes.append(LaneNumbers(levels_of, lane))
    of_lanes = sizes.reshape(math.prod(column.size for column in keys[: len(question.lanes)]), -1).sum(axis=1)
    picked = order <= np.repeat(bounds_of_lanes(of_lanes, question), size // len(of_lanes))[key]
    picked[by_key[outer_of_lanes(of_lanes, numbers, finite, question)]] = True
    at = np.flatnonzero(picked)
    odd = by_key[~finite]

    def frame_of(rows_of: NDArray[np.intp]) -> pl.DataFrame:
        measured = pl.Series(values[rows_of]).set(pl.Series(null[rows_of]), None)
        columns = [series.alias(name) for name, series in zip(question.keys, apart(key[rows_of], keys), strict=True)]
        return pl.DataFrame([*columns, measured.alias(question.measure)])

    counted = frame_of(odd).group_by(question.every).agg(pl.len().cast(pl.Int64).alias(COUNT))
    examples = frame_of(at).with_columns(pl.Series(ROW, _ids(first, place, at)), pl.Series(ORDER, order[at]))
    return PartTally(counted, examples.select([*question.every, ROW, ORDER]), rows, lanes=tuple(lanes))


def _counted_by_codes(coded: list[CodedColumn], first: int, place: int, question: CountQuestion, rows: int) -> PartTally:
    names, lanes = [*question.keys, question.measure], len(question.lanes)
    whole = together(coded, rows)
    counts = np.bincount(whole, minlength=math.prod(column.size for column in coded))
    there = np.flatnonzero(counts)
    counted = pl.DataFrame(dict(zip(names, apart(there, coded), strict=True)) | {COUNT: counts[there]})
    cells = counts.reshape(math.prod(column.size for column in coded[:lanes]), -1, coded[-1].size)
    of_lane = cells.sum(axis=1)
    order = hashed(first, place, rows, question.seed)
    picked = order <= bounds_of_lanes(of_lane.sum(axis=1), question)[together(coded[:lanes], rows)]
    # What a cell of the counts is, its rows are.
    outer = np.broadcast_to(outermost(of_lane, question)[:, None, :], cells.shape).ravel()
    picked |= outer[whole]
    at = np.flatnonzero(picked)
    drawn = dict(zip(names, apart(whole[at], coded), strict=True))
    examples = pl.DataFrame(drawn | {ROW: _ids(first, place, at), ORDER: order[at]}).select([*question.every, ROW, ORDER])
    return PartTally(counted.select([*question.every, COUNT]), examples, rows)


def _ids(first: int, place: int, rows: NDArray[np.intp]) -> NDArray[np.int64]:
    return rows + (first + 1 + (place + 1) * PART_KEYS)


def _plain(frame: pl.DataFrame) -> pl.DataFrame:
    """Words as words: dictionaries of different batches do not agree."""
    return frame.with_columns(pl.col(pl.Categorical, pl.Enum).cast(pl.String))
