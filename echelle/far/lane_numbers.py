"""Numbers in no steps: a lane's values as they come, until they are too many and gather into the cells of a grid."""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np
import polars as pl

from echelle.far.cells import COUNT, MOST_DISTINCT, Grid, Key, Path, Place, added, grid_of
from echelle.numbers.pieces import pieces_of
from echelle.numbers.sample import Counts, Floats, Sample, tally_of

# A hash of 20 bits, by the fractional part of the golden ratio (Knuth 1973, section 6.4).
_SLOTS, _MULTIPLIER = 20, np.uint64(0x9E3779B97F4A7C15)
_FIELDS: dict[str, pl.DataType] = {
    "values": pl.List(pl.Float64),
    "counts": pl.List(pl.Int64),
    "path": pl.List(pl.Int64),
    "opened": pl.Boolean(),
}
# Where so many of a lane's values differ, sorting them would not make them fewer.
_MOSTLY = 0.8


@dataclass(frozen=True, eq=False)
class LaneNumbers:
    """Finite values of the lane with these levels, shape (k,): in any order each once, or with their counts. With a ``path``
    they are those in one cell of a grid; ``opened`` ones are of some cells, to be kept as they are however many they are.
    """

    key: Key
    values: Floats
    counts: Counts | None = None
    path: Path = ()
    opened: bool = False

    @property
    def place(self) -> Place:
        """The lane and the path in it."""
        return self.key, self.path

    @property
    def sample(self) -> Sample:
        """The different values with their counts."""
        return tally_of(self.values, self.often)

    @property
    def often(self) -> Counts:
        """How often each value occurs, shape (k,); not to be changed."""
        return np.broadcast_to(np.int64(1), self.values.shape) if self.counts is None else self.counts


def least_different(values: Floats) -> int:
    """So many of the values (shape (n,)) differ at least: they fall into as many slots of a hash. Where the first show that
    they are too many, the others are not looked at.
    """
    seen = np.zeros(1 << _SLOTS, dtype=np.bool_)
    looked = 0
    for piece in pieces_of(values):
        slots = (piece + 0.0).view(np.uint64)
        slots *= _MULTIPLIER
        slots >>= np.uint64(64 - _SLOTS)
        seen[slots.view(np.int64)] = True
        looked += len(piece)
        if looked > MOST_DISTINCT and (count := int(np.count_nonzero(seen))) > MOST_DISTINCT:
            return count
    return int(np.count_nonzero(seen))


def joined(parts: Iterable[LaneNumbers], grids: Iterable[Grid]) -> tuple[tuple[LaneNumbers, ...], tuple[Grid, ...]]:
    """The lanes of several parts by their levels; those with a grid, or of too many different values, as grids."""
    by_place: dict[tuple[Place, bool], list[LaneNumbers]] = {}
    for part in parts:
        by_place.setdefault((part.place, part.opened), []).append(part)
    known = {grid.place: grid for grid in grids}
    lanes = []
    for (place, opened), several in by_place.items():
        if opened:
            values, counts = joined_numbers(several)
            lanes.append(replace(several[0], values=values, counts=counts))
        elif place in known:
            known[place] = added(known[place], *joined_numbers(several))
        else:
            lane = _settled(several)
            if isinstance(lane, Grid):
                known[place] = lane
            else:
                lanes.append(lane)
    return tuple(lanes), tuple(known.values())


def _settled(several: Sequence[LaneNumbers]) -> LaneNumbers | Grid:
    values, counts = joined_numbers(several)
    if counts is None:
        different = least_different(values)
        if different > MOST_DISTINCT:
            return grid_of(several[0].place, values)
        if len(values) <= MOST_DISTINCT and different > _MOSTLY * len(values):
            return replace(several[0], values=values)
    elif len(several) == 1 and len(values) <= MOST_DISTINCT:
        return several[0]
    whole = replace(several[0], values=values, counts=counts)
    sample = whole.sample
    if len(sample.values) > MOST_DISTINCT:
        return grid_of(whole.place, sample.values, sample.counts)
    return replace(whole, values=sample.values, counts=sample.often)


def joined_numbers(several: Sequence[LaneNumbers]) -> tuple[Floats, Counts | None]:
    """The values of several parts of one lane, with their counts unless each value stands for one."""
    values = several[0].values if len(several) == 1 else np.concatenate([part.values for part in several])
    if all(part.counts is None for part in several):
        return values, None
    return values, np.concatenate([part.often for part in several])


