"""Large texts and long columns looked at piece by piece: what is computed of a piece takes little memory, and stays in a
processor's cache.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

Letters = NDArray[np.uint8]
Numbers = TypeVar("Numbers", NDArray[np.float64], NDArray[np.int8])
_PIECE, _VALUES = 1 << 18, 1 << 15


def pieces_of(data: bytes, overlap: int = 0) -> Iterator[Letters]:
    """Pieces that follow one another, shape (m,) each, none of them copied; each begins with the last ``overlap`` bytes of the
    one before.
    """
    letters = np.frombuffer(data, dtype=np.uint8)
    for start in range(0, len(letters), _PIECE):
        yield letters[max(0, start - overlap) : start + _PIECE]


def pieces_of_values(values: Numbers, least: int = 0) -> Iterator[Numbers]:
    """Pieces of a column, shape (m,) each, of ``least`` values or more."""
    size = max(_VALUES, least)
    return (values[start : start + size] for start in range(0, len(values), size))


def count_of_byte(data: bytes, byte: int) -> int:
    """How often a byte stands in a text."""
    return sum(int(np.count_nonzero(piece == byte)) for piece in pieces_of(data))


def holds_controls(data: bytes) -> bool:
    """Whether a control character is among the bytes: any below a blank but the ends of lines and tabs, or DEL."""
    for piece in pieces_of(data):
        low = int(np.count_nonzero(piece < 0x20))
        if low and low > sum(int(np.count_nonzero(piece == byte)) for byte in (0x0A, 0x0D, 0x09)):
            return True
        if (piece == 0x7F).any():
            return True
    return False


def touches(data: bytes, byte: int, edges: bytes) -> bool:
    """Whether a byte stands beside one of ``edges``, or at an end of the text."""
    if byte not in data:
        return False
    if byte in (data[0], data[-1]):
        return True
    for piece in pieces_of(data, overlap=1):
        here = piece == byte
        if here.any():
            edge = piece == edges[0]
            for other in edges[1:]:
                edge |= piece == other
            if (here[:-1] & edge[1:]).any() or (edge[:-1] & here[1:]).any():
                return True
    return False
