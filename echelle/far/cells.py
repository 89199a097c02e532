"""Lanes of more different values than are counted one by one: their values gather into cells of a grid."""

from __future__ import annotations

import io
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import polars as pl

from echelle.numbers.sample import Counts, Floats

COUNT = "\x00count"
# So many different values of one lane are counted one by one; of more a cell is at most this part of their range.
MOST_DISTINCT, PARTS_OF_RANGE = 100_000, 17
Key = tuple[Any, ...]


@dataclass(frozen=True, eq=False)
class Grid:
    """The values of one lane by cells 2^``power`` wide, from the cell ``first`` · 2^power on (shape (k,)); without the least
    and the greatest value, which stand for themselves with their counts. ``key`` holds the lane's levels.

    Cells are anchored at 0 and as coarse as the range asks, so that grids of parts come to the same whatever their order.
    """

    key: Key
    power: int
    first: int
    counts: Counts
    low: tuple[float, int]
    high: tuple[float, int]

    @property
    def width(self) -> float:
        """How wide a cell is."""
        return math.ldexp(1.0, self.power)

    def rows(self) -> tuple[Floats, Counts]:
        """The middles of the cells that hold values, with the least and the greatest value; and how many there are of each."""
        held = np.flatnonzero(self.counts)
        middles = np.ldexp((held + self.first) + 0.5, self.power)
        ends = [self.low, self.high] if self.low[0] != self.high[0] else [self.low]
        values = np.concatenate([middles, [value for value, _ in ends]])
        return values, np.concatenate([self.counts[held], np.array([count for _, count in ends], dtype=np.int64)])


def grid_of(key: Key, values: Floats, counts: Counts | None = None) -> Grid:
    """The grid of finite values (shape (n,), two different ones at least), each with its count."""
    low, high = float(values.min()), float(values.max())
    return _put(_empty(key, low, high), values, counts)


def merged_grids(grids: Sequence[Grid]) -> Grid:
    """Several grids of one lane as one."""
    low, high = min(grid.low[0] for grid in grids), max(grid.high[0] for grid in grids)
    result = _empty(grids[0].key, low, high)
    for grid in grids:
        finer = result.power - grid.power
        places = (np.arange(len(grid.counts)) + grid.first) >> finer
        np.add.at(result.counts, places - result.first, grid.counts)
        ends = [end for end in (grid.low, grid.high) if end[1]]
        if ends:
            result = _put(result, np.array([value for value, _ in ends]), np.array([count for _, count in ends]))
    return result


def added(grid: Grid, values: Floats, counts: Counts | None = None) -> Grid:
    """A grid with more values (shape (n,))."""
    if not len(values):
        return grid
    low, high = min(grid.low[0], float(values.min())), max(grid.high[0], float(values.max()))
    if (low, high) != (grid.low[0], grid.high[0]):
        grid = merged_grids([grid, _empty(grid.key, low, high)])
    return _put(replace(grid, counts=grid.counts.copy()), values, counts)


def _empty(key: Key, low: float, high: float) -> Grid:
    power = math.frexp(high - low)[1] - 1 - PARTS_OF_RANGE if high > low else -PARTS_OF_RANGE
    first, last = (math.floor(math.ldexp(end, -power)) for end in (low, high))
    return Grid(key, power, first, np.zeros(last - first + 1, dtype=np.int64), (low, 0), (high, 0))


def _put(grid: Grid, values: Floats, counts: Counts | None) -> Grid:
    """More values within a grid's range; its counts are changed in their place."""
    weights = np.ones(len(values), dtype=np.int64) if counts is None else counts
    lowest, highest = values == grid.low[0], values == grid.high[0]
    inside = ~(lowest | highest)
    places = np.floor(np.ldexp(values[inside], -grid.power)).astype(np.int64) - grid.first
    grid.counts[:] += np.bincount(places, weights=weights[inside], minlength=len(grid.counts)).astype(np.int64)
    low, high = int(weights[lowest].sum()), int(weights[highest].sum())
    return replace(grid, low=(grid.low[0], grid.low[1] + low), high=(grid.high[0], grid.high[1] + high))


