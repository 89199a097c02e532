"""What each step of a preparation does to cells, row ids and counts."""

from __future__ import annotations

import math

import pytest

from echelle.errors import InputError
from tests.support.steps import Record, after, cells, ids, read, ref, replayed

SAMPLES = read(
    "who,ward,plate,shift,taken,level (nmol/L)\n"
    "P-1,Harbour,1,Day,2026-01-05,10.5\n"
    "P-1,Harbour,1,day,2026-01-06,12.5\n"
    "P-2,Ridge,1,Night,2026-02-07,<0.4\n"
    "P-2,Ridge,2,Night,2026-02-08,QNS\n"
    "P-3,Ridge,2,,2026-03-09,20\n"
)


def test_names_units_labels_and_levels() -> None:
    table = after(
        SAMPLES,
        {"step": "rename", "column": "level (nmol/L)", "to": "cortisol"},
        {"step": "unit", "column": "cortisol", "unit": "nM"},
        {"step": "join levels", "column": "shift", "levels": ["day"], "into": "Day"},
        {"step": "labels", "column": "shift", "labels": {"Night": "Nacht"}},
        {"step": "order", "column": "shift", "levels": ["Nacht", "Day"]},
    )
    assert table.column("cortisol (nM)").unit == "nM"
    shift = table.column("shift")
    assert shift.ordered and shift.levels == ("Nacht", "Day") and shift.missing == 1
    assert cells(table, "shift") == ["Day", "Day", "Nacht", "Nacht", None]


def test_kinds_go_there_and_back() -> None:
    plate = after(SAMPLES, {"step": "kind", "column": "plate", "kind": "category"}).column("plate")
    assert plate.kind == "category" and plate.levels == ("1", "2")
    again = after(
        SAMPLES,
        {"step": "kind", "column": "plate", "kind": "category"},
        {"step": "kind", "column": "plate", "kind": "measure"},
    ).column("plate")
    assert again.numbers is not None and again.numbers.tolist() == [1, 1, 1, 2, 2]
    dates = read("taken,level\n01/02/2026,1.5\n03/04/2026,2.5\n")
    month_first = after(dates, {"step": "kind", "column": "taken", "kind": "date", "dates": "month first"})
    assert cells(month_first, "taken") == ["2026-01-02", "2026-03-04"]


def test_marks_as_missing_keep_their_name() -> None:
    table = after(read("a,level\nx,1.5\ny,999\nz,\n"), {"step": "missing", "column": "level", "marks": ["999"]})
    assert table.column("level").absent == {"999": 1, "": 1}
    words = after(SAMPLES, {"step": "missing", "column": None, "marks": ["Night"]}).column("shift")
    assert words.absent == {"": 1, "Night": 2} and words.levels == ("Day", "day")


@pytest.mark.parametrize(
    ("below", "number", "absent"),
    [("limit", 0.4, {"QNS": 1}), ("half", 0.2, {"QNS": 1}), ("limit/√2", 0.4 / math.sqrt(2), {"QNS": 1}),
     ("left out", None, {"QNS": 1, "<0.4": 1})],
)  # fmt: skip
def test_stand_ins_for_limits(below: str, number: float | None, absent: dict[str, int]) -> None:
    column = after(SAMPLES, {"step": "stand-in", "column": "level", "below": below}).column("level")
    assert column.numbers is not None and column.censored == 0 and column.absent == absent
    assert math.isnan(column.numbers[2]) if number is None else column.numbers[2] == pytest.approx(number, rel=1e-15)


def test_units_are_converted_limits_too_and_by_a_unit_column() -> None:
    column = after(SAMPLES, {"step": "convert", "column": "level", "factor": 2.0, "to": "ng/mL"}).column("level")
    assert column.unit == "ng/mL" and column.texts.to_list() == ["21", "25", "<0.8", "QNS", "40"]
    mixed = read("u,level\nmg,1500\ng,2\nkg,3\n")
    by_unit = after(
        mixed, {"step": "convert", "column": "level", "to": "g", "by": "u", "factors": {"mg": 0.001, "g": 1.0}}
    ).column("level")
    assert by_unit.texts.to_list() == ["1.5", "2", "3"] and by_unit.missing == 1


@pytest.mark.parametrize(
    ("where", "rows"),
    [
        ({"column": "ward", "is": ["Ridge"]}, ["3", "4", "5"]),
        ({"column": "shift", "is_not": ["Night"]}, ["1", "2"]),
        ({"column": "level", "from": 12.5}, ["2", "5"]),
        ({"column": "level", "above": 12.5}, ["5"]),
        ({"column": "level", "missing": False}, ["1", "2", "3", "5"]),
        ({"column": "taken", "to": "2026-02-07"}, ["1", "2", "3"]),
        ({"column": "level", "is": ["20.0"]}, ["5"]),
        ({"any": [{"column": "shift", "missing": True}, {"all": [{"column": "ward", "is": ["Harbour"]},
                                                                   {"column": "level", "below": 11}]}]}, ["1", "5"]),
    ],
)  # fmt: skip
def test_rows_are_kept_by_conditions(where: Record, rows: list[str]) -> None:
    assert ids(after(SAMPLES, {"step": "keep", "where": where})) == rows


