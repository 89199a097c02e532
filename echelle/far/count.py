"""A part to its different rows with their counts, and to the rows of it that may be drawn one by one."""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import IO, TYPE_CHECKING

import numpy as np
import polars as pl
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

if TYPE_CHECKING:
    from pyarrow.parquet import ParquetFile

from echelle.errors import InputError
from echelle.far.cells import COUNT, MOST_DISTINCT, Grid, gathered, grid_of, packed_grids, unpacked_grids
from echelle.far.codes import MOST_CELLS, CodedColumn, apart, coded_levels, coded_measure, together
from echelle.far.examples import HASHES, ORDER, ROW, candidates, chosen, extremes_of, hashed, outermost, picked_of_lanes
from echelle.far.manifest import Manifest, Part, damaged, opened
from echelle.far.question import CountQuestion
from echelle.tables.table import PART_KEYS

_SIZE = "\x00size"
_BATCH = 1 << 20
# More different rows than this are no tally any more.
MOST_COUNTED = 20_000_000
_MOST_KEYS = 20_000
# So many tallies, of so many rows, are held before they are made one.
_HELD, _MOST_HELD = 8, 2_000_000


@dataclass(frozen=True, eq=False)
class PartTally:
    """Different rows with their counts; the grids of lanes with too many of them; and example rows with their ids and the hash
    that orders them.
    """

    counted: pl.DataFrame
    examples: pl.DataFrame
    rows: int
    grids: tuple[Grid, ...] = ()

    def packed(self) -> bytes:
        """As one Arrow file within another."""
        parts = {"counted": _packed(self.counted), "examples": _packed(self.examples), "grids": packed_grids(self.grids)}
        head = pl.DataFrame({name: [part] for name, part in parts.items()} | {"rows": [self.rows]})
        return _packed(head)

    @staticmethod
    def unpacked(data: bytes) -> PartTally:
        """Back from :meth:`packed`."""
        head = pl.read_ipc(io.BytesIO(data)).row(0, named=True)
        counted, examples = (pl.read_ipc(io.BytesIO(head[name])) for name in ("counted", "examples"))
        return PartTally(counted, examples, head["rows"], unpacked_grids(head["grids"]))


def _packed(frame: pl.DataFrame) -> bytes:
    sink = io.BytesIO()
    frame.write_ipc(sink, compression="zstd")
    return sink.getvalue()


def count_part(manifest: Manifest, place: int, question: CountQuestion, separator: str = ",") -> PartTally:
    """One part, batch by batch. Raises InputError for a part that cannot be read, that lacks a column, or whose rows differ too
    much to be counted.
    """
    part = manifest.parts[place]
    tallies: list[PartTally] = []
    for first, table in _batches(manifest, part, question, separator):
        tallies = with_tally(tallies, _batch(table, first, place, question), question, part.name)
    return merged_tallies(tallies, question, part.name)


def with_tally(tallies: list[PartTally], tally: PartTally, question: CountQuestion, where: str = "") -> list[PartTally]:
    """The tallies with one more, made one where they are many or large. Raises InputError as :func:`merged_tallies` does."""
    held = [*tallies, tally]
    many = len(held) > _HELD or sum(part.counted.height for part in held) > _MOST_HELD
    return [merged_tallies(held, question, where)] if many else held


def merged_tallies(tallies: list[PartTally], question: CountQuestion, where: str = "") -> PartTally:
    """Several tallies as one, whatever their order. Raises InputError where there are too many different rows."""
    every = [grid for tally in tallies for grid in tally.grids]
    counted, grids = gathered([tally.counted for tally in tallies], every, question.measure, question.keys)
    counted = counted.select([*question.every, COUNT])
    if counted.height > MOST_COUNTED:
        names = ", ".join(f"“{name}”" for name in question.every)
        raise InputError(
            f"{names} have more than {MOST_COUNTED:,} different combinations", where=where,
            remedy="Round the measure or cut columns of many values into classes where the files are made.",
        )  # fmt: skip
    examples = pl.concat([tally.examples for tally in tallies], how="vertical_relaxed")
    return PartTally(counted, chosen(examples, counted, grids, question), sum(tally.rows for tally in tallies), grids)


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
            words = [field.name for field in schema if field.name in names and _is_words(field.type)]
            file.seek(0)
            source = ParquetFile(file, read_dictionary=words)
            yield from _row_groups(source, names)
    except (pa.ArrowException, pl.exceptions.PolarsError, OSError, ValueError) as error:
        raise damaged(part, error) from None


