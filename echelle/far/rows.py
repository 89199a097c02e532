"""Single rows of a far table, whole, by their ids."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np
import polars as pl
import pyarrow as pa

from echelle.errors import InputError
from echelle.far.counted_table import FarSample, columns_like
from echelle.far.examples import ROW
from echelle.far.manifest import Manifest, Part, damaged, opened
from echelle.tables.table import PART_KEYS, RowIds, Table


def rows_at(manifest: Manifest, sample: FarSample, keys: Iterable[int]) -> Table:
    """The rows of some ids with all their columns, in the order of the ids. Raises InputError as :func:`frame_at` does."""
    frame = frame_at(manifest, sample, keys)
    ids = RowIds(frame[ROW].to_numpy(), ("", *(part.name for part in manifest.parts)))
    return Table(tuple(columns_like(frame, list(sample.raw_names), sample)), frame.height, ids)


def frame_at(manifest: Manifest, sample: FarSample, keys: Iterable[int]) -> pl.DataFrame:
    """The same as the parts hold them, with their ids.

    Raises InputError for an id that no part has, and for a part that cannot be read.
    """
    wanted = sorted(set(keys))
    frames = []
    for place, records in _by_part(wanted):
        if not 0 <= place < len(manifest.parts):
            raise InputError("the table has no such row", where=f"row {records[0]}", remedy="Reload the page.")
        frames.append(_of_part(manifest, manifest.parts[place], records, sample))
    none = pl.DataFrame(schema=dict.fromkeys(sample.raw_names, pl.String))
    frame = pl.concat(frames, how="vertical_relaxed") if frames else none
    return frame.with_columns(pl.Series(ROW, wanted, dtype=pl.Int64))


def _by_part(keys: list[int]) -> Iterator[tuple[int, list[int]]]:
    """The places of parts, and the records in each, from 0."""
    by_part: dict[int, list[int]] = {}
    for key in keys:
        by_part.setdefault(key // PART_KEYS - 1, []).append(key % PART_KEYS - 1)
    yield from sorted(by_part.items())


def _of_part(manifest: Manifest, part: Part, records: list[int], sample: FarSample) -> pl.DataFrame:
    folders = dict(part.levels)
    names = [name for name in sample.raw_names if name not in folders]
    try:
        with opened(manifest, part) as file:
            if manifest.format == "csv":
                whole = pl.read_csv(file, separator=sample.separator, infer_schema=False, columns=names)
                frame = whole[records]
            else:
                frame = _of_parquet(file, names, records)
    except (pa.ArrowException, pl.exceptions.PolarsError, OSError, ValueError, IndexError) as error:
        raise damaged(part, error) from None
    return frame.with_columns([pl.lit(level).alias(name) for name, level in part.levels]).select(sample.raw_names)


def _of_parquet(file: pa.NativeFile, names: list[str], records: list[int]) -> pl.DataFrame:
    """Only the row groups that hold the records are read."""
    from pyarrow.parquet import ParquetFile

    source = ParquetFile(file)
    sizes = [source.metadata.row_group(group).num_rows for group in range(source.num_row_groups)]
    ends = np.cumsum(sizes)
    parts = []
    for group in np.unique(np.searchsorted(ends, records, side="right")).tolist():
        first = int(ends[group]) - sizes[group]
        here = [record - first for record in records if first <= record < ends[group]]
        parts.append(pl.DataFrame(pl.from_arrow(source.read_row_group(group, columns=names)))[here])
    return pl.concat(parts)