def test_a_left_out_row_stays_in_sight_and_counts_nowhere() -> None:
    answer = replayed(
        SAMPLES,
        {"step": "leave out", "rows": [{"row": 5, "reason": "slip of the pen"}]},
        {"step": "relative", "column": "level", "to": "share", "how": "ratio to mean", "within": []},
    )
    assert [result.rows for result in answer.results] == [4, 4] and answer.table.rows == 5
    assert answer.table.column("share").numbers.tolist()[:2] == pytest.approx([10.5 / 11.5, 12.5 / 11.5])


def test_wide_to_long_and_back_keeps_every_cell_and_names_its_source() -> None:
    wide = read("ward,Lot A (s),Lot B (s)\nx,1.5,2.5\ny,3.5,\nz,,4.5\n")
    long = after(wide, {"step": "wide to long", "columns": ["Lot A", "Lot B"], "names": "lot", "values": "time"})
    assert ids(long) == ["1 · Lot A", "1 · Lot B", "2 · Lot A", "2 · Lot B", "3 · Lot A", "3 · Lot B"]
    assert cells(long, "time") == ["1.5", "2.5", "3.5", None, None, "4.5"] and long.column("time").unit == "s"
    back = after(
        wide,
        {"step": "wide to long", "columns": ["Lot A", "Lot B"], "names": "lot", "values": "time"},
        {"step": "long to wide", "names": "lot", "values": "time", "by": ["ward"]},
    )
    assert [cells(back, name) for name in ("ward", "Lot A", "Lot B")] == [
        cells(wide, name) for name in ("ward", "Lot A", "Lot B")
    ]


def test_padding_below_a_shorter_column_gives_no_rows() -> None:
    wide = read("Lot A,Lot B\n1.5,2.5\n3.5,4.5\n,5.5\n")
    long = after(wide, {"step": "wide to long", "columns": ["Lot A", "Lot B"], "names": "lot", "values": "time"})
    assert long.rows == 5 and long.column("time").missing == 0


def test_an_appended_table_says_where_its_rows_come_from() -> None:
    more = read("who,level (nmol/L),note\nP-9,30.5,late\n")
    step = {"step": "append", "table": ref("more.csv"), "source": "file", "here": "first.csv"}
    table = after(SAMPLES, step, others={"more.csv": more})
    assert cells(table, "file") == ["first.csv"] * 5 + ["more.csv"]
    assert cells(table, "note") == [None] * 5 + ["late"] and ids(table)[-1] == "1 · more.csv"
    result = replayed(SAMPLES, step, others={"more.csv": read("who,level (mg/L)\nP-9,1.5\nP-8,2.5\n")})
    assert result.stopped is not None and "in mg/L there" in result.stopped.what


PEOPLE = read("id,age (years)\nP-1,40\nP-2,50\nP-7,60\n")
JOIN = {"step": "join", "table": ref("people"), "keys": [{"here": "who", "there": "id"}]}


def test_a_join_keeps_every_row_and_says_what_matched() -> None:
    result = replayed(SAMPLES, JOIN, others={"people": PEOPLE})
    assert cells(result.table, "age") == ["40", "40", "50", "50", None] and ids(result.table) == list("12345")
    assert result.results[0].note == "4 rows matched, 1 did not; 1 row there unused"


def test_a_join_never_multiplies_rows_unasked() -> None:
    twice = read("id,age (years)\nP-1,40\nP-1,41\nP-2,50\n")
    result = replayed(SAMPLES, JOIN, others={"people": twice})
    assert result.stopped is not None and "P-1 matches 2 rows" in result.stopped.what and result.table.rows == 5
    asked = after(SAMPLES, {**JOIN, "multiply": True}, others={"people": twice})
    assert ids(asked) == ["1", "1 · match 2", "2", "2 · match 2", "3", "4", "5"]
    assert cells(asked, "age")[:4] == ["40", "41", "40", "41"]


@pytest.mark.parametrize(("how", "first"), [("mean", "11.5"), ("median", "11.5"), ("first", "10.5"), ("count", "2")])
def test_repeats_are_combined_and_keep_the_list_of_their_rows(how: str, first: str) -> None:
    table = after(SAMPLES, {"step": "combine", "by": ["who"], "how": how})
    assert table.rows == 3 and cells(table, "level")[0] == first
    assert cells(table, "ward") == ["Harbour", "Ridge", "Ridge"]
    # The days of P-1 differ: the first one may stay where it was asked for, no value stands for both.
    assert cells(table, "taken")[0] == ("2026-01-05" if how == "first" else None)
    assert table.row_ids.list_of(1).tolist() == [3, 4]