def _row_groups(source: ParquetFile, names: list[str]) -> Iterator[pa.Table]:
    """Row groups, small ones several together, large ones cut."""
    held: list[int] = []
    rows = 0
    for group in range(source.num_row_groups):
        size = source.metadata.row_group(group).num_rows
        if rows + size > _BATCH and held:
            yield source.read_row_groups(held, columns=names)
            held, rows = [], 0
        if size > _BATCH:
            for batch in source.iter_batches(batch_size=_BATCH, row_groups=[group], columns=names):
                yield pa.Table.from_batches([batch])
            continue
        held, rows = [*held, group], rows + size
    if held:
        yield source.read_row_groups(held, columns=names)


def _is_words(kind: pa.DataType) -> bool:
    return bool(pa.types.is_string(kind) or pa.types.is_large_string(kind))


def _csv_tables(file: IO[bytes], names: list[str], separator: str) -> Iterator[pa.Table]:
    """Cells as they are written: what they mean is decided once, for the different ones."""
    frame = pl.read_csv(file, separator=separator, infer_schema=False, columns=names)
    for part in frame.iter_slices(_BATCH):
        yield part.to_arrow()


def _batch(table: pa.Table, first: int, place: int, question: CountQuestion) -> PartTally:
    coded = _coded(table, question)
    if coded is not None:
        return _counted_by_codes(coded, first, place, question, table.num_rows)
    keys = _coded_keys(table, question)
    if keys is not None and pa.types.is_floating(table.column(question.measure).type):
        return _counted_by_sorting(table, keys, first, place, question)
    frame = pl.DataFrame(pl.from_arrow(table))
    counted = frame.group_by(question.every).agg(pl.len().cast(pl.Int64).alias(COUNT))
    ids = _ids(first, place, frame.height)
    known = frame.with_columns(pl.Series(ROW, ids), pl.Series(ORDER, hashed(first, place, frame.height, question.seed)))
    rows = pl.lit(frame.height)
    if question.lanes:
        size = counted.group_by(question.lanes).agg(pl.col(COUNT).sum().alias(_SIZE))
        known = known.join(size, on=question.lanes, nulls_equal=True, how="left")
        rows = pl.col(_SIZE)
    picked = [known.filter(pl.col(ORDER) <= candidates(question) / rows * HASHES), *extremes_of(known, counted, question)]
    examples = pl.concat([part.select([*question.every, ROW, ORDER]) for part in picked])
    counts, grids = gathered([_plain(counted)], (), question.measure, question.keys)
    return PartTally(counts, _plain(examples.unique(ROW)), frame.height, grids)


def _coded(table: pa.Table, question: CountQuestion) -> list[CodedColumn] | None:
    """The columns as codes, the lanes' first, then others, the measure's last; None where they have too many."""
    if not table.num_rows:
        return None
    keys, measure = _coded_keys(table, question), coded_measure(table.column(question.measure))
    if keys is None or measure is None or math.prod(column.size for column in keys) * measure.size > MOST_CELLS:
        return None
    return [*keys, measure]


def _coded_keys(table: pa.Table, question: CountQuestion) -> list[CodedColumn] | None:
    """All columns but the measure as codes, the lanes' first; None where they have too many."""
    columns = [coded_levels(table.column(name)) for name in question.keys]
    known = [column for column in columns if column is not None]
    few = len(known) == len(columns) and math.prod(column.size for column in known) <= _MOST_KEYS
    return known if few else None


