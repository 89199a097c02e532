"""What each column is: a guess from its cells and its name, always open to being overruled."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.tables.dates import iso_dates
from echelle.tables.known_orders import known_order
from echelle.tables.numerals import MISSING_MARKS, Decimal, Numerals, read_numerals
from echelle.tables.subjects import names_subjects, words_of_name
from echelle.tables.table import Column, Kind, Mark, Remark, Remedy, code_texts
from echelle.tables.units import split_unit

_IDENTIFIER_NAME = re.compile(r"\b(id|identifier|specimen|barcode|case|record|code|number|no)s?\b", re.I)
_AMOUNT_NAME = re.compile(
    r"\b(age|count|counts|years|days|nights|hours|minutes|months|weeks|dose|weight|height|bmi|score|concentration"
    r"|volume|mass|pain|rate|level|amount|number of)\b",
    re.I,
)
_CODE = r"^(?:[A-Za-z]+[-_ /]?\d+|\d+[-_ /]?[A-Za-z]+)[A-Za-z0-9\-_/]*$"
_MOST_ORDERED = 60
_START = 1_000
_LONG = 50_000
_YES_NO = ({"yes", "no"}, {"y", "n"}, {"true", "false"})


def _names(pattern: re.Pattern[str], name: str) -> bool:
    return pattern.search(words_of_name(name)) is not None


def _names_an_identifier(name: str) -> bool:
    return names_subjects(name) or _names(_IDENTIFIER_NAME, name)


def column_of(
    heading: str, given_unit: str | None, cells: pl.Series, decimal: Decimal, lines: NDArray[np.int64]
) -> tuple[Column, list[Remark]]:
    """The typed column of raw ``cells`` and the remarks on what was guessed.

    ``given_unit`` comes from a row of units; otherwise brackets in the heading are read.
    """
    name, unit = (heading, given_unit) if given_unit else split_unit(heading)
    numerals = read_numerals(cells, decimal)
    known, strangers = numerals.known, numerals.strangers
    if known and known >= (known + strangers) * 0.5 and (strangers == 0 or known >= 2):
        kind = _kind_of_numbers(name, unit, cells, numerals)
        if kind == "measure":
            return _measure(name, unit or ("%" if numerals.percent else None), cells, numerals, lines)
        return Column(
            name=name, kind=kind, texts=cells, unit=unit, ordered=False, absent=_absent(cells, numerals.words)
        ), _codes_remark(name, kind, cells)
    if _all_codes(cells):
        return Column(
            name=name, kind="identifier", texts=cells, unit=unit, ordered=False, absent=_absent(cells, {}), each_once=True
        ), []
    codes, texts = code_texts(cells)
    among = texts.is_in(list(MISSING_MARKS)).arg_true().to_list()
    marked = {str(texts[place]): int((codes == place).sum()) for place in among}
    kind = _kind_of_words(name, texts, cells.len() - cells.null_count() - sum(marked.values()))
    if kind == "text":
        return _dates_or_text(name, unit, cells, marked, lines)
    column = Column(
        name=name,
        kind=kind,
        texts=cells,
        unit=unit,
        ordered=False,
        absent=_absent(cells, marked),
        known=None if marked else (codes, texts),
    )
    order = known_order(column.levels) if kind == "category" and len(column.levels) <= _MOST_ORDERED else None
    if order is None:
        return column, []
    undo = Remedy("undo-order", steps=({"step": "order", "column": name, "ordered": False},))
    said = ", ".join(order[:4]) + (" …" if len(order) > 4 else "")
    return replace(column, ordered=True, order=order), [
        Remark("read-order", {"column": name, "levels": said}, name, remedies=(undo,))
    ]


def _all_codes(cells: pl.Series) -> bool:
    """Whether a long column holds a code in every record, each its own: told without looking each of them up."""
    if len(cells) < _LONG or cells.null_count():
        return False
    start = cells.head(_START)
    if start.n_unique() < len(start) or not start.str.contains(_CODE).all():
        return False
    # Digests of equal texts are equal; different ones that agree by chance would only cost the shortcut.
    return cells.hash().n_unique() == len(cells) and bool(cells.str.contains(_CODE).all())


def _codes_remark(name: str, kind: Kind, cells: pl.Series) -> list[Remark]:
    """Numbers that are read as something else are said so; leading zeros speak for themselves."""
    if kind == "identifier" and cells.str.contains(r"^0\d").any():
        return []
    undo = Remedy("undo-codes", steps=({"step": "kind", "column": name, "kind": "measure"},))
    return [Remark("read-codes", {"column": name, "kind": kind}, name, remedies=(undo,))]


def _kind_of_numbers(name: str, unit: str | None, cells: pl.Series, numerals: Numerals) -> Kind:
    numbers = numerals.numbers[numerals.marks == Mark.NUMBER]
    if not np.array_equal(numbers[:_START], np.round(numbers[:_START])):
        return "measure"
    if not np.array_equal(numbers, np.round(numbers)):
        return "measure"
    written = cells.str.contains(".", literal=True).any() or cells.str.contains(",", literal=True).any()
    zeros = cells.filter(cells.str.starts_with("0"))
    if not written and zeros.str.contains(r"^0\d+$").any():
        return "identifier"
    if unit or _names(_AMOUNT_NAME, name) or written:
        return "measure"
    known, distinct = numerals.known, pl.Series(numbers).n_unique()
    if _names_an_identifier(name) and distinct == known and known > 12:
        return "identifier"
    few = known >= 30 and distinct <= 12 and bool((numerals.marks <= Mark.MISSING).all())
    return "category" if few else "measure"


def _kind_of_words(name: str, texts: pl.Series, present: int) -> Kind:
    """The kind of a column from its distinct ``texts``; text stands for text and for dates, which are told apart after."""
    distinct = texts.filter(~texts.is_in(list(MISSING_MARKS))) if len(texts) < 100_000 else texts
    if distinct.len() == 0:
        return "text"
    if distinct.len() <= 2 and {t.lower() for t in distinct.to_list()} in _YES_NO:
        return "yes/no"
    start = distinct.head(200)
    dated = start.str.contains(r"^\d").all() and start.str.contains(r"[/.\-]|[A-Za-z]{3}").all()
    if dated and iso_dates(distinct)[1]:
        return "text"
    codes = start.str.contains(_CODE).all() and distinct.str.contains(_CODE).all()
    if codes and distinct.len() == present and (distinct.len() > 2 or _names_an_identifier(name)):
        return "identifier"
    if codes and distinct.len() > (2 if names_subjects(name) else 12) and _names_an_identifier(name):
        return "identifier"
    long = int(distinct.str.len_chars().sum()) > 40 * distinct.len()
    return "text" if long or (distinct.len() > 400 and distinct.len() > present / 2) else "category"


def _dates_or_text(
    name: str, unit: str | None, cells: pl.Series, marked: dict[str, int], lines: NDArray[np.int64]
) -> tuple[Column, list[Remark]]:
    """A column of dates, written as ISO; or text, with a question where dates cannot be settled."""
    absent = _absent(cells, marked)
    known = cells.is_not_null() & ~cells.is_in(list(marked))
    dates, look = iso_dates(cells.filter(known))
    if dates is not None:
        texts = cells.scatter(known.arg_true(), dates)
        return Column(name=name, kind="date", texts=texts, unit=unit, ordered=False, absent=absent), []
    remarks = []
    if look:
        place = int(known.arg_true()[0])
        steps = {
            order: {"step": "kind", "column": name, "kind": "date", "dates": order} for order in ("day first", "month first")
        }
        remedies = tuple(
            Remedy("undo-dates", {"order": order.removesuffix(" first")}, steps=(step,)) for order, step in steps.items()
        )
        remarks.append(
            Remark("read-unclear-dates", {"column": name, "cell": str(cells[place])}, name, int(lines[place]), remedies)
        )
    # In running text a dash or "missing" is a word like any other.
    return Column(name=name, kind="text", texts=cells, unit=unit, ordered=False, absent=_absent(cells, {})), remarks


def _absent(cells: pl.Series, words: dict[str, int]) -> dict[str, int]:
    """Missing cells by how they are written: blanks first, then the most frequent."""
    blank = {"": cells.null_count()} if cells.null_count() else {}
    return blank | dict(sorted(words.items(), key=lambda item: -item[1]))


def _measure(
    name: str, unit: str | None, cells: pl.Series, numerals: Numerals, lines: NDArray[np.int64]
) -> tuple[Column, list[Remark]]:
    absent = _absent(cells, numerals.words)
    remarks = []
    for word, count in absent.items():
        if not word or word in MISSING_MARKS:
            continue
        place = int((cells == word).fill_null(False).arg_true()[0])
        undo = Remedy("undo-missing", steps=({"step": "kind", "column": name, "kind": "category"},))
        remarks.append(Remark("read-missing", {"word": word, "column": name, "count": count}, name, int(lines[place]), (undo,)))
    odd = np.flatnonzero(numerals.odd_decimals)
    for place in odd[:20]:
        cell, value = str(cells[int(place)]), f"{numerals.numbers[place]:g}"
        undo = Remedy("undo-odd-decimal", steps=({"step": "missing", "column": name, "marks": [cell]},))
        remarks.append(
            Remark("read-odd-decimal", {"column": name, "cell": cell, "value": value}, name, int(lines[place]), (undo,))
        )
    if len(odd) > 20:
        remarks.append(Remark("read-odd-decimals", {"column": name, "count": len(odd) - 20}, name, int(lines[odd[20]])))
    column = Column(
        name=name,
        kind="measure",
        texts=cells,
        unit=unit,
        ordered=False,
        absent=absent,
        numbers=numerals.numbers,
        marks=numerals.marks,
    )
    return column, remarks
