"""Lanes of more different values than are counted one by one: drawn of cells, with numbers that are of the values."""

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

from echelle.far.cells import grid_of, merged_grids
from echelle.far.counted_file import counted_file, table_of_counted_file
from echelle.far.engine import HERE, Engine
from echelle.far.far_table import Counted, FarTable
from echelle.figures.lanes.arrange import arrange
from echelle.numbers.outliers import OUTLIER_RULES, USUAL_K, OutlierRule
from echelle.numbers.quantiles import QUANTILE_DEFINITIONS
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.parse import recipe_from
from echelle.recipes.recipe import Recipe
from echelle.recipes.used_columns import columns_of
from echelle.render import scene_of
from echelle.tables.reading.read import read_bytes
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.prepare import all_steps
from echelle.tables.table import Table
from tests.far.parts import write_parts

FEW = 3_000
# What is computed of whole curves and higher moments is of the cells' middles.
OF_CELLS = ("skewness", "kurtosis", "outliers", "outliers_cut", "people")


@pytest.fixture(autouse=True)
def few_are_many(monkeypatch: pytest.MonkeyPatch) -> None:
    for place in ("cells", "lane_numbers", "tally", "opened_cells"):
        monkeypatch.setattr(f"echelle.far.{place}.MOST_DISTINCT", FEW)
    monkeypatch.setattr("echelle.far.opened_cells._HEAVY", 400)


def currents(rows: int, odd: Any = (np.inf, -400.0, np.nan)) -> pl.DataFrame:
    rng = np.random.default_rng(12)
    site = rng.integers(0, 2, rows)
    values = rng.gamma(4.0, 2.0 + site, rows)
    values[: len(odd)] = odd
    return pl.DataFrame({"site": np.array(["Hill", "Lake"])[site], "current (nA)": pl.Series(values).fill_nan(None)})


def whole(frame: pl.DataFrame) -> Table:
    sink = io.BytesIO()
    frame.write_parquet(sink)
    return read_bytes(sink.getvalue()).table


def asked(form: str = "box", **more: Any) -> Recipe:
    fields = recipe_of_form(form, "current", "site").model_dump(mode="json")  # type: ignore[arg-type]
    return recipe_from(fields | {"groups": fields["groups"] | {"sorted": "alphabetical"}} | more, "test")


def with_rule(rule: OutlierRule, definition: int) -> Recipe:
    layers = asked().model_dump(mode="json")["layers"]
    changed = {"quantile_type": definition, "fence": {"rule": rule, "k": USUAL_K[rule]}}
    return asked(layers=[layer | changed if layer["layer"] == "box" else layer for layer in layers])


def far(folder: Path, recipe: Recipe, steps: Any = (), engine: Engine = HERE) -> Table:
    table = FarTable.at(str(folder))
    columns = columns_of(recipe) - set(recipe.measure.columns)
    question = table.question("current", columns, list(steps))
    return table.count({"current": question}, partial(scene_of, recipe), engine, left_out=recipe.left_out)


def told(recipe: Recipe, table: Table, without: tuple[str, ...] = OF_CELLS) -> list[dict[str, Any]]:
    """The readings that a ledger shows of each lane."""
    readings = [reading.model_dump(mode="json") for reading in scene_of(recipe, table).readings]
    assert readings
    return [{name: value for name, value in fields.items() if name not in without} for fields in readings]


@pytest.mark.parametrize("rule", [rule for rule in OUTLIER_RULES if rule != "skew-adjusted"])
def test_every_rule_finds_the_fences_of_the_values(rule: OutlierRule, tmp_path: Path) -> None:
    frame, recipe = currents(20_000), with_rule(rule, 7)
    table = far(write_parts(frame, tmp_path, [6_000, 6_001, 15_000]), recipe)
    assert told(recipe, table) == told(recipe, whole(frame))
    lane = arrange(recipe, table).lanes[0]
    assert lane.tally is not None and lane.tally.cells is not None and len(lane.tally.values) < 0.9 * lane.n


