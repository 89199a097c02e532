"""Which rows of a part may be drawn one by one: those of the smallest hashes of each lane, and its outermost values."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.far.cells import COUNT, Grid
from echelle.far.question import CountQuestion
from echelle.numbers.sample import Floats

ROW, ORDER = "\x00row", "\x00order"
_VALUE, _LOW, _HIGH = "\x00value", "\x00low", "\x00high"
Mask = NDArray[np.bool_]
# Six standard deviations of how many of the smallest hashes lie below their expected bound.
_SURE = 6.0
# Of a long lane the highest of so many values are looked at first.
_BLOCK = 64
# Hashes have 32 bits.
HASHES = float(1 << 32)


def chosen(examples: pl.DataFrame, counted: pl.DataFrame, grids: Sequence[Grid], question: CountQuestion) -> pl.DataFrame:
    """Of each lane's candidates those of the smallest hashes and the outermost values; the same however rows are parted."""
    # Ranks cost much: they are given to the few that may be among the first, though each should be there twice.
    bound, place = pl.col(ORDER).bottom_k(2 * question.examples).max(), pl.struct(ORDER, ROW).rank("ordinal")
    if question.lanes:
        bound, place = bound.over(question.lanes), place.over(question.lanes)
    picked = examples.filter(pl.col(ORDER) <= bound).unique(ROW).filter(place <= question.examples)
    outer = extremes_of(examples, counted, question, grids)
    both = pl.concat([picked, *(part.select(picked.columns) for part in outer)])
    return both.unique(ROW).sort(ROW)


def extremes_of(
    known: pl.DataFrame, counted: pl.DataFrame, question: CountQuestion, grids: Sequence[Grid] = ()
) -> list[pl.DataFrame]:
    """The rows whose values are the lowest and the highest of their lane, where the measure holds numbers; of lanes with grids
    the least and the greatest.
    """
    bounds = _bounds(counted, question)
    if grids:
        of_grids = _bounds_of_grids(grids, question)
        if bounds is not None and question.lanes:
            of_grids = pl.concat([of_grids, bounds.join(of_grids, on=question.lanes, nulls_equal=True, how="anti")])
        bounds = of_grids
    if bounds is None:
        return []
    value = pl.col(question.measure).cast(pl.Float64)
    low, high = pl.col(_LOW), pl.col(_HIGH)
    if question.lanes:
        known = known.join(bounds, on=question.lanes, nulls_equal=True, how="left")
    else:
        low, high = (pl.lit(bounds[name][0], dtype=pl.Float64) for name in (_LOW, _HIGH))
    return [known.filter((value <= low) | (value >= high))]


def _bounds_of_grids(grids: Sequence[Grid], question: CountQuestion) -> pl.DataFrame:
    lanes = {name: [grid.key[place] for grid in grids] for place, name in enumerate(question.lanes)}
    ends = {_LOW: [grid.low[0] for grid in grids], _HIGH: [grid.high[0] for grid in grids]}
    frame, both = pl.DataFrame(lanes | ends), [pl.col(_LOW).min(), pl.col(_HIGH).max()]
    return frame.group_by(question.lanes).agg(both) if question.lanes else frame.select(both)


def _bounds(counted: pl.DataFrame, question: CountQuestion) -> pl.DataFrame | None:
    """For each lane the values at or below which, and at or above which, at most so many rows lie; infinite for none."""
    if not counted.height or not counted.schema[question.measure].is_numeric():
        return None
    value, most = pl.col(question.measure).cast(pl.Float64), question.extremes + 1
    values = counted.filter(value.is_finite()).select([*question.lanes, value.alias(_VALUE), COUNT])
    if not values.height:
        return None
    # A row counts one at least: so many of the lowest and highest hold the bounds.
    outer = [pl.col(_VALUE).bottom_k(most).max().alias(_LOW), pl.col(_VALUE).top_k(most).min().alias(_HIGH)]
    if question.lanes:
        near = values.join(values.group_by(question.lanes).agg(outer), on=question.lanes, nulls_equal=True, how="left")
    else:
        near = values.join(values.select(outer), how="cross")
    lanes = list(question.lanes)
    near = near.filter((pl.col(_VALUE) <= pl.col(_LOW)) | (pl.col(_VALUE) >= pl.col(_HIGH)))
    near = near.group_by([*lanes, _VALUE]).agg(pl.col(COUNT).sum(), pl.col(_LOW).first(), pl.col(_HIGH).first()).sort(_VALUE)
    lowest, highest = pl.col(_VALUE) <= pl.col(_LOW), pl.col(_VALUE) >= pl.col(_HIGH)
    up = pl.col(_VALUE).filter(lowest).filter(pl.col(COUNT).filter(lowest).cum_sum() <= question.extremes)
    down = pl.col(_VALUE).filter(highest).filter(pl.col(COUNT).filter(highest).cum_sum(reverse=True) <= question.extremes)
    low, high = up.max().fill_null(-np.inf).alias(_LOW), down.min().fill_null(np.inf).alias(_HIGH)
    return near.group_by(question.lanes).agg(low, high) if question.lanes else near.select(low, high)


