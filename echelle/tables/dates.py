"""Written dates to ISO, and the names of a calendar. A day above 12 settles day-first or month-first for the whole column."""

from __future__ import annotations

import re

import polars as pl

WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
MONTHS = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
          "December")  # fmt: skip
_ISO = r"^(\d{4})-(\d{2})-(\d{2})(?:[T ](\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?)(?:Z|[+-]\d{2}:?\d{2})?)?$"
_YEAR_FIRST = r"^(\d{4})[/.](\d{1,2})[/.](\d{1,2})$"
_YEAR_LAST = r"^(\d{1,2})([/.\-])(\d{1,2})[/.\-](\d{4}|\d{2})$"
_NAMED = re.compile(r"^(\d{1,2})[ \-.]*([A-Za-z]{3})[a-z]*\.?[ \-]*(\d{4}|\d{2})$")
_MONTH_NUMBERS = {name[:3].lower(): number for number, name in enumerate(MONTHS, start=1)}


def iso_dates(present: pl.Series, day_first: bool | None = None) -> tuple[pl.Series | None, bool]:
    """The texts as ISO dates (with a time where they carry one), and whether they look like dates.

    ``present`` has no nulls; ``day_first`` settles the order where the person said it. (None, True) means dates whose order
    of day and month nothing settles; (None, False) no dates.
    """
    if present.is_empty():
        return None, False
    if present.str.contains(_ISO).all():
        return _valid(present.str.replace("T", " ", literal=True).str.replace(r"(?:Z|[+-]\d{2}:?\d{2})$", ""), present)
    if present.str.contains(_YEAR_FIRST).all():
        return _valid(_built(present, _YEAR_FIRST, (1, 2, 3)), present)
    if present.str.contains(_YEAR_LAST).all():
        item = present.str.extract(_YEAR_LAST, 1).cast(pl.Int32)
        year_last = present.str.extract(_YEAR_LAST, 3).cast(pl.Int32)
        if item.max() > 31 or year_last.max() > 31 or (item.max() > 12 and year_last.max() > 12):  # type: ignore[operator]
            return None, False
        if day_first is None:
            if item.max() <= 12 and year_last.max() <= 12 and not (item == year_last).all():  # type: ignore[operator]
                return None, True
            day_first = bool(item.max() > 12 or year_last.max() <= 12)  # type: ignore[operator]
        return _valid(_built(present, _YEAR_LAST, (4, 3, 1) if day_first else (4, 1, 3)), present)
    if present.str.contains(_NAMED.pattern).all():
        named = [_NAMED.match(text) for text in present.to_list()]
        months = [_MONTH_NUMBERS.get(m[2].lower()) if m else None for m in named]
        if any(month is None for month in months):
            return None, False
        texts = [f"{_year(m[3])}-{month:02d}-{int(m[1]):02d}" for m, month in zip(named, months, strict=True) if m]
        return _valid(pl.Series(texts, dtype=pl.String), present)
    return None, False


def _built(present: pl.Series, pattern: str, order: tuple[int, int, int]) -> pl.Series:
    year, month, day = (present.str.extract(pattern, group) for group in order)
    year = pl.Series([_year(text) for text in year.to_list()], dtype=pl.String)
    return year + "-" + month.str.zfill(2) + "-" + day.str.zfill(2)


def _year(text: str) -> str:
    """Two digits mean 1970 to 2069."""
    return text if len(text) == 4 else ("19" if int(text) >= 70 else "20") + text


def _valid(texts: pl.Series, present: pl.Series) -> tuple[pl.Series | None, bool]:
    """The texts, where every one is a day of the calendar."""
    days = texts.str.slice(0, 10).str.to_date("%Y-%m-%d", strict=False)
    return (texts, True) if days.null_count() == 0 and len(texts) == len(present) else (None, False)
