"""Counted rows of which some stand for the cells of a grid that the values of a lane gather into."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.binary_sums import binary_sums
from echelle.numbers.sample import Counts, Floats, Sums

Rows = NDArray[np.integer[Any]] | NDArray[np.bool_]
# A cell's id is its place in its grid and so many times the number of the grid; of a row of no grid it is this.
CELLS, NO_GRID = 1 << 20, -1


@dataclass(frozen=True, eq=False)
class Gathered:
    """Counted rows of lanes whose values gathered into cells of a grid, each at most ``width`` wide.

    ``cells`` (shape (rows,)) holds for a row that stands for a cell its id, for one of a known value of such a lane −2 minus
    the number of its lane, and −1 for any other; ``values`` (shape (rows,)) what the source says, before any step. ``lanes``
    holds how many values each lane has and their exact sums, ``lane_of`` (shape (grids,)) to which of them a grid belongs.
    ``wanted`` collects the cells in which something lies that figures or readings looked for; ``known`` says that all of
    these are values now, ``waits`` that those that are none will be.
    """

    cells: Counts
    values: Floats
    width: float
    lanes: tuple[tuple[int, Sums], ...]
    lane_of: Counts
    wanted: set[int] = field(default_factory=set)
    known: bool = False
    waits: bool = True

    def at(self, rows: Rows) -> Gathered:
        """The same of some rows."""
        return replace(self, cells=self.cells[rows], values=self.values[rows])

    def sums_of(self, values: Floats, counts: Counts) -> Sums | None:
        """The exact sums of these rows, whose values and counts are these; None where a step changed values, or where they are
        a part of a grid alone.
        """
        lane = np.where(self.cells >= 0, self.lane_of[self.cells // CELLS], -2 - self.cells)
        alone = self.cells == NO_GRID
        numbers = np.flatnonzero(np.bincount(lane[~alone])).tolist()
        if not numbers or not np.array_equal(values, self.values):
            return None
        first, second = binary_sums(values[alone], counts[alone])
        for number in numbers:
            rows, sums = self.lanes[number]
            if int(counts[(lane == number) & ~alone].sum()) != rows:
                return None
            first, second = first + sums[0], second + sums[1]
        return first, second
