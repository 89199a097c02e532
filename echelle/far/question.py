"""What is counted of a far table."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

import orjson

# How tallies are kept; another number where that changes.
TALLIES = 3
# Of each combination of levels so many rows may be drawn one by one: any, and the lowest and highest values.
EXAMPLES, EXTREMES = 1_000, 10


@dataclass(frozen=True)
class LaneCells:
    """Cells of a grid, each 2^``power`` wide from its number times that on: of the lane of a ``name``, or of the finer grid
    that the cells of ``path`` lead to. ``heavy`` ones among them hold so many values that these may need a grid of their own.
    ``ends`` are the lane's least and greatest value, which stand in no cell.
    """

    name: str
    path: tuple[int, ...]
    power: int
    cells: tuple[int, ...]
    heavy: tuple[int, ...]
    ends: tuple[float, float]


def lane_name(levels: Iterable[Any]) -> str:
    """What a lane of these levels is called: levels of different kinds never come to the same."""
    return "\x1f".join(f"{type(level).__name__} {level}" for level in levels)


@dataclass(frozen=True)
class CountQuestion:
    """The measure and the further columns whose combinations are counted; ``lanes`` are those among them that hold levels: of
    each combination of these some rows are kept, chosen by a hash of their ids with this ``seed``. With ``cells`` the values
    in these alone are counted.
    """

    measure: str
    columns: tuple[str, ...] = ()
    lanes: tuple[str, ...] = ()
    examples: int = EXAMPLES
    extremes: int = EXTREMES
    seed: int = 41
    cells: tuple[LaneCells, ...] = ()

    @property
    def every(self) -> tuple[str, ...]:
        """All columns, the measure first."""
        return (self.measure, *(name for name in self.columns if name != self.measure))

    @property
    def keys(self) -> tuple[str, ...]:
        """All columns but the measure, the lanes' first."""
        others = (name for name in self.columns if name not in self.lanes and name != self.measure)
        return (*self.lanes, *others)

    @property
    def digest(self) -> str:
        """SHA-256 of what is asked, and of how tallies are kept: older ones are counted again."""
        return hashlib.sha256(orjson.dumps({**vars(self), "kept": TALLIES}, option=orjson.OPT_SORT_KEYS)).hexdigest()


def question_from(record: Mapping[str, Any]) -> CountQuestion:
    """Back from JSON."""
    cells = tuple(
        LaneCells(
            lane["name"], tuple(lane["path"]), lane["power"], tuple(lane["cells"]), tuple(lane["heavy"]), tuple(lane["ends"])
        )
        for lane in record.get("cells", ())
    )
    lists = {name: tuple(record[name]) for name in ("columns", "lanes")}
    return CountQuestion(**{**record, **lists, "cells": cells})
