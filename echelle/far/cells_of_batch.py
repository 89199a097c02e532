"""The values of a batch that lie in cells that are asked for."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator, Sequence

import numpy as np
import polars as pl
import pyarrow as pa
from numpy.typing import NDArray

from echelle.far.cells import COUNT, Key
from echelle.far.codes import CodedColumn, Codes, keys_of, numbers_of, together
from echelle.far.lane_numbers import LaneNumbers
from echelle.far.question import CountQuestion, LaneCells, lane_name
from echelle.far.tally import PartTally
from echelle.numbers.pieces import pieces_of
from echelle.numbers.sample import Floats

_CODE = "\x00code"
# So many cells of all lanes together are flagged at once; powers of two up to this are products of float64.
_MOST_FLAGS, _PLAIN = 1 << 20, 1_000


def cells_of_batch(table: pa.Table, keys: list[CodedColumn] | None, question: CountQuestion) -> PartTally:
    """The values of a batch in the question's cells, by lane; ``keys`` are the coded levels, None where they have no codes."""
    values = numbers_of(table.column(question.measure))
    code, levels = _coded_lanes(table, question) if keys is None else _lanes_of_codes(table.num_rows, keys)
    code_of = {lane_name(key): place for place, key in enumerate(levels)}
    lanes = list[LaneNumbers]()
    for layer in _layers(question.cells):
        here = {code_of[cells.name]: cells for cells in layer if cells.name in code_of}
        if here:
            lanes += _in_cells(code, values, here, levels)
    none = pl.DataFrame(schema=dict.fromkeys((*question.every, COUNT), pl.Int64))
    return PartTally(none, none, table.num_rows, lanes=tuple(lanes))


def _lanes_of_codes(rows: int, keys: list[CodedColumn]) -> tuple[Codes, list[Key]]:
    return together(keys, rows), keys_of(np.arange(math.prod(column.size for column in keys)), keys)


def _coded_lanes(table: pa.Table, question: CountQuestion) -> tuple[Codes, list[Key]]:
    frame = pl.DataFrame(pl.from_arrow(table.select(question.keys)))
    frame = frame.with_columns(pl.col(pl.Categorical, pl.Enum).cast(pl.String))
    levels = frame.unique(maintain_order=True).with_row_index(_CODE)
    code = frame.join(levels, on=list(question.keys), nulls_equal=True, how="left", maintain_order="left")[_CODE]
    return code.cast(pl.Int32).to_numpy(), levels.drop(_CODE).rows()


def _layers(cells: Sequence[LaneCells]) -> list[list[LaneCells]]:
    """The cells so that each lane stands once in a layer."""
    layers = list[dict[str, LaneCells]]()
    for lane in cells:
        free = next((layer for layer in layers if lane.name not in layer), None)
        if free is None:
            layers.append(free := {})
        free[lane.name] = lane
    return [list(layer.values()) for layer in layers]


def _in_cells(code: Codes, values: Floats, cells: dict[int, LaneCells], levels: Sequence[Key]) -> Iterator[LaneNumbers]:
    # The cells of all lanes, each lane's one after the other, stand in one row of flags; 2 for heavy ones.
    scale, shift = np.zeros(len(levels)), np.ones(len(levels))
    least, most = np.zeros(len(levels)), np.zeros(len(levels))
    finer = any(lane.path for lane in cells.values())
    flags, size = [np.zeros(2, dtype=np.int8)], 2
    for place, lane in cells.items():
        # Of a lane's own grid all cells that its values lie in, so that none lies outside.
        ends = (math.floor(math.ldexp(end, -lane.power)) for end in lane.ends)
        first, last = (lane.cells[0], lane.cells[-1]) if finer else ends
        own = np.zeros(last - first + 3, dtype=np.int8)
        for value, numbers in enumerate((lane.cells, lane.heavy), 1):
            own[np.array(numbers, dtype=np.int64) - first + 1] = value
        scale[place], shift[place] = math.ldexp(1.0, -lane.power), size - first + 1
        least[place], most[place] = first - 1, last + 1
        flags.append(own)
        size += len(own)
    bounds = (least, most) if finer else None
    near, flag = _flagged(code, values, (scale, shift), bounds, np.concatenate(flags), _in_any(values, cells.values()))
    for place, lane in cells.items():
        here = code[near] == place
        rows, heavy = near[here], flag[here] == 2
        # One zero.
        numbers = values[rows] + 0.0
        inside = (numbers != lane.ends[0]) & (numbers != lane.ends[1])
        numbers, heavy = numbers[inside], heavy[inside]
        if not heavy.all():
            yield LaneNumbers(levels[place], numbers[~heavy], path=lane.path, opened=True)
        numbers = numbers[heavy]
        own = np.floor(numbers * scale[place])
        for cell in np.unique(own).tolist():
            # A heavy cell may be one value, often.
            different, counts = np.unique(numbers[own == cell], return_counts=True)
            yield LaneNumbers(levels[place], different, counts, (*lane.path, int(cell)))


def _in_any(values: Floats, cells: Collection[LaneCells]) -> NDArray[np.intp] | None:
    """The rows whose values lie in a cell of any lane, found without a look at lanes; None where lanes are too unlike for one
    grid.
    """
    power = min(lane.power for lane in cells)
    spans = [(cell << (lane.power - power), (cell + 1) << (lane.power - power)) for lane in cells for cell in lane.cells]
    first, last = min(start for start, _ in spans), max(end for _, end in spans)
    if last - first > _MOST_FLAGS or abs(power) > _PLAIN:
        return None
    # A place before and one after hold what lies outside, and what is no number.
    flags = np.zeros(last - first + 2, dtype=np.bool_)
    for start, end in spans:
        flags[start - first + 1 : end - first + 1] = True
    scale, there = math.ldexp(1.0, -power), np.empty(len(values), dtype=np.bool_)
    for piece, flag in zip(pieces_of(values), pieces_of(there), strict=True):
        with np.errstate(invalid="ignore", over="ignore"):
            numbers = piece * scale
            np.floor(numbers, out=numbers)
            numbers -= first - 1
            flags.take(numbers.astype(np.int64), mode="clip", out=flag)
    return np.flatnonzero(there)


def _flagged(
    code: Codes,
    values: Floats,
    lines: tuple[Floats, Floats],
    bounds: tuple[Floats, Floats] | None,
    flags: NDArray[np.int8],
    rows: NDArray[np.intp] | None,
) -> tuple[NDArray[np.intp], NDArray[np.int8]]:
    """The rows whose cells are flagged, and their flags; ``rows`` where only some may be.

    By lane, ``lines`` make values numbers of cells and these places among
    the flags; between ``bounds`` where cells lie outside.
    """
    if rows is not None:
        code, values = code[rows], values[rows]
    flag_of_row = np.empty(len(values), dtype=np.int8)
    scale, shift = lines
    for lane, piece, flag in zip(pieces_of(code), pieces_of(values), pieces_of(flag_of_row), strict=True):
        with np.errstate(invalid="ignore", over="ignore"):
            numbers = scale.take(lane)
            numbers *= piece
            np.floor(numbers, out=numbers)
            if bounds is not None:
                # What lies outside falls on the zero before a lane's cells, or after them; what is no number on the first.
                np.clip(numbers, bounds[0].take(lane), bounds[1].take(lane), out=numbers)
            numbers += shift.take(lane)
            flags.take(numbers.astype(np.int64), mode="clip", out=flag)
    near = np.flatnonzero(flag_of_row)
    return near if rows is None else rows[near], flag_of_row[near]
