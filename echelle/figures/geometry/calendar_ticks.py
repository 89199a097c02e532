"""Ticks of an axis of dates: at the starts of days, months or years."""

from __future__ import annotations

import datetime
import math
from collections.abc import Iterator

_EPOCH = datetime.date(1970, 1, 1)
_DAYS = (1, 2, 7, 14)
_MONTHS = (1, 3, 6)
_YEARS = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)


def calendar_ticks(low: float, high: float, most: int) -> list[tuple[float, str]]:
    """Days since 1970 with their labels, at most ``most``, at even steps of the calendar: the finest of 1, 2, 7 or 14 days, 1,
    3 or 6 months, or years by ones, twos, fives and tens. Where no step has one within, the middle day.
    """
    for ticks in _steps(low, high, most):
        if 0 < len(ticks) <= most:
            return ticks
    middle = (low + high) / 2
    return [(middle, _day(middle).isoformat())]


def _steps(low: float, high: float, most: int) -> Iterator[list[tuple[float, str]]]:
    """The ticks of each step, from the finest on."""
    for step in _DAYS:
        if (high - low) / step <= most + 1:
            first = math.ceil(low / step) * step
            days = range(first, math.floor(high) + 1, step)
            yield [(float(day), _day(day).isoformat()) for day in days]
    start, end = _day(low), _day(high)
    for step in _MONTHS:
        if (end.year - start.year) * 12 / step <= most + 24:
            months = range(start.year * 12 // step * step, end.year * 12 + 12, step)
            yield _within(low, high, [(datetime.date(m // 12, m % 12 + 1, 1), "%Y-%m") for m in months])
    for step in _YEARS:
        years = range(start.year // step * step, end.year + 1, step)
        yield _within(low, high, [(datetime.date(year, 1, 1), "%Y") for year in years if year > 0])


def _within(low: float, high: float, dates: list[tuple[datetime.date, str]]) -> list[tuple[float, str]]:
    days = [(float((date - _EPOCH).days), date.strftime(form).rjust(4, "0")) for date, form in dates]
    return [(day, label) for day, label in days if low <= day <= high]


def _day(day: float) -> datetime.date:
    """The date of a day; beyond the calendar its first or last."""
    first, last = ((end - _EPOCH).days for end in (datetime.date.min, datetime.date.max))
    return _EPOCH + datetime.timedelta(days=min(max(math.floor(day), first), last))