def test_a_group_of_rows_is_left_out_for_a_reason_that_the_account_says() -> None:
    where = {"column": "ward", "is": ["Ridge"]}
    table = after(SAMPLES, {"step": "leave out where", "where": where, "reason": "never randomised"})
    kept = after(SAMPLES, {"step": "keep", "where": {"column": "ward", "is_not": ["Ridge"]}})
    assert ids(table) == ids(kept) == ["1", "2"]
    [change] = table.prepared
    assert (change.before, change.after, change.leaves_out) == (5, 2, True) and change.step.endswith(": never randomised")


def test_leaving_out_one_of_several_combined_rows_leaves_out_their_row() -> None:
    result = replayed(
        SAMPLES, {"step": "combine", "by": ["who"]}, {"step": "leave out", "rows": [{"row": 4, "reason": "spilt"}]}
    )
    assert result.table.left_out is not None and result.table.left_out.tolist() == [False, True, False]


@pytest.mark.parametrize(
    ("more", "expected"),
    [
        ({}, ["10 to below 20", "10 to below 20", None, None, "20 or above"]),
        ({"closed": "right"}, ["above 10 to 20", "above 10 to 20", None, None, "above 10 to 20"]),
        ({"open_high": False, "open_low": False}, ["10 to below 20", "10 to below 20", None, None, "10 to below 20"]),
        ({"names": ["low", "mid", "high"]}, ["mid", "mid", None, None, "high"]),
    ],
)
def test_a_number_is_cut_into_intervals(more: Record, expected: list[str | None]) -> None:
    table = after(SAMPLES, {"step": "intervals", "column": "level", "to": "class", "edges": [10, 20], **more})
    assert cells(table, "class") == expected and table.column("class").ordered


def test_parts_of_dates_are_ordered_categories() -> None:
    table = after(
        SAMPLES,
        {"step": "date part", "column": "taken", "part": "month", "to": "month"},
        {"step": "date part", "column": "taken", "part": "weekday", "to": "day"},
        {"step": "date part", "column": "taken", "part": "year", "to": "year"},
    )
    assert table.column("month").levels == ("January", "February", "March")
    assert table.column("day").levels == ("Monday", "Tuesday", "Saturday", "Sunday")
    assert table.column("year").levels == ("2026",)


@pytest.mark.parametrize(
    ("how", "expected"),
    [
        ("ratio to mean", [10.5 / 11.5, 12.5 / 11.5, math.nan, math.nan, math.nan]),
        ("change", [-1.0, 1.0, math.nan, math.nan, math.nan]),
        ("z-score", [-1 / math.sqrt(2), 1 / math.sqrt(2), math.nan, math.nan, math.nan]),
    ],
)
def test_values_relative_to_the_reference_rows_of_their_own_group(how: str, expected: list[float]) -> None:
    step = {
        "step": "relative", "column": "level", "to": "relative", "how": how, "within": ["plate"],
        "reference": {"column": "ward", "is": ["Harbour"]},
    }  # fmt: skip
    result = after(SAMPLES, step).column("relative").numbers
    assert result is not None and result.tolist() == pytest.approx(expected, nan_ok=True)


@pytest.mark.parametrize(
    ("step", "says"),
    [
        ({"step": "rename", "column": "leve", "to": "x"}, "Nearest: “level”"),
        ({"step": "rename", "column": "level", "to": "ward"}, "already"),
        ({"step": "kind", "column": "ward", "kind": "measure"}, "no cell of “ward” is a number"),
        ({"step": "kind", "column": "ward", "kind": "date"}, "does not read as dates"),
        ({"step": "join levels", "column": "ward", "levels": ["Habour"], "into": "x"}, "no level “Habour”"),
        ({"step": "labels", "column": "ward", "labels": {"Ridge": "Harbour"}}, "join levels"),
        ({"step": "order", "column": "level", "levels": ["1"]}, "Make it a category first"),
        ({"step": "convert", "column": "level", "to": "g", "factor": 0.0}, "above zero"),
        ({"step": "keep", "where": {"column": "ward", "from": 1}}, "has no range"),
        ({"step": "leave out", "rows": [{"row": 77, "reason": "x"}]}, "row 77 is not in the table"),
        ({"step": "intervals", "column": "level", "to": "c", "edges": [2, 1]}, "do not rise"),
        ({"step": "date part", "column": "ward", "part": "year", "to": "y"}, "not a date"),
        ({"step": "long to wide", "names": "ward", "values": "level", "by": ["plate"]}, "has 2 values for"),
        ({"step": "wide to long", "columns": ["ward", "level"], "names": "n", "values": "v"}, "Choose columns of one kind"),
    ],
)
def test_a_step_that_does_not_fit_stops_there_and_nothing_else_is_lost(step: Record, says: str) -> None:
    before, behind = ({"step": "unit", "column": "level", "unit": unit} for unit in ("mg", "g"))
    result = replayed(SAMPLES, before, step, behind)
    assert result.stopped is not None and says in result.stopped.sentence(), result.stopped and result.stopped.sentence()
    assert len(result.results) == 1 and result.table.column("level").unit == "mg"
    with pytest.raises(InputError) as caught:
        after(SAMPLES, step)
    assert caught.value.where.startswith("preparation, step 1")


