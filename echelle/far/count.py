"""A part to its different rows with their counts, and to the rows of it that may be drawn one by one."""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import IO

import numpy as np
import polars as pl
import pyarrow as pa
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.far.cells import COUNT, gathered
from echelle.far.codes import MOST_CELLS, CodedColumn, apart, coded_levels, coded_measure, together
from echelle.far.manifest import Manifest, Part, damaged, opened
from echelle.far.question import CountQuestion
from echelle.tables.table import PART_KEYS

ROW, ORDER = "\x00row", "\x00order"
_SIZE, _VALUE, _LOW, _HIGH = "\x00size", "\x00value", "\x00low", "\x00high"
Mask = NDArray[np.bool_]
_BATCH = 1 << 20
# More different rows than this are no tally any more.
MOST_COUNTED = 20_000_000
# Six standard deviations of how many of the smallest hashes lie below their expected bound.
_SURE = 6.0
# Hashes have 32 bits.
_WHOLE = float(1 << 32)


@dataclass(frozen=True, eq=False)
class PartTally:
    """Different rows with their counts, and example rows with their ids (from 1 in the part) and the hash that orders them."""

    counted: pl.DataFrame
    examples: pl.DataFrame
    rows: int

    def packed(self) -> bytes:
        """As one Arrow file within another."""
        head = pl.DataFrame({"counted": [_packed(self.counted)], "examples": [_packed(self.examples)], "rows": [self.rows]})
        return _packed(head)

    @staticmethod
    def unpacked(data: bytes) -> PartTally:
        """Back from :meth:`packed`."""
        head = pl.read_ipc(io.BytesIO(data)).row(0, named=True)
        return PartTally(pl.read_ipc(io.BytesIO(head["counted"])), pl.read_ipc(io.BytesIO(head["examples"])), head["rows"])


def _packed(frame: pl.DataFrame) -> bytes:
    sink = io.BytesIO()
    frame.write_ipc(sink, compression="zstd")
    return sink.getvalue()


def count_part(manifest: Manifest, place: int, question: CountQuestion, separator: str = ",") -> PartTally:
    """One part, batch by batch. Raises InputError for a part that cannot be read, that lacks a column, or whose rows differ too
    much to be counted.
    """
    part = manifest.parts[place]
    tallies = [_batch(table, first, place, question) for first, table in _batches(manifest, part, question, separator)]
    return merged_tallies(tallies, question, part.name)


def merged_tallies(tallies: list[PartTally], question: CountQuestion, where: str = "") -> PartTally:
    """Several tallies as one, whatever their order. Raises InputError where there are too many different rows."""
    counted = pl.concat([tally.counted for tally in tallies], how="diagonal_relaxed")
    if len(tallies) > 1:
        same = [name for name in counted.columns if name != COUNT]
        counted = gathered(counted.group_by(same).agg(pl.col(COUNT).sum()), question)
    if counted.height > MOST_COUNTED:
        names = ", ".join(f"“{name}”" for name in question.every)
        raise InputError(
            f"{names} have more than {MOST_COUNTED:,} different combinations", where=where,
            remedy="Round the measure or cut columns of many values into classes where the files are made.",
        )  # fmt: skip
    examples = pl.concat([tally.examples for tally in tallies], how="vertical_relaxed")
    return PartTally(counted, _chosen(examples, counted, question), sum(tally.rows for tally in tallies))


def _batches(manifest: Manifest, part: Part, question: CountQuestion, separator: str) -> Iterator[tuple[int, pa.Table]]:
    """The columns asked for, with those that folders name, and how many rows came before."""
    folders = dict(part.levels)
    names = [name for name in question.every if name not in folders]
    first, some = 0, False
    for table in _tables(manifest, part, names, separator):
        for name, level in part.levels:
            if name in question.every:
                table = table.append_column(name, pa.repeat(pa.scalar(level, pa.string()), table.num_rows))
        yield first, table.select(question.every)
        first, some = first + table.num_rows, True
    if not some:
        yield 0, pa.table({name: pa.array([], pa.string()) for name in question.every})