@settings(max_examples=20, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.integers(1, 19_999), max_size=12, unique=True), st.sampled_from(list(QUANTILE_DEFINITIONS)))
def test_however_rows_are_parted_the_rows_are_the_same(
    tmp_path_factory: pytest.TempPathFactory, cuts: list[int], definition: int
) -> None:
    frame, recipe = currents(20_000), with_rule("quartiles", definition)
    tables = [far(write_parts(frame, tmp_path_factory.mktemp("parts"), some), recipe) for some in (cuts, [])]
    lanes = [[lane.ordered for lane in arrange(recipe, table).lanes] for table in tables]
    for mine, own in zip(*lanes, strict=True):
        assert np.array_equal(mine.values, own.values) and np.array_equal(mine.ends, own.ends) and mine.sums == own.sums
    assert told(recipe, tables[0]) == told(recipe, whole(frame))


ODD = {
    "a code for missing": (-9999.0,) * 40,
    "a code far beyond": (1e30, 1e30, -1e30),
    "every second row one value": (0.25,) * 10_000,
    "a value at each end": (-1e5,) * 3 + (1e5,) * 3,
    "as far apart as figures go": (-8e307, 8e307),
    "nothing finite": (np.inf, -np.inf, np.nan),
}


@pytest.mark.parametrize("odd", ODD.values(), ids=list(ODD))
def test_what_widens_the_cells_leaves_numbers_and_curves(odd: tuple[float, ...], tmp_path: Path) -> None:
    """Cells that hold a large part of all are parted again, so that the rest is not one lump."""
    frame, recipe = currents(20_000, odd), asked()
    table = far(write_parts(frame, tmp_path, [5_000, 12_000]), recipe)
    assert told(recipe, table) == told(recipe, whole(frame))
    for lane, own in zip(arrange(recipe, table).lanes, arrange(recipe, whole(frame)).lanes, strict=True):
        inside = [np.count_nonzero((sample.values > 1) & (sample.values < 20)) for sample in (lane.ordered, own.ordered)]
        assert inside[0] >= min(200, inside[1])


@pytest.mark.parametrize("values", [np.arange(5_000) * 5e-324, np.linspace(-1.7, 1.7, 5_000) * 1e308, np.arange(5_000) + 1e12])
def test_a_grid_holds_every_value(values: np.ndarray[Any, np.dtype[np.float64]]) -> None:
    """From the smallest numbers to the largest: each lies in its cell, whatever parts they came in."""
    whole_grid, *parts = (grid_of(((), ()), part) for part in (values, values[:2_000], values[1_000:]))
    places = whole_grid.places(values)
    assert whole_grid.rows == len(values) and (np.diff(places) >= 0).all() and places[0] == 0
    assert places[-1] == len(whole_grid.counts) - 1
    merged = merged_grids(parts)
    assert (merged.power, merged.first) == (whole_grid.power, whole_grid.first) and merged.rows == 6_000


def test_cells_of_one_value_each_are_opened_too(tmp_path: Path) -> None:
    """Values so far apart that no cell holds two."""
    spread = np.random.default_rng(4).permutation(np.arange(12_000)) * 0.37 + np.pi
    frame = pl.DataFrame({"site": np.array(["Hill", "Lake"])[np.arange(12_000) % 2], "current (nA)": spread})
    recipe = asked()
    table = far(write_parts(frame, tmp_path, [5_000]), recipe)
    assert all(lane.ordered.counts is None and lane.ordered.cells is not None for lane in arrange(recipe, table).lanes)
    assert told(recipe, table) == told(recipe, whole(frame))


