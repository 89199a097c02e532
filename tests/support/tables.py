"""Small tables for tests, read by the real reader."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.scene.models import Scene
from echelle.tables.reading.read import read_bytes
from echelle.tables.table import Table

Cell = str | float | int


def table_of(columns: Mapping[str, Sequence[Cell]]) -> Table:
    """A table from columns of cells."""
    head = "\t".join(columns)
    rows = ["\t".join(str(cell) for cell in row) for row in zip(*columns.values(), strict=True)]
    return read_bytes("\n".join([head, *rows, ""]).encode()).table


def lanes_table(lanes: Mapping[str, Sequence[float]]) -> Table:
    """A table with a "group" and a "level" for each value."""
    pairs = [(name, value) for name, values in lanes.items() for value in values]
    return table_of({"group": [n for n, _ in pairs], "level (mmol/L)": [f"{v!r}" for _, v in pairs]})


def many_values(n: int, lanes: int, seed: int = 7) -> Table:
    """``n`` skewed values in ``lanes`` groups."""
    rng = np.random.default_rng(seed)
    names = np.array([f"group {i + 1}" for i in range(lanes)])[rng.integers(0, lanes, n)]
    return table_of({"group": names.tolist(), "level": np.round(rng.lognormal(2.0, 0.5, n), 3).tolist()})


def box_recipe(**update: object) -> Recipe:
    """A box recipe over :func:`lanes_table`."""
    return recipe_of_form("box", "level", "group").model_copy(update=update)


def box_scene(lanes: Mapping[str, Sequence[float]], **update: object) -> Scene:
    """The scene of boxes over lanes."""
    return scene_of(box_recipe(**update), lanes_table(lanes))
