"""A column in small, for pickers and cards: its shape or its levels, and what is missing."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel

from echelle.tables.table import Column, Kind, Mark

_BARS = 16
_MOST_LEVELS = 12


class LevelCount(BaseModel):
    """One level and its rows."""

    level: str
    count: int


class ColumnSummary(BaseModel):
    """A column's kind with what a small picture of it needs; ``bars`` are counts in equal widths of [min, max]."""

    name: str
    unit: str | None
    kind: Kind
    missing: int
    censored: int
    distinct: int
    ordered: bool = False
    levels: list[LevelCount]
    bars: list[int]
    min: float | None
    max: float | None


def summary_of(column: Column) -> ColumnSummary:
    """Sum a column up."""
    bars: list[int] = []
    low = high = None
    levels: list[LevelCount] = []
    if column.kind == "measure" and column.numbers is not None and column.marks is not None:
        values = column.numbers[(column.marks == Mark.NUMBER) & np.isfinite(column.numbers)]
        distinct = len(np.unique(values))
        if len(values):
            low, high = float(values.min()), float(values.max())
            bars = _bars(values, low, high)
    else:
        distinct = column.distinct
        counts = (
            np.ones(1, dtype=np.int64) if column.each_once else np.bincount(column.codes[column.codes >= 0], minlength=distinct)
        )
        if column.kind in ("category", "yes/no"):
            shown = zip(column.levels[:400], counts[:400].tolist(), strict=True)
            levels = [LevelCount(level=level, count=count) for level, count in shown]
        else:
            bars = sorted(counts.tolist(), reverse=True)[:_MOST_LEVELS]
    return ColumnSummary(
        name=column.name, unit=column.unit, kind=column.kind, missing=column.missing, censored=column.censored,
        distinct=distinct, ordered=column.ordered, levels=levels, bars=bars, min=low, max=high,
    )  # fmt: skip


def _bars(values: np.ndarray[tuple[int], np.dtype[np.float64]], low: float, high: float) -> list[int]:
    if low == high or not np.isfinite(high - low):
        return [len(values)]
    places = np.minimum(((values - low) / (high - low) * _BARS).astype(np.int64), _BARS - 1)
    return [int(count) for count in np.bincount(places, minlength=_BARS)]
