"""Columns of a batch as small whole numbers, so that rows that are alike are counted by their places in one array."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import polars as pl
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from echelle.far.cells import Key
from echelle.numbers.decimals import scaled
from echelle.numbers.sample import Floats

Codes = NDArray[np.int32]
# Whole numbers as far apart as this are codes; so many places a batch's counts may have.
_WIDEST, MOST_CELLS = 1 << 16, 1 << 23
_MOST_PLACES = 6
_START = 1_000


@dataclass(frozen=True, eq=False)
class CodedColumn:
    """Each row's code (shape (rows,)) and what each code stands for, the last one for null."""

    codes: Codes
    levels: pl.Series

    @property
    def size(self) -> int:
        """How many codes there are."""
        return len(self.levels)


def coded_levels(column: pa.ChunkedArray) -> CodedColumn | None:
    """A column of words, truths, or whole numbers near one another; None for another one."""
    kind = column.type
    if pa.types.is_string(kind) or pa.types.is_large_string(kind) or pa.types.is_boolean(kind):
        column = column.dictionary_encode()
    if pa.types.is_dictionary(column.type):
        array = column.chunk(0) if column.num_chunks == 1 else column.unify_dictionaries().combine_chunks()
        levels = pl.Series(pl.from_arrow(array.dictionary))
        indices = pc.fill_null(array.indices, len(levels)) if array.null_count else array.indices
        codes = indices.to_numpy().astype(np.int32, copy=False)
        return CodedColumn(codes, pl.concat([levels, pl.Series([None], dtype=levels.dtype)]))
    if pa.types.is_integer(kind):
        return _coded_numbers(column, _WIDEST)
    return None


def numbers_of(column: pa.ChunkedArray) -> Floats:
    """The values of a column of numbers, NaN for null, shape (rows,), not to be changed; of single precision as they are
    written: 0.1 and not 0.10000000149.
    """
    if pa.types.is_float32(column.type):
        return pl.Series(pl.from_arrow(column)).cast(pl.String).cast(pl.Float64).fill_null(np.nan).to_numpy()
    if not pa.types.is_floating(column.type):
        column = column.cast(pa.float64())
    filled = pc.fill_null(column, np.nan) if column.null_count else column
    return np.asarray(filled.to_numpy(), dtype=np.float64)


def coded_measure(column: pa.ChunkedArray) -> CodedColumn | None:
    """Numbers recorded in steps of a decimal place: each step from the least to the largest is a code. None for others."""
    kind = column.type
    if pa.types.is_integer(kind):
        return _coded_numbers(column, MOST_CELLS)
    if not pa.types.is_float64(kind) or column.null_count == len(column):
        return None
    filled = pc.fill_null(column, 0.0) if column.null_count else column
    values = np.asarray(filled.to_numpy(), dtype=np.float64)
    if not np.isfinite(values[:_START]).all():
        return None
    few = np.empty(min(_START, len(values)))
    powers = [10.0**places for places in range(_MOST_PLACES + 1)]
    near = [power for power in powers if not len(scaled(values[:_START], power, few))]
    if not near or not np.isfinite(values).all():
        return None
    whole = np.empty(len(values))
    for power in near:
        if not len(scaled(values, power, whole)):
            return _steps(whole, power, column)
    return None


def _steps(whole: Floats, power: float, column: pa.ChunkedArray) -> CodedColumn | None:
    ends = pc.min_max(column).as_py()
    low, high = round(ends["min"] * power), round(ends["max"] * power)
    if high - low + 2 > MOST_CELLS:
        return None
    whole -= low
    codes = whole.astype(np.int32)
    _mark_null(codes, column, high - low + 1)
    levels = np.arange(low, high + 1, dtype=np.float64) / power
    return CodedColumn(codes, pl.concat([pl.Series(levels), pl.Series([None], dtype=pl.Float64)]))


def _coded_numbers(column: pa.ChunkedArray, widest: int) -> CodedColumn | None:
    if column.null_count == len(column):
        return None
    ends = pc.min_max(column).as_py()
    low, high = ends["min"], ends["max"]
    if high - low + 2 > widest:
        return None
    codes = (np.asarray(pc.fill_null(column, low)) - low).astype(np.int32)
    _mark_null(codes, column, high - low + 1)
    levels = pl.Series(np.arange(low, high + 1, dtype=np.int64))
    return CodedColumn(codes, pl.concat([levels, pl.Series([None], dtype=pl.Int64)]))


def _mark_null(codes: Codes, column: pa.ChunkedArray, code: int) -> None:
    if column.null_count:
        codes[column.is_null().to_numpy()] = code


def together(columns: Sequence[CodedColumn], rows: int) -> Codes:
    """One number for each row's codes, the last column's changing fastest."""
    result = np.zeros(rows, dtype=np.int32)
    for column in columns:
        if column.size > 1:
            result *= np.int32(column.size)
            result += column.codes
    return result


def keys_of(places: NDArray[np.integer[Any]], columns: Sequence[CodedColumn]) -> list[Key]:
    """The levels behind such numbers, one tuple each."""
    return list(zip(*(series.to_list() for series in apart(places, columns)), strict=True)) if columns else [()] * len(places)


def apart(places: NDArray[np.integer[Any]], columns: Sequence[CodedColumn]) -> list[pl.Series]:
    """The levels behind such numbers, one series a column."""
    result, rest = [], places
    for column in reversed(columns):
        rest, codes = np.divmod(rest, column.size)
        result.append(column.levels.gather(pl.Series(codes)))
    return result[::-1]
