"""What a column is: made-up columns of the classes that real tables hold. The expectations are an analyst's."""

from __future__ import annotations

import pytest

from echelle.tables.name_words import head_of, names_amount, names_unit_of_study
from echelle.tables.reading.read import Reading, read_bytes

N = 60


def read(name: str, cells: list[str], *, first: bool = False) -> Reading:
    """A table with this column, at its start or after another."""
    other = [f"{0.5 + i * 1.25:.2f}" for i in range(len(cells))]
    pairs = zip(cells, other, strict=True) if first else zip(other, cells, strict=True)
    heading = [name, "level"] if first else ["level", name]
    return read_bytes(("\t".join(heading) + "\n" + "".join("\t".join(pair) + "\n" for pair in pairs)).encode())


def kind(name: str, cells: list[str], *, first: bool = False) -> str:
    return read(name, cells, first=first).table.column(name or "column 1").kind


def turns(*levels: str, rows: int = N) -> list[str]:
    return [levels[i % len(levels)] for i in range(rows)]


COUNTER = [str(i + 1) for i in range(N)]
REPEATED = [str(1 + i // 3) for i in range(N)]
COUNTS = [str(value) for value in (0,) * 30 + (1,) * 12 + (2,) * 7 + (3,) * 4 + (4,) * 3 + (5,) * 2 + (7,) + (11,)]


@pytest.mark.parametrize(
    ("name", "cells", "expected"),
    [
        ("anything", COUNTER, "identifier"),
        ("subject", REPEATED, "identifier"),
        ("hhid", REPEATED, "identifier"),
        ("Plot", turns("1", "2", "3"), "category"),
        ("centre", REPEATED, "identifier"),
        ("case", COUNTER, "identifier"),
        ("PatientRevenue", [str(i * 37 % 101) for i in range(N)], "measure"),
        ("Number (thousands)", [str(i * 37 % 101) for i in range(N)], "measure"),
        ("longestNoSmoke", [str(i * 37 % 101) for i in range(N)], "measure"),
        ("number of visits", turns("0", "1", "2"), "measure"),
        ("runs", [str(i * 7 % 40) for i in range(N)], "measure"),
        ("code", [f"A-{i}/2" for i in range(N)], "identifier"),
        ("smoker", [*turns("0.0", "1.0", rows=N - 1), ""], "category"),
        ("rating", turns("1", "2", "3", "4", "5"), "category"),
        ("rating", [*turns("1.0", "2.0", "3.0", rows=N - 2), "", ""], "category"),
        ("dose", turns("1.0", "2.0", "5.0"), "measure"),
        ("mark", turns("1", "1.5", "2", "2.5", "3"), "category"),
        ("children born", COUNTS, "measure"),
        ("anything", COUNTS, "measure"),
        ("Age.Group", turns("1", "2", "3"), "category"),
        ("age", turns("20", "21", "22"), "measure"),
        ("BMI", turns("20", "21", "22"), "measure"),
        ("year", turns("1999", "2000", "2001"), "category"),
        ("year", [str(1950 + i) for i in range(N)], "date"),
        ("season", [str(1950 + i % 30) for i in range(N)], "date"),
        ("started at", [f"{7 + i % 12}:{i % 60:02d}" for i in range(N)], "text"),
        ("took", [f"1:{i % 60:02d}:{i % 59:02d}" for i in range(N)], "text"),
        ("barcode", [f"00{i:04d}" for i in range(N)], "identifier"),
        ("serial", [str(9007199254740993 + i * 3) for i in range(N)], "identifier"),
        ("grade", [*turns("1", "2", "3", rows=N - 3), "K", "K", "K"], "category"),
        ("card", turns("2", "3", "4", "J", "Q", "K", "A"), "category"),
        ("course", [f"{i % 30}{'AB'[i % 2]}" if i % 3 else str(i % 30) for i in range(N)], "category"),
        ("cylinders", [*turns("4", "6", "8", rows=N - 1), "rotary"], "category"),
        ("children", turns("0", "1", "2", "3+"), "category"),
        ("class width", turns("<=20", "20-40", ">40"), "category"),
        ("band", turns("<1", "1-2", ">2"), "category"),
        ("state", turns("ND", "NA", "NE", "TX", "CA", "NY", "OH", "IN", "VT", "ME", "MA"), "category"),
        ("titre", turns("<0.4", "1.5", "2.5", ">100"), "measure"),
        ("level mixed", turns("1.5", "2.5 H", "3.5", "<0.4"), "measure"),
    ],
)
def test_a_column_is_what_an_analyst_takes_it_for(name: str, cells: list[str], expected: str) -> None:
    assert kind(name, cells) == expected


@pytest.mark.parametrize("name", ["", "Unnamed: 0", "index", "rownames"])
@pytest.mark.parametrize("start", [0, 1])
def test_a_first_column_that_counts_the_rows_is_an_identifier(name: str, start: int) -> None:
    assert kind(name, [str(i + start) for i in range(7)], first=True) == "identifier"


def test_codes_and_ranges_keep_every_cell_and_their_order() -> None:
    grades = read("grade", [*turns("3", "1", "2", rows=N - 1), "K"]).table.column("grade")
    assert grades.missing == 0 and set(grades.levels) == {"1", "2", "3", "K"}
    codes = read("cyl", turns("6", "4", "8")).table.column("cyl")
    assert codes.levels == ("4", "6", "8") and not codes.ordered
    bands = read("band", turns("20-40", ">40", "<=20")).table.column("band")
    assert bands.ordered and bands.levels == ("<=20", "20-40", ">40") and bands.missing == 0
    more = read("children", turns("3+", "0", "2", "1")).table.column("children")
    assert more.ordered and more.levels == ("0", "1", "2", "3+")


def test_marks_that_stand_among_codes_like_them_are_codes() -> None:
    reading = read("state", turns("ND", "NA", "TX", "CA", "NY", "OH", "IN", "VT", "ME", "MA"))
    column = reading.table.column("state")
    assert column.missing == 0 and {"ND", "NA"} <= set(column.levels)
    assert any("NA, ND in state is written like the other levels" in remark.text for remark in reading.remarks)
    assert read("arm", turns("placebo", "low", "NA")).table.column("arm").absent == {"NA": N // 3}
    assert read("reaction", turns("+", "-", "++")).table.column("reaction").missing == 0


@pytest.mark.parametrize(
    ("cell", "value"),
    [("0.375", 0.375), ("48.842", 48.842), ("1.32", 1.32)],
)
def test_one_quoted_comma_never_turns_the_decimal_mark_of_others(cell: str, value: float) -> None:
    lines = "".join(f"{cell},{'' if i else chr(34) + '4,6' + chr(34)}\n" for i in range(6))
    reading = read_bytes(("rate,list\n" + lines.replace(f'{cell},"4,6"', f'{cell},"4,6"')).encode())
    column = reading.table.column("rate")
    assert reading.decimal == "point" and column.numbers is not None and column.numbers.tolist() == [value] * 6


@pytest.mark.parametrize(
    ("name", "head"),
    [
        ("PatientRevenue", "revenue"), ("Age.Group", "group"), ("number of visits", "number"), ("time to event", "time"),
        ("weight_kg_2", "kg"), ("visit 3", "visit"), ("Level (mg/L)", "level"),
    ],
)  # fmt: skip
def test_the_head_of_a_name_says_what_a_column_holds(name: str, head: str) -> None:
    assert head_of(name) == head


def test_words_of_the_trade() -> None:
    assert all(map(names_unit_of_study, ["patient_id", "patientId", "hhid", "Plot", "pidnum", "sample no", "schoolidk"]))
    assert not any(
        map(names_unit_of_study, ["fluid", "PatientRevenue", "Number (thousands)", "no. of cells", "longestNoSmoke"])
    )
    assert all(map(names_amount, ["age", "BMI", "number of visits", "no. of cells"])) and not names_amount("Age.Group")
