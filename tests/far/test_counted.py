"""Counted part by part, or read as one file: the same numbers and the same shapes."""

from __future__ import annotations

import io
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from echelle.bundles.models import Contents, RawData
from echelle.bundles.reader import open_bundle, rows_of
from echelle.bundles.writer import bundle
from echelle.command_line.rows import rows_for
from echelle.comparison.lane_differences import compare_lanes
from echelle.errors import InputError
from echelle.far.counted_file import counted_file, table_of_counted_file
from echelle.far.engine import counted_parts
from echelle.far.far_table import Counted, FarTable
from echelle.far.part_batches import pieces_of
from echelle.far.record import far_table_from, record_of
from echelle.far.rows import rows_at
from echelle.far.tally import merged_tallies
from echelle.figures.lanes.arrange import arrange
from echelle.recipes.differences import Differences
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.parse import recipe_from
from echelle.recipes.recipe import Recipe
from echelle.recipes.used_columns import columns_of
from echelle.render import scene_of
from echelle.scene.models import Scene
from echelle.tables.reading.read import read_bytes
from echelle.tables.reading.size_limits import ReadingLimits
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.prepare import TableOf, all_steps, no_tables
from echelle.tables.steps.registry import STEP_NAMES
from echelle.tables.table import PART_KEYS, Table
from tests.far.parts import MEASURE, log, write_parts

LOG = log(4_000)
ROWS_ONE_BY_ONE = ("in-order", "series", "probability", "stem")
COUNTED = [form for form in FORMS if form not in ROWS_ONE_BY_ONE]
BY_NAME = {"sorted": "alphabetical"}


def whole(frame: pl.DataFrame) -> Table:
    sink = io.BytesIO()
    frame.write_parquet(sink)
    return read_bytes(sink.getvalue()).table


def far(folder: Path, recipe: Recipe, steps: list[Any] | None = None, tables: TableOf = no_tables) -> Table:
    table = FarTable.at(str(folder))
    columns = columns_of(recipe) - set(recipe.measure.columns)
    questions = {name: table.question(name, columns, steps or [], tables) for name in recipe.measure.columns}
    return table.count(questions, partial(scene_of, recipe), left_out=recipe.left_out)


def asked(form: str, **more: Any) -> Recipe:
    recipe = recipe_of_form(form, MEASURE, "ward", more.pop("subgroups", None))  # type: ignore[arg-type]
    fields = recipe.model_dump(mode="json")
    fields["groups"] |= BY_NAME
    return recipe_from(fields | more, "test")


def shapes(scene: Scene) -> dict[str, Any]:
    """Everything computed of all values: readings, and the marks of lanes that do not stand for single rows."""
    drawn = [
        part.model_dump(mode="json") for part in _every(scene.parts) if part.lane and part.part in ("rect", "line", "path")
    ]
    assert drawn and scene.readings
    return {"readings": [_of_all(reading) for reading in scene.readings], "marks": drawn}


def _every(parts: Any) -> Any:
    for part in parts:
        yield part
        yield from _every(getattr(part, "parts", None) or ())


def _of_all(reading: Any) -> dict[str, Any]:
    fields = reading.model_dump(mode="json")
    return {name: value for name, value in fields.items() if name not in ("outliers", "outliers_cut", "people")}


@pytest.mark.parametrize("form", COUNTED)
def test_every_form_shows_the_numbers_and_shapes_of_the_rows(form: str, tmp_path: Path) -> None:
    recipe = asked(form)
    counted = scene_of(recipe, far(write_parts(LOG, tmp_path, [700, 701, 2_500]), recipe))
    assert shapes(counted) == shapes(scene_of(recipe, whole(LOG)))


@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.integers(1, 3_999), min_size=0, max_size=12, unique=True), st.sampled_from(["parquet", "csv"]))
def test_however_the_rows_are_parted(tmp_path_factory: pytest.TempPathFactory, cuts: list[int], kind: str) -> None:
    recipe = asked("violin", subgroups="sex")
    table = far(write_parts(LOG, tmp_path_factory.mktemp("parts"), cuts, kind), recipe)
    assert shapes(scene_of(recipe, table)) == shapes(scene_of(recipe, whole(LOG)))
    assert table.in_use == 4_000 and table.tally is not None and table.tally.parts == len(cuts) + 1


