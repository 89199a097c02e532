"""The bytes of a large text looked at piece by piece, so that what is computed of a piece stays in a processor's cache."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

Letters = NDArray[np.uint8]
_PIECE = 1 << 18
# What stays of the characters below a blank; the others, and DEL, control something.
_KEPT = b"\t\n\r"
CONTROLS = bytes(code for code in range(0x20) if code not in _KEPT) + b"\x7f"


def pieces_of(data: bytes, overlap: int = 0) -> Iterator[Letters]:
    """Pieces that follow one another, shape (m,) each, none of them copied; each begins with the last ``overlap`` bytes of the
    one before.
    """
    letters = np.frombuffer(data, dtype=np.uint8)
    for start in range(0, len(letters), _PIECE):
        yield letters[max(0, start - overlap) : start + _PIECE]


def count_of_byte(data: bytes, byte: int) -> int:
    """How often a byte stands in a text."""
    return sum(int(np.count_nonzero(piece == byte)) for piece in pieces_of(data))


def holds_controls(data: bytes) -> bool:
    """Whether any of :data:`CONTROLS` is among the bytes."""
    for piece in pieces_of(data):
        low = int(np.count_nonzero(piece < 0x20))
        if low and low > sum(int(np.count_nonzero(piece == byte)) for byte in _KEPT):
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