def gathered(
    parts: Sequence[pl.DataFrame],
    lanes: Sequence[LaneNumbers],
    grids: Sequence[Grid],
    measure: str,
    keys: Sequence[str],
) -> tuple[pl.DataFrame, tuple[LaneNumbers, ...], tuple[Grid, ...]]:
    """Counted rows as one frame, and the lanes of numbers in no steps with all that the rows hold of them, those of too many
    different values as grids.
    """
    counted = pl.concat(parts, how="vertical_relaxed")
    if len(parts) > 1:
        counted = counted.group_by([*keys, measure]).agg(pl.col(COUNT).sum())
    if not counted.schema[measure].is_numeric():
        return counted, tuple(lanes), tuple(grids)
    several = {lane.key for lane in lanes} | {grid.key for grid in grids}
    if counted.height > MOST_DISTINCT:
        numbers = counted.filter(_finite(measure))
        sizes = (numbers.group_by(keys).len() if keys else numbers.select(pl.len())).filter(pl.col("len") > MOST_DISTINCT)
        several |= set(sizes.select(keys).rows()) if keys else {()} if sizes.height else set()
    if several:
        counted, numbers_of = _apart(counted, several, measure, keys)
        lanes = [*lanes, *numbers_of]
    return counted, *joined(lanes, grids)


def _finite(measure: str) -> pl.Expr:
    return pl.col(measure).cast(pl.Float64).is_finite().fill_null(False)


def _apart(
    counted: pl.DataFrame, keys_of: set[Key], measure: str, keys: Sequence[str]
) -> tuple[pl.DataFrame, list[LaneNumbers]]:
    """The rows that are left without the numbers of some lanes, and these."""
    finite = _finite(measure)
    rest, numbers = [counted.filter(~finite)], counted.filter(finite)
    lanes = numbers.partition_by(keys, as_dict=True, maintain_order=False) if keys else {(): numbers}
    result = []
    for key, lane in lanes.items():
        if key in keys_of and lane.height:
            result.append(LaneNumbers(key, lane[measure].cast(pl.Float64).to_numpy(), lane[COUNT].to_numpy()))
        else:
            rest.append(lane)
    return pl.concat(rest), result


def outer_rows(lanes: Sequence[LaneNumbers], most: int, measure: str, keys: Sequence[str], like: pl.Schema) -> pl.DataFrame:
    """So many of each lane's lowest and highest values as counted rows."""
    outer = []
    for lane in lanes:
        ends = min(most, len(lane.values))
        order = np.argpartition(lane.values, sorted({ends - 1, len(lane.values) - ends}))
        places = np.unique(np.concatenate([order[:ends], order[len(order) - ends :]]))
        outer.append(LaneNumbers(lane.key, lane.values[places], None if lane.counts is None else lane.counts[places]))
    return pl.concat(rows_of_lanes(outer, measure, keys, like))


def rows_of_lanes(lanes: Sequence[LaneNumbers], measure: str, keys: Sequence[str], like: pl.Schema) -> list[pl.DataFrame]:
    """The lanes' different values as counted rows."""
    frames = []
    for lane in lanes:
        sample = lane.sample
        frames.append(with_levels(pl.DataFrame({measure: sample.values, COUNT: sample.often}), keys, lane.key, like))
    return frames


def with_levels(frame: pl.DataFrame, keys: Sequence[str], key: Key, like: pl.Schema) -> pl.DataFrame:
    """The rows of one lane with the columns of its levels."""
    return frame.with_columns(pl.lit(level, dtype=like[name]).alias(name) for name, level in zip(keys, key, strict=True))


def packed_lanes(lanes: Sequence[LaneNumbers]) -> bytes:
    """As an Arrow file; nothing for none."""
    if not lanes:
        return b""
    keys = {f"key{place}": [lane.key[place] for lane in lanes] for place in range(len(lanes[0].key))}
    fields = {name: [getattr(lane, name) for lane in lanes] for name in _FIELDS}
    sink = io.BytesIO()
    pl.DataFrame(keys | fields, schema_overrides=_FIELDS).write_ipc(sink, compression="zstd")
    return sink.getvalue()


def unpacked_lanes(data: bytes) -> tuple[LaneNumbers, ...]:
    """Back from :func:`packed_lanes`."""
    if not data:
        return ()
    frame = pl.read_ipc(io.BytesIO(data))
    keys = frame.select(pl.exclude(*_FIELDS)).rows() if frame.width > len(_FIELDS) else [()] * frame.height
    values, counts, paths, opened = (frame[name] for name in _FIELDS)
    return tuple(
        LaneNumbers(
            key, values[place].to_numpy(), None if counts[place] is None else counts[place].to_numpy(),
            tuple(paths[place].to_list()), opened[place],
        )
        for place, key in enumerate(keys)
    )  # fmt: skip