def bounds_of_lanes(sizes: NDArray[np.int64], question: CountQuestion) -> NDArray[np.uint32]:
    """Up to which hash rows are candidates, by lane; ``sizes`` says how many rows each has."""
    with np.errstate(divide="ignore"):
        return np.minimum(candidates(question) / sizes * HASHES, HASHES - 1).astype(np.uint32)


def outer_of_lanes(sizes: NDArray[np.int64], numbers: Floats, finite: Mask, question: CountQuestion) -> NDArray[np.intp]:
    """The rows of the outermost values of each lane, as places among rows that are sorted by lane."""
    ends = np.cumsum(sizes)
    picked = [np.zeros(0, dtype=np.intp)]
    for start, end in zip((ends - sizes).tolist(), ends.tolist(), strict=True):
        values, count = numbers[start:end], int(np.count_nonzero(finite[start:end]))
        most = min(question.extremes, count - 1)
        if most < 0:
            continue
        if count < end - start:
            values = np.where(finite[start:end], values, np.nan)
        outer = np.concatenate([_outer(values, most, False), _outer(values, most, True)])
        # NaNs come last.
        low, high = np.partition(values[outer], [most, len(outer) - 1 - most])[[most, len(outer) - 1 - most]]
        picked.append(start + outer[(values[outer] < low) | (values[outer] > high)])
    return np.concatenate(picked)


def _outer(values: Floats, most: int, above: bool) -> NDArray[np.intp]:
    """Places of the ``most`` + 1 highest values (or lowest) and some others: of many only those that reach the least of as
    many blocks' highest.
    """
    whole = len(values) // _BLOCK * _BLOCK
    if whole < (most + 1) * _BLOCK * 2:
        return np.flatnonzero(~np.isnan(values))
    # Down the blocks, which takes a fraction of the time along them.
    blocks = values[:whole].reshape(_BLOCK, -1)
    if above:
        highest = np.fmax.reduce(blocks, axis=0)
        place = len(highest) - 1 - most
        return np.flatnonzero(values >= np.partition(highest, place)[place])
    return np.flatnonzero(values <= np.partition(np.fmin.reduce(blocks, axis=0), most)[most])


def outermost(of_lane: NDArray[np.int64], question: CountQuestion) -> Mask:
    """By lane and code of the measure (the last for null): the lowest and highest that at most so many rows reach."""
    result = np.zeros(of_lane.shape, dtype=np.bool_)
    values = of_lane[:, :-1]
    result[:, :-1] = np.cumsum(values, axis=1) <= question.extremes
    result[:, :-1] |= np.cumsum(values[:, ::-1], axis=1)[:, ::-1] <= question.extremes
    return result


def candidates(question: CountQuestion) -> float:
    """So many candidates of a lane hold those of the smallest hashes, but for six standard deviations."""
    return question.examples + _SURE * math.sqrt(question.examples) + 20


def hashed(first: int, place: int, rows: int, seed: int) -> NDArray[np.uint32]:
    """A hash of the rows from ``first`` on of a part, shape (rows,): the same wherever and whenever it is computed, by a mixing
    of 32 bits without bias (Wellons 2018).
    """
    salt = np.random.default_rng([seed, place]).integers(0, 1 << 32, dtype=np.uint32)
    x = np.arange(first, first + rows, dtype=np.int64).astype(np.uint32) ^ salt
    for shift, times in ((16, 0x7FEB352D), (15, 0x846CA68B)):
        x ^= x >> np.uint32(shift)
        x *= np.uint32(times)
    x ^= x >> np.uint32(16)
    return x
