"""The one error that bad input raises anywhere in the core."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Mend:
    """A way out in one press: its words, and values to set at paths of the recipe that was refused."""

    words: str
    changes: tuple[tuple[tuple[str | int, ...], Any], ...]


class InputError(Exception):
    """Something in the input is wrong.

    ``what`` says it in one sentence, ``where`` names the place (a line, a column, a JSON path),
    ``remedy`` says what the person can do; ``mends`` do it for them.
    """

    def __init__(self, what: str, *, where: str = "", remedy: str = "", mends: tuple[Mend, ...] = ()) -> None:
        super().__init__(what)
        self.what = what
        self.where = where
        self.remedy = remedy
        self.mends = mends

    def sentence(self) -> str:
        """Place, fault and remedy on one line."""
        head = f"{self.where}: " if self.where else ""
        tail = f" {self.remedy}" if self.remedy else ""
        what = self.what.rstrip(".")
        return " ".join(f"{head}{what}.{tail}".split())