def test_the_note_says_which_numbers_are_of_the_values(tmp_path: Path) -> None:
    frame, recipe = currents(20_000), asked()
    folder = write_parts(frame, tmp_path, [6_000])
    table = FarTable.at(str(folder))
    question = table.question("current", ["site"])
    early = table.table_of(Counted(question, table.tally(question.count), 2))
    assert "Numbers are of the cells’ middles" in scene_of(recipe, early).note
    assert (
        "means, SDs, quantiles and the fences made of these are of the values themselves"
        in scene_of(recipe, far(folder, recipe)).note
    )
    doubled = steps_from([{"step": "convert", "column": "current", "to": "µA", "factor": 0.001}])
    note = scene_of(recipe, far(folder, recipe, doubled)).note
    assert "Counts, quantiles and the fences made of these are of the values themselves" in note
    assert "cells" not in scene_of(recipe, whole(frame)).note


def test_a_step_over_the_measure_keeps_ranks_and_counts(tmp_path: Path) -> None:
    frame, recipe = currents(20_000), asked()
    steps = steps_from([{"step": "convert", "column": "current", "to": "µA", "factor": 0.001}])
    table, read = far(write_parts(frame, tmp_path, [6_000]), recipe, steps), all_steps(whole(frame), steps)
    moments = ("mean", "variance", "sd", "se")
    assert told(recipe, table, OF_CELLS + moments) == told(recipe, read, OF_CELLS + moments)
    width = table.tally.gathered.width  # type: ignore[union-attr]
    for mine, own in zip(told(recipe, table), told(recipe, read), strict=True):
        assert mine["mean"] == pytest.approx(own["mean"], abs=width)


def test_rows_left_out_leave_sums_and_ranks(tmp_path: Path) -> None:
    frame = currents(20_000)
    folder = write_parts(frame, tmp_path, [6_000])
    entries = [{"row": row, "part": "part-000.parquet", "reason": "clotted"} for row in (40, 41, 977)]
    recipe = asked(left_out=entries)
    left = pl.concat([frame.slice(0, 39), frame.slice(41, 935), frame.slice(977, 20_000)])
    mine, own = told(recipe, far(folder, recipe)), told(asked(), whole(left))
    assert [fields.pop("left_out") for fields in mine] != [0, 0] and all(fields.pop("left_out") == 0 for fields in own)
    assert mine == own


def test_processes_and_a_file_of_counts_give_the_same(tmp_path: Path) -> None:
    frame, recipe = currents(20_000, ODD["a code for missing"]), asked()
    folder = write_parts(frame, tmp_path, [6_000, 11_000])
    assert told(recipe, far(folder, recipe, engine=Engine(workers=2))) == told(recipe, whole(frame))
    table = FarTable.at(str(folder))
    question = table.question("current", ["site"])
    counted = {"current": Counted(question, table.tally(question.count), 3)}
    closed, _ = table.opened(counted, partial(scene_of, recipe), lambda cells: None)
    assert "Numbers are of the cells’ middles" in scene_of(recipe, closed).note
    _, opened = table.opened(counted, partial(scene_of, recipe), table.tally)
    data = counted_file(table, opened["current"])
    again = table_of_counted_file(data)
    assert told(recipe, again) == told(recipe, whole(frame))


def test_lanes_of_few_values_keep_them_beside_lanes_of_too_many(tmp_path: Path) -> None:
    frame = pl.concat([currents(9_000), pl.DataFrame({"site": ["Quay"] * 4, "current (nA)": [0.1, 0.1, 0.7, 5.0]})])
    recipe = asked()
    lanes = {lane.name: lane for lane in arrange(recipe, far(write_parts(frame, tmp_path, [4_000]), recipe)).lanes}
    assert lanes["Quay"].ordered.repeats.tolist() == [0.1, 0.1, 0.7, 5.0]


def test_lanes_of_levels_without_codes(tmp_path: Path) -> None:
    """Dates as groups go the way of whole rows."""
    days = np.array(["2026-01-05", "2026-01-06"], dtype="datetime64[D]")
    frame = currents(20_000).with_columns(pl.Series("site", days[np.arange(20_000) % 2]))
    recipe = asked()
    assert told(recipe, far(write_parts(frame, tmp_path, [6_000]), recipe)) == told(recipe, whole(frame))