@settings(max_examples=8, deadline=None)
@given(st.lists(st.integers(1, 3_999), min_size=0, max_size=6, unique=True))
def test_examples_are_the_same_rows_whatever_batches_they_came_in(
    tmp_path_factory: pytest.TempPathFactory, cuts: list[int]
) -> None:
    """Of one file with row groups of any size: those with the smallest hashes, and the outermost values of each lane."""
    recipe = asked("strip")
    folders = [tmp_path_factory.mktemp("a"), tmp_path_factory.mktemp("b")]
    LOG.write_parquet(folders[0] / "log.parquet")
    LOG.write_parquet(folders[1] / "log.parquet", row_group_size=max([500, *cuts]))
    first, second = (far(folder, recipe).tally for folder in folders)
    assert first is not None and second is not None
    keys = first.examples.row_ids.keys
    assert np.array_equal(keys, second.examples.row_ids.keys) and len(set(keys.tolist())) == len(keys)
    assert first.examples.row_ids.written(int(keys[0])).endswith("log.parquet")
    values = LOG["potassium (mmol/l)"].to_list()
    numbers = first.examples.column(MEASURE).numbers
    assert numbers is not None
    for key, value in zip(keys.tolist(), numbers.tolist(), strict=True):
        there = values[key % (1 << 40) - 1]
        assert there == value or (there is None and np.isnan(value))
    for ward in ("Ward A", "Ward E"):
        here = LOG.filter(pl.col("ward") == ward)["potassium (mmol/l)"]
        drawn = numbers[np.array(first.examples.column("ward").texts.to_list()) == ward]
        assert np.nanmin(drawn) == here.min() and np.nanmax(drawn) == here.max()


