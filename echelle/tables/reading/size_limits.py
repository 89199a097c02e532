"""How much the reader takes in."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class ReadingLimits:
    """Upper limits; beyond one of them a file is refused before it costs memory."""

    megabytes: float = 200.0
    rows: int = 5_000_000
    columns: int = 2_000
    cells: int = 100_000_000
    unpacked_megabytes: float = 1_000.0


USUAL_LIMITS = ReadingLimits()
