"""Rows out, changes between files, words of steps, known orders: the small things an auditor reads."""

from __future__ import annotations

import io

import openpyxl
import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.catalogue.catalogue import catalogue
from echelle.errors import InputError
from echelle.tables.known_orders import known_order
from echelle.tables.reading.read import read_bytes
from echelle.tables.steps.conditions import condition_words
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.registry import Step
from echelle.tables.steps.rows import Keep
from echelle.tables.steps.words import preparation_words
from echelle.tables.storage.version_diff import changes_between
from echelle.tables.storage.writers import rows_file
from tests.support.steps import after, cells, read

CELL = st.one_of(
    st.sampled_from(["=1+1", "+x", "-y", "@z", "plain", "a,b", 'q"q', "ND", "é"]),
    st.floats(-1e6, 1e6).map(lambda x: f"{x:.3f}"),
)


@given(st.lists(CELL, min_size=1, max_size=12))
def test_no_cell_that_goes_out_runs_as_a_formula_and_none_is_lost(texts: list[str]) -> None:
    quoted = "".join('"' + text.replace('"', '""') + '",1.5\n' for text in texts)
    table = read(f"note,level\n{quoted}word,2.5\nother,3.5\n")
    made = rows_file(table, "csv")
    frame = pl.read_csv(io.BytesIO(made.data), infer_schema=False)
    column = table.column("note")
    for cell, before, mark in zip(frame["note"].to_list(), column.texts.to_list(), range(table.rows), strict=True):
        number = column.marks is not None and column.marks[mark] == 0
        assert number or cell is None or cell[:1] not in "=+-@\t\r", cell
        assert number or (cell or "").removeprefix("'") == (before or "")
    book = openpyxl.load_workbook(io.BytesIO(rows_file(table, "xlsx").data))
    assert all(cell.data_type != "f" for row in book.active for cell in row)


def test_limits_marks_and_long_numbers_go_out_as_they_are() -> None:
    table = read('a,"level (mg/L)"\nx,<0.5\ny,QNS\nz,"1.234567890123"\nw,> 200\n')
    written = pl.read_csv(io.BytesIO(rows_file(table, "csv").data), infer_schema=False)
    assert written["level (mg/L)"].to_list() == ["<0.5", "QNS", "1.234567890123", ">200"]
    frame = pl.read_parquet(io.BytesIO(rows_file(table, "parquet").data))
    assert frame["level (mg/L)"].to_list() == [None, None, 1.234567890123, None]
    assert frame["level (mg/L) limit"].to_list() == ["<0.5", None, None, ">200"]
    again = read_bytes(rows_file(table, "csv").data).table.column("level")
    assert (again.censored, again.absent) == (2, {"QNS": 1})


def test_decimal_commas_go_out_with_a_point_and_as_many_digits() -> None:
    table = read('a;"level (mg/L)"\nx;10,0\ny;1.234,50\nz;7\nw;<0,5\n')
    written = pl.read_csv(io.BytesIO(rows_file(table, "csv").data), infer_schema=False)
    assert written["level (mg/L)"].to_list() == ["10.0", "1234.5", "7", "<0.5"]


def test_a_column_named_row_stays_beside_the_row_ids() -> None:
    frame = pl.read_csv(io.BytesIO(rows_file(read("row,x\na,1.5\nb,2.5\n"), "csv").data), infer_schema=False)
    assert frame.columns == ["row id", "row", "x"] and frame["row id"].to_list() == ["1", "2"]


OLD = read("barcode,ward,level\nB-1,north,1.5\nB-2,south,2.5\nB-3,north,3.5\n")


def test_changes_are_counted_by_identifier_where_there_is_one() -> None:
    new = read("barcode,ward,level,note\nB-3,north,3.5,x\nB-2,west,2.5,y\nB-4,north,9.5,z\n")
    result = changes_between(OLD, new)
    assert (result.by, result.added, result.gone, result.changed, result.same) == ("barcode", 1, 1, 1, 1)
    assert result.columns_added == ("note",) and [(level.added, level.gone) for level in result.levels] == [
        (("west",), ("south",))
    ]


def test_changes_without_an_identifier_compare_whole_rows() -> None:
    old, new = read("w,x\na,1.5\na,1.5\nb,2.5\n"), read("w,x\nb,2.5\na,1.5\nc,3.5\nc,3.5\n")
    result = changes_between(old, new)
    assert (result.by, result.added, result.gone, result.changed, result.same) == (None, 2, 1, 0, 2)
    same = changes_between(old, old)
    assert (same.added, same.gone, same.same, same.levels) == (0, 0, 3, ())


