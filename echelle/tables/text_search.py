"""Which texts of a column fit a pattern: by Python's expressions in a short column, by polars' in a long one.

A call of polars costs as much as a few hundred short texts, which a table of a thousand columns would pay thousands of times.
"""

from __future__ import annotations

import re
from functools import lru_cache

import polars as pl

_SHORT, _LONG = 300, 100_000


@lru_cache(maxsize=256)
def _compiled(pattern: str) -> re.Pattern[str]:
    return re.compile(pattern)


def fits(cells: pl.Series, pattern: str) -> pl.Series:
    """Whether each text fits, false for nulls; by all processors, for use where nothing else runs beside it."""
    frame = cells.alias("cells").to_frame().lazy()
    result = frame.select(pl.col("cells").str.contains(pattern).fill_null(False))
    return result.collect(engine="streaming" if len(cells) > _LONG else "auto").to_series()


def count_fits(cells: pl.Series, pattern: str) -> int:
    """How many texts fit; nulls do not, and neither do numbers that a file keeps as such."""
    if cells.dtype != pl.String:
        return 0
    if len(cells) > _SHORT:
        return int(cells.str.contains(pattern).sum())
    search = _compiled(pattern).search
    return sum(text is not None and search(text) is not None for text in cells.to_list())


def any_fits(cells: pl.Series, pattern: str) -> bool:
    """Whether any text fits; of numbers that a file keeps as such none."""
    if cells.dtype != pl.String:
        return False
    if len(cells) > _SHORT:
        return bool(cells.str.contains(pattern).any())
    search = _compiled(pattern).search
    return any(text is not None and search(text) is not None for text in cells.to_list())


def all_fit(cells: pl.Series, pattern: str) -> bool:
    """Whether every text that is there fits."""
    if len(cells) > _SHORT:
        return bool(cells.str.contains(pattern).fill_null(True).all())
    search = _compiled(pattern).search
    return all(text is None or search(text) is not None for text in cells.to_list())
