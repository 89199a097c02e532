"""Parts of a date: its year, quarter, month, weekday, hour, and the shift of a day."""

from __future__ import annotations

import itertools
from typing import Literal

import polars as pl

from echelle.tables.dates import MONTHS, WEEKDAYS, days_of

Part = Literal["years", "quarters", "months", "weekdays", "hours", "shifts"]
# Shifts of eight hours; the night begins before midnight.
_SHIFTS = ("Early shift", "Late shift", "Night shift")
_HOURS = (6, 14, 22)


def date_parts(texts: pl.Series, part: Part) -> list[int | None]:
    """The number of a part of each ISO date (with a time or without); None where it has none."""
    if part in ("hours", "shifts"):
        hours = texts.str.extract(r"[ T](\d{2}):").cast(pl.Int32)
        return (hours if part == "hours" else hours.map_elements(_shift, return_dtype=pl.Int32)).to_list()
    if part == "weekdays":
        return days_of(texts).dt.weekday().to_list()
    # A year or a month alone is a date too.
    start, length = (0, 4) if part == "years" else (5, 2)
    numbers = texts.str.slice(start, length).cast(pl.Int32, strict=False)
    return ((numbers + 2) // 3 if part == "quarters" else numbers).to_list()


def _shift(hour: int) -> int:
    return next((place for place, (a, b) in enumerate(itertools.pairwise(_HOURS), 1) if a <= hour < b), len(_SHIFTS))


def date_part_name(number: int, part: Part) -> str:
    """How it is written: "March", "Q2", "14 h"."""
    match part:
        case "months":
            return MONTHS[number - 1]
        case "weekdays":
            return WEEKDAYS[number - 1]
        case "shifts":
            return _SHIFTS[number - 1]
        case "quarters":
            return f"Q{number}"
        case "hours":
            return f"{number} h"
        case "years":
            return str(number)
