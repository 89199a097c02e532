"""What each column is: a guess from its cells and its name, always open to being overruled."""

from __future__ import annotations

import re

import numpy as np
import polars as pl

from echelle.tables.numerals import MISSING_MARKS, Decimal, Numerals, read_numerals
from echelle.tables.table import Column, Kind, Mark, Remark

_UNIT = re.compile(
    r"^(?:[0-9.]*(?:10\^?[0-9⁰¹²³⁴⁵⁶⁷⁸⁹*^]*\s*)?)?"
    r"(?:[pnµμumkcdMG]?(?:g|l|L|mol|M|U|IU|m|s|h|min|Pa|Hz|V|A|W|J|cal|Eq|osm|Osm)|copies|cells|%|°[CF]|K|d|days?|hours?"
    r"|years?|yrs?|weeks?|months?|mmHg|bpm|kg|log10|pH|ratio|AU|RLU|OD|ppm|ppb|CFU|cfu|fl|fL)"
    r"(?:\s*[/·*^²³⁻¹\-0-9.]*\s*(?:[pnµμumkcd]?(?:g|l|L|mol|M|U|m|s|h|min|d|kg|dL|dl|mL|ml)|day|hour|year|week|Hb|creatinine)?[²³⁻¹0-9]*)*$"
)
_BRACKETS = re.compile(r"^(.*\S)\s*[\(\[]\s*([^()\[\]]+?)\s*[\)\]]$")
_IDENTIFIER_NAME = re.compile(
    r"\b(id|identifier|participant|subject|patient|donor|animal|specimen|barcode|case|record|code|number|no)s?\b", re.I
)
_AMOUNT_NAME = re.compile(
    r"\b(age|count|counts|years|days|nights|hours|minutes|months|weeks|dose|weight|height|bmi|score|concentration"
    r"|volume|mass|pain|rate|level|amount|number of)\b",
    re.I,
)
_CODE_NAME = re.compile(r"\b(plate|batch|lot|run|code|site|ward|group|arm|visit|box|rack|well|grade|stage|class)\b", re.I)
_YES_NO = ({"yes", "no"}, {"y", "n"}, {"true", "false"})


def split_unit(name: str) -> tuple[str, str | None]:
    """ "Ferritin (µg/L)" gives ("Ferritin", "µg/L"); brackets that hold no unit stay in the name."""
    found = _BRACKETS.match(name)
    if found and _UNIT.match(found[2]):
        return found[1], found[2]
    return name, None


def column_of(
    heading: str, cells: pl.Series, decimal: Decimal, lines: np.ndarray[tuple[int], np.dtype[np.int64]]
) -> tuple[Column, list[Remark]]:
    """The typed column of raw ``cells`` and the remarks on what was guessed."""
    name, unit = split_unit(heading)
    numerals = read_numerals(cells, decimal)
    known = int(np.count_nonzero(numerals.marks != Mark.MISSING))
    present = known + len(numerals.words)
    if known and known >= present * 0.5 and (len(numerals.words) == 0 or known >= 2):
        kind = _kind_of_numbers(name, unit, cells, numerals, known)
        if kind == "measure":
            return _measure(name, unit or ("%" if numerals.percent else None), cells, numerals, lines)
    else:
        kind = _kind_of_words(name, cells)
    absent = _absent(cells, kind)
    return Column(name, kind, cells, unit, False, absent), []


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
    few = known >= 30 and distinct <= 12
    return (
        "category"
        if (few and (numerals.marks <= Mark.MISSING).all()) or (_CODE_NAME.search(name) and distinct <= 40)
        else "measure"
    )


def _kind_of_words(name: str, cells: pl.Series) -> Kind:
    present = cells.drop_nulls()
    present = present.filter(~present.is_in(list(MISSING_MARKS)))
    distinct = present.unique()
    if distinct.len() == 0:
        return "text"
    if {t.lower() for t in distinct.head(3).to_list()} in _YES_NO:
        return "yes/no"
    if present.str.contains(r"^\d{4}-\d{2}-\d{2}([T ]\d{2}:\d{2}(:\d{2})?)?$").all():
        return "date"
    codes = present.str.contains(r"^(?:[A-Za-z]+[-_ /]?\d+|\d+[-_ /]?[A-Za-z]+)[A-Za-z0-9\-_/]*$").all()
    if codes and distinct.len() > 12 and (distinct.len() == present.len() or _IDENTIFIER_NAME.search(name)):
        return "identifier"
    if codes and distinct.len() == present.len() and _IDENTIFIER_NAME.search(name):
        return "identifier"
    long = int(present.str.len_chars().sum()) > 40 * present.len()
    return "text" if long or (distinct.len() > 400 and distinct.len() > present.len() / 2) else "category"


def _absent(cells: pl.Series, kind: Kind) -> dict[str, int]:
    """Missing cells by how they are written. In a column of words a bare dash or point is missing too."""
    if kind == "text":
        return {"": cells.null_count()} if cells.null_count() else {}
    marked = cells.filter(cells.is_in(list(MISSING_MARKS)))
    absent = {str(text): int(count) for text, count in marked.value_counts(sort=True).iter_rows()}
    return ({"": cells.null_count()} if cells.null_count() else {}) | absent


def _measure(
    name: str, unit: str | None, cells: pl.Series, numerals: Numerals, lines: np.ndarray[tuple[int], np.dtype[np.int64]]
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