def test_a_large_file_is_counted_in_pieces_by_several(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    recipe = asked("strip")
    LOG.write_parquet(tmp_path / "log.parquet", row_group_size=300)
    whole_file = far(tmp_path, recipe)
    monkeypatch.setattr("echelle.far.part_batches._BATCH", 500)
    pieces = pieces_of(FarTable.at(str(tmp_path)).manifest, [0], 2)
    assert len(pieces) > 4 and pieces[1].first == pieces[0].groups.stop * 300  # type: ignore[union-attr]
    parted = far(tmp_path, recipe)
    assert shapes(scene_of(recipe, parted)) == shapes(scene_of(recipe, whole_file))
    ids = [table.tally.examples.row_ids.keys.tolist() for table in (parted, whole_file)]  # type: ignore[union-attr]
    assert ids[0] == ids[1]


def test_few_examples_of_many_rows(tmp_path: Path) -> None:
    frame, recipe = log(30_000, 8), asked("strip")
    scene = scene_of(recipe, far(write_parts(frame, tmp_path, [9_000]), recipe))
    assert any("Of 29" in clause and "are drawn as what they are" in clause for clause in scene.note.split(". "))
    assert "some of the values" in scene.note and "every value" not in scene.note
    assert "30000 rows in 2 files" in scene.note


DIFFERENCES = [Differences(), Differences(to="all pairs", adjusted="Holm", margin=0.3)]


@pytest.mark.parametrize("differences", DIFFERENCES, ids=["reference", "all pairs"])
def test_comparisons_are_those_of_the_rows(differences: Differences, tmp_path: Path) -> None:
    recipe = asked("means", differences=differences.model_dump(mode="json"))
    tables = far(write_parts(LOG, tmp_path, [1_000]), recipe), whole(LOG)
    counted, read = (compare_lanes(arrange(recipe, table), differences).model_dump() for table in tables)
    assert counted == read


STEPS = [
    {"step": "keep", "where": {"column": "age", "from": 30}},
    {"step": "derive", "to": "twice", "formula": "potassium * 2"},
    {"step": "labels", "column": "ward", "labels": {"Ward A": "Intake"}},
    {"step": "intervals", "column": "age", "to": "decade", "edges": [40, 60]},
]


def test_steps_over_counts_are_those_over_rows(tmp_path: Path) -> None:
    steps = steps_from(STEPS)
    fields = recipe_of_form("box", "twice", "ward", "decade").model_dump(mode="json")
    fields["groups"] |= BY_NAME
    recipe = recipe_from(fields, "test")
    counted = far(write_parts(LOG, tmp_path, [1_000, 2_000]), recipe, steps)
    read = all_steps(whole(LOG), steps)
    assert shapes(scene_of(recipe, counted)) == shapes(scene_of(recipe, read))
    assert counted.in_use == read.in_use and [change.after for change in counted.prepared] == [read.in_use]


# Of each step that looks at one row alone an example; it may change what is measured, the levels, or which rows are there.
ROW_LOCAL: dict[str, dict[str, Any]] = {
    "keep": {"where": {"column": "age", "from": 30}},
    "leave out where": {"where": {"column": "potassium", "from": 5.0}, "reason": "haemolysed"},
    "rename": {"column": "ward", "to": "unit"},
    "kind": {"column": "age", "kind": "category"},
    "unit": {"column": "potassium", "unit": "mEq/l"},
    "missing": {"column": None, "marks": ["4.2", "Ward B"]},
    "order": {"column": "ward", "levels": ["Ward C", "Ward A"]},
    "labels": {"column": "ward", "labels": {"Ward A": "Intake"}},
    "join levels": {"column": "ward", "levels": ["Ward A", "Ward B"], "into": "Ward A"},
    "stand-in": {"column": "potassium", "below": "half"},
    "convert": {"column": "potassium", "to": "mg/dl", "by": "sex", "factors": {"female": 3.91, "male": 2.0}},
    "intervals": {"column": "potassium", "to": "class", "edges": [3.5, 5.1]},
    "derive": {"to": "twice", "formula": "potassium * 2 + age"},
    "date part": {"column": "taken", "part": "weekday", "to": "weekday"},
    "join": {"table": {"name": "wards.csv", "sha256": "0" * 64}, "keys": [{"here": "ward", "there": "ward"}]},
}


def test_every_step_of_one_row_has_an_example() -> None:
    others = {"leave out", "combine", "repeat", "relative", "append", "wide to long", "long to wide"}
    assert set(ROW_LOCAL) == set(STEP_NAMES) - others


@pytest.mark.parametrize("name", ROW_LOCAL)
def test_each_step_makes_of_counts_what_it_makes_of_rows(name: str, tmp_path: Path) -> None:
    frame = LOG.with_columns(pl.Series("taken", np.datetime64("2026-03-01") + np.arange(LOG.height) % 40))
    wards = read_bytes(b"ward,floor\nWard A,first\nWard B,second\nWard C,first\n").table
    [step] = steps_from([{"step": name} | ROW_LOCAL[name]])
    read = all_steps(whole(frame), [step], lambda ref: wards)
    made = step.makes() or ("floor" if name == "join" else None)
    grouped = "ward" if made is None else made
    measure, groups = (grouped, "sex") if name == "derive" else (MEASURE, grouped)
    fields = recipe_of_form("box", measure, groups).model_dump(mode="json")
    recipe = recipe_from(fields | {"groups": fields["groups"] | BY_NAME}, "test")
    counted = far(write_parts(frame, tmp_path, [1_000]), recipe, [step], lambda ref: wards)
    drawn = shapes(scene_of(recipe, counted)), shapes(scene_of(recipe, read))
    assert drawn[0]["readings"] == drawn[1]["readings"]
    # Of rows that are kept the levels may begin in another order, and with it their colours.
    assert name == "keep" or drawn[0] == drawn[1]
    if name not in ("rename", "kind", "order", "labels", "stand-in", "unit"):
        assert shapes(scene_of(recipe, read)) != shapes(scene_of(asked("box"), whole(frame)))


def test_what_needs_rows_one_by_one_is_refused_with_its_reason(tmp_path: Path) -> None:
    write_parts(LOG, tmp_path, [])
    box = far(tmp_path, asked("box"))
    for form in ROWS_ONE_BY_ONE:
        with pytest.raises(InputError, match="one by one"):
            scene_of(asked(form), box)
    for asks in ({"paired_by": "ward"}, {"by_row": True}, {"limits": "non-parametric"}, {"control": {}}):
        with pytest.raises(InputError, match="one by one"):
            scene_of(asked("box", differences=asks), box)
    several = steps_from([{"step": "combine", "by": ["ward"], "how": "mean"}])
    with pytest.raises(InputError, match="several rows together"):
        far(tmp_path, asked("box"), several)
    with pytest.raises(InputError, match="several rows together"):
        far(
            tmp_path,
            recipe_of_form("box", "own", "ward"),
            steps_from([{"step": "derive", "to": "own", "formula": "potassium - mean(potassium within ward)"}]),
        )


def test_folders_name_columns(tmp_path: Path) -> None:
    for year, start in ((2024, 0), (2025, 2_000)):
        write_parts(LOG.slice(start, 2_000), tmp_path / f"year={year}", [900])
    recipe = recipe_of_form("box", MEASURE, "year")
    lanes = arrange(recipe, far(tmp_path, recipe)).lanes
    known = LOG["potassium (mmol/l)"].is_not_null()
    assert {lane.name: lane.n for lane in lanes} == {"2024": known[:2_000].sum(), "2025": known[2_000:].sum()}


HOSTILE: dict[str, tuple[dict[str, bytes], str]] = {
    "nothing": ({}, "no Parquet or CSV files"),
    "two formats": ({"a.csv": b"a,b\n1,2\n", "b.parquet": b"PAR1"}, "several formats"),
    "no parquet": ({"a.parquet": b"PAR1 and nothing more"}, "cannot be read"),
    "a title above": ({"a.csv": b"Report of 2026\n\nward,potassium\nA,4.1\nB,4.2\n"}, "more than a heading"),
}


@pytest.mark.parametrize("name", HOSTILE)
def test_sources_that_are_none_say_so(name: str, tmp_path: Path) -> None:
    files, says = HOSTILE[name]
    for file, data in files.items():
        (tmp_path / file).write_bytes(data)
    with pytest.raises(InputError, match=says):
        FarTable.at(str(tmp_path))


def test_a_part_without_the_column_is_named(tmp_path: Path) -> None:
    write_parts(LOG, tmp_path, [])
    LOG.drop("ward").write_parquet(tmp_path / "part-999.parquet")
    with pytest.raises(InputError) as raised:
        far(tmp_path, asked("box"))
    assert "ward" in raised.value.what and raised.value.where == "part-999.parquet"


@pytest.mark.parametrize(
    ("kind", "limit"), [("parquet", {"rows": 100}), ("parquet", {"cells": 1_000}), ("csv", {"megabytes": 0.01})]
)
def test_a_single_file_too_large_to_be_read_is_counted(
    kind: str, limit: dict[str, Any], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_parts(LOG, tmp_path, [], kind)
    file = (tmp_path / f"part-000.{kind}").rename(tmp_path / f"log [1].{kind}")
    recipe = asked("box")
    ordinary = rows_for(file, None, 0)(recipe, partial(scene_of, recipe))
    assert ordinary.tally is None
    monkeypatch.setattr("echelle.command_line.rows.USUAL_LIMITS", ReadingLimits(**limit))
    counted = rows_for(file, None, 0)(recipe, partial(scene_of, recipe))
    assert counted.tally is not None
    assert shapes(scene_of(recipe, counted)) == shapes(scene_of(recipe, ordinary))


@pytest.mark.parametrize("below", ["", "/*.parquet", "/part-000.parquet"])
def test_what_is_kept_of_a_source_finds_its_files_again_without_asking_where_they_lie(below: str, tmp_path: Path) -> None:
    table = FarTable.at(str(write_parts(LOG, tmp_path, [1_000])) + below)
    record = record_of(table.manifest, table.sample)
    again = far_table_from(record, str(tmp_path) + below, table.sample.table)
    assert str(tmp_path).encode() not in record and again.manifest == table.manifest
    assert rows_at(again.manifest, again.sample, [PART_KEYS + 7]).rows == 1


@pytest.mark.parametrize("kind", ["parquet", "csv"])
def test_a_row_is_found_again_whole_by_its_id(kind: str, tmp_path: Path) -> None:
    table = FarTable.at(str(write_parts(LOG, tmp_path, [1_200], kind)))
    key = 2 * (1 << 40) + 601
    row = rows_at(table.manifest, table.sample, [key, (1 << 40) + 1])
    there = LOG.row(1_800, named=True)
    assert row.row_ids.written(key).startswith("601 · part-001") and row.rows == 2
    assert row.column("ward").texts[1] == there["ward"] and row.column("age").numbers is not None
    assert row.column("age").numbers[1] == there["age"]  # type: ignore[index]
    with pytest.raises(InputError, match="no such row"):
        rows_at(table.manifest, table.sample, [9 * (1 << 40) + 1])
    with pytest.raises(InputError):
        rows_at(table.manifest, table.sample, [2 * (1 << 40) + 999_999])


def test_rows_left_out_are_taken_off_the_counts(tmp_path: Path) -> None:
    """Two rows of the first file and one of the second, against the same rows left out of the table read whole."""
    folder = write_parts(LOG, tmp_path, [1_500])
    places = [place for place in (7, 8, 1_900) if LOG["potassium (mmol/l)"][place] is not None]
    rows = [(place % 1_500 + 1, f"part-00{place // 1_500}.parquet") for place in places]
    entries = [{"row": row, "part": part, "reason": "haemolysed"} for row, part in rows]
    counted = arrange(recipe := asked("box", left_out=entries), far(folder, recipe))
    read = arrange(asked("box", left_out=[{"row": place + 1, "reason": "haemolysed"} for place in places]), whole(LOG))
    assert [lane.moments for lane in counted.lanes] == [lane.moments for lane in read.lanes]
    assert [lane.left_out for lane in counted.lanes] == [lane.left_out for lane in read.lanes]
    assert counted.account.left_out == read.account.left_out == len(places)
    gone = asked("box", left_out=[{"row": 3, "part": "part-999.parquet", "reason": "x"}])
    with pytest.raises(InputError, match="is not in the table"):
        far(folder, gone)


def test_a_small_table_is_joined_to_what_was_counted(tmp_path: Path) -> None:
    wards = read_bytes(b"ward,floor\nWard A,1\nWard B,2\nWard C,1\nWard D,2\nWard E,2\n").table
    step = {"step": "join", "table": {"name": "wards.csv", "sha256": "0" * 64}, "keys": [{"here": "ward", "there": "ward"}]}
    steps = steps_from([step, {"step": "kind", "column": "floor", "kind": "category"}])
    recipe = recipe_from(recipe_of_form("box", MEASURE, "floor").model_dump(mode="json"), "test")
    counted = far(write_parts(LOG, tmp_path, [900]), recipe, steps, lambda ref: wards)
    read = all_steps(whole(LOG), steps, lambda ref: wards)
    lanes = [{lane.name: lane.moments for lane in arrange(recipe, table).lanes} for table in (counted, read)]
    assert lanes[0] == lanes[1] and set(lanes[0]) == {"1", "2"}
    twice = steps_from([step | {"multiply": True}])
    with pytest.raises(InputError, match="several rows together"):
        far(tmp_path, recipe, twice, lambda ref: wards)


def test_a_figure_is_drawn_again_of_what_was_counted_without_its_source(tmp_path: Path) -> None:
    recipe = asked("raincloud", subgroups="sex", prepare=STEPS[:1])
    table = FarTable.at(str(write_parts(LOG, tmp_path / "log", [2_000])))
    question = table.question(MEASURE, ["ward", "sex"], recipe.prepare or [])
    tallies = [tally for _, tally in counted_parts(table.manifest, range(2), question.count)]
    data = counted_file(table, Counted(question, merged_tallies(tallies, question.count), 2))
    rows = table.count({MEASURE: question})
    made = bundle(Contents(recipe, RawData("log.counted", data), [], rows))
    again = rows_of(open_bundle(made))
    assert scene_of(recipe, again).model_dump() == scene_of(recipe, rows).model_dump()
    assert str(tmp_path).encode() not in data
    with pytest.raises(InputError, match="no file of counted rows"):
        table_of_counted_file(data[:2_000])


@pytest.mark.parametrize("groups", [None, "ward"])
@pytest.mark.parametrize("form", ["box", "violin", "means"])
def test_several_measures_stand_beside_one_another(form: str, groups: str | None, tmp_path: Path) -> None:
    fields = asked(form).model_dump(mode="json")
    fields["measure"]["columns"] = [MEASURE, "age"]
    if groups is None:
        fields["groups"] = None
    recipe = recipe_from(fields, "test")
    counted = scene_of(recipe, far(write_parts(LOG, tmp_path, [1_000]), recipe))
    assert shapes(counted) == shapes(scene_of(recipe, whole(LOG)))
