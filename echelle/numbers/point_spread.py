"""Places of points across their lane. A point never moves along the measure."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.sample import Floats

_MASK = (1 << 64) - 1
# Circles that touch do not overlap, whatever rounding says.
_TOUCH = 1 + 1e-9


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


def shaped_jitter(rows: NDArray[np.int64], seed: int, density: Floats) -> Floats:
    """Jitter times the local density over its maximum (shape (n,)): points fill the shape of the distribution."""
    top = float(density.max(initial=0.0))
    return jitter(rows, seed) * (density / top if top > 0 else 1.0)


@dataclass(frozen=True, eq=False)
class Swarm:
    """Offsets in units of the points' own diameter, shape (n,); ``crowded`` counts points that found no free place."""

    offsets: Floats
    crowded: int


def swarm(along: Floats, rows: NDArray[np.int64], size: float, room: float) -> Swarm:
    """Offsets at which no two points overlap, each as near the lane's line as it can; in order of ``along``, then row.

    ``along`` (shape (n,)) are coordinates along the measure and ``size`` is the diameter, in the same unit; ``room`` is how
    far a point may stand from the line. Points without a free place stand at the side that is nearest, and are counted.
    """
    order = np.lexsort((rows, along))
    heights, offsets = along[order], np.zeros(len(along))
    first, crowded, full = 0, 0, np.nan
    for place, here in enumerate(heights.tolist()):
        while here - heights[first] >= size and first < place:
            first += 1
        free = None
        if here != full:
            near = offsets[first:place]
            gaps = np.sqrt(np.maximum(size * size - (here - heights[first:place]) ** 2, 0.0)) * _TOUCH
            free = _nearest_free(near - gaps, near + gaps, room)
        if free is None:
            # Those that follow at the same height find none either.
            crowded, full = crowded + 1, here
            free = room if (place - first) % 2 else -room
        offsets[place] = free
    out = np.empty(len(along))
    out[order] = offsets
    return Swarm(out, crowded)


def _nearest_free(low: Floats, high: Floats, room: float) -> float | None:
    """The place nearest to 0, at most ``room`` away, that lies in no interval (ends of shape (k,)); None without one."""
    if not ((low < 0) & (high > 0)).any():
        return 0.0
    order = np.argsort(low)
    starts, reach = low[order], np.maximum.accumulate(high[order])
    # Intervals that meet are one; 0 lies in the last of these that begins below it.
    begins = np.flatnonzero(np.concatenate([[True], starts[1:] >= reach[:-1]]))
    within = int(np.searchsorted(starts[begins], 0.0, side="left")) - 1
    end = begins[within + 1] - 1 if within + 1 < len(begins) else len(starts) - 1
    ends = [place for place in (float(starts[begins[within]]), float(reach[end])) if abs(place) <= room]
    return min(ends, key=lambda place: (abs(place), place), default=None)


def stack(along: Floats, rows: NDArray[np.int64], size: float) -> Floats:
    """Piles: values in one step of ``size`` stand above one another in order of row id; offsets 0, 1, 2 … sizes."""
    step = np.floor(along / size + 0.5).astype(np.int64)
    order = np.lexsort((rows, step))
    sorted_steps = step[order]
    starts = np.concatenate([[True], sorted_steps[1:] != sorted_steps[:-1]])
    place = np.arange(len(along))
    first = np.maximum.accumulate(np.where(starts, place, 0))
    out = np.empty(len(along))
    out[order] = (place - first) * size
    return out
