"""A far table as the core sees it: a sample of its rows as read, and counted rows with the kinds of that sample."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import polars as pl
import pyarrow as pa

from echelle.errors import InputError
from echelle.far.cells import COUNT
from echelle.far.examples import ROW
from echelle.far.manifest import Manifest, Part, damaged, opened
from echelle.far.opened_cells import Opened, counted_rows
from echelle.far.question import CountQuestion
from echelle.far.tally import PartTally
from echelle.tables.column_builders import as_measure, measure_of, words_of
from echelle.tables.reading.columnar import texts_of
from echelle.tables.reading.read import Reading, read_bytes
from echelle.tables.table import Column, RowIds, Table, Tally

# The sample: so many rows, of so many parts at most.
SAMPLE_ROWS, SAMPLE_PARTS = 20_000, 100
_SEED = 41
_HEAD = 4_000_000


@dataclass(frozen=True, eq=False)
class FarSample:
    """The first rows of some parts, read as any table is: what columns there are and of which kind, what the parts call them,
    and what separates cells.
    """

    table: Table
    raw_names: tuple[str, ...]
    separator: str


def reading_of_source(manifest: Manifest) -> tuple[Reading, FarSample]:
    """Rows of parts all over the source, read as any table is. Raises InputError for a part that cannot be read."""
    parts = _some_parts(manifest)
    if manifest.format == "csv":
        reading = read_bytes(_csv_head(manifest, parts[0]))
        names = _csv_names(manifest, parts[0], reading)
        return reading, FarSample(reading.table, names, reading.delimiter or ",")
    heads = [_parquet_head(manifest, part, SAMPLE_ROWS // len(parts)) for part in parts]
    together = pa.concat_tables(heads, promote_options="permissive")
    sink = io.BytesIO()
    with pa.ipc.new_file(sink, together.schema) as writer:
        writer.write_table(together)
    reading = read_bytes(sink.getvalue())
    if len(reading.table.columns) != together.num_columns:
        what = "columns of the parts belong together (a limit beside its number)"
        raise InputError(what, where=parts[0].name, remedy="Write each measure with its limits in one column.")
    return reading, FarSample(reading.table, tuple(together.column_names), ",")


def _some_parts(manifest: Manifest) -> list[Part]:
    """So many parts at random, in their order: every k-th might be of one site."""
    count = len(manifest.parts)
    if count <= SAMPLE_PARTS:
        return list(manifest.parts)
    places = np.sort(np.random.default_rng(_SEED).choice(count, SAMPLE_PARTS, replace=False))
    return [manifest.parts[place] for place in places.tolist()]


def _parquet_head(manifest: Manifest, part: Part, rows: int) -> pa.Table:
    from pyarrow.parquet import ParquetFile

    try:
        with opened(manifest, part) as file:
            source = ParquetFile(file)
            batch = next(source.iter_batches(batch_size=rows), None)
            table = source.schema_arrow.empty_table() if batch is None else pa.Table.from_batches([batch])
    except (pa.ArrowException, OSError, ValueError) as error:
        raise damaged(part, error) from None
    for name, level in part.levels:
        table = table.append_column(name, pa.array([level] * table.num_rows, pa.string()))
    return table


def _csv_head(manifest: Manifest, part: Part) -> bytes:
    with opened(manifest, part) as file:
        head: bytes = file.read(_HEAD)
    return head if len(head) < _HEAD else head[: head.rindex(b"\n") + 1]


def _csv_names(manifest: Manifest, part: Part, reading: Reading) -> tuple[str, ...]:
    """The headings as the first part writes them. Raises InputError for a file that is more than a heading and rows."""
    with opened(manifest, part) as file:
        head = pl.read_csv(file.readline(), separator=reading.delimiter or ",", infer_schema=False)
    if reading.header_row != 1 or len(head.columns) != len(reading.table.columns):
        what = "the parts hold more than a heading and rows"
        raise InputError(what, where=part.name, remedy="Bring plain CSV files, or Parquet.")
    return tuple(head.columns)


def counted_table(
    manifest: Manifest,
    sample: FarSample,
    question: CountQuestion,
    tally: PartTally,
    parts: int,
    opened: Opened | None = None,
) -> Table:
    """The counted rows as a table: columns are of the kinds that the sample has; ``parts`` is how many were counted. Values of
    cells that were ``opened`` stand in their place.
    """
    counted, gathered = counted_rows(tally, question, opened)
    names = list(question.every)
    columns, examples = (columns_like(frame, names, sample) for frame in (counted, tally.examples))
    ids = RowIds(tally.examples[ROW].to_numpy(), ("", *(part.name for part in manifest.parts)))
    of_examples = Table(tuple(examples), tally.examples.height, ids)
    made = Tally(counted[COUNT].to_numpy(), of_examples, parts, len(manifest.parts), gathered=gathered)
    return Table(tuple(columns), counted.height, tally=made)


def columns_like(frame: pl.DataFrame, names: Sequence[str], sample: FarSample) -> list[Column]:
    """Columns of a frame that the parts call so, of the kinds that the sample has."""
    like = dict(zip(sample.raw_names, sample.table.columns, strict=True))
    return [_column(frame[name], like[name]) for name in names]


def _column(series: pl.Series, like: Column) -> Column:
    """Cells of a kind that is settled; numbers of single precision as they are written."""
    kind = series.dtype
    if like.kind == "measure" and kind.is_numeric():
        if kind == pl.Float32:
            series = series.cast(pl.String).cast(pl.Float64)
        numbers = series.cast(pl.Float64).fill_null(np.nan).to_numpy()
        return measure_of(like.name, numbers, like.unit, cells=series)
    texts = texts_of(series, like.name, {}, [])
    if like.kind == "measure":
        column, _ = as_measure(Column(name=like.name, kind="measure", cells=texts, unit=like.unit))
        return column
    # Levels come in the order of the sample, whatever came first here.
    order = like.order or (() if like.kind in ("text", "identifier") else like.levels)
    return replace(words_of(like.name, like.kind, texts, like.unit, order), ordered=like.ordered)
