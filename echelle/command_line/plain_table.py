"""A table of texts for a terminal."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator, Sequence

_GAP = "  "


def plain_table(headings: Sequence[str], rows: Sequence[Sequence[str]]) -> Iterator[str]:
    """The lines of a table: the first column to the left, the others to the right, each as wide as its widest cell."""
    lines = [headings, *rows]
    widths = [max(_width(line[place]) for line in lines) for place in range(len(headings))]
    for line in lines:
        first, *others = (cell + " " * (width - _width(cell)) for cell, width in zip(line, widths, strict=True))
        moved = (" " * (len(padded) - len(cell)) + cell for padded, cell in zip(others, line[1:], strict=True))
        yield _GAP.join([first, *moved]).rstrip()


def _width(text: str) -> int:
    """How many places of a terminal a text takes: two for the wide letters of East Asia, none for marks over others."""
    wide = sum(unicodedata.east_asian_width(letter) in "WF" for letter in text)
    return len(text) + wide - sum(bool(unicodedata.combining(letter)) for letter in text)
