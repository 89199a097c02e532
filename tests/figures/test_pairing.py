"""Lanes of differences within subjects: whom they hold, what the figure says of them."""

from __future__ import annotations

import numpy as np
import pytest

from echelle.comparison.lane_differences import compare_lanes
from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.lane_pairs import lanes_shown
from echelle.recipes.differences import Differences
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from tests.support.tables import table_of

ROWS = [
    ("P1", "before", "f", 10.0), ("P1", "after", "f", 13.0), ("P1", "after", "f", 15.0),
    ("P2", "before", "m", 20.0), ("P2", "after", "m", 21.0), ("P3", "before", "m", 30.0),
    ("P4", "after", "f", 40.0), ("P5", "before", "f", 11.0), ("P5", "after", "f", 12.5),
    ("P1", "late", "f", 9.0), ("P2", "late", "m", 20.5),
]  # fmt: skip
TABLE = table_of({name: [row[i] for row in ROWS] for i, name in enumerate(("who", "when", "sex", "level"))})


def asked(subgroups: str | None = None, **differences: object) -> Recipe:
    recipe = recipe_of_form("strip", "level", "when", subgroups)
    wanted = Differences.model_validate({"paired_by": "who", "drawn": True, "reference": "before", **differences})
    return recipe.model_copy(update={"differences": wanted})


def held_in(recipe: Recipe) -> dict[str, list[float]]:
    return {lane.name: lane.values.tolist() for lane in lanes_shown(recipe, arrange(recipe, TABLE)).lanes}


def test_each_lane_holds_the_differences_of_subjects_in_both() -> None:
    assert held_in(asked()) == {"after − before": [4.0, 1.0, 1.5], "late − before": [-1.0, 0.5]}
    first = held_in(asked(repeats="median", to="neighbours"))
    assert set(first) == {"after − before", "late − after"} and first["late − after"] == [-5.0, -0.5]


def test_the_figure_is_of_the_differences_and_its_counts_add_up() -> None:
    scene = scene_of(asked(), TABLE)
    assert [reading.n for reading in scene.readings] == [3, 2] and scene.readings[0].median == 1.5
    counts = scene.counts
    assert counts.used == 5 and counts.kept == counts.used + counts.missing and counts.missing_by == {"in one lane only": 4}
    texts = [part.text for part in scene.walk() if part.part == "text"]
    assert "level: difference to before within who" in texts and "after − before" in texts
    assert [lane.group for lane in scene.lanes] == ["after", "late"]
    assert scene.note.startswith(
        "Values: differences to before within who; several rows of one subject reduced to their mean first."
    )


def test_lanes_keep_the_colour_of_the_lane_that_differs() -> None:
    plain = scene_of(asked(drawn=False), TABLE)
    colours = {lane.group: lane.colour for lane in plain.lanes}
    assert {lane.group: lane.colour for lane in scene_of(asked(), TABLE).lanes} == {
        "after": colours["after"], "late": colours["late"],
    }  # fmt: skip


def test_subgroups_pair_within_each_group_or_stay_apart() -> None:
    assert held_in(asked("sex", to="reference")) == {
        "after − before · f": [4.0, 1.5], "after − before · m": [1.0], "late − before · f": [-1.0], "late − before · m": [0.5],
    }  # fmt: skip
    across = held_in(asked("sex", to="subgroups"))
    assert set(across) == {"before: m − f", "after: m − f", "late: m − f"} and all(not values for values in across.values())


def test_sizes_beside_the_figure_stay_those_of_the_lanes() -> None:
    recipe = asked()
    result = compare_lanes(arrange(recipe, TABLE), recipe.differences or Differences())
    mean = next(line for line in result.pairs[0].estimates if line.name == "mean paired difference")
    assert mean.value == pytest.approx(np.mean([4.0, 1.0, 1.5])) and "3 pairs by who" in result.pairs[0].note


def test_a_mixed_model_keeps_every_row_and_says_so() -> None:
    rng = np.random.default_rng(2)
    who = [f"P{i}" for i in range(10) for _ in range(4)]
    when = ["before", "before", "after", "after"] * 10
    level = [f"{v:.2f}" for v in rng.normal(20, 1, 40) + np.repeat(rng.normal(0, 3, 10), 4)]
    table = table_of({"who": who, "when": when, "level": level})
    recipe = recipe_of_form("strip", "level", "when")
    result = compare_lanes(arrange(recipe.model_copy(update={"differences": Differences(paired_by="who")}), table), Differences(
        paired_by="who", repeats="mixed model", margin=5.0))  # fmt: skip
    [pair] = result.pairs
    assert [line.name for line in pair.estimates] == ["difference of means, mixed model"]
    assert [line.name for line in pair.tests] == ["t of the mixed model", "equivalence"]
    assert pair.note == "All 40 rows of 10 subjects by who, in a mixed model."


def test_an_identifier_that_is_not_there_is_named() -> None:
    recipe = asked()
    arrangement = arrange(recipe, TABLE)
    other = recipe.model_copy(update={"differences": Differences(paired_by="person", drawn=True)})
    with pytest.raises(InputError, match="no column “person”") as fault:
        lanes_shown(other, arrangement)
    assert fault.value.where == "$.differences.paired_by"
