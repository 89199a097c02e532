"""What each column is: a guess from its cells and its name, always open to being overruled."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.tables.coding import Coded, code_texts, written
from echelle.tables.dates import DateRemark, iso_dates
from echelle.tables.known_orders import known_order
from echelle.tables.missing_marks import ERROR_CELLS, MISSING_MARKS, is_missing_mark, marks_among
from echelle.tables.numerals import Numerals, read_numerals
from echelle.tables.reading.number_kinds import NumberKind, compact_days, number_kind, serial_days
from echelle.tables.reading.word_kinds import CLOCK, CODE, word_kind
from echelle.tables.table import Column, Mark, Remark, Remedy
from echelle.tables.text_search import all_fit
from echelle.tables.units import split_unit

_MARKS = sorted(MISSING_MARKS | ERROR_CELLS)
_MOST_ORDERED = 60
_MOST_MARKED = 100_000
_START, _ASKED = 1_000, 20_000
_LONG = 50_000
_FEW = 12
_WORDS_NAMED = 12
_MORE_NAMED = 60
_ODD_NAMED = 20
_INFINITE = frozenset(["inf", "-inf", "+inf", "Inf", "-Inf", "+Inf", "infinity", "Infinity", "-Infinity", "∞", "-∞", "+∞"])


def column_of(
    heading: str,
    given_unit: str | None,
    cells: pl.Series,
    numerals: Numerals,
    lines: NDArray[np.int64],
    *,
    marks: Collection[str] = (),
    first: bool = False,
    coded: Coded | None = None,
    days: bool = True,
) -> tuple[Column, list[Remark]]:
    """The typed column of raw ``cells``, whose numbers ``numerals`` holds, and remarks on what was guessed.

    ``given_unit`` comes from a row of units; otherwise brackets in the heading are read. ``marks`` are those that mean missing
    among the numbers of the same file; ``first`` is set for a table's first column; ``coded`` are the cells' codes where they
    are known; ``days`` lets numbers be days.
    """
    name, unit = (heading, given_unit) if given_unit else split_unit(heading)
    numbered = _holds_numbers(numerals)
    if not given_unit and not numbered:
        name, unit = heading, None  # "Group (A/B)": brackets over words are no unit
    if numbered:
        kind = number_kind(name, unit, cells, numerals, first, days)
        if kind.kind == "measure":
            own = unit or ("%" if numerals.percent else None)
            return _measure(name, own or numerals.unit, cells, numerals, lines)
        return _numbered(name, unit, cells, numerals, kind)
    if coded is None and _all_codes(cells):
        return Column(
            name=name, kind="identifier", cells=cells, unit=unit, ordered=False, absent=_absent(cells, {}), each_once=True
        ), []
    return _worded(name, unit, cells, coded or code_texts(cells), lines, marks, first)


def _holds_numbers(numerals: Numerals) -> bool:
    """Whether the cells are numbers or limits but for a few words: what else stands there would be lost as a measure.

    Words beside codes ("K" beside grades 1 to 3), ranges beside limits and numbers with letters ("15A") make it one of words.
    """
    known, strangers = numerals.known, {w: n for w, n in numerals.strangers.items() if w not in _INFINITE}
    lost = sum(strangers.values())
    if not known or known < lost or (lost and known < 2):
        return False
    if not lost:
        return True
    digits = sum(count for word, count in strangers.items() if any(letter.isdigit() for letter in word))
    numbers = numerals.numbers[numerals.marks == Mark.NUMBER]
    whole = bool(np.array_equal(numbers, np.round(numbers)))
    limits = bool((numerals.marks > Mark.MISSING).any())
    if digits:
        return not whole and digits <= 0.1 * known
    if not whole:
        return True
    if limits:
        return lost <= 0.5 * known
    distinct = len(np.unique(numbers))
    short = any(len(word) <= 2 for word in strangers)
    if short or len(strangers) > 3 + 0.02 * known:
        return False
    contiguous = distinct > 1 and float(numbers.max() - numbers.min()) == distinct - 1
    repeated = distinct <= 0.5 * len(numbers)
    return lost <= 0.25 * known + 1 and not (distinct <= _FEW and (repeated or contiguous))


def _all_codes(cells: pl.Series) -> bool:
    """Whether a long column holds a code in every record, each its own: told without looking each of them up, and of cells all
    over it.
    """
    if len(cells) < _LONG or cells.null_count():
        return False
    start = cells.head(_START)
    if start.n_unique() < len(start) or not start.str.contains(CODE).all():
        return False
    return _all_differ(cells) and all_fit(cells.gather_every(len(cells) // _ASKED + 1), CODE)


def _all_differ(cells: pl.Series) -> bool:
    """Whether no text of a column without blanks stands in it twice, as far as it costs little to know."""
    if cells.is_sorted():
        return bool((cells != cells.shift()).all())
    # Digests of equal texts are equal; different ones that agree by chance would only cost the shortcut.
    return cells.hash().n_unique() == len(cells)


def _numbered(
    name: str, unit: str | None, cells: pl.Series, numerals: Numerals, kind: NumberKind
) -> tuple[Column, list[Remark]]:
    """A column of codes, identifiers, years or dates written as numbers."""
    words = _absent(cells, numerals.words)
    texts: pl.Series = cells
    order: tuple[str, ...] = ()
    coded: Coded | None = None
    if kind.remark in ("compact dates", "serial dates"):
        read = compact_days if kind.remark == "compact dates" else serial_days
        known = numerals.marks == Mark.NUMBER
        texts = written(cells).clone().scatter(np.flatnonzero(known), read(numerals.numbers[known]))
    elif kind.kind == "category":
        codes, distinct = code_texts(cells)
        # Texts are coded in the order in which they come.
        first = np.searchsorted(np.maximum.accumulate(codes), np.arange(len(distinct)))
        value = dict(enumerate(numerals.numbers[first].tolist()))
        numbers = [code for code in value if not np.isnan(value[code])]
        order = tuple(str(distinct[code]) for code in sorted(numbers, key=lambda code: value[code]))
        coded = (codes, distinct) if len(numbers) == len(distinct) else None
    column = Column(
        name=name, kind=kind.kind, cells=texts, unit=unit, ordered=kind.ordered, absent=words, order=order, known=coded
    )
    lost = {word: count for word, count in words.items() if word}
    remarks = [_marks_remark(name, lost)] if lost else []
    if kind.remark == "none":
        return column, remarks
    undo = Remedy("undo-codes", {"column": name}, steps=({"step": "kind", "column": name, "kind": "measure"},))
    if texts is not cells:
        undo = Remedy("undo-codes", {"column": name}, {"day_numbers": "numbers"})
    return column, [
        Remark(f"read-{kind.remark.replace(' ', '-')}", {"column": name, "kind": kind.kind}, name, remedies=(undo,)),
        *remarks,
    ]


def _worded(
    name: str,
    unit: str | None,
    cells: pl.Series,
    coded: Coded,
    lines: NDArray[np.int64],
    evidence: Collection[str],
    first: bool,
) -> tuple[Column, list[Remark]]:
    codes, texts = coded
    among = [str(text) for text in texts.filter(texts.is_in(_MARKS)).to_list()]
    apart = marks_among(texts.to_list(), evidence) if among and len(texts) < _MOST_MARKED else set(among)
    marked: dict[str, int] = {}
    distinct = texts
    if apart:
        counts = np.bincount(codes[codes >= 0], minlength=len(texts))
        marked = {str(texts[place]): int(counts[place]) for place in texts.is_in(sorted(apart)).arg_true().to_list()}
        distinct = texts.filter(~texts.is_in(sorted(apart)))
    present = cells.len() - cells.null_count() - sum(marked.values())
    kind = word_kind(name, distinct, present, first)
    if kind == "text":
        return _dates_or_text(name, unit, cells, marked, lines)
    column = Column(
        name=name,
        kind=kind,
        cells=cells,
        unit=unit,
        ordered=False,
        absent=_absent(cells, marked),
        known=None if marked else (codes, texts),
    )
    remarks = [_marks_remark(name, marked)] if marked else []
    kept = sorted(mark for mark in among if mark not in apart and mark.isalpha())
    if kept:
        step = {"step": "missing", "column": name, "marks": kept}
        remarks.append(
            Remark(
                "read-mark-kept",
                {"marks": ", ".join(kept), "column": name},
                name,
                remedies=(Remedy("undo-mark-kept", steps=(step,)),),
            )
        )
    if kind == "identifier" and not _coded(distinct):
        remarks.append(_undo_kind("read-names", name, "category"))
    return _ordered(column, remarks)


def _ordered(column: Column, remarks: list[Remark]) -> tuple[Column, list[Remark]]:
    """The column in the order that its levels have, where everyone knows it."""
    levels = column.levels if column.kind == "category" else ()
    order = known_order(levels) if 1 < len(levels) <= _MOST_ORDERED else None
    if order is None:
        return column, remarks
    undo = Remedy("undo-order", steps=({"step": "order", "column": column.name, "ordered": False},))
    said = ", ".join(order[:4]) + (" …" if len(order) > 4 else "")
    remark = Remark("read-order", {"column": column.name, "levels": said}, column.name, remedies=(undo,))
    return replace(column, ordered=True, order=order), [*remarks, remark]


def _coded(distinct: pl.Series) -> bool:
    return all_fit(distinct.head(200), CODE)


def _undo_kind(message: str, name: str, kind: str) -> Remark:
    undo = Remedy("undo-kind", {"kind": kind}, steps=({"step": "kind", "column": name, "kind": kind},))
    return Remark(message, {"column": name}, name, remedies=(undo,))


def _marks_remark(name: str, marks: dict[str, int]) -> Remark:
    """Marks that stand for missing cells, with how many cells hold one."""
    return Remark(
        "read-marks",
        {"marks": ", ".join(marks), "column": name, "cells": sum(marks.values())},
        name,
        cells=sum(marks.values()),
    )


def _dates_or_text(
    name: str, unit: str | None, cells: pl.Series, marked: dict[str, int], lines: NDArray[np.int64]
) -> tuple[Column, list[Remark]]:
    """A column of dates, written as ISO; or text, with a question where dates cannot be settled."""
    absent = _absent(cells, marked)
    known = cells.is_not_null() & ~cells.is_in(list(marked))
    dates = iso_dates(cells.filter(known))
    if dates.texts is not None:
        texts = cells.clone().scatter(known.arg_true(), dates.texts)
        column = Column(name=name, kind="date", cells=texts, unit=unit, ordered=False, absent=absent)
        remarks = _date_remarks(name, dates.remark, dates.zone, str(cells.filter(known)[0]))
        return column, remarks + ([_marks_remark(name, marked)] if marked else [])
    remarks = []
    if dates.looks:
        place = int(known.arg_true()[0])
        remedies = tuple(
            Remedy("undo-dates", {"order": order.removesuffix(" first")}, steps=(_date_step(name, order),))
            for order in ("day first", "month first")
        )
        remarks.append(
            Remark("read-unclear-dates", {"column": name, "cell": str(cells[place])}, name, int(lines[place]), remedies)
        )
    elif known.any() and cells.filter(known).str.contains(CLOCK).all():
        remarks.append(_undo_kind("read-clock", name, "category"))
    # In running text a dash or "missing" is a word like any other; a spreadsheet's error is none.
    errors = {mark: count for mark, count in marked.items() if mark not in MISSING_MARKS}
    if errors:
        remarks.append(_marks_remark(name, errors))
    return Column(name=name, kind="text", cells=cells, unit=unit, ordered=False, absent=_absent(cells, errors)), remarks


def _date_step(name: str, order: str) -> dict[str, object]:
    return {"step": "kind", "column": name, "kind": "date", "dates": order}


def _date_remarks(name: str, remark: DateRemark, zone: str, cell: str) -> list[Remark]:
    """What was settled about dates: their order, zones or spellings."""
    if remark == "none":
        return []
    if remark in ("day first", "month first"):
        return [Remark("read-date-order", {"column": name, "order": remark.removesuffix(" first"), "cell": cell}, name)]
    return [
        Remark(f"read-date-{remark}", {"column": name, "zone": zone}, name, remedies=(_undo_kind("", name, "text").remedies))
    ]


def _absent(cells: pl.Series, words: dict[str, int]) -> dict[str, int]:
    """Missing cells by how they are written: blanks first, then the most frequent."""
    blank = {"": cells.null_count()} if cells.null_count() else {}
    return blank | dict(sorted(words.items(), key=lambda item: -item[1]))


def _measure(
    name: str, unit: str | None, cells: pl.Series, numerals: Numerals, lines: NDArray[np.int64]
) -> tuple[Column, list[Remark]]:
    absent = _absent(cells, numerals.words)
    remarks = []
    marks = {word: count for word, count in absent.items() if word and is_missing_mark(word)}
    strangers = {word: count for word, count in absent.items() if word and not is_missing_mark(word)}
    for word, count in list(strangers.items())[:_WORDS_NAMED]:
        place = int((cells == word).fill_null(False).arg_true()[0])
        undo = Remedy("undo-missing", steps=({"step": "kind", "column": name, "kind": "category"},))
        remarks.append(
            Remark(
                "read-missing", {"word": word, "column": name, "count": count}, name, int(lines[place]), (undo,), cells=count
            )
        )
    more = list(strangers.items())[_WORDS_NAMED:]
    if more:
        undo = Remedy("undo-missing", steps=({"step": "kind", "column": name, "kind": "category"},))
        listed = ", ".join(f"“{word}”" for word, _ in more[:_MORE_NAMED]) + (" …" if len(more) > _MORE_NAMED else "")
        count = sum(count for _, count in more)
        remarks.append(
            Remark("read-missing-more", {"words": listed, "column": name, "count": count}, name, None, (undo,), cells=count)
        )
    remarks += _odd_decimals(name, cells, numerals, lines)
    for spelling, (count, place) in numerals.spellings.items():
        values: dict[str, str | int] = {
            "column": name,
            "way": spelling,
            "count": count,
            "cell": str(cells[place]),
            "value": f"{numerals.numbers[place]:g}",
        }
        undo = Remedy("undo-kind", {"kind": "category"}, steps=({"step": "kind", "column": name, "kind": "category"},))
        remarks.append(Remark("read-spelling", values, name, int(lines[place]), (undo,)))
    if marks:
        remarks.append(_marks_remark(name, marks))
    column = Column(
        name=name,
        kind="measure",
        cells=cells,
        unit=unit,
        ordered=False,
        absent=absent,
        numbers=numerals.numbers,
        marks=numerals.marks,
    )
    return column, remarks


def _odd_decimals(name: str, cells: pl.Series, numerals: Numerals, lines: NDArray[np.int64]) -> list[Remark]:
    """Cells read by another decimal mark than the rest of their column."""
    odd = np.flatnonzero(numerals.odd_decimals)
    remarks = []
    for place in odd[:_ODD_NAMED]:
        cell, value = str(cells[int(place)]), f"{numerals.numbers[place]:g}"
        undo = Remedy("undo-odd-decimal", steps=({"step": "missing", "column": name, "marks": [cell]},))
        remarks.append(
            Remark("read-odd-decimal", {"column": name, "cell": cell, "value": value}, name, int(lines[place]), (undo,))
        )
    if len(odd) > _ODD_NAMED:
        count = len(odd) - _ODD_NAMED
        remarks.append(Remark("read-odd-decimals", {"column": name, "count": count}, name, int(lines[odd[_ODD_NAMED]])))
    return remarks


def with_a_measure(columns: list[Column], remarks: list[Remark]) -> list[Column]:
    """The columns; where none is a measure, the codes with the most levels are read as one, which a remark says."""
    if any(column.kind == "measure" for column in columns):
        return columns
    coded = [c for c in columns if c.kind == "category" and c.distinct > 2 and c.order and not c.ordered]
    numbered = [(c, read_numerals(c.texts, "point")) for c in coded]
    whole = [(c, n) for c, n in numbered if not n.strangers and n.known]
    if not whole:
        return columns
    richest, numerals = max(whole, key=lambda pair: pair[0].distinct)
    undo = Remedy("undo-kind", {"kind": "category"}, steps=({"step": "kind", "column": richest.name, "kind": "category"},))
    remarks.append(Remark("read-richest", {"column": richest.name}, richest.name, remedies=(undo,)))
    measure = replace(
        richest, kind="measure", ordered=False, order=(), numbers=numerals.numbers, marks=numerals.marks, known=None
    )
    return [measure if column is richest else column for column in columns]