def _counted_by_sorting(table: pa.Table, keys: list[CodedColumn], first: int, place: int, question: CountQuestion) -> PartTally:
    """Numbers in no steps: each lane's are sorted, or gather into cells where they are too many."""
    rows, column = table.num_rows, table.column(question.measure)
    values = np.asarray(pc.fill_null(column, np.nan).to_numpy(), dtype=np.float64) + 0.0
    if pa.types.is_float32(column.type):
        # As they are written: 0.1 and not 0.10000000149.
        values = pl.Series(pl.from_arrow(column)).cast(pl.String).cast(pl.Float64).fill_null(np.nan).to_numpy()
    null = np.asarray(column.is_null().to_numpy())
    key, order = together(keys, rows), hashed(first, place, rows, question.seed)
    by_key = np.argsort(key.astype(np.int16) if math.prod(column.size for column in keys) < 1 << 15 else key, kind="stable")
    ends = np.cumsum(np.bincount(key, minlength=1))
    lanes = len(question.lanes)
    picked = picked_of_lanes(together(keys[:lanes], rows), values, order, question)
    frames, grids = list[pl.DataFrame](), list[Grid]()
    for code, members in enumerate(np.split(by_key, ends[:-1])):
        if not len(members):
            continue
        levels = [series[0] for series in apart(np.array([code]), keys)]
        numbers = values[members]
        finite = np.isfinite(numbers)
        odd = pl.Series(numbers[~finite]).set(pl.Series(null[members][~finite]), None).value_counts(name=COUNT)
        different, counts = np.unique(numbers[finite], return_counts=True)
        if len(different) > MOST_DISTINCT:
            grids.append(grid_of(tuple(levels), different, counts))
            different, counts = different[:0], counts[:0]
        for value, count in ((pl.Series(different), pl.Series(counts)), (odd.to_series(0), odd[COUNT].cast(pl.Int64))):
            of_lane = [pl.lit(level).alias(name) for name, level in zip(question.keys, levels, strict=True)]
            frames.append(pl.DataFrame({question.measure: value, COUNT: count}).with_columns(of_lane))
    at = np.flatnonzero(picked)
    drawn = dict(zip(question.keys, apart(key[at], keys), strict=True))
    measured = pl.Series(values[at]).set(pl.Series(null[at]), None)
    examples = pl.DataFrame(drawn | {question.measure: measured, ROW: _ids(first, place, rows)[at], ORDER: order[at]})
    counted = pl.concat(frames, how="vertical_relaxed").select([*question.every, COUNT])
    return PartTally(counted, examples.select([*question.every, ROW, ORDER]), rows, tuple(grids))


def _counted_by_codes(coded: list[CodedColumn], first: int, place: int, question: CountQuestion, rows: int) -> PartTally:
    names, lanes = [*question.keys, question.measure], len(question.lanes)
    whole = together(coded, rows)
    counts = np.bincount(whole, minlength=math.prod(column.size for column in coded))
    there = np.flatnonzero(counts)
    counted = pl.DataFrame(dict(zip(names, apart(there, coded), strict=True)) | {COUNT: counts[there]})
    cells = counts.reshape(math.prod(column.size for column in coded[:lanes]), -1, coded[-1].size)
    of_lane = cells.sum(axis=1)
    order = hashed(first, place, rows, question.seed)
    with np.errstate(divide="ignore"):
        bounds = np.minimum(candidates(question) / of_lane.sum(axis=1) * HASHES, HASHES - 1).astype(np.uint32)
    picked = order <= bounds[together(coded[:lanes], rows)]
    # What a cell of the counts is, its rows are.
    outer = np.broadcast_to(outermost(of_lane, question)[:, None, :], cells.shape).ravel()
    picked |= outer[whole]
    at = np.flatnonzero(picked)
    drawn = dict(zip(names, apart(whole[at], coded), strict=True))
    examples = pl.DataFrame(drawn | {ROW: _ids(first, place, rows)[at], ORDER: order[at]}).select([*question.every, ROW, ORDER])
    return PartTally(counted.select([*question.every, COUNT]), examples, rows)


def _ids(first: int, place: int, rows: int) -> NDArray[np.int64]:
    return np.arange(first + 1, first + rows + 1, dtype=np.int64) + (place + 1) * PART_KEYS


def _plain(frame: pl.DataFrame) -> pl.DataFrame:
    """Words as words: dictionaries of different batches do not agree."""
    return frame.with_columns(pl.col(pl.Categorical, pl.Enum).cast(pl.String))
