"""Remarks of the reader: each with its place and what undoes it; readings that a person overrules, in a process apart too."""

from __future__ import annotations

from pathlib import Path

import orjson
import pytest

from echelle.child_process import ChildLimits, run_child
from echelle.errors import InputError
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.read import Reading, read_bytes
from echelle.tables.reading.subprocess_reader import read_into
from echelle.tables.storage.arrow_store import unpack_column
from echelle.tables.table import Remark

LIMITS = ChildLimits(megabytes=4_000, seconds=60)
GRADES = ("mild", "severe", "moderate")
LEVELS = ["spilt" if i == 3 else f"{i},5" for i in range(32)]
UGLY = "\n".join(
    [
        "Report of May",
        "",
        "who;arm;level (mg/L);grade;plate",
        *(f"P-{i:02d};{'Low' if i % 2 else 'low'};{LEVELS[i]};{GRADES[i % 3]};{1 + i % 4}" for i in range(32)),
        "Total;;500,5;;",
        "",
    ]
)


def reading(**options: object) -> Reading:
    return read_bytes(UGLY.encode(), ReadingOptions.model_validate(options))


def remark(result: Reading, words: str) -> Remark:
    """The one remark with these words."""
    (entry,) = [remark for remark in result.remarks if words in remark.text]
    return entry


def test_each_remark_names_its_line_its_record_and_its_undo() -> None:
    result = reading()
    spilt = remark(result, "“spilt” stands among the numbers")
    assert (spilt.line, spilt.row, spilt.column) == (7, 4, "level")
    assert spilt.remedies[0].steps == ({"step": "kind", "column": "level", "kind": "category"},)
    near = remark(result, "differs from")
    assert near.column == "arm" and near.remedies[0].words == "Join them" and near.row in (1, 2)
    assert remark(result, "Above the heading").remedies[0].options == {"header_row": 1}
    assert remark(result, "Left out below the records, a total").remedies[0].options == {"tail": "keep"}
    assert remark(result, "plate: whole numbers").remedies[0].words == "They are amounts"
    assert remark(result, "grade is read as an order: mild, moderate, severe").remedies[0].words == "Undo"
    assert remark(result, "Units stand apart").remedies[0].steps[-1] == {
        "step": "rename", "column": "level", "to": "level (mg/L)",
    }  # fmt: skip
    texts = [entry.text for entry in result.remarks]
    lost, guessed = texts.index(spilt.text), texts.index(remark(result, "plate: whole numbers").text)
    assert lost < guessed, "what drops a value comes before a guess that leaves it"


@pytest.mark.parametrize(
    ("options", "rows", "first"),
    [
        ({}, 32, "who"),
        ({"header_row": 1}, 33, "Report of May"),
        ({"tail": "keep"}, 33, "who"),
        ({"header_row": 0}, 34, "group"),
    ],
)
def test_a_person_overrules_where_the_table_is(options: dict[str, object], rows: int, first: str) -> None:
    result = reading(**options)
    assert result.table.rows == rows and result.table.columns[0].name == first


def test_a_reading_apart_is_the_same_reading(tmp_path: Path) -> None:
    (tmp_path / "file").write_bytes(UGLY.encode())
    file = tmp_path / "file"
    run_child(read_into, tmp_path, (file, {"tail": "keep"}), LIMITS)
    meta, here = orjson.loads((tmp_path / "meta.json").read_bytes()), reading(tail="keep")
    assert meta["rows"] == 33 and meta["options"]["header_row"] == 3
    assert [r["text"] for r in meta["remarks"]] == [r.text for r in here.remarks]
    for place, column in enumerate(here.table.columns):
        stored = unpack_column((tmp_path / f"{place}.arrow").read_bytes())
        assert (stored.name, stored.kind, stored.unit, stored.levels, stored.absent) == (
            column.name, column.kind, column.unit, column.levels, column.absent,
        )  # fmt: skip
    with pytest.raises(InputError) as fault:
        run_child(read_into, tmp_path, (file, {"header_row": 77}), LIMITS)
    assert fault.value.remedy


def test_long_columns_of_codes_are_told_without_looking_each_up() -> None:
    text = "sample,level\n" + "".join(f"S{i:06d},{i % 97}.5\n" for i in range(60_000))
    column = read_bytes(text.encode()).table.columns[0]
    assert (column.kind, column.each_once, column.distinct, len(column.levels)) == ("identifier", True, 60_000, 60_000)
    twice = read_bytes((text + "S000001,1.5\n").encode()).table.columns[0]
    assert not twice.each_once and twice.distinct == 60_000
