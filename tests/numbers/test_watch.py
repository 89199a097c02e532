"""What newer data break: limits held against the interval that they have now."""

from __future__ import annotations

import numpy as np
import pytest

from echelle.comparison.laboratory import limits_of
from echelle.comparison.watch import broken_by, can_watch
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.lane import Arrangement
from echelle.recipes.differences import Differences
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from tests.support.tables import table_of

RECIPE = recipe_of_form("box", "level", "arm").model_copy(update={"differences": Differences(limits="non-parametric")})


def lanes(shift: float, rows: int = 200, recipe: Recipe = RECIPE) -> Arrangement:
    values = np.round(np.random.default_rng(5).normal(50, 5, rows) + shift, 2)
    return arrange(recipe, table_of({"level": values.tolist(), "arm": ["A"] * rows}))


@pytest.mark.parametrize("shift", [0.0, 0.3, 5.0, -5.0])
def test_a_limit_is_broken_where_the_old_value_leaves_the_new_interval(shift: float) -> None:
    before, now = lanes(0.0), lanes(shift)
    [old], [new] = (limits_of(held, "non-parametric").limits for held in (before, now))
    outside = [
        side
        for side, was, (low, high) in (("lower", old.lower, new.lower_interval), ("upper", old.upper, new.upper_interval))
        if was is not None and low is not None and high is not None and not low <= was <= high
    ]
    said = broken_by(RECIPE, before, now)
    assert [line.split()[1] for line in said] == outside and (len(outside) == 2) is (abs(shift) > 1)
    assert all("of A" in line for line in said)


def test_lanes_too_small_for_limits_and_lanes_that_are_new_break_nothing() -> None:
    assert broken_by(RECIPE, lanes(0.0, 5), lanes(9.0, 5)) == []
    other = recipe_of_form("box", "level", "arm")
    assert not can_watch(other) and can_watch(RECIPE) and broken_by(other, lanes(0.0), lanes(9.0)) == []
