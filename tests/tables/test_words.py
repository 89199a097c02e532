"""Written numbers, dates and units, one kind at a time."""

from __future__ import annotations

from datetime import date

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from echelle.tables.coding import code_texts
from echelle.tables.dates import iso_dates
from echelle.tables.numerals import Decimal, decimal_of, evidence_of, read_numerals
from echelle.tables.table import Mark
from echelle.tables.units import is_unit, split_unit

days = st.lists(st.dates(date(1975, 1, 1), date(2065, 12, 31)), min_size=1, max_size=20)


@given(days=days, style=st.sampled_from(["%Y-%m-%d", "%Y/%m/%d", "%d %b %Y", "%d-%b-%y", "%Y-%m-%d 07:30"]))
def test_dates_that_leave_no_doubt(days: list[date], style: str) -> None:
    dates = iso_dates(pl.Series([day.strftime(style) for day in days]))
    result, look = dates.texts, dates.looks
    assert look and result is not None
    assert [text[:10] for text in result.to_list()] == [day.isoformat() for day in days]


@given(days=days, style=st.sampled_from(["%d/%m/%Y", "%m/%d/%Y", "%d.%m.%Y", "%m-%d-%y"]))
def test_a_day_above_twelve_settles_the_order(days: list[date], style: str) -> None:
    dates = iso_dates(pl.Series([day.strftime(style) for day in days]))
    result, look = dates.texts, dates.looks
    assert look
    if any(day.day > 12 for day in days):
        assert result is not None and result.to_list() == [day.isoformat() for day in days]
    elif any(day.day != day.month for day in days):
        assert result is None


@pytest.mark.parametrize("text", ["2026-02-30", "31/02/2026", "13/13/2026", "12 Foo 2026", "1/2/3/4", "12"])
def test_what_is_no_day_of_the_calendar_is_no_date(text: str) -> None:
    assert iso_dates(pl.Series([text])).texts is None


def grouped(value: float, places: int, group: str, mark: str) -> str:
    return f"{value:,.{places}f}".replace(",", "\0").replace(".", mark).replace("\0", group)


@given(
    values=st.lists(st.integers(-(10**9), 10**9).map(lambda v: v / 100), min_size=1, max_size=20),
    dialect=st.sampled_from(
        [("point", ",", "."), ("comma", ".", ","), ("comma", " ", ","), ("point", "\u202f", "."), ("comma", "'", ",")]
    ),
    minus=st.sampled_from(["-", "\u2212"]),
)
def test_numbers_with_thousands(values: list[float], dialect: tuple[Decimal, str, str], minus: str) -> None:
    decimal, group, mark = dialect
    cells = pl.Series([grouped(v, 2, group, mark).replace("-", minus) for v in values])
    assert decimal_of([evidence_of(cells)])[0] == decimal
    result = read_numerals(cells, decimal)
    assert result.numbers.tolist() == values and not result.words and not result.odd_decimals.any()


@given(st.lists(st.tuples(st.sampled_from(["<", "> ", "≤", ">=", "≥ ", ""]), st.integers(0, 10**6)), min_size=1, max_size=20))
def test_limits_keep_their_sign_and_their_number(cells: list[tuple[str, int]]) -> None:
    result = read_numerals(pl.Series([f"{sign}{value / 8}" for sign, value in cells]), "point")
    assert result.numbers.tolist() == [value / 8 for _, value in cells]
    expected = [Mark.BELOW if sign[:1] in "<≤" and sign else Mark.ABOVE if sign else Mark.NUMBER for sign, _ in cells]
    assert result.marks.tolist() == expected


@given(st.lists(st.text("abcxyz -./,", min_size=1, max_size=6).filter(str.strip), min_size=1, max_size=20))
def test_words_are_never_numbers(cells: list[str]) -> None:
    result = read_numerals(pl.Series(cells), "point")
    assert result.known == 0 and sum(result.words.values()) == len(cells)


@pytest.mark.parametrize("text", ["inf", "nan", "1_000", "0x10", "1e", "1.2.3", "--5", "1,23,4", "½"])
def test_what_programs_take_for_numbers_and_people_do_not(text: str) -> None:
    assert read_numerals(pl.Series([text, "1.5"]), "point").numbers.tolist()[1:] == [1.5]
    assert read_numerals(pl.Series([text]), "point").known == 0


UNITS = [
    "mg/L", "µg/dL", "μmol/l", "nmol/L", "copies/mL", "/µl", "10^9/L", "×10⁹/L", "10⁶/mL", "U/L", "IU/mL", "mmHg", "°C", "%",
    "s", "h", "min", "kg/m²", "mL/min/1.73 m²", "pg/mL", "mmol/mol", "years", "g·L⁻¹", "cells/µL", "mEq/L", "bpm",
]  # fmt: skip
NO_UNITS = ["self-reported", "Arm", "visit 2", "A", "log", "n = 12", "first", "yes/no", "mean", "Day 0", "baseline", "2019"]


@pytest.mark.parametrize("unit", UNITS)
def test_a_unit_leaves_the_name(unit: str) -> None:
    assert is_unit(unit)
    assert split_unit(f"Ferritin ({unit})") == ("Ferritin", unit) == split_unit(f"Ferritin [{unit}]")


@pytest.mark.parametrize("words", NO_UNITS)
def test_other_brackets_stay_in_the_name(words: str) -> None:
    assert split_unit(f"Ferritin ({words})") == (f"Ferritin ({words})", None)


@given(st.lists(st.one_of(st.none(), st.sampled_from(["", "a", "A", "ä", "1", "a b"])), max_size=30))
def test_codes_of_a_short_and_a_long_column_are_the_same(cells: list[str | None]) -> None:
    short, long = pl.Series(cells, dtype=pl.String), pl.Series(cells * 200 + [None] * 2_001, dtype=pl.String)
    codes, texts = code_texts(short)
    long_codes, long_texts = code_texts(long)
    assert texts.to_list() == long_texts.to_list() and codes.tolist() == long_codes[: len(cells)].tolist()
    assert [None if code < 0 else texts[int(code)] for code in codes] == cells


@given(
    st.lists(st.sampled_from(["a", "b", "ä b", "", "1"]), min_size=1, max_size=20),
    st.lists(st.text(max_size=4), max_size=300),
    st.integers(0, 2**32),
)
@settings(max_examples=30)
def test_texts_that_come_late_or_are_many_are_coded_as_they_come(start: list[str], late: list[str], seed: int) -> None:
    """A long column of few texts, then others anywhere behind: by the rule, a text's code is its rank by first appearance."""
    rng = np.random.default_rng(seed)
    cells = start * (9_000 // len(start)) + late
    cells = cells[:5_000] + [cells[5_000 + place] for place in rng.permutation(len(cells) - 5_000)]
    codes, texts = code_texts(pl.Series(cells, dtype=pl.String))
    assert texts.to_list() == list(dict.fromkeys(cells))
    assert [texts[int(code)] for code in codes[::97]] == cells[::97]
    assert texts.gather(pl.Series(codes)).to_list() == cells


@given(st.lists(st.integers(-40, 40), min_size=1, max_size=30), st.sampled_from([1, 1_000, 10**7]))
def test_whole_numbers_are_coded_as_texts_are(cells: list[int], times: int) -> None:
    whole = pl.Series([cell * times for cell in cells] * 2_001)
    codes, texts = code_texts(whole)
    as_texts = code_texts(whole.cast(pl.String))
    assert codes.tolist() == as_texts[0].tolist() and texts.to_list() == as_texts[1].to_list()
