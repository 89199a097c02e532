"""One pollution at a time: each file is read as the clean table, or a remark names what is other than it."""

from __future__ import annotations

import numpy as np
import pytest

from echelle.tables.reading.read import Reading, read_bytes
from echelle.tables.table import Mark
from tests.support.pollutions import CLEAN, HEADING, POLLUTIONS, ROWS, Pollution

NAMES = ["code", "arm", "taken", "level", "cells"]


def values(reading: Reading) -> list[list[object]]:
    """What every column holds: numbers of measures, else texts."""
    return [
        [None if np.isnan(number) else number for number in column.numbers.tolist()]
        if column.numbers is not None
        else column.texts.to_list()
        for column in reading.table.columns
    ]


CLEAN_VALUES = [
    [row[0] for row in ROWS], [row[1] for row in ROWS], [row[2] for row in ROWS],
    [float(row[3]) for row in ROWS], [float(row[4]) for row in ROWS],
]  # fmt: skip


def test_there_are_a_hundred() -> None:
    assert len(POLLUTIONS) >= 100 and len({pollution.name for pollution in POLLUTIONS}) == len(POLLUTIONS)


def test_the_clean_table_needs_no_remark_but_on_its_unit() -> None:
    reading = read_bytes(CLEAN.encode())
    assert [column.heading for column in reading.table.columns] == HEADING and values(reading) == CLEAN_VALUES
    assert [column.kind for column in reading.table.columns] == ["identifier", "category", "date", "measure", "measure"]
    assert [remark.message for remark in reading.remarks] == ["read-units"]


@pytest.mark.parametrize("pollution", POLLUTIONS, ids=lambda pollution: pollution.name)
def test_a_polluted_file_is_read_as_the_clean_one_or_says_what_is_not(pollution: Pollution) -> None:
    reading = read_bytes(pollution.data)
    said = " ".join(remark.text for remark in reading.remarks)
    assert pollution.said in said, said
    if pollution.rows == len(ROWS) and pollution.columns == len(HEADING):
        assert values(reading) == CLEAN_VALUES, said
    assert reading.table.rows == len(ROWS)
    held = {"read-units", "read-marks", "read-spaces"}
    if not pollution.said and pollution.rows == len(ROWS):
        assert {remark.message for remark in reading.remarks} <= held, said


@pytest.mark.parametrize("pollution", POLLUTIONS, ids=lambda pollution: pollution.name)
def test_filled_cells_are_values_or_named(pollution: Pollution) -> None:
    reading = read_bytes(pollution.data)
    assert not [remark.text for remark in reading.remarks if remark.message == "read-unaccounted"]
    for column in reading.table.columns:
        there = column.present if column.marks is None else column.marks != Mark.MISSING
        named = sum(remark.cells for remark in reading.remarks if remark.column == column.name)
        assert column.filled is not None and int(there.sum()) <= column.filled <= int(there.sum()) + named