def _tables(manifest: Manifest, part: Part, names: list[str], separator: str) -> Iterator[pa.Table]:
    from pyarrow.parquet import ParquetFile

    try:
        with opened(manifest, part) as file:
            if manifest.format == "csv":
                yield from _csv_tables(file, names, separator)
                return
            schema = ParquetFile(file).schema_arrow
            lacks = [name for name in names if name not in schema.names]
            if lacks:
                what = f"the part has no column “{lacks[0]}”"
                raise InputError(what, where=part.name, remedy="Give all parts the same columns.")
            words = [field.name for field in schema if field.name in names and pa.types.is_string(field.type)]
            file.seek(0)
            source = ParquetFile(file, read_dictionary=words)
            for batch in source.iter_batches(batch_size=_BATCH, columns=names):
                yield pa.Table.from_batches([batch])
    except (pa.ArrowException, pl.exceptions.PolarsError, OSError, ValueError) as error:
        raise damaged(part, error) from None


def _csv_tables(file: IO[bytes], names: list[str], separator: str) -> Iterator[pa.Table]:
    """Cells as they are written: what they mean is decided once, for the different ones."""
    frame = pl.read_csv(file, separator=separator, infer_schema=False, columns=names)
    for part in frame.iter_slices(_BATCH):
        yield part.to_arrow()


def _batch(table: pa.Table, first: int, place: int, question: CountQuestion) -> PartTally:
    coded = _coded(table, question)
    if coded is not None:
        return _counted_by_codes(coded, first, place, question, table.num_rows)
    frame = pl.DataFrame(pl.from_arrow(table))
    counted = frame.group_by(question.every).agg(pl.len().cast(pl.Int64).alias(COUNT))
    ids = _ids(first, place, frame.height)
    known = frame.with_columns(pl.Series(ROW, ids), pl.Series(ORDER, hashed(first, place, frame.height, question.seed)))
    rows = pl.lit(frame.height)
    if question.lanes:
        size = counted.group_by(question.lanes).agg(pl.col(COUNT).sum().alias(_SIZE))
        known = known.join(size, on=question.lanes, nulls_equal=True, how="left")
        rows = pl.col(_SIZE)
    picked = [known.filter(pl.col(ORDER) <= _sure(question) / rows * _WHOLE), *_extremes_of(known, counted, question)]
    examples = pl.concat([part.select([*question.every, ROW, ORDER]) for part in picked])
    return PartTally(gathered(_plain(counted), question), _plain(examples.unique(ROW)), frame.height)


def _coded(table: pa.Table, question: CountQuestion) -> list[CodedColumn] | None:
    """The columns as codes, the lanes' first, then others, the measure's last; None where they have too many."""
    if not table.num_rows:
        return None
    others = [name for name in question.columns if name not in question.lanes and name != question.measure]
    columns = [coded_levels(table.column(name)) for name in (*question.lanes, *others)]
    columns.append(coded_measure(table.column(question.measure)))
    known = [column for column in columns if column is not None]
    few = len(known) == len(columns) and math.prod(column.size for column in known) <= MOST_CELLS
    return known if few else None


def _counted_by_codes(coded: list[CodedColumn], first: int, place: int, question: CountQuestion, rows: int) -> PartTally:
    others = [name for name in question.columns if name not in question.lanes and name != question.measure]
    names, lanes = [*question.lanes, *others, question.measure], len(question.lanes)
    whole = together(coded, rows)
    counts = np.bincount(whole, minlength=math.prod(column.size for column in coded))
    there = np.flatnonzero(counts)
    counted = pl.DataFrame(dict(zip(names, apart(there, coded), strict=True)) | {COUNT: counts[there]})
    cells = counts.reshape(math.prod(column.size for column in coded[:lanes]), -1, coded[-1].size)
    of_lane = cells.sum(axis=1)
    order = hashed(first, place, rows, question.seed)
    with np.errstate(divide="ignore"):
        bounds = np.minimum(_sure(question) / of_lane.sum(axis=1) * _WHOLE, _WHOLE - 1).astype(np.uint32)
    picked = order <= bounds[together(coded[:lanes], rows)]
    # What a cell of the counts is, its rows are.
    outer = np.broadcast_to(_outermost(of_lane, question)[:, None, :], cells.shape).ravel()
    picked |= outer[whole]
    at = np.flatnonzero(picked)
    drawn = dict(zip(names, apart(whole[at], coded), strict=True))
    examples = pl.DataFrame(drawn | {ROW: _ids(first, place, rows)[at], ORDER: order[at]}).select([*question.every, ROW, ORDER])
    return PartTally(counted.select([*question.every, COUNT]), examples, rows)


