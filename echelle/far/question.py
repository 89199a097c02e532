"""What is counted of a far table."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import orjson

# How tallies are kept; another number where that changes.
TALLIES = 2
# Of each combination of levels so many rows may be drawn one by one: any, and the lowest and highest values.
EXAMPLES, EXTREMES = 1_000, 10


@dataclass(frozen=True)
class CountQuestion:
    """The measure and the further columns whose combinations are counted; ``lanes`` are those among them that hold levels: of
    each combination of these some rows are kept, chosen by a hash of their ids with this ``seed``.
    """

    measure: str
    columns: tuple[str, ...] = ()
    lanes: tuple[str, ...] = ()
    examples: int = EXAMPLES
    extremes: int = EXTREMES
    seed: int = 41

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
    return CountQuestion(**{**record, "columns": tuple(record["columns"]), "lanes": tuple(record["lanes"])})
