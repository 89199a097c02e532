"""What each column is: a guess from its cells and its name, always open to being overruled."""

from __future__ import annotations

import re

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.tables.dates import iso_dates
from echelle.tables.numerals import MISSING_MARKS, Decimal, Numerals, read_numerals
from echelle.tables.table import Column, Kind, Mark, Remark
from echelle.tables.units import split_unit

_IDENTIFIER_NAME = re.compile(
    r"\b(id|identifier|participant|subject|patient|donor|animal|specimen|barcode|case|record|code|number|no)s?\b", re.I
)
_AMOUNT_NAME = re.compile(
    r"\b(age|count|counts|years|days|nights|hours|minutes|months|weeks|dose|weight|height|bmi|score|concentration"
    r"|volume|mass|pain|rate|level|amount|number of)\b",
    re.I,
)
_YES_NO = ({"yes", "no"}, {"y", "n"}, {"true", "false"})


def column_of(
    heading: str, given_unit: str | None, cells: pl.Series, decimal: Decimal, lines: NDArray[np.int64]
) -> tuple[Column, list[Remark]]:
    """The typed column of raw ``cells`` and the remarks on what was guessed.

    ``given_unit`` comes from a row of units; otherwise brackets in the heading are read.
    """
    name, unit = (heading, given_unit) if given_unit else split_unit(heading)
    numerals = read_numerals(cells, decimal)
    known = int(np.count_nonzero(numerals.marks != Mark.MISSING))
    present = known + len(numerals.words)
    if known and known >= present * 0.5 and (len(numerals.words) == 0 or known >= 2):
        kind = _kind_of_numbers(name, unit, cells, numerals, known)
        if kind == "measure":
            return _measure(name, unit or ("%" if numerals.percent else None), cells, numerals, lines)
    else:
        kind = _kind_of_words(name, cells)
    if kind == "text":
        return _dates_or_text(name, unit, cells, lines)
    return Column(name, kind, cells, unit, False, _absent(cells, kind)), []


def _kind_of_numbers(name: str, unit: str | None, cells: pl.Series, numerals: Numerals, known: int) -> Kind:
    whole = numerals.numbers[numerals.marks == Mark.NUMBER]
    texts = cells.drop_nulls()
    if texts.str.contains(r"^0\d+$").any() and not texts.str.contains(r"[.,]").any():
        return "identifier"
    if unit or _AMOUNT_NAME.search(name) or not np.all(whole == np.round(whole)) or texts.str.contains(r"[.,]").any():
        return "measure"
    distinct = len(np.unique(whole))
    if _IDENTIFIER_NAME.search(name) and distinct == known and known > 12:
        return "identifier"
    few = known >= 30 and distinct <= 12 and (numerals.marks <= Mark.MISSING).all()
    return "category" if few else "measure"


def _kind_of_words(name: str, cells: pl.Series) -> Kind:
    """Text stands for text and for dates, which are told apart after."""
    present = _present(cells)
    distinct = present.unique()
    if distinct.len() == 0:
        return "text"
    if distinct.len() <= 2 and {t.lower() for t in distinct.to_list()} in _YES_NO:
        return "yes/no"
    if present.str.contains(r"^\d").all() and present.str.contains(r"[/.\-]|[A-Za-z]{3}").all() and iso_dates(present)[1]:
        return "text"
    codes = present.str.contains(r"^(?:[A-Za-z]+[-_ /]?\d+|\d+[-_ /]?[A-Za-z]+)[A-Za-z0-9\-_/]*$").all()
    if codes and distinct.len() == present.len() and (distinct.len() > 2 or _IDENTIFIER_NAME.search(name)):
        return "identifier"
    if codes and distinct.len() > 12 and _IDENTIFIER_NAME.search(name):
        return "identifier"
    long = int(present.str.len_chars().sum()) > 40 * present.len()
    return "text" if long or (distinct.len() > 400 and distinct.len() > present.len() / 2) else "category"


def _dates_or_text(name: str, unit: str | None, cells: pl.Series, lines: NDArray[np.int64]) -> tuple[Column, list[Remark]]:
    """A column of dates, written as ISO; or text, with a question where dates cannot be settled."""
    absent = _absent(cells, "date")
    known = cells.is_not_null() & ~cells.is_in(list(absent))
    dates, look = iso_dates(cells.filter(known))
    if dates is not None:
        texts = cells.scatter(known.arg_true(), dates)
        return Column(name, "date", texts, unit, False, absent), []
    remarks = []
    if look:
        place = int(known.arg_true()[0])
        remarks.append(
            Remark(
                f"{name} looks like dates, but nothing settles whether “{cells[place]}” is day or month first; kept as text.",
                name,
                int(lines[place]),
            )
        )
    return Column(name, "text", cells, unit, False, _absent(cells, "text")), remarks


def _present(cells: pl.Series) -> pl.Series:
    present = cells.drop_nulls()
    return present.filter(~present.is_in(list(MISSING_MARKS)))


def _absent(cells: pl.Series, kind: Kind) -> dict[str, int]:
    """Missing cells by how they are written. In a column of words a bare dash or point is missing too."""
    if kind == "text":
        return {"": cells.null_count()} if cells.null_count() else {}
    marked = cells.filter(cells.is_in(list(MISSING_MARKS)))
    absent = {str(text): int(count) for text, count in marked.value_counts(sort=True).iter_rows()}
    return ({"": cells.null_count()} if cells.null_count() else {}) | absent


def _measure(
    name: str, unit: str | None, cells: pl.Series, numerals: Numerals, lines: NDArray[np.int64]
) -> tuple[Column, list[Remark]]:
    absent = _absent(cells, "measure")
    remarks = []
    for word, count in numerals.words.value_counts(sort=True).iter_rows():
        absent[str(word)] = int(count)
        place = int((cells == word).fill_null(False).arg_true()[0])
        remarks.append(
            Remark(f"“{word}” stands among the numbers of {name} {_times(count)}; read as missing.", name, int(lines[place]))
        )
    odd = np.flatnonzero(numerals.odd_decimals)
    for place in odd[:20]:
        value = f"{numerals.numbers[place]:g}"
        remarks.append(
            Remark(
                f"{name} reads “{cells[int(place)]}”, the others use another decimal mark. Read as {value}.",
                name,
                int(lines[place]),
            )
        )
    if len(odd) > 20:
        remarks.append(Remark(f"{len(odd) - 20} more cells of {name} use another decimal mark.", name, int(lines[odd[20]])))
    column = Column(name, "measure", cells, unit, False, absent, numerals.numbers, numerals.marks)
    return column, remarks


def _times(count: int) -> str:
    return "once" if count == 1 else f"{count} times"