def _outermost(of_lane: NDArray[np.int64], question: CountQuestion) -> Mask:
    """By lane and code of the measure (the last for null): the lowest and highest that at most so many rows reach."""
    result = np.zeros(of_lane.shape, dtype=np.bool_)
    values = of_lane[:, :-1]
    result[:, :-1] = np.cumsum(values, axis=1) <= question.extremes
    result[:, :-1] |= np.cumsum(values[:, ::-1], axis=1)[:, ::-1] <= question.extremes
    return result


def _ids(first: int, place: int, rows: int) -> NDArray[np.int64]:
    return np.arange(first + 1, first + rows + 1, dtype=np.int64) + (place + 1) * PART_KEYS


def _sure(question: CountQuestion) -> float:
    """So many candidates of a lane hold those of the smallest hashes, but for six standard deviations."""
    return question.examples + _SURE * math.sqrt(question.examples) + 20


def _plain(frame: pl.DataFrame) -> pl.DataFrame:
    """Words as words: dictionaries of different batches do not agree."""
    return frame.with_columns(pl.col(pl.Categorical, pl.Enum).cast(pl.String))


def hashed(first: int, place: int, rows: int, seed: int) -> NDArray[np.uint32]:
    """A hash of the rows from ``first`` on of a part, shape (rows,): the same wherever and whenever it is computed, by a mixing
    of 32 bits without bias (Wellons 2018).
    """
    salt = np.random.default_rng([seed, place]).integers(0, 1 << 32, dtype=np.uint32)
    x = np.arange(first, first + rows, dtype=np.int64).astype(np.uint32) ^ salt
    for shift, times in ((16, 0x7FEB352D), (15, 0x846CA68B)):
        x ^= x >> np.uint32(shift)
        x *= np.uint32(times)
    x ^= x >> np.uint32(16)
    return x


def _extremes_of(known: pl.DataFrame, counted: pl.DataFrame, question: CountQuestion) -> list[pl.DataFrame]:
    """The rows whose values are the lowest and the highest of their lane, where the measure holds numbers."""
    bounds = _bounds(counted, question)
    if bounds is None:
        return []
    value = pl.col(question.measure).cast(pl.Float64)
    low, high = pl.col(_LOW), pl.col(_HIGH)
    if question.lanes:
        known = known.join(bounds, on=question.lanes, nulls_equal=True, how="left")
    else:
        low, high = (pl.lit(bounds[name][0], dtype=pl.Float64) for name in (_LOW, _HIGH))
    return [known.filter((value <= low) | (value >= high))]


def _bounds(counted: pl.DataFrame, question: CountQuestion) -> pl.DataFrame | None:
    """For each lane the values at or below which, and at or above which, at most so many rows lie; infinite for none."""
    if not counted.height or not counted.schema[question.measure].is_numeric():
        return None
    value = pl.col(question.measure).cast(pl.Float64)
    values = counted.filter(value.is_finite()).select([*question.lanes, value.alias(_VALUE), COUNT])
    values = values.group_by([*question.lanes, _VALUE]).agg(pl.col(COUNT).sum()).sort(_VALUE)
    up, down = (pl.col(COUNT).cum_sum(reverse=back) <= question.extremes for back in (False, True))
    low = pl.col(_VALUE).filter(up).max().fill_null(-np.inf).alias(_LOW)
    high = pl.col(_VALUE).filter(down).min().fill_null(np.inf).alias(_HIGH)
    return values.group_by(question.lanes).agg(low, high) if question.lanes else values.select(low, high)


def _chosen(examples: pl.DataFrame, counted: pl.DataFrame, question: CountQuestion) -> pl.DataFrame:
    """Of each lane's candidates those of the smallest hashes and the outermost values; the same however rows are parted."""
    examples = examples.unique(ROW)
    place = pl.struct(ORDER, ROW).rank("ordinal")
    picked = examples.filter((place.over(question.lanes) if question.lanes else place) <= question.examples)
    both = pl.concat([picked, *(part.select(picked.columns) for part in _extremes_of(examples, counted, question))])
    return both.unique(ROW).sort(ROW)
