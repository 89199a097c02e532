"""Control rules of values in order: which of them say that something has changed (Westgard et al. 1981)."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.decimals import decimal, rounded
from echelle.numbers.moments import moments
from echelle.numbers.sample import Floats

ControlRule = Literal["1-2s", "1-3s", "2-2s", "R-4s", "4-1s", "10-x"]


@dataclass(frozen=True)
class RuleViolation:
    """A rule that was broken, and the places (from 0) of the values that break it."""

    rule: ControlRule
    places: tuple[int, ...]


@dataclass(frozen=True)
class LotRun:
    """Values in a row that share a lot (its code, −1 for none), from place ``first`` to before ``end``, and the target they are
    held against; None where there is none.
    """

    lot: int
    first: int
    end: int
    mean: float | None
    sd: float | None


def lot_runs(
    values: Floats, lots: NDArray[np.int32] | None, fixed: tuple[float, float] | None, stretch: slice | None
) -> list[LotRun]:
    """Runs of one lot in values (shape (n,), in order), each with its target: the ``fixed`` mean and SD, else those of the
    lot's values in ``stretch``, else those of all its values. Without ``lots`` all values are one run. A lot that comes back
    has the target it had; values without a lot have none but a fixed one.
    """
    codes = np.zeros(len(values), dtype=np.int32) if lots is None else lots
    if not len(codes):
        return []
    edges = [0, *(np.flatnonzero(np.diff(codes)) + 1).tolist(), len(codes)]
    targets = {int(code): fixed or _target(values[codes == code], stretch) for code in np.unique(codes) if fixed or code >= 0}
    return [
        LotRun(int(codes[a]), a, b, *targets.get(int(codes[a]), (None, None)))
        for a, b in itertools.pairwise(edges)
    ]  # fmt: skip


def _target(values: Floats, stretch: slice | None) -> tuple[float | None, float | None]:
    shape = moments(values if stretch is None else values[stretch])
    return shape.mean, shape.sd or None


def hits_of_runs(values: Floats, runs: list[LotRun]) -> Iterator[RuleViolation]:
    """The hits of each run that has a target, by places in all values; rules count anew in each run."""
    for run in runs:
        if run.mean is not None and run.sd is not None:
            for hit in control_hits(values[run.first : run.end], run.mean, run.sd):
                yield RuleViolation(hit.rule, tuple(run.first + place for place in hit.places))


def control_hits(values: Floats, mean: float, sd: float) -> list[RuleViolation]:
    """All hits in values (shape (n,), in order) against a target mean and SD (above 0).

    1-2s (a warning) one beyond 2 SD; 1-3s one beyond 3; 2-2s two in a row beyond 2 on one side; R-4s two in a row beyond 2 on
    opposite sides; 4-1s four in a row beyond 1 on one side; 10-x ten in a row on one side of the mean. A longer run is one hit.
    Limits are rounded once: a value on a limit on paper lies on it here. Raises ValueError for an SD that is not above 0.
    """
    if not sd > 0:
        raise ValueError("the target SD is above 0")
    limits = {k: (rounded(decimal(mean) - k * decimal(sd)), rounded(decimal(mean) + k * decimal(sd))) for k in range(4)}
    below, above = ({k: values < limits[k][0] for k in limits}, {k: values > limits[k][1] for k in limits})
    far, warned = below[3] | above[3], below[2] | above[2]
    hits = [RuleViolation("1-3s", (int(i),)) for i in np.flatnonzero(far)]
    hits += [RuleViolation("1-2s", (int(i),)) for i in np.flatnonzero(warned & ~far)]
    opposite = np.flatnonzero((above[2][:-1] & below[2][1:]) | (below[2][:-1] & above[2][1:]))
    hits += [RuleViolation("R-4s", (int(i), int(i) + 1)) for i in opposite]
    rules: tuple[tuple[ControlRule, int, int], ...] = (("2-2s", 2, 2), ("4-1s", 1, 4), ("10-x", 0, 10))
    for rule, beyond, least in rules:
        for side in (above, below):
            hits += [RuleViolation(rule, run) for run in _runs(side[beyond], least)]
    return sorted(hits, key=lambda hit: (hit.places, hit.rule))


def _runs(inside: np.ndarray[tuple[int], np.dtype[np.bool_]], least: int) -> list[tuple[int, ...]]:
    """Runs of places in a row, at least so long."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], inside, [False]]).astype(np.int8)))
    return [tuple(range(a, b)) for a, b in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True) if b - a >= least]