WORDS = [
    ({"step": "rename", "column": "a", "to": "b"}, "a is called b"),
    ({"step": "kind", "column": "a", "kind": "identifier"}, "a is an identifier"),
    ({"step": "kind", "column": "a", "kind": "category"}, "a is a category"),
    ({"step": "unit", "column": "a", "unit": None}, "a without a unit"),
    ({"step": "order", "column": "a", "levels": ["x", "y", "z", "w"]}, "a: x, y, z and 1 more"),
    ({"step": "labels", "column": "a", "labels": {"1": "yes"}}, "a: 1 is yes"),
    ({"step": "join levels", "column": "a", "levels": ["x", "y"], "into": "z"}, "x, y joins z"),
    ({"step": "missing", "column": None, "marks": ["999"]}, "999 is missing"),
    ({"step": "stand-in", "column": "a", "below": "half", "above": "limit"}, "limits of a stand at half and limit"),
    ({"step": "convert", "column": "a", "to": "g", "factor": 0.5}, "a to g × 0.5"),
    ({"step": "convert", "column": "a", "to": "g", "by": "u"}, "a to g by u"),
    ({"step": "keep", "where": {"column": "a", "from": 2, "below": 4.5}}, "keep a from 2 < 4.5"),
    ({"step": "leave out", "rows": [{"row": 3, "part": "Lot B", "reason": "x"}]}, "leave out row 3 · Lot B"),
    ({"step": "wide to long", "columns": ["a", "b"], "names": "n", "values": "v"}, "2 columns to n and v"),
    ({"step": "long to wide", "names": "n", "values": "v", "by": ["w"]}, "v to a column per n"),
    ({"step": "combine", "by": ["who", "day"], "how": "median"}, "median per who, day"),
    ({"step": "intervals", "column": "a", "to": "c", "edges": [1, 2.5]}, "c: a cut at 1, 2.5"),
    ({"step": "date part", "column": "d", "part": "year", "to": "y"}, "y: year of d"),
    ({"step": "derive", "to": "b", "formula": "2 * a"}, "b = 2 * a"),
    ({"step": "relative", "column": "a", "to": "r", "how": "z-score", "within": ["plate"]}, "r: a, z-score within plate"),
]


@pytest.mark.parametrize(("record", "words"), WORDS, ids=[str(record["step"]) for record, _ in WORDS])
def test_a_step_in_words(record: dict[str, object], words: str) -> None:
    assert steps_from([record])[0].words() == words


def test_what_changed_in_a_preparation_in_words() -> None:
    first, second, third = steps_from([WORDS[0][0], WORDS[3][0], WORDS[11][0]])

    def said(before: list[Step], now: list[Step]) -> str:
        return preparation_words(before, now)

    assert said([], [first]) == "+ a is called b" and said([first, third], [first, second, third]) == "+ a without a unit"
    assert said([first, second, third], [first, third]) == "− a without a unit"
    assert said([first, second], [second, first]) == "steps in another order"
    assert said([first], [first.model_copy(update={"to": "c"})]) == "edited: a is called c"
    assert said([first], [first.model_copy(update={"on": False})]) == "off: a is called b"
    assert said([first], [first, second, third]) == "3 steps"


def test_conditions_in_words_keep_their_brackets() -> None:
    either = [{"column": "b", "missing": True}, {"column": "c", "is_not": ["z"]}, {"column": "d", "to": "2026-01-31"}]
    record = {"step": "keep", "where": {"all": [{"column": "a", "is": ["x", "y"]}, {"any": either}]}}
    step = steps_from([record])[0]
    assert isinstance(step, Keep)
    assert condition_words(step.where, catalogue()) == "a = x, y and (b missing or c ≠ z or d to 2026-01-31)"


@pytest.mark.parametrize(
    ("levels", "order"),
    [
        (["high", "low", "medium"], ("low", "medium", "high")),
        (["Wed", "Mon", "Tue"], ("Mon", "Tue", "Wed")),
        (["week 12", "week 2", "week 4"], ("week 2", "week 4", "week 12")),
        (["10 mg", "2.5 mg", "40 mg"], ("2.5 mg", "10 mg", "40 mg")),
        (["III", "I", "II"], ("I", "II", "III")),
        (["Q3", "Q1", "Q2"], ("Q1", "Q2", "Q3")),
        (["i", "v", "x"], None),
        (["low", "high"], None),
        (["A", "B", "C"], None),
        (["lot 1", "lot 2", "lot 3"], None),
        (["day 1", "week 1", "month 1"], None),
        (["Low", "low", "high"], None),
    ],
)
def test_orders_that_everyone_knows(levels: list[str], order: tuple[str, ...] | None) -> None:
    assert known_order(levels) == order


def test_an_order_that_was_guessed_can_be_taken_away() -> None:
    table = read("grade,x\nsevere,1.5\nmild,2.5\nmoderate,3.5\nmild,4.5\n")
    assert table.column("grade").ordered and table.column("grade").levels == ("mild", "moderate", "severe")
    plain = after(table, {"step": "order", "column": "grade", "ordered": False}).column("grade")
    assert not plain.ordered and plain.levels == ("severe", "mild", "moderate")
    assert cells(table, "grade") == ["severe", "mild", "moderate", "mild"]


def test_a_workbook_holds_only_so_many_rows(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("echelle.tables.storage.writers._MOST_XLSX", 2)
    with pytest.raises(InputError, match="a workbook holds 2 rows"):
        rows_file(OLD, "xlsx")
