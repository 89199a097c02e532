"""What a column of words is: a category, an identifier, yes or no, dates, clock times or running text."""

from __future__ import annotations

import re

import polars as pl

from echelle.tables.dates import iso_dates
from echelle.tables.name_words import REPEATED_SUBJECTS, head_of, names_unit_of_study, words_of
from echelle.tables.table import Kind
from echelle.tables.text_search import all_fit

CODE = r"^(?:[A-Za-zÀ-ÿ]{1,8}[-_ /.#:]*\d+|\d+[-_ /.:]*[A-Za-z]+|\d+(?:[-_/.:]\d+)+)[A-Za-z0-9\-_/.:]*$"
CLOCK = r"^(?:\d{1,3}:[0-5]\d(?::[0-5]\d(?:[.,]\d+)?)?\s*(?:[AaPp]\.?[Mm]\.?)?|(?:\d+\s?(?:h|hr|hrs|min|m|s|sec|d)\s?)+)$"
_YES_NO = (
    {"yes", "no"}, {"y", "n"}, {"true", "false"}, {"t", "f"}, {"ja", "nein"}, {"oui", "non"}, {"si", "no"}, {"sí", "no"},
    {"sim", "não"},
)  # fmt: skip
_NAMES = frozenset(["name", "names", "label", "title", "rownames", "rowname", "model", "description", "unnamed"])
_MOST_GROUPS = 12
_LETTER_NAMES = re.compile(r"^[\W\d_]*$")


def word_kind(name: str, distinct: pl.Series, present: int, first: bool = False) -> Kind:
    """The kind of a column from its ``distinct`` texts (no marks of missing cells), in ``present`` cells; text stands for
    text and for dates and times, which are told apart after. ``first`` for a table's first column.
    """
    many = distinct.len()
    if many == 0:
        return "text"
    if many <= 2 and {text.lower() for text in distinct.to_list()} in _YES_NO:
        return "yes/no"
    start = distinct.head(200)
    if looks_dated(start) and iso_dates(distinct).looks:
        return "text"
    if all_fit(start, CLOCK) and all_fit(distinct, CLOCK):
        return "text"
    codes = all_fit(start, CODE) and all_fit(distinct, CODE)
    each = many == present
    if codes and each and (many > 2 or names_unit_of_study(name)):
        return "identifier"
    subjects = head_of(name) in REPEATED_SUBJECTS
    if codes and many > (2 if subjects else _MOST_GROUPS) and names_unit_of_study(name):
        return "identifier"
    length = float(distinct.str.len_chars().mean() or 0)  # type: ignore[arg-type]
    if each and many > _MOST_GROUPS and length <= 40 and _labels_rows(name, first):
        return "identifier"
    if subjects and many > _MOST_GROUPS and length <= 40:
        return "identifier"
    long = length > 40 and many > present / 3
    return "text" if long or (many > 400 and many > present / 2) else "category"


def looks_dated(start: pl.Series) -> bool:
    """Whether texts may be dates: they begin with a digit or a month's name and go on with marks or another."""
    return all_fit(start, r"^\d.*(?:[/.\-]|[A-Za-zÀ-ÿ]{3})|^[A-Za-zÀ-ÿ]{3,12}\.?,? ?-?\d{1,4}")


def _labels_rows(name: str, first: bool) -> bool:
    """Whether a column of different words names the rows: one without a heading, or one called a name or label."""
    words = words_of(name)
    nameless = not words or (words[0] in ("column", "unnamed") and len(words) <= 2) or words[0] in ("rownames", "rowname")
    return (first and nameless) or head_of(name) in _NAMES or bool(_LETTER_NAMES.match(name)) or names_unit_of_study(name)
