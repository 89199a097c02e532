"""Lanes of more different values than are counted one by one: their values gather into cells of a grid."""

from __future__ import annotations

import numpy as np
import polars as pl

from echelle.far.question import CountQuestion

COUNT, CELL = "\x00count", "\x00cell"
# So many different values of one lane are counted one by one; of more a cell is at most this part of their range.
MOST_DISTINCT, PARTS_OF_RANGE = 100_000, 17
_SIZE, _LOW, _HIGH, _POWER = "\x00size", "\x00low", "\x00high", "\x00power"


def gathered(counted: pl.DataFrame, question: CountQuestion) -> pl.DataFrame:
    """Counted rows, those of lanes with too many different values by cells: the measure is a cell's lower end then, and CELL
    its width's power of two (null where a value stands for itself, as the least and the greatest always do).

    The grid is anchored at 0 and as coarse as the range of the whole lane asks, so that parts come to the same cells in
    whatever order they are merged.
    """
    measure = question.measure
    if not counted.schema[measure].is_numeric():
        return counted
    if CELL not in counted.columns:
        if counted.height <= MOST_DISTINCT:
            return counted
        counted = counted.with_columns(pl.lit(None, dtype=pl.Int32).alias(CELL))
    counted = counted.with_columns(pl.col(measure).cast(pl.Float64))
    keys = [name for name in question.columns if name != measure]
    finite = counted.filter(pl.col(measure).is_finite())
    summed = [
        pl.len().alias(_SIZE), pl.col(CELL).is_not_null().any().alias(CELL), pl.col(measure).min().alias(_LOW),
        pl.col(measure).max().alias(_HIGH),
    ]  # fmt: skip
    lanes = finite.group_by(keys).agg(summed) if keys else finite.select(summed)
    many = lanes.filter((pl.col(_SIZE) > MOST_DISTINCT) | pl.col(CELL))
    if not many.height:
        return counted.drop(CELL)
    _, power = np.frexp(many[_HIGH].to_numpy() - many[_LOW].to_numpy())
    many = many.with_columns(pl.Series(_POWER, power - 1 - PARTS_OF_RANGE, dtype=pl.Int32)).select([*keys, _POWER, _LOW, _HIGH])
    known = counted.join(many, on=keys, nulls_equal=True, how="left") if keys else counted.join(many, how="cross")
    value, step = pl.col(measure), pl.lit(2.0).pow(pl.col(_POWER))
    own = pl.col(CELL).is_null() & ((value == pl.col(_LOW)) | (value == pl.col(_HIGH)))
    inside = pl.col(_POWER).is_not_null() & value.is_finite() & ~own
    placed = known.with_columns(
        pl.when(inside).then((value / step).floor() * step).otherwise(value).alias(measure),
        pl.when(inside).then(pl.col(_POWER)).otherwise(pl.lit(None, dtype=pl.Int32)).alias(CELL),
    )
    return placed.group_by([*question.every, CELL]).agg(pl.col(COUNT).sum())


def middles(counted: pl.DataFrame, measure: str) -> tuple[pl.DataFrame, float | None]:
    """Counted rows with each cell's middle for its values, and how wide the widest cell is; None where there is none."""
    if CELL not in counted.columns:
        return counted, None
    width = pl.lit(2.0).pow(pl.col(CELL))
    power = counted[CELL].max()
    value = pl.col(measure)
    moved = counted.with_columns(pl.when(pl.col(CELL).is_null()).then(value).otherwise(value + width / 2).alias(measure))
    # A middle may be a value that stands for itself.
    names = [name for name in counted.columns if name not in (CELL, COUNT)]
    return moved.group_by(names).agg(pl.col(COUNT).sum()), None if power is None else 2.0 ** int(str(power))
