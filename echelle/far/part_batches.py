"""The rows of a part, batch by batch."""

from __future__ import annotations

from collections.abc import Iterator
from typing import IO, TYPE_CHECKING

import polars as pl
import pyarrow as pa

if TYPE_CHECKING:
    from pyarrow.parquet import ParquetFile

from echelle.errors import InputError
from echelle.far.manifest import Manifest, Part, damaged, opened
from echelle.far.question import CountQuestion

_BATCH = 1 << 20


def batches(manifest: Manifest, part: Part, question: CountQuestion, separator: str) -> Iterator[tuple[int, pa.Table]]:
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
