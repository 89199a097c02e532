"""What parts come to: different rows with their counts, lanes of numbers in no steps, and rows that may be drawn one by one."""

from __future__ import annotations

import io
from dataclasses import dataclass, replace

import polars as pl

from echelle.errors import InputError
from echelle.far.cells import COUNT, MOST_DISTINCT, Grid, grids_of, packed_grids, unpacked_grids
from echelle.far.examples import chosen
from echelle.far.lane_numbers import LaneNumbers, gathered, joined, outer_rows, packed_lanes, unpacked_lanes
from echelle.far.question import CountQuestion

# More different rows than this are no tally any more.
MOST_COUNTED = 20_000_000
# So many tallies, of so many rows, are held before they are made one.
_HELD, _MOST_HELD = 8, 2_000_000


@dataclass(frozen=True, eq=False)
class PartTally:
    """Different rows with their counts; the lanes of numbers in no steps, and the grids of those with too many of them; and
    example rows with their ids and the hash that orders them.
    """

    counted: pl.DataFrame
    examples: pl.DataFrame
    rows: int
    grids: tuple[Grid, ...] = ()
    lanes: tuple[LaneNumbers, ...] = ()

    @property
    def held(self) -> int:
        """So many different rows it holds."""
        return self.counted.height + sum(len(lane.values) for lane in self.lanes)

    @property
    def is_plain(self) -> bool:
        """Whether no lane can have too many different values."""
        return max([self.counted.height, *(len(lane.values) for lane in self.lanes)]) <= MOST_DISTINCT

    def packed(self) -> bytes:
        """As one Arrow file within another."""
        parts = {"counted": _packed(self.counted), "examples": _packed(self.examples)}
        parts |= {"grids": packed_grids(self.grids), "lanes": packed_lanes(self.lanes)}
        head = pl.DataFrame({name: [part] for name, part in parts.items()} | {"rows": [self.rows]})
        return _packed(head)

    @staticmethod
    def unpacked(data: bytes) -> PartTally:
        """Back from :meth:`packed`."""
        head = pl.read_ipc(io.BytesIO(data)).row(0, named=True)
        counted, examples = (pl.read_ipc(io.BytesIO(head[name])) for name in ("counted", "examples"))
        return PartTally(counted, examples, head["rows"], unpacked_grids(head["grids"]), unpacked_lanes(head.get("lanes", b"")))


def _packed(frame: pl.DataFrame) -> bytes:
    sink = io.BytesIO()
    frame.write_ipc(sink, compression="zstd")
    return sink.getvalue()


def with_tally(tallies: list[PartTally], tally: PartTally, question: CountQuestion, where: str = "") -> list[PartTally]:
    """The tallies with one more, made one where they are many or large. Raises InputError as :func:`merged_tallies` does."""
    held = [*tallies, tally]
    many = len(held) > _HELD or sum(part.held for part in held) > _MOST_HELD
    return [merged_tallies(held, question, where)] if many else held


def merged_tallies(tallies: list[PartTally], question: CountQuestion, where: str = "") -> PartTally:
    """Several tallies as one, whatever their order. Raises InputError where there are too many different rows."""
    measure, keys = question.measure, question.keys
    lanes, known = [lane for tally in tallies for lane in tally.lanes], grids_of([tally.grids for tally in tallies])
    if question.cells:
        lanes_of, grids = joined(lanes, known)
        return replace(tallies[0], rows=sum(tally.rows for tally in tallies), lanes=lanes_of, grids=grids)
    counted, lanes_of, grids = gathered([tally.counted for tally in tallies], lanes, known, measure, keys)
    counted = counted.select([*question.every, COUNT])
    if counted.height > MOST_COUNTED:
        names = ", ".join(f"“{name}”" for name in question.every)
        raise InputError(
            f"{names} have more than {MOST_COUNTED:,} different combinations", where=where,
            remedy="Round the measure or cut columns of many values into classes where the files are made.",
        )  # fmt: skip
    examples = pl.concat([tally.examples for tally in tallies], how="vertical_relaxed")
    outer = counted
    if lanes_of:
        outer_of = outer_rows(lanes_of, question.extremes + 1, measure, keys, counted.schema)
        outer = pl.concat([counted, outer_of.select(counted.columns)], how="vertical_relaxed")
    rows = sum(tally.rows for tally in tallies)
    return PartTally(counted, chosen(examples, outer, grids, question), rows, grids, lanes_of)
