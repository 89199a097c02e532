"""Long columns looked at piece by piece: what is computed of a piece takes little memory, and stays in a processor's cache."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

Piece = TypeVar("Piece", NDArray[np.float64], NDArray[np.int32], NDArray[np.int8], NDArray[np.uint64], NDArray[np.bool_])
# So many values stay in a processor's cache.
_PIECE = 1 << 15


def pieces_of(values: Piece, least: int = 0) -> Iterator[Piece]:
    """Pieces of values that follow one another, of ``least`` values or more; none of them is copied."""
    size = max(_PIECE, least)
    return (values[start : start + size] for start in range(0, len(values), size))
