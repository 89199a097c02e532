"""The rows of a part, batch by batch."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import IO, TYPE_CHECKING

import polars as pl
import pyarrow as pa

if TYPE_CHECKING:
    from pyarrow.parquet import ParquetFile

from echelle.errors import InputError
from echelle.far.manifest import Manifest, damaged, opened
from echelle.far.question import CountQuestion

_BATCH = 1 << 20
# Of a large part each worker counts so many pieces, so that none waits long for the last.
_PIECES_EACH = 3


@dataclass(frozen=True)
class Piece:
    """A part of a source by its place, or some of its row groups with how many rows come before them."""

    place: int
    groups: range | None = None
    first: int = 0


def pieces_of(manifest: Manifest, places: Sequence[int], workers: int) -> list[Piece]:
    """What so many workers count: the parts, or, of a few large ones, their row groups. Raises InputError for a part that
    cannot be read.
    """
    if manifest.format != "parquet" or len(places) >= workers:
        return [Piece(place) for place in places]
    return [piece for place in places for piece in _pieces_of_part(manifest, place, workers)]


def _pieces_of_part(manifest: Manifest, place: int, workers: int) -> Iterator[Piece]:
    from pyarrow.parquet import read_metadata

    part = manifest.parts[place]
    try:
        with opened(manifest, part) as file:
            claimed = read_metadata(file)
    except (pa.ArrowException, OSError, ValueError) as error:
        raise damaged(part, error) from None
    sizes = [claimed.row_group(group).num_rows for group in range(claimed.num_row_groups)]
    least = max(_BATCH, sum(sizes) // (_PIECES_EACH * workers))
    start = first = rows = 0
    for group, size in enumerate(sizes):
        rows += size
        if rows >= least or group == len(sizes) - 1:
            yield Piece(place, range(start, group + 1), first)
            start, first, rows = group + 1, first + rows, 0
    if not sizes:
        yield Piece(place)


def batches(manifest: Manifest, piece: Piece, question: CountQuestion, separator: str) -> Iterator[tuple[int, pa.Table]]:
    """The columns asked for, with those that folders name, and how many rows of the part came before."""
    part = manifest.parts[piece.place]
    folders = dict(part.levels)
    names = [name for name in question.every if name not in folders]
    first, some = piece.first, False
    for table in _tables(manifest, piece, names, separator):
        for name, level in part.levels:
            if name in question.every:
                table = table.append_column(name, pa.repeat(pa.scalar(level, pa.string()), table.num_rows))
        yield first, table.select(question.every)
        first, some = first + table.num_rows, True
    if not some:
        yield first, pa.table({name: pa.array([], pa.string()) for name in question.every})


def _tables(manifest: Manifest, piece: Piece, names: list[str], separator: str) -> Iterator[pa.Table]:
    from pyarrow.parquet import ParquetFile

    part = manifest.parts[piece.place]
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
            yield from _row_groups(source, names, range(source.num_row_groups) if piece.groups is None else piece.groups)
    except (pa.ArrowException, pl.exceptions.PolarsError, OSError, ValueError) as error:
        raise damaged(part, error) from None


def _row_groups(source: ParquetFile, names: list[str], groups: range) -> Iterator[pa.Table]:
    """Row groups, small ones several together, large ones cut."""
    held: list[int] = []
    rows = 0
    for group in groups:
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
