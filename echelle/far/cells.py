"""The grid into whose cells the values of a lane gather where too many differ to be counted one by one."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

import numpy as np
import polars as pl

from echelle.numbers.binary_sums import binary_sums
from echelle.numbers.sample import Counts, Floats, Sums

COUNT = "\x00count"
# So many different values of one lane are counted one by one; of more a cell is at most this part of their range.
MOST_DISTINCT, PARTS_OF_RANGE = 100_000, 17
# Powers of two below this are products of float64.
_PLAIN = 1_000
# So many values are added to a grid one by one.
_FEW = 1_000
# Where the difference of two numbers is none any more, it is below 2 to this.
_WIDEST = 1_025
Key = tuple[Any, ...]
# The cells that lead to a finer grid, each of the grid above the next.
Path = tuple[int, ...]
Place = tuple[Key, Path]


@dataclass(frozen=True, eq=False)
class Grid:
    """The values of one lane by cells 2^``power`` wide, from the cell ``first`` · 2^power on (shape (k,)); without the least
    and the greatest value, which stand for themselves with their counts. ``key`` holds the lane's levels, ``sums`` the
    exact sum of all values and of their squares. With a ``path`` it is finer than the grid above, of one cell of that.

    Cells are anchored at 0 and as coarse as the range asks, so that grids of parts come to the same whatever their order.
    """

    key: Key
    power: int
    first: int
    counts: Counts
    low: tuple[float, int]
    high: tuple[float, int]
    sums: Sums = (Fraction(0), Fraction(0))
    path: Path = ()

    @property
    def place(self) -> Place:
        """The lane and the path in it."""
        return self.key, self.path

    @property
    def width(self) -> float:
        """How wide a cell is."""
        return math.ldexp(1.0, self.power)

    @property
    def rows(self) -> int:
        """How many values there are."""
        return int(self.counts.sum()) + self.low[1] + self.high[1]

    def middle(self, places: Counts) -> Floats:
        """The middles of the cells at some places, from 0 for the first."""
        return np.asarray(np.ldexp((places + self.first) + 0.5, self.power), dtype=np.float64)

    def places(self, values: Floats) -> Counts:
        """The places of the cells of values, from 0 for the first."""
        scaled = values * 2.0**-self.power if abs(self.power) < _PLAIN else np.ldexp(values, -self.power)
        return np.floor(scaled, out=scaled).astype(np.int64) - self.first

    def ends(self) -> tuple[Floats, Counts]:
        """The least and the greatest value, with their counts."""
        ends = [self.low, self.high] if self.low[0] != self.high[0] else [self.low]
        return np.array([value for value, _ in ends]), np.array([count for _, count in ends], dtype=np.int64)


def grid_of(place: Place, values: Floats, counts: Counts | None = None) -> Grid:
    """The grid of finite values (shape (n,), two different ones at least), each with its count."""
    low, high = float(values.min()), float(values.max())
    return replace(_put(_empty(place, low, high), values, counts), sums=binary_sums(values, counts))


def merged_grids(grids: Sequence[Grid]) -> Grid:
    """Several grids of one lane as one."""
    low, high = min(grid.low[0] for grid in grids), max(grid.high[0] for grid in grids)
    result = _empty(grids[0].place, low, high)
    for grid in grids:
        finer = result.power - grid.power
        start = (grid.first >> finer) - result.first
        coarse = np.add.reduceat(grid.counts, _starts(grid, finer)) if finer else grid.counts
        result.counts[start : start + len(coarse)] += coarse
        ends = [end for end in (grid.low, grid.high) if end[1]]
        if ends:
            result = _put(result, np.array([value for value, _ in ends]), np.array([count for _, count in ends]))
    return replace(result, sums=_added([grid.sums for grid in grids]))


def _starts(grid: Grid, finer: int) -> Counts:
    """The places of the cells that begin one 2^``finer`` times as wide; the first of these may begin before."""
    cells, step = len(grid.counts), 1 << finer
    second = min(-grid.first % step or step, cells)
    return np.concatenate([np.zeros(1, dtype=np.int64), np.arange(second, cells, min(step, cells), dtype=np.int64)])


def _added(sums: Sequence[Sums]) -> Sums:
    return sum((first for first, _ in sums), Fraction(0)), sum((second for _, second in sums), Fraction(0))


def grids_of(parts: Sequence[Sequence[Grid]]) -> tuple[Grid, ...]:
    """The grids of several parts, those of one lane as one."""
    by_place: dict[Place, list[Grid]] = {}
    for grids in parts:
        for grid in grids:
            by_place.setdefault(grid.place, []).append(grid)
    return tuple(merged_grids(several) if len(several) > 1 else several[0] for several in by_place.values())


def added(grid: Grid, values: Floats, counts: Counts | None = None) -> Grid:
    """A grid with more values (shape (n,))."""
    if not len(values):
        return grid
    low, high = min(grid.low[0], float(values.min())), max(grid.high[0], float(values.max()))
    if (low, high) != (grid.low[0], grid.high[0]):
        grid = merged_grids([grid, _empty(grid.place, low, high)])
    made = _put(replace(grid, counts=grid.counts.copy()), values, counts)
    return replace(made, sums=_added([grid.sums, binary_sums(values, counts)]))


def _empty(place: Place, low: float, high: float) -> Grid:
    span = high - low
    bits = math.frexp(span)[1] if math.isfinite(span) else _WIDEST
    power = max(bits - 1 - PARTS_OF_RANGE, -_PLAIN) if high > low else -PARTS_OF_RANGE
    first, last = (math.floor(math.ldexp(end, -power)) for end in (low, high))
    key, path = place
    return Grid(key, power, first, np.zeros(last - first + 1, dtype=np.int64), (low, 0), (high, 0), path=path)


def _put(grid: Grid, values: Floats, counts: Counts | None) -> Grid:
    """More values within a grid's range; its counts are changed in their place."""
    places = grid.places(values)
    if len(values) < _FEW:
        np.add.at(grid.counts, places, 1 if counts is None else counts)
    else:
        grid.counts[:] += np.bincount(places, weights=counts, minlength=len(grid.counts)).astype(np.int64)
    ends = [values == end for end in (grid.low[0], grid.high[0])]
    low, high = (int(np.count_nonzero(end) if counts is None else counts[end].sum()) for end in ends)
    # The ends stand for themselves.
    grid.counts[0] -= low
    grid.counts[-1] -= high
    return replace(grid, low=(grid.low[0], grid.low[1] + low), high=(grid.high[0], grid.high[1] + high))


