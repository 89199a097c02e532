"""Where each row of a table stands in a figure: its panel, group and subgroup."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from echelle.catalogue.catalogue import catalogue
from echelle.errors import InputError
from echelle.figures.lanes.lane import PanelOf, Rows
from echelle.figures.lanes.levels import DROPPED, Division, all_rows, divide
from echelle.recipes.recipe import Recipe
from echelle.tables.table import Column, Table

Mask = NDArray[np.bool_]
MOST_PANELS = 100


@dataclass(frozen=True, eq=False)
class RowPlaces:
    """Where each row stands: the place of its panel, group and subgroup as one number, −1 where one is missing."""

    groups: Division
    parts: Division
    panels: tuple[PanelOf, ...]
    place: Rows
    columns: tuple[str, ...]
    dropped: Mask

    @property
    def size(self) -> int:
        """How many places there are."""
        return len(self.panels) * len(self.groups.levels) * len(self.parts.levels)

    def split(self, place: int) -> tuple[PanelOf, int, int]:
        """Panel, group and subgroup of a place."""
        rest, part = divmod(place, len(self.parts.levels))
        panel, group = divmod(rest, len(self.groups.levels))
        return self.panels[panel], group, part


def row_places(recipe: Recipe, table: Table, measure: Column, usable: Mask) -> RowPlaces:
    """By the recipe's panels, groups and subgroups. The measure's values in ``usable`` rows (shape (rows,)) order levels where
    that is asked for. Raises InputError for more panels than a figure can have.
    """
    numbers = measure.numbers
    assert numbers is not None
    asked = recipe.panels
    roles = [
        ("down", asked.down, "d", "$.panels.down"), ("across", asked.across or asked.wrapped, "a",
         "$.panels.across" if asked.across else "$.panels.wrapped"),
        ("groups", recipe.groups, "g", "$.groups"), ("subgroups", recipe.subgroups, "s", "$.subgroups"),
    ]  # fmt: skip
    result = {
        name: all_rows(table.rows, letter) if role is None else divide(table, role, letter, where, numbers, usable)
        for name, role, letter, where in roles
    }
    if recipe.groups is None:
        result["groups"] = all_rows(table.rows, "all", catalogue().say("all-rows"))
    down, across, groups, parts = result.values()
    if len(down.levels) * len(across.levels) > MOST_PANELS:
        raise InputError(
            f"{len(down.levels) * len(across.levels)} panels are more than {MOST_PANELS}", where="$.panels",
            remedy="Choose columns with fewer levels.",
        )  # fmt: skip
    place = np.zeros(table.rows, dtype=np.int64)
    known, dropped = np.ones(table.rows, dtype=np.bool_), np.zeros(table.rows, dtype=np.bool_)
    for item in result.values():
        if item.column is None:
            # All rows stand in its one place.
            continue
        place = place * len(item.levels) + np.maximum(item.codes, 0)
        known &= item.codes >= 0
        dropped |= item.codes == DROPPED
    place[~known] = -1
    # A column without a level makes no panel; the figure has one all the same, without lanes.
    panels = _panels(down, across, recipe.panels.wrapped is not None, recipe.panels.in_line) or (PanelOf("p1", "", 0, 0),)
    columns = tuple(division.column for division in (down, across) if division.column is not None)
    return RowPlaces(groups, parts, panels, place, columns, dropped)


def _panels(down: Division, across: Division, wrapped: bool, in_line: int | None) -> tuple[PanelOf, ...]:
    result = [(row, column, [division for division in (a, d) if division.level is not None])
             for row, d in enumerate(down.levels) for column, a in enumerate(across.levels)]  # fmt: skip
    if wrapped:
        line = in_line or max(1, round(len(result) ** 0.5 + 0.2))
        result = [(i // line, i % line, levels) for i, (_, _, levels) in enumerate(result)]
    return tuple(
        PanelOf(
            f"p{i}",
            " · ".join(level.name for level in levels),
            row,
            column,
            " · ".join(level.shown for level in levels),
            levels[0].level if len(levels) == 1 else None,
        )
        for i, (row, column, levels) in enumerate(result, 1)
    )
