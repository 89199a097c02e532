"""Joins and appends: keys of several columns, missing keys, names that clash, ids that stay apart."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.errors import InputError
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.joining import KeyPair, key_overlap
from echelle.tables.table import Table
from tests.support.steps import after, cells, ids, read, ref, replayed

PLATES = read("plate,day,control (AU)\n1,mon,10.5\n1,tue,11.5\n2,mon,20.5\n")
WELLS = read("plate,day,signal\n1,mon,1.5\n1,tue,2.5\n2,mon,3.5\n2,tue,4.5\n,mon,5.5\n")


def join(*keys: tuple[str, str], name: str = "plates", **more: Any) -> dict[str, Any]:
    pairs = [{"here": here, "there": there} for here, there in keys]
    return {"step": "join", "table": {**ref(name), **more.pop("table", {})}, "keys": pairs, **more}


def test_several_keys_must_all_agree_and_missing_ones_match_nothing() -> None:
    result = after(WELLS, join(("plate", "plate"), ("day", "day")), others={"plates": PLATES})
    assert cells(result, "control") == ["10.5", "11.5", "20.5", None, None] and result.column("control").unit == "AU"
    blanks = read("plate,day,control\n,mon,9\n1,mon,8\n")
    result = after(WELLS, join(("plate", "plate"), ("day", "day")), others={"plates": blanks})
    assert cells(result, "control")[4] is None


def test_the_overlap_counts_both_sides_and_gives_examples() -> None:
    keys = [KeyPair(here="plate", there="plate"), KeyPair(here="day", there="day")]
    extra = read("plate,day,control\n1,mon,1\n9,sun,2\n9,sun,3\n")
    result = key_overlap(WELLS, extra, keys)
    assert (result.matched, result.unmatched, result.unused, result.most) == (1, 4, 2, 2)
    assert result.unmatched_first == ("1 · tue", "2 · mon", "2 · tue") and result.unused_first == ("9 · sun",)


def test_columns_of_one_name_are_told_apart() -> None:
    again = read("plate,day,signal\n1,mon,7.5\n1,tue,8.5\n")
    result = after(WELLS, join(("plate", "plate"), ("day", "day"), name="second"), others={"second": again})
    assert [column.name for column in result.columns] == ["plate", "day", "signal", "signal (second)"]
    assert cells(result, "signal (second)")[:2] == ["7.5", "8.5"]


def test_the_other_table_comes_prepared() -> None:
    kept = {"step": "keep", "where": {"column": "day", "is": ["mon"]}}
    step = join(("plate", "plate"), table={"prepare": [kept]})
    result = replayed(WELLS, step, others={"plates": PLATES})
    assert result.stopped is None and cells(result.table, "control") == ["10.5", "10.5", "20.5", "20.5", None]
    unprepared = replayed(WELLS, join(("plate", "plate")), others={"plates": PLATES})
    assert unprepared.stopped is not None and "would multiply" in unprepared.stopped.what
    broken = join(("plate", "plate"), table={"prepare": [{**kept, "where": {"column": "dya", "is": ["mon"]}}]})
    stopped = replayed(WELLS, broken, others={"plates": PLATES}).stopped
    assert stopped is not None and stopped.where.startswith("preparation, step 1")


def test_left_out_rows_of_the_other_table_bring_nothing() -> None:
    step = join(
        ("plate", "plate"), ("day", "day"), table={"prepare": [{"step": "leave out", "rows": [{"row": 1, "reason": "x"}]}]}
    )
    assert cells(after(WELLS, step, others={"plates": PLATES}), "control")[0] is None


KEYS = st.lists(st.sampled_from(["a", "b", "c", ""]), min_size=1, max_size=8)


@given(KEYS, KEYS)
def test_a_join_is_what_a_dictionary_of_lists_says(here: list[str], there: list[str]) -> None:
    left = table_of(here, "n")
    right = table_of(there, "m")
    step = join(("key", "key"), name="right", multiply=True)
    result = after(left, step, others={"right": right})
    expected = []
    for row, key in enumerate(here):
        matches = [f"{i}.5" for i, other in enumerate(there) if key and other == key] or [None]
        expected += [(f"{row}.5", match) for match in matches]
    assert list(zip(cells(result, "n"), cells(result, "m"), strict=True)) == expected
    assert len(set(ids(result))) == result.rows


def table_of(keys: list[str], name: str) -> Table:
    """A row for each key, and two more that make the kinds plain."""
    rows = "".join(f"{key},{i}.5,x\n" for i, key in enumerate(keys))
    table = read(f"key,{name},w\n{rows}zz,77.5,x\nyy,78.5,y\n")
    return after(table, {"step": "keep", "where": {"column": name, "below": 70}})


def test_appending_three_tables_keeps_every_row_apart() -> None:
    parts = {f"lot {i}": read(f"run,time (s)\na,{i}.5\nb,{i}.75\n") for i in (2, 3)}
    first = read("run,time (s)\na,1.5\nb,1.75\n")
    steps = [{"step": "append", "table": ref(name), "source": "lot", "here": "lot 1"} for name in parts]
    result = after(first, *steps, others=parts)
    assert cells(result, "lot") == ["lot 1", "lot 1", "lot 2", "lot 2", "lot 3", "lot 3"]
    assert cells(result, "time") == ["1.5", "1.75", "2.5", "2.75", "3.5", "3.75"]
    assert ids(result) == ["1", "2", "1 · lot 2", "2 · lot 2", "1 · lot 3", "2 · lot 3"]
    out = after(result, {"step": "leave out", "rows": [{"row": 2, "part": "lot 3", "reason": "bubble"}]})
    assert out.left_out is not None and out.left_out.tolist() == [False] * 5 + [True]


def test_wide_to_long_over_appended_rows_names_both() -> None:
    first, second = read("who,am,pm\nx,1.5,2.5\n y,3.5,4.5\n"), read("who,am,pm\nz,5.5,6.5\nw,7.5,8.5\n")
    long = {"step": "wide to long", "columns": ["am", "pm"], "names": "time", "values": "level"}
    result = after(
        first, {"step": "append", "table": ref("two"), "source": "file", "here": "one"}, long, others={"two": second}
    )
    assert ids(result)[:2] == ["1 · am", "1 · pm"] and ids(result)[-1] == "2 · two · pm" and result.rows == 8
    assert cells(result, "level")[-2:] == ["7.5", "8.5"] and len(set(ids(result))) == 8


@pytest.mark.parametrize(
    ("records", "path"),
    [
        ([{"step": "keep"}], "$[0].where"),
        ([{"step": "keep", "where": {"column": "a"}}], "$[0].where"),
        ([{"step": "rename", "column": "a", "to": "b", "from": "c"}], "$[0].from"),
        ([{"step": "mend"}], "$[0]"),
        ([{"step": "rename", "column": "a", "to": ""}], "$[0].to"),
        (
            [{"step": "join", "table": {"name": "x", "sha256": "short"}, "keys": [{"here": "a", "there": "b"}]}],
            "$[0].table.sha256",
        ),
    ],
)
def test_a_faulty_record_is_named_by_its_path(records: list[Any], path: str) -> None:
    with pytest.raises(InputError) as caught:
        steps_from(records, "steps.json")
    assert caught.value.where.startswith(f"steps.json {path}")
