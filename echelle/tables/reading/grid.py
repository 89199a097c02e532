"""What a file holds before anyone asks what it means: a rectangle of raw cells."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.tables.coding import Coded
from echelle.tables.table import Remark


@dataclass(frozen=True)
class KnownTexts:
    """A column of texts without blanks about them, and without any sign that no text can hold; coded already, where they are
    few.
    """

    coded: Coded | None = None


@dataclass(frozen=True, eq=False, kw_only=True)
class Grid:
    """Raw cells as strings, or as the numbers of a file that keeps these, null where blank; records without any cell are gone.

    ``lines`` (shape (rows,)) counts the file's lines, the sheet's rows or the records from 1. ``spans`` holds merged
    cells as (line, first column, last column). ``names`` is set where the source names
    its columns itself, ``units`` where it gives units too.
    ``padded`` lists columns with spaces taken off; ``short`` and ``long`` the lines with too few or too many cells. Without
    ``commas`` no cell holds one. ``known`` tells of columns, by their place, what their making found out.
    """

    frame: pl.DataFrame
    lines: NDArray[np.int64]
    spans: tuple[tuple[int, int, int], ...] = ()
    names: tuple[str, ...] | None = None
    units: tuple[str | None, ...] | None = None
    padded: frozenset[int] = frozenset()
    short: tuple[int, ...] = ()
    long: tuple[int, ...] = ()
    remarks: tuple[Remark, ...] = ()
    commas: bool = True
    known: Mapping[int, KnownTexts] = field(default_factory=dict)


def frame_of(columns: Sequence[Sequence[str | None] | pl.Series]) -> pl.DataFrame:
    """Columns named by their place, from 0; texts unless they are series already."""
    held = (column if isinstance(column, pl.Series) else pl.Series(column, dtype=pl.String) for column in columns)
    return pl.DataFrame([column.alias(str(place)) for place, column in enumerate(held)])


def without_blank_records(frame: pl.DataFrame, lines: NDArray[np.int64]) -> tuple[pl.DataFrame, NDArray[np.int64]]:
    """Drop records in which every cell is blank."""
    if frame.width == 0 or frame.height == 0 or any(frame.to_series(i).null_count() == 0 for i in range(frame.width)):
        return frame, lines
    kept = frame.select(pl.any_horizontal(pl.all().is_not_null())).to_series()
    return (frame, lines) if kept.all() else (frame.filter(kept), lines[kept.to_numpy()])