def gathered(
    parts: Sequence[pl.DataFrame], grids: Iterable[Grid], measure: str, keys: Sequence[str]
) -> tuple[pl.DataFrame, tuple[Grid, ...]]:
    """Counted rows as one frame, without the lanes of too many different values, and the grids of these: those there are, with
    what the rows add to them, and new ones.
    """
    by_key: dict[Key, list[Grid]] = {}
    for grid in grids:
        by_key.setdefault(grid.key, []).append(grid)
    known = {key: merged_grids(several) if len(several) > 1 else several[0] for key, several in by_key.items()}
    counted = pl.concat(parts, how="vertical_relaxed")
    if known:
        counted, known = _into_grids(counted, known, measure, keys)
    if len(parts) > 1:
        counted = counted.group_by([*keys, measure]).agg(pl.col(COUNT).sum())
    if not counted.schema[measure].is_numeric() or counted.height <= MOST_DISTINCT:
        return counted, tuple(known.values())
    numbers = counted.filter(_finite(measure))
    sizes = (numbers.group_by(keys).len() if keys else numbers.select(pl.len())).filter(pl.col("len") > MOST_DISTINCT)
    if not sizes.height:
        return counted, tuple(known.values())
    new = sizes.select(keys).rows() if keys else [()]
    counted, made = _into_grids(counted, dict.fromkeys(new), measure, keys)
    return counted, (*known.values(), *made.values())


def _finite(measure: str) -> pl.Expr:
    return pl.col(measure).cast(pl.Float64).is_finite().fill_null(False)


def _into_grids(
    counted: pl.DataFrame, grids: Mapping[Key, Grid | None], measure: str, keys: Sequence[str]
) -> tuple[pl.DataFrame, dict[Key, Grid]]:
    """The rows of some lanes into their grids, None for new ones; and the rows that are left."""
    finite = _finite(measure)
    rest, numbers = [counted.filter(~finite)], counted.filter(finite)
    lanes = numbers.partition_by(keys, as_dict=True, maintain_order=False) if keys else {(): numbers}
    result = {key: grid for key, grid in grids.items() if grid is not None}
    for key, lane in lanes.items():
        if key not in grids:
            rest.append(lane)
            continue
        values, counts, grid = lane[measure].cast(pl.Float64).to_numpy(), lane[COUNT].to_numpy(), grids[key]
        result[key] = grid_of(key, values, counts) if grid is None else added(grid, values, counts)
    return pl.concat(rest), result


def packed_grids(grids: Sequence[Grid]) -> bytes:
    """As an Arrow file; nothing for none."""
    if not grids:
        return b""
    keys = {f"key{place}": [grid.key[place] for grid in grids] for place in range(len(grids[0].key))}
    fields = {name: [getattr(grid, name) for grid in grids] for name in ("power", "first", "counts")}
    ends = {f"{end}{place}": [getattr(grid, end)[place] for grid in grids] for end in ("low", "high") for place in (0, 1)}
    sink = io.BytesIO()
    pl.DataFrame(keys | fields | ends).write_ipc(sink, compression="zstd")
    return sink.getvalue()


def unpacked_grids(data: bytes) -> tuple[Grid, ...]:
    """Back from :func:`packed_grids`."""
    if not data:
        return ()
    frame = pl.read_ipc(io.BytesIO(data))
    keys = [name for name in frame.columns if name.startswith("key")]
    return tuple(
        Grid(
            tuple(row[name] for name in keys), row["power"], row["first"], np.array(row["counts"], dtype=np.int64),
            (row["low0"], row["low1"]), (row["high0"], row["high1"]),
        )
        for row in frame.iter_rows(named=True)
    )  # fmt: skip


def with_grids(counted: pl.DataFrame, grids: Sequence[Grid], measure: str, keys: Sequence[str]) -> pl.DataFrame:
    """Counted rows with those of grids, by the middles of their cells."""
    if not grids:
        return counted
    parts = [counted.with_columns(pl.col(measure).cast(pl.Float64))]
    for grid in grids:
        values, counts = grid.rows()
        levels = [pl.lit(level, dtype=counted.schema[name]).alias(name) for name, level in zip(keys, grid.key, strict=True)]
        parts.append(pl.DataFrame({measure: values, COUNT: counts}).with_columns(levels).select(counted.columns))
    # A middle may be a value that stands for itself.
    return pl.concat(parts).group_by([name for name in counted.columns if name != COUNT]).agg(pl.col(COUNT).sum())
