"""Preparations as a whole: row ids cached and fresh, left-out rows in newer files, remedies of the reader."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.errors import InputError
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.read import read_bytes
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.left_out import LeftOut, entry_for
from echelle.tables.steps.prepare import apply, prepare
from echelle.tables.table import Table
from tests.support.corpus import FILES
from tests.support.pollutions import POLLUTIONS
from tests.support.steps import Record, after, cells, ids, read, ref, replayed

PEOPLE = read("who,age\n" + "".join(f"P-{i},{20 + i}\n" for i in range(6)))
STEPS: list[Record] = [
    {"step": "keep", "where": {"column": "day", "is": ["1"]}},
    {"step": "keep", "where": {"column": "who", "is_not": ["P-1"]}},
    {"step": "wide to long", "columns": ["morning", "noon"], "names": "time", "values": "level"},
    {"step": "join", "table": ref("people"), "keys": [{"here": "who", "there": "who"}]},
    {"step": "combine", "by": ["who", "day"], "how": "mean"},
    {"step": "combine", "by": ["who"], "how": "first"},
    {"step": "leave out", "rows": [{"row": 2, "reason": "slip"}]},
    {"step": "leave out", "rows": [{"row": 3, "part": "noon", "reason": "spilt"}]},
    {"step": "append", "table": ref("people"), "source": "file"},
]


@st.composite
def raw_tables(draw: st.DrawFn) -> Table:
    """A wide table of a few people and days, with holes."""
    cell = st.one_of(st.floats(0.5, 99).map(lambda x: f"{x:.2f}"), st.sampled_from(["", "ND", "<0.5"]))
    rows = draw(st.lists(st.tuples(st.integers(0, 5), st.integers(1, 2), cell, cell), min_size=3, max_size=12))
    lines = [f"P-{who},{day},{morning},{noon}" for who, day, morning, noon in rows]
    table = read("who,day,morning,noon\n" + "\n".join([*lines, "P-0,1,1.5,2.5", "P-1,2,3.5,4.5"]) + "\n")
    return after(table, {"step": "kind", "column": "day", "kind": "category"})


@given(raw_tables(), st.lists(st.sampled_from(STEPS), max_size=5))
def test_a_step_over_what_was_kept_equals_a_fresh_replay(raw: Table, records: list[Record]) -> None:
    steps = steps_from(records)

    def people(_: object) -> Table:
        return PEOPLE

    fresh = prepare(raw, steps, people)
    kept = raw
    for step in steps[: len(fresh.results)]:
        kept = apply(kept, step, people)[0]
    assert ids(kept) == ids(fresh.table) and len(set(ids(kept))) == kept.rows
    assert [c.name for c in kept.columns] == [c.name for c in fresh.table.columns]
    for column in kept.columns:
        other = fresh.table.column(column.name)
        assert cells(kept, column.name) == cells(fresh.table, other.name) and column.absent == other.absent
    left = [None if t.left_out is None else t.left_out.tolist() for t in (kept, fresh.table)]
    assert left[0] == left[1]
    for place in range(kept.rows):
        assert kept.row_ids.list_of(place).tolist() == fresh.table.row_ids.list_of(place).tolist()


def export(rows: list[tuple[str, str, str]], names: tuple[str, ...] = ("sample", "ward", "level")) -> Table:
    """A file with those records."""
    return read(",".join(names) + "\n" + "".join(",".join(row) + "\n" for row in rows))


RECORDS = st.lists(
    st.tuples(*map(st.sampled_from, (["S-1", "S-2", "S-3"], ["north", "south"], ["1.5", "2.5", "9.5"]))),
    min_size=4,
    max_size=10,
)


@given(RECORDS, RECORDS, st.integers(0, 3), st.randoms(use_true_random=False))
def test_in_a_shuffled_and_longer_export_the_same_record_is_left_out_or_none(
    rows: list[tuple[str, str, str]], more: list[tuple[str, str, str]], chosen: int, chance: random.Random
) -> None:
    old = export([*rows, ("S-9", "north", "3.5")])
    record = rows[chosen]
    step = {"step": "leave out", "rows": [entry_for(old, chosen, "slip", "someone").model_dump(mode="json")]}
    newer = [*rows, *more, ("S-9", "north", "3.5"), ("S-8", "south", "4.5")]
    chance.shuffle(newer)
    result = replayed(export(newer), step)
    if newer.count(record) == 1:
        assert result.table.left_out is not None
        assert [newer[i] for i in np.flatnonzero(result.table.left_out)] == [record]
    else:
        assert result.stopped is not None and f"stands {newer.count(record)} times" in result.stopped.what
    gone = replayed(export([row for row in newer if row != record]), step)
    assert gone.stopped is not None and "is not in the newer file" in gone.stopped.what


def test_an_identifier_finds_a_record_whose_value_was_corrected() -> None:
    names = ("barcode", "ward", "level")
    old = export([(f"B-{i}", "north", f"{i}.5") for i in range(1, 6)], names)
    entry = entry_for(old, 2, "spilt", "someone")
    assert entry.identifier is not None and entry.identifier.value == "B-3"
    newer = export([("B-7", "north", "7.5"), ("B-3", "north", "33.5"), ("B-1", "north", "1.5")], names)
    assert after(newer, {"step": "leave out", "rows": [entry.model_dump(mode="json")]}).left_out.tolist() == [
        False,
        True,
        False,
    ]
    # A column that moved or came along changes nothing for the fingerprint of another table.
    wider = read("ward,level,who,new\nnorth,3.5,a,1\nsouth,4.5,a,2\n")
    plain = entry_for(read("who,ward,level\na,north,3.5\na,south,4.5\n"), 1, "x", "y")
    assert left_out(wider, plain) == [False, True]


def left_out(table: Table, entry: LeftOut) -> list[bool]:
    """Which rows one entry leaves out."""
    mask = after(table, {"step": "leave out", "rows": [entry.model_dump(mode="json")]}).left_out
    return [] if mask is None else mask.tolist()


def remedies() -> list[tuple[str, bytes, dict[str, Any], tuple[Record, ...]]]:
    """Every remedy that the reader offers over the corpus and the polluted files."""
    result = []
    files = [(ugly.name, ugly.bytes()) for ugly in FILES] + [(pollution.name, pollution.data) for pollution in POLLUTIONS]
    for name, data in files:
        try:
            reading = read_bytes(data)
        except InputError:
            continue
        for remark in reading.remarks:
            for remedy in remark.remedies:
                result.append((f"{name}: {remedy.words}", data, remedy.options, remedy.steps))
    return result


REMEDIES = remedies()


def test_the_reader_offers_remedies_of_many_kinds() -> None:
    assert len({name.partition(": ")[2] for name, *_ in REMEDIES}) >= 8


@pytest.mark.parametrize(("data", "options", "steps"), [entry[1:] for entry in REMEDIES], ids=[entry[0] for entry in REMEDIES])
def test_every_remedy_can_be_taken(data: bytes, options: dict[str, Any], steps: tuple[Record, ...]) -> None:
    before = read_bytes(data)
    try:
        table = read_bytes(data, ReadingOptions(**options)).table
    except InputError as refused:
        assert "no rows below the header" in refused.what and "sheet" in options
        return
    result = prepare(table, steps_from(list(steps)), lambda ref: read_bytes(data, ref.options).table)
    assert result.stopped is None
    assert content(result.table) != content(before.table)


def content(table: Table) -> list[object]:
    """All that a table says."""
    return [
        (c.name, c.kind, c.unit, c.ordered, c.texts.to_list(), c.absent, None if c.numbers is None else c.numbers.tolist())
        for c in table.columns
    ]
