"""Written dates to ISO, and the names of a calendar. A day above 12 settles day-first or month-first for the whole column."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

import polars as pl

WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
MONTHS = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
          "December")  # fmt: skip
# By their first letters, in the languages of the files that we read.
_OTHER_MONTHS = (
    ("jän", "ene", "gen", "janv", "sty"), ("fév", "fev", "lut", "feb"), ("mär", "mrz", "mars", "mrt", "maa"),
    ("avr", "abr", "kwi", "apr"), ("mai", "mei", "mag", "maj"), ("juin", "giu", "jun", "cze"), ("juil", "lug", "jul", "lip"),
    ("aoû", "aou", "ago", "sie", "aug"), ("set", "wrz", "sep"), ("okt", "out", "ott", "paź", "oct"), ("nov", "lis"),
    ("dez", "déc", "dic", "gru", "dec"),
)  # fmt: skip
_ISO = r"^(\d{4})-(\d{2})-(\d{2})(?:[T ](\d{2}:\d{2}(?::\d{2}(?:[.,]\d+)?)?)\s*(Z|[+\-\u2212]\d{2}(?::?\d{2})?)?)?$"
_ZONE = r"\s*(Z|[+\-\u2212]\d{2}(?::?\d{2})?)$"
_YEAR_MONTH = r"^(\d{4})[-/](0[1-9]|1[0-2])$"
_TIME = r"(?:[T ,]+(\d{1,2}:\d{2}(?::\d{2}(?:\.\d+)?)?)\s*([AaPp]\.?[Mm]\.?)?)?$"
_YEAR_FIRST = r"^(\d{4})[/.\-](\d{1,2})[/.\-](\d{1,2})" + _TIME
_YEAR_LAST = r"^(\d{1,2})([/.\-])(\d{1,2})[/.\-](\d{4}|\d{2})" + _TIME
_WORD = r"([A-Za-zÀ-ÿźń]{3,12})\.?"
_NAMED = re.compile(
    rf"^(?:[A-Za-z]{{2,9}}\.?,? )?(\d{{1,2}})(?:st|nd|rd|th|\.)?[ \-.]*(?:de )?{_WORD}[ \-,.]*(?:de )?(\d{{4}}|\d{{2}})$"
)
_MONTH_FIRST = re.compile(rf"^(?:[A-Za-z]{{2,9}}\.?,? )?{_WORD}[ \-.]*(\d{{1,2}})(?:st|nd|rd|th)?,?[ \-]+(\d{{4}})$")
_MONTH_YEAR = re.compile(rf"^{_WORD}[ \-.,]*(\d{{4}})$")
_YEAR_MONTH_DAY = re.compile(rf"^(\d{{4}})[ \-.]{_WORD}[ \-.](\d{{1,2}})$")
_MONTH_NUMBERS = {name[:3].lower(): number for number, name in enumerate(MONTHS, start=1)} | {
    start: number for number, starts in enumerate(_OTHER_MONTHS, start=1) for start in starts
}

DateRemark = Literal["day first", "month first", "zone", "zones", "mixed", "none"]


@dataclass(frozen=True, eq=False)
class WrittenDates:
    """Texts as ISO dates (with a time where they carry one), None where they are none.

    ``looks`` says that they look like dates, though nothing settles the order of day and month. ``remark`` says what was
    settled: the order, by a day above 12; one time zone that all share, kept out of the texts; several, turned to UTC; mixed
    spellings.
    """

    texts: pl.Series | None
    looks: bool
    remark: DateRemark = "none"
    zone: str = ""


_NO_DATES = WrittenDates(None, False)


def iso_dates(present: pl.Series, day_first: bool | None = None) -> WrittenDates:
    """Read ``present`` (no nulls) as dates; ``day_first`` settles the order where the person said it."""
    if present.is_empty():
        return _NO_DATES
    if present.str.contains(_ISO).all():
        return _zoned(present)
    if present.str.contains(_YEAR_MONTH).all():
        return WrittenDates(present.str.replace("/", "-", literal=True), True)
    if present.str.contains(_YEAR_FIRST).all():
        return _valid(_built(present, _YEAR_FIRST, (1, 2, 3), 4))
    if present.str.contains(_YEAR_LAST).all():
        return _year_last(present, day_first)
    distinct = present.unique(maintain_order=True)
    if len(distinct) > 100_000:
        return _NO_DATES
    named = {text: _named(text) for text in distinct.to_list()}
    spelled = sum(iso is not None for iso in named.values())
    if spelled == len(named):
        return _valid(present.replace_strict(named, return_dtype=pl.String))
    if not spelled and not present.head(200).str.contains(r"\d{4}|\d[/.\-]\d").all():
        return _NO_DATES
    return _mixed(present, named, day_first)


def days_of(texts: pl.Series) -> pl.Series:
    """ISO texts as days; null for what names no day, such as "2026-01"."""
    return texts.str.slice(0, 10).str.to_date("%Y-%m-%d", strict=False)


def _zoned(present: pl.Series) -> WrittenDates:
    """ISO texts without their zones: one zone is left out and told, several are turned to UTC."""
    texts = present.str.replace("T", " ", literal=True).str.replace(r"(:\d\d),(\d+)", "$1.$2")
    zones = texts.str.extract(_ZONE, 1)
    timed = texts.str.len_chars() > 10
    bare = pl.select(pl.when(timed).then(texts.str.replace(_ZONE, "")).otherwise(texts)).to_series()
    zones = pl.select(pl.when(timed).then(zones)).to_series()
    distinct = zones.unique()
    if distinct.null_count() == len(distinct):
        return _valid(bare)
    if len(distinct) == 1:
        zone = str(distinct[0])
        return _valid(bare, "zone", "UTC" if zone in ("Z", "+00", "+00:00", "+0000") else f"UTC{zone}")
    minutes = zones.fill_null("Z").replace_strict(
        {str(z): _minutes(str(z)) for z in zones.fill_null("Z").unique()}, return_dtype=pl.Int64
    )
    stamps = bare.str.replace(r" (\d\d:\d\d)$", " $1:00").str.to_datetime("%Y-%m-%d %H:%M:%S%.f", strict=False, time_unit="us")
    moved = stamps - pl.Series(minutes * 60_000_000).cast(pl.Duration("us"))
    written = moved.dt.strftime("%Y-%m-%d %H:%M:%S%.f")
    return _valid(pl.select(pl.when(timed).then(written).otherwise(bare)).to_series(), "zones", "UTC")


def _minutes(zone: str) -> int:
    if zone == "Z":
        return 0
    digits = zone[1:].replace(":", "").ljust(4, "0")
    return (1 if zone[0] == "+" else -1) * (int(digits[:2]) * 60 + int(digits[2:]))


def _year_last(present: pl.Series, day_first: bool | None) -> WrittenDates:
    first = present.str.extract(_YEAR_LAST, 1).cast(pl.Int32)
    second = present.str.extract(_YEAR_LAST, 3).cast(pl.Int32)
    highest, other = int(first.max()), int(second.max())  # type: ignore[arg-type]
    if highest > 31 or other > 31 or (highest > 12 and other > 12):
        return _NO_DATES
    settled: DateRemark = "none"
    if day_first is None:
        if highest <= 12 and other <= 12 and not (first == second).all():
            return WrittenDates(None, True)
        day_first = bool(highest > 12 or other <= 12)
        settled = "day first" if highest > 12 else "month first" if other > 12 else "none"
    return _valid(_built(present, _YEAR_LAST, (4, 3, 1) if day_first else (4, 1, 3), 5), settled)


def _named(text: str) -> str | None:
    """A date whose month is a word: "5. März 2026", "Jan 5, 2026", "2026-Mar-05", "Mar 2026"."""
    for pattern, places in (
        (_NAMED, (3, 2, 1)),
        (_MONTH_FIRST, (3, 1, 2)),
        (_YEAR_MONTH_DAY, (1, 2, 3)),
        (_MONTH_YEAR, (2, 1, 0)),
    ):
        if match := pattern.match(text):
            month = _month(match[places[1]])
            if month is None:
                continue
            start = f"{_year(match[places[0]])}-{month:02d}"
            return f"{start}-{int(match[places[2]]):02d}" if places[2] else start
    return None


def _month(word: str) -> int | None:
    word = word.lower()
    return _MONTH_NUMBERS.get(word[:4]) or _MONTH_NUMBERS.get(word[:3])


def _mixed(present: pl.Series, named: dict[str, str | None], day_first: bool | None) -> WrittenDates:
    """Dates in several spellings, each of which is one; None where any is no date or leaves its order open."""
    groups = [present.filter(present.str.contains(pattern)) for pattern in (_ISO, _YEAR_FIRST, _YEAR_LAST)]
    read: dict[str, str] = {text: iso for text, iso in named.items() if iso is not None}
    looks = False
    for group in groups:
        group = group.filter(~group.is_in(list(read)))
        if group.is_empty():
            continue
        result = iso_dates(group, day_first)
        looks |= result.looks
        if result.texts is None:
            break
        read |= dict(zip(group.to_list(), result.texts.to_list(), strict=True))
    if set(named) - set(read):
        every = sum(len(group) for group in groups) + sum(iso is not None for iso in named.values())
        return WrittenDates(None, looks and every >= len(present))
    return _valid(present.replace_strict(read, return_dtype=pl.String), "mixed")


def _built(present: pl.Series, pattern: str, order: tuple[int, int, int], time: int) -> pl.Series:
    year, month, day = (present.str.extract(pattern, group) for group in order)
    year = pl.Series([_year(text) for text in year.to_list()], dtype=pl.String)
    days = year + "-" + month.str.zfill(2) + "-" + day.str.zfill(2)
    clock = present.str.extract(pattern, time)
    if clock.null_count() == len(clock):
        return days
    half = present.str.extract(pattern, time + 1).str.to_lowercase().str.replace_all(".", "", literal=True)
    hour = clock.str.extract(r"^(\d+)").cast(pl.Int32)
    hour = pl.select(
        pl.when((half == "pm") & (hour < 12)).then(hour + 12).when((half == "am") & (hour == 12)).then(0).otherwise(hour)
    ).to_series()
    times = hour.cast(pl.String).str.zfill(2) + clock.str.replace(r"^\d+", "")
    return pl.select(pl.when(clock.is_not_null()).then(days + " " + times).otherwise(days)).to_series()


def _year(text: str) -> str:
    """Two digits mean 1970 to 2069."""
    return text if len(text) == 4 else ("19" if int(text) >= 70 else "20") + text


def _valid(texts: pl.Series, remark: DateRemark = "none", zone: str = "") -> WrittenDates:
    """The texts, where every one is a day of the calendar, or a month."""
    whole = texts.filter(texts.str.len_chars() > 7)
    held = texts.null_count() == 0 and days_of(whole).null_count() == 0
    return WrittenDates(texts, True, remark, zone) if held else _NO_DATES
