"""Cells of a grid in which a rank or a limit lies: they are opened, so that what is read there is a value and no middle."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import polars as pl

from echelle.far.cells import COUNT, MOST_DISTINCT, Grid, Place
from echelle.far.lane_numbers import LaneNumbers, rows_of_lanes, with_levels
from echelle.far.question import CountQuestion, LaneCells, lane_name
from echelle.far.tally import PartTally
from echelle.numbers.sample import Counts, Floats
from echelle.tables.gathered import CELLS, NO_GRID, Gathered

_CELL = "\x00cell"
# A cell with more values may need a grid of its own; one with this part of all is opened whatever is looked for.
_HEAVY, _LARGE = MOST_DISTINCT, 64


@dataclass(frozen=True, eq=False)
class Opened:
    """The question for the values in some cells, and what the parts hold there."""

    question: CountQuestion
    tally: PartTally

    @cached_property
    def values(self) -> dict[Place, LaneNumbers]:
        """The values of cells by the grid that these are of."""
        return {lane.place: lane for lane in self.tally.lanes if lane.opened}

    @cached_property
    def within(self) -> dict[Place, LaneNumbers | Grid]:
        """What heavy cells hold, by the way to them."""
        lanes = {lane.place: lane for lane in self.tally.lanes if not lane.opened}
        return lanes | {grid.place: grid for grid in self.tally.grids}

    def cells_of(self, grid: Grid) -> set[int]:
        """The cells of a grid that were opened."""
        name = lane_name(grid.key)
        mine = [set(cells.cells) for cells in self.question.cells if (cells.name, cells.path) == (name, grid.path)]
        return mine[0] if mine else set()


def _grids(tally: PartTally, opened: Opened | None) -> list[Grid]:
    """The lanes' grids and the finer ones, as cells' ids number them."""
    finer = () if opened is None else sorted(opened.tally.grids, key=lambda grid: (lane_name(grid.key), grid.path))
    return [*sorted(tally.grids, key=lambda grid: lane_name(grid.key)), *finer]


def next_cells(question: CountQuestion, tally: PartTally, opened: Opened | None, wanted: Iterable[int]) -> CountQuestion | None:
    """The question for the values in cells by their ids, in those that hold a large part of all, and in those that are opened
    already; None where there is nothing new.
    """
    grids = _grids(tally, opened)
    cells = [set[int]() if opened is None else opened.cells_of(grid) for grid in grids]
    known = [len(numbers) for numbers in cells]
    lanes = {grid.key: grid for grid in tally.grids}
    for cell in wanted:
        cells[cell // CELLS].add(cell % CELLS + grids[cell // CELLS].first)
    for grid, numbers in zip(grids, cells, strict=True):
        large = np.flatnonzero(grid.counts > max(1, lanes[grid.key].rows // _LARGE))
        numbers.update((large + grid.first).tolist())
    if known == [len(numbers) for numbers in cells]:
        return None
    return replace(
        question,
        cells=tuple(
            _cells(grid, sorted(numbers), lanes[grid.key]) for grid, numbers in zip(grids, cells, strict=True) if numbers
        ),
    )


def _cells(grid: Grid, numbers: list[int], lane: Grid) -> LaneCells:
    counts = grid.counts[np.array(numbers) - grid.first]
    heavy = tuple(np.array(numbers)[counts > _HEAVY].tolist())
    return LaneCells(lane_name(grid.key), grid.path, grid.power, tuple(numbers), heavy, (lane.low[0], lane.high[0]))


def counted_rows(tally: PartTally, question: CountQuestion, opened: Opened | None) -> tuple[pl.DataFrame, Gathered | None]:
    """All rows of a tally with their counts, in the same order however it came about, and which of them stand for cells: none
    that was ``opened``.
    """
    measure, keys = question.measure, question.keys
    frame = tally.counted.sort(pl.exclude(COUNT))
    if tally.lanes or tally.grids:
        frame = frame.with_columns(pl.col(measure).cast(pl.Float64))
    names, like = frame.columns, frame.schema
    lanes = sorted(tally.lanes, key=lambda lane: lane_name(lane.key))
    parts = [frame, *(rows.select(names) for rows in rows_of_lanes(lanes, measure, keys, like))]
    parts = [part.with_columns(pl.lit(NO_GRID, dtype=pl.Int64).alias(_CELL)) for part in parts]
    grids = _grids(tally, opened)
    numbers_of = {grid.place: number for number, grid in enumerate(grids)}
    for number, lane in enumerate(grids[: len(tally.grids)]):
        rows = [np.concatenate(arrays) for arrays in zip(*_rows_of_grid(lane, number, numbers_of, opened), strict=True)]
        columns = pl.DataFrame(dict(zip((measure, COUNT, _CELL), rows, strict=True)))
        parts.append(with_levels(columns, keys, lane.key, like).select([*names, _CELL]))
    counted = pl.concat(parts, how="vertical_relaxed")
    if not grids:
        return counted.drop(_CELL), None
    of_lanes = {grid.key: (number, (grid.rows, grid.sums)) for number, grid in enumerate(grids[: len(tally.grids)])}
    numbers = counted[measure].cast(pl.Float64).fill_null(np.nan).to_numpy()
    gathered = Gathered(
        counted[_CELL].to_numpy(), numbers, max(grid.width for grid in tally.grids),
        tuple(sums for _, sums in of_lanes.values()), np.array([of_lanes[grid.key][0] for grid in grids]),
    )  # fmt: skip
    return counted.drop(_CELL), gathered


Arrays = tuple[Floats, Counts, Counts]


def _rows_of_grid(grid: Grid, lane: int, numbers_of: dict[Place, int], opened: Opened | None) -> Iterator[Arrays]:
    """Values, how often each occurs, and the ids of their cells; ``lane`` is the number of the lane's own grid."""
    known = np.array(sorted(opened.cells_of(grid)), dtype=np.int64) if opened is not None else np.array([], dtype=np.int64)
    counts = grid.counts.copy()
    counts[known - grid.first] = 0
    held = np.flatnonzero(counts)
    yield grid.middle(held), counts[held], held + numbers_of[grid.place] * CELLS
    yield _known(*grid.ends(), lane)
    if opened is None:
        return
    within = [opened.within[place] for cell in known.tolist() if (place := (grid.key, (*grid.path, cell))) in opened.within]
    values = opened.values.get(grid.place)
    for part in [*within, *([values] if values is not None else [])]:
        if isinstance(part, Grid):
            yield from _rows_of_grid(part, lane, numbers_of, opened)
        else:
            sample = part.sample
            yield _known(sample.values, sample.often, lane)


def _known(values: Floats, counts: Counts, lane: int) -> Arrays:
    return values, counts, np.full(len(values), -2 - lane)
