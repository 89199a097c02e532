"""Control rules of values in order: which of them say that something has changed (Westgard et al. 1981)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from echelle.numbers.quantiles import Floats

ControlRule = Literal["1-2s", "1-3s", "2-2s", "R-4s", "4-1s", "10-x"]


@dataclass(frozen=True)
class Hit:
    """A rule that was broken, and the places (from 0) of the values that break it."""

    rule: ControlRule
    places: tuple[int, ...]


def control_hits(values: Floats, mean: float, sd: float) -> list[Hit]:
    """All hits in values (shape (n,), in order) against a target mean and SD (above 0).

    1-2s (a warning) one beyond 2 SD; 1-3s one beyond 3; 2-2s two in a row beyond 2 on one side; R-4s two in a row beyond 2 on
    opposite sides; 4-1s four in a row beyond 1 on one side; 10-x ten in a row on one side of the mean. A longer run is one hit.
    Raises ValueError for an SD that is not above 0.
    """
    if not sd > 0:
        raise ValueError("the target SD is above 0")
    z = (values - mean) / sd
    hits = [Hit("1-3s", (int(i),)) for i in np.flatnonzero(np.abs(z) > 3)]
    hits += [Hit("1-2s", (int(i),)) for i in np.flatnonzero((np.abs(z) > 2) & (np.abs(z) <= 3))]
    opposite = np.flatnonzero(((z[:-1] > 2) & (z[1:] < -2)) | ((z[:-1] < -2) & (z[1:] > 2)))
    hits += [Hit("R-4s", (int(i), int(i) + 1)) for i in opposite]
    rules: tuple[tuple[ControlRule, float, int], ...] = (("2-2s", 2.0, 2), ("4-1s", 1.0, 4), ("10-x", 0.0, 10))
    for rule, beyond, least in rules:
        for side in (1, -1):
            hits += [Hit(rule, run) for run in _runs(side * z > beyond, least)]
    return sorted(hits, key=lambda hit: (hit.places, hit.rule))


def _runs(inside: np.ndarray[tuple[int], np.dtype[np.bool_]], least: int) -> list[tuple[int, ...]]:
    """Runs of places in a row, at least so long."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], inside, [False]]).astype(np.int8)))
    return [tuple(range(a, b)) for a, b in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True) if b - a >= least]
