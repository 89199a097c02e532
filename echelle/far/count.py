"""A part to its different rows with their counts, and to the rows of it that may be drawn one by one."""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass
from typing import IO

import numpy as np
import polars as pl
import pyarrow as pa
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.far.manifest import Manifest, Part, opened
from echelle.far.question import CountQuestion
from echelle.tables.table import PART_KEYS

COUNT, ROW, ORDER = "\x00count", "\x00row", "\x00order"
_SIZE, _VALUE, _LOW, _HIGH = "\x00size", "\x00value", "\x00low", "\x00high"
_BATCH = 1 << 20
# More different rows than this are no tally any more.
MOST_COUNTED = 20_000_000
# Six standard deviations of how many of the smallest hashes lie below their expected bound.
_SURE = 6.0


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
    tallies = [_batch(frame, first, place, question) for first, frame in _batches(manifest, part, question, separator)]
    return merged_tallies(tallies, question, part.name)


def merged_tallies(tallies: list[PartTally], question: CountQuestion, where: str = "") -> PartTally:
    """Several tallies as one, whatever their order. Raises InputError where there are too many different rows."""
    counted = pl.concat([tally.counted for tally in tallies], how="vertical_relaxed")
    if len(tallies) > 1:
        counted = counted.group_by(question.every).agg(pl.col(COUNT).sum())
    if counted.height > MOST_COUNTED:
        names = ", ".join(f"“{name}”" for name in question.every)
        raise InputError(
            f"{names} have more than {MOST_COUNTED:,} different combinations", where=where,
            remedy="Round the measure or cut columns of many values into classes where the files are made.",
        )  # fmt: skip
    examples = pl.concat([tally.examples for tally in tallies], how="vertical_relaxed")
    return PartTally(counted, _chosen(examples, counted, question), sum(tally.rows for tally in tallies))


def _batches(manifest: Manifest, part: Part, question: CountQuestion, separator: str) -> Iterator[tuple[int, pl.DataFrame]]:
    """The columns asked for, with those that folders name, and how many rows came before."""
    folders = dict(part.levels)
    names = [name for name in question.every if name not in folders]
    first, some = 0, False
    for frame in _frames(manifest, part, names, separator):
        given = [pl.lit(level).alias(name) for name, level in part.levels if name in question.every]
        yield first, frame.with_columns(given).select(question.every)
        first, some = first + frame.height, True
    if not some:
        yield 0, pl.DataFrame(schema=dict.fromkeys(question.every, pl.String))


def _frames(manifest: Manifest, part: Part, names: list[str], separator: str) -> Iterator[pl.DataFrame]:
    from pyarrow.parquet import ParquetFile

    try:
        with opened(manifest, part) as file:
            if manifest.format == "csv":
                yield from _csv_frames(file, names, separator)
                return
            source = ParquetFile(file)
            lacks = [name for name in names if name not in source.schema_arrow.names]
            if lacks:
                raise InputError(
                    f"the part has no column “{lacks[0]}”", where=part.name, remedy="Give all parts the same columns."
                )
            words = [f.name for f in source.schema_arrow if f.name in names and pa.types.is_string(f.type)]
            file.seek(0)
            source = ParquetFile(file, read_dictionary=words)
            for batch in source.iter_batches(batch_size=_BATCH, columns=names):
                yield pl.DataFrame(pl.from_arrow(pa.table(batch.columns, names=batch.schema.names)))
    except (pa.ArrowException, pl.exceptions.PolarsError, OSError, ValueError) as error:
        if isinstance(error, InputError):
            raise
        first = (str(error).splitlines() or ["damaged"])[0][:120]
        raise InputError(
            f"the part cannot be read ({first})", where=part.name, remedy="Write it again, or move it away."
        ) from None


def _csv_frames(file: IO[bytes], names: list[str], separator: str) -> Iterator[pl.DataFrame]:
    """Cells as they are written: what they mean is decided once, for the different ones."""
    frame = pl.read_csv(file, separator=separator, infer_schema=False, columns=names)
    yield from frame.iter_slices(_BATCH)


def _batch(frame: pl.DataFrame, first: int, place: int, question: CountQuestion) -> PartTally:
    counted = frame.group_by(question.every).agg(pl.len().cast(pl.Int64).alias(COUNT))
    ids = np.arange(first + 1, first + frame.height + 1, dtype=np.int64) + (place + 1) * PART_KEYS
    known = frame.with_columns(pl.Series(ROW, ids), pl.Series(ORDER, _mixed(ids, question.seed)))
    rows = pl.lit(frame.height)
    if question.lanes:
        size = counted.group_by(question.lanes).agg(pl.col(COUNT).sum().alias(_SIZE))
        known = known.join(size, on=question.lanes, nulls_equal=True, how="left")
        rows = pl.col(_SIZE)
    sure = question.examples + _SURE * question.examples**0.5 + 20
    picked = [known.filter(pl.col(ORDER) < sure / rows), *_extremes_of(known, counted, question)]
    examples = pl.concat([part.select([*question.every, ROW, ORDER]) for part in picked])
    return PartTally(_plain(counted), _plain(examples.unique(ROW)), frame.height)


def _plain(frame: pl.DataFrame) -> pl.DataFrame:
    """Words as words: dictionaries of different batches do not agree."""
    return frame.with_columns(pl.col(pl.Categorical, pl.Enum).cast(pl.String))


def _mixed(ids: NDArray[np.int64], seed: int) -> NDArray[np.float64]:
    """A hash of each id on [0, 1), the same wherever and whenever it is computed (Steele, Lea & Flood 2014, SplitMix)."""
    x = ids.astype(np.uint64) * np.uint64(0x9E3779B97F4A7C15) + np.uint64(seed * 0xD1342543DE82EF95 % (1 << 64))
    x = (x ^ (x >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    x = (x ^ (x >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return np.asarray((x ^ (x >> np.uint64(31))) >> np.uint64(11), dtype=np.float64) * 2.0**-53


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
    place = pl.col(ORDER).rank("ordinal")
    picked = examples.filter((place.over(question.lanes) if question.lanes else place) <= question.examples)
    both = pl.concat([picked, *(part.select(picked.columns) for part in _extremes_of(examples, counted, question))])
    return both.unique(ROW).sort(ROW)