def packed_grids(grids: Sequence[Grid]) -> bytes:
    """As an Arrow file; nothing for none."""
    if not grids:
        return b""
    keys = {f"key{place}": [grid.key[place] for grid in grids] for place in range(len(grids[0].key))}
    fields = {name: [getattr(grid, name) for grid in grids] for name in ("power", "first", "counts")}
    paths = pl.Series("path", [grid.path for grid in grids], dtype=pl.List(pl.Int64))
    ends = {f"{end}{place}": [getattr(grid, end)[place] for grid in grids] for end in ("low", "high") for place in (0, 1)}
    sums = {f"sum{place}": [str(grid.sums[place]) for grid in grids] for place in (0, 1)}
    sink = io.BytesIO()
    pl.DataFrame(keys | fields | ends | sums).with_columns(paths).write_ipc(sink, compression="zstd")
    return sink.getvalue()


def unpacked_grids(data: bytes) -> tuple[Grid, ...]:
    """Back from :func:`packed_grids`."""
    if not data:
        return ()
    frame = pl.read_ipc(io.BytesIO(data))
    keys = [name for name in frame.columns if name.startswith("key")]
    return tuple(_grid_of_row(row, tuple(row[name] for name in keys)) for row in frame.iter_rows(named=True))


def _grid_of_row(row: dict[str, Any], key: Key) -> Grid:
    low, high = ((row[f"{end}0"], row[f"{end}1"]) for end in ("low", "high"))
    grid = Grid(key, row["power"], row["first"], np.array(row["counts"], dtype=np.int64), low, high)
    if "sum0" in row:
        return replace(grid, sums=(Fraction(row["sum0"]), Fraction(row["sum1"])), path=tuple(row["path"]))
    # A tally of an older release knows the cells' middles alone.
    held = np.flatnonzero(grid.counts)
    return replace(grid, sums=_added([binary_sums(grid.middle(held), grid.counts[held]), binary_sums(*grid.ends())]))
