"""Values of one row are pairs: columns side by side, and the same turned wide to long."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from echelle.comparison.lane_differences import compare_lanes
from echelle.comparison.models import LaneDifferences
from echelle.figures.lanes.arrange import arrange
from echelle.recipes.differences import Differences
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.bracket import BracketLayer
from echelle.recipes.layers.difference import DifferenceLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.tables.table import Table
from tests.support.steps import after
from tests.support.tables import table_of

RNG = np.random.default_rng(8)
BEFORE = np.round(RNG.normal(50, 12, 24), 1)
AFTER = np.round(BEFORE + RNG.normal(2, 1.5, 24), 1)
CELLS = [f"{value}" for value in AFTER]
CELLS[3] = ""
WIDE = table_of({"before": [f"{v}" for v in BEFORE], "after": CELLS, "ward": ["a", "b"] * 12})
LONG = after(WIDE, {"step": "wide to long", "columns": ["before", "after"], "names": "when", "values": "level"})
KEPT = np.arange(24) != 3


def asked(table: Table, **differences: object) -> tuple[Recipe, LaneDifferences]:
    if table is LONG:
        recipe = recipe_of_form("strip", "level", "when")
    else:
        recipe = recipe_of_form("strip", "before", None)
        recipe = recipe.model_copy(update={"measure": recipe.measure.model_copy(update={"columns": ["before", "after"]})})
    how = Differences.model_validate(differences)
    recipe = recipe.model_copy(update={"differences": how})
    return recipe, compare_lanes(arrange(recipe, table), how)


@pytest.mark.parametrize("table", [WIDE, LONG], ids=["side by side", "wide to long"])
def test_differences_begin_paired(table: Table) -> None:
    recipe, result = asked(table)
    [pair] = result.pairs
    t = stats.ttest_rel(AFTER[KEPT], BEFORE[KEPT])
    assert pair.paired and pair.note.startswith("23 pairs by row")
    assert pair.estimates[0].value == pytest.approx(float((AFTER - BEFORE)[KEPT].mean()))
    assert pair.tests[0].p == pytest.approx(t.pvalue) and "paired t" in result.guide.fits and result.overall == []
    drawn = recipe.model_copy(
        update={"layers": [PointsLayer(id="p1", join_rows=True), BracketLayer(id="k1"), DifferenceLayer(id="d1")]}
    )
    scene = scene_of(drawn, table)
    assert "mean differences within row" in scene.note and "lines join points of one row" in scene.note
    assert "Welch" not in scene.note and any(part.role == "join" for part in scene.walk())
    lanes = scene_of(drawn.model_copy(update={"layers": [PointsLayer(id="p1")], "differences": Differences(drawn=True)}), table)
    assert [reading.n for reading in lanes.readings] == [23]


@pytest.mark.parametrize("table", [WIDE, LONG], ids=["side by side", "wide to long"])
def test_they_can_be_taken_as_independent(table: Table) -> None:
    _, result = asked(table, by_row=False)
    [pair] = result.pairs
    welch = stats.ttest_ind(AFTER[KEPT], BEFORE, equal_var=False)
    assert not pair.paired and pair.tests[0].p == pytest.approx(welch.pvalue)


def test_note_names_every_way_that_pairs_were_compared() -> None:
    """Some lanes share rows with the first, others do not; and some subjects have several rows, others one."""
    first, shared, apart = [f"{v}" for v in BEFORE], [f"{v}" for v in AFTER], [f"{v + 1}" for v in AFTER]
    wide = table_of({"a": first[:12] + [""] * 12, "b": shared[:12] + [""] * 12, "c": [""] * 12 + apart[12:]})
    recipe = recipe_of_form("strip", "a", None)
    recipe = recipe.model_copy(update={"measure": recipe.measure.model_copy(update={"columns": ["a", "b", "c"]})})
    layers = [BracketLayer(id="k1", words="estimate, interval and p"), DifferenceLayer(id="d1")]
    note = scene_of(recipe.model_copy(update={"layers": layers}), wide).note
    for said in ("mean differences within row and differences of means", "(t and Welch's t)", "p of paired t and Welch t"):
        assert said in note, note

    subjects = [f"P{i}" for i in range(12)]
    long = table_of(
        {"who": subjects * 4, "when": ["a"] * 12 + ["b"] * 12 + ["c"] * 24, "level": first[:12] + shared[:12] + apart}
    )
    recipe = recipe_of_form("strip", "level", "when")
    mixed = Differences(paired_by="who", repeats="mixed model")
    note = scene_of(recipe.model_copy(update={"layers": layers, "differences": mixed}), long).note
    assert "mean differences within who (repeats reduced to their mean) and differences of means by a mixed model" in note, note
    assert "p of paired t and the mixed model" in note


def test_groups_of_different_rows_stay_independent() -> None:
    recipe = recipe_of_form("strip", "before", "ward")
    [pair] = compare_lanes(arrange(recipe, WIDE), Differences()).pairs
    assert not pair.paired
    # What fits is what was computed.
    for answer in (asked(WIDE)[1], asked(LONG, by_row=False)[1], compare_lanes(arrange(recipe, WIDE), Differences())):
        names = {line.name for pair in answer.pairs for line in pair.estimates}
        names |= {line.name for pair in answer.pairs for line in pair.tests}
        assert answer.guide.fits and set(answer.guide.fits) <= names
