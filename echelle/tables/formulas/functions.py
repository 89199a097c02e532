"""The functions of the language: of one value, of several columns in a row, and of a column within a category."""

from __future__ import annotations

from collections.abc import Callable
from functools import reduce

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.numbers.sample import Floats
from echelle.tables.dates import WEEKDAYS, days_of
from echelle.tables.formulas.values import Value, number, text

OF_ONE: dict[str, Callable[[Floats], Floats]] = {
    "log10": np.log10,
    "ln": np.log,
    "exp": np.exp,
    "sqrt": np.sqrt,
    "abs": np.abs,
}


def _smaller(a: Floats, b: Floats) -> Floats:
    return np.fmin(a, b)


def _larger(a: Floats, b: Floats) -> Floats:
    return np.fmax(a, b)


def _sum(arrays: list[Floats]) -> Floats:
    total = reduce(np.add, [np.where(np.isnan(a), 0.0, a) for a in arrays])
    return np.where(_count(arrays) == 0, np.nan, total)


def _count(arrays: list[Floats]) -> Floats:
    return reduce(np.add, [(~np.isnan(a)).astype(np.float64) for a in arrays])


def _mean(arrays: list[Floats]) -> Floats:
    return _sum(arrays) / np.maximum(_count(arrays), 1.0)


# Of the values that a row has; missing where it has none.
OF_ROW: dict[str, Callable[[list[Floats]], Floats]] = {
    "min": lambda arrays: reduce(_smaller, arrays),
    "max": lambda arrays: reduce(_larger, arrays),
    "sum": _sum,
    "mean": _mean,
    "count": _count,
}


def _sd(values: Floats) -> float:
    return float(np.std(values - values[0], ddof=1)) if len(values) > 1 else float("nan")


def _shifted_mean(values: Floats) -> float:
    return float(values[0] + np.mean(values - values[0]))


# Of a category's values that are there (at least one).
OF_GROUP: dict[str, Callable[[Floats], float]] = {
    "mean": _shifted_mean,
    "median": lambda values: float(np.median(values)),
    "sd": _sd,
    "min": lambda values: float(values.min()),
    "max": lambda values: float(values.max()),
    "sum": lambda values: float(values.sum()),
    "count": lambda values: float(len(values)),
}


def within_groups(
    name: str, values: Floats, groups: NDArray[np.int64], count: int, used: NDArray[np.bool_] | None = None
) -> Floats:
    """One number a group, given back to each of its rows; from the rows that have a value (and are ``used``)."""
    there = ~np.isnan(values) if used is None else used & ~np.isnan(values)
    of_group = OF_GROUP[name]
    full = np.full(count, 0.0 if name == "count" else np.nan)
    places = np.flatnonzero(there)
    by_group = places[np.argsort(groups[places], kind="stable")]
    ends = np.cumsum(np.bincount(groups[places], minlength=count))
    for group, part in enumerate(np.split(by_group, ends[:-1])):
        if len(part):
            full[group] = of_group(values[part])
    return full[groups]


def date_part(name: str, value: Value) -> Value:
    """Year, month and day as numbers, the weekday as a word."""
    assert value.texts is not None
    days = days_of(value.texts)
    if name == "weekday":
        return text(days.dt.weekday().replace_strict(range(1, 8), WEEKDAYS, return_dtype=pl.String))
    if name == "year":
        return number(value.texts.str.slice(0, 4).cast(pl.Float64, strict=False).fill_null(float("nan")).to_numpy())
    parts = {"month": days.dt.month, "day": days.dt.day}[name]()
    return number(parts.cast(pl.Float64).fill_null(float("nan")).to_numpy())


def days_between(start: Value, end: Value) -> Value:
    """Days from one date to another, with the parts of a day where times are given."""
    assert start.texts is not None and end.texts is not None
    return number(_stamp(end.texts) - _stamp(start.texts))


def _stamp(texts: pl.Series) -> Floats:
    padded = pl.select(pl.when(texts.str.len_chars() == 10).then(texts + " 00:00").otherwise(texts)).to_series()
    stamps = padded.str.replace(r"(\d\d:\d\d:\d\d)\.\d+$", "$1").str.replace(r" (\d\d:\d\d)$", " $1:00")
    seconds = stamps.str.to_datetime("%Y-%m-%d %H:%M:%S", strict=False).dt.epoch("s").cast(pl.Float64)
    return seconds.fill_null(float("nan")).to_numpy() / 86_400.0


def one_argument(name: str, arguments: list[Value], where: str) -> Value:
    """The only argument. Raises InputError for any other count."""
    if len(arguments) != 1:
        raise InputError(f"{name} takes one value", where=where, remedy=f"Write {name}(column).")
    return arguments[0]