def test_a_step_switched_off_changes_nothing() -> None:
    result = replayed(SAMPLES, {"step": "keep", "on": False, "where": {"column": "ward", "is": ["Ridge"]}})
    assert result.table is SAMPLES and result.results[0].note == "switched off"


def test_lists_of_combined_rows_survive_what_comes_after() -> None:
    both = read("who,am,pm\nx,1.5,2.5\nx,3.5,4.5\ny,5.5,6.5\n")
    entry, long = {"step": "combine", "by": ["who"]}, {
        "step": "wide to long", "columns": ["am", "pm", "am"], "names": "time", "values": "level",
    }  # fmt: skip
    table = after(both, entry, long)
    assert ids(table) == ["1 · am", "1 · pm", "3 · am", "3 · pm"]
    assert [table.row_ids.list_of(i).tolist() for i in range(4)] == [[1, 2], [1, 2], [3], [3]]
    more = {"step": "append", "table": ref("more"), "source": "file"}
    table = after(both, entry, more, others={"more": read("who,am,pm\nz,7.5,8.5\nw,7.5,8.5\n")})
    assert [len(table.row_ids.list_of(i)) for i in range(4)] == [2, 1, 1, 1]
    assert ids(table)[2:] == ["1 · more", "2 · more"]
    out = after(both, entry, long, {"step": "leave out", "rows": [{"row": 3, "part": "pm", "reason": "x"}]})
    assert out.left_out is not None and out.left_out.tolist() == [False, False, False, True]
    out = after(both, entry, long, {"step": "leave out", "rows": [{"row": 2, "reason": "x"}]})
    assert out.left_out is not None and out.left_out.tolist() == [True, True, False, False]
    assert replayed(both, {**long, "values": "time"}).stopped is not None


NONE_LEFT: Record = {"step": "keep", "where": {"column": "group", "is": ["nobody"]}}
STEPS_OF_ALL_KINDS: list[Record] = [
    {"step": "rename", "column": "group", "to": "arm"},
    {"step": "kind", "column": "id", "kind": "category"},
    {"step": "unit", "column": "level", "unit": "mmol/L"},
    {"step": "missing", "column": "level", "marks": ["2.5"]},
    {"step": "stand-in", "column": "level", "below": "half"},
    {"step": "convert", "column": "level", "to": "g/L", "factor": 2.0},
    {"step": "wide to long", "columns": ["v1", "v2"], "names": "visit", "values": "amount"},
    {"step": "long to wide", "names": "group", "values": "level", "by": ["id"]},
    *({"step": "combine", "by": ["id", "group"], "how": how} for how in ("mean", "median", "sum", "first", "count")),
    {"step": "repeat", "times": "n"},
    {"step": "leave out where", "where": {"column": "group", "is": ["a"]}, "reason": "never randomised"},
    {"step": "intervals", "column": "level", "to": "band", "edges": [1.0, 3.0]},
    {"step": "date part", "column": "day", "part": "month", "to": "month"},
    {"step": "derive", "to": "twice", "formula": "2 * level"},
    *({"step": "relative", "column": "level", "to": "own", "how": how, "within": ["id"]} for how in ("change", "z-score")),
]


@pytest.mark.parametrize("step", STEPS_OF_ALL_KINDS, ids=str)
def test_every_step_takes_a_table_of_which_no_row_is_left(step: Record) -> None:
    table = read(
        "id,group,level,v1,v2,day,n\nP1,a,2.5,1.5,2.5,2026-01-03,2\n"
        "P2,b,<0.4,3.5,4.5,2026-02-04,1\nP1,b,7.5,5.5,1.0,2026-02-05,0\n"
    )
    assert after(table, step).in_use > 0
    prepared = replayed(table, NONE_LEFT, step)
    assert prepared.table.in_use == 0
    # A step may say that nothing is left to work on; it is never lost in a fault.
    assert prepared.stopped is None or prepared.stopped.remedy
