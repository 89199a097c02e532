"""Places of points across their lane. A point never moves along the measure."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.quantiles import Floats

_MASK = (1 << 64) - 1


def jitter(rows: NDArray[np.int64], seed: int) -> Floats:
    """Uniform offsets in [−0.5, 0.5), one a row (shape (n,)).

    Each depends on ``seed`` and the row id alone (the finaliser of Steele, Lea & Flood 2014, SplitMix64), so a
    point keeps its place when others leave.
    """
    start = np.uint64((seed * 0x9E3779B97F4A7C15 + 0x632BE59BD9B4E019) & _MASK)
    z = rows.astype(np.uint64) * np.uint64(0x9E3779B97F4A7C15) + start
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    z = z ^ (z >> np.uint64(31))
    return (z >> np.uint64(11)).astype(np.float64) * 2.0**-53 - 0.5
