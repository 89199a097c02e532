"""The nine sample quantiles of Hyndman & Fan (1996), The American Statistician 50, 361-365."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
QuantileType = Literal[1, 2, 3, 4, 5, 6, 7, 8, 9]


@dataclass(frozen=True)
class QuantileDefinition:
    """A definition of a quantile: a position on the sorted values is n·p + m, m the ``shift`` at p; what stands between two
    ranks is a point on the way from the one to the other, or by ``step`` one of them or their middle.
    """

    shift: Callable[[float], float]
    step: Callable[[int, float], float] | None = None
    source: str = "Hyndman & Fan 1996"


def _next(below: int, rest: float) -> float:
    return 1.0 if rest > 0 else 0.0


def _middle_of_ties(below: int, rest: float) -> float:
    return 1.0 if rest > 0 else 0.5


def _nearest_even(below: int, rest: float) -> float:
    return 0.0 if rest == 0 and below % 2 == 0 else 1.0


QUANTILE_DEFINITIONS: dict[QuantileType, QuantileDefinition] = {
    1: QuantileDefinition(lambda p: 0.0, _next),
    2: QuantileDefinition(lambda p: 0.0, _middle_of_ties),
    3: QuantileDefinition(lambda p: -0.5, _nearest_even),
    4: QuantileDefinition(lambda p: 0.0, source="Parzen 1979"),
    5: QuantileDefinition(lambda p: 0.5, source="Hazen 1914"),
    6: QuantileDefinition(lambda p: p, source="Weibull 1939"),
    7: QuantileDefinition(lambda p: 1.0 - p, source="Gumbel 1939"),
    8: QuantileDefinition(lambda p: (p + 1.0) / 3.0),
    9: QuantileDefinition(lambda p: p / 4.0 + 3.0 / 8.0, source="Blom 1958"),
}


def quantile(ordered: Floats, p: float, definition: QuantileType = 7) -> float:
    """One quantile of ``ordered`` (shape (n,), sorted upwards, n ≥ 1) at probability ``p`` in [0, 1].

    Positions that are whole on paper count as whole within a few ulps, so that 0.07 of 100 values is the 7th.
    Raises ValueError for no values or for a probability outside [0, 1].
    """
    return quantiles(ordered, (p,), definition)[0]


def quantiles(ordered: Floats, ps: Sequence[float], definition: QuantileType = 7) -> list[float]:
    """Several quantiles of sorted values; see :func:`quantile`."""
    if len(ordered) == 0:
        raise ValueError("a quantile needs at least one value")
    return list(quantiles_of_lanes([ordered], ps, definition)[0].tolist())


def quantiles_of_lanes(
    lanes: Sequence[Floats], ps: Sequence[float], definition: QuantileType = 7, ordered: bool = True
) -> Floats:
    """Quantiles of several lanes at once, shape (lanes, probabilities); NaN in the row of an empty lane.

    Lanes that are not ``ordered`` upwards are sorted first (as copies); see :func:`quantile`.
    """
    if not all(0.0 <= p <= 1.0 for p in ps):
        raise ValueError("a probability lies between 0 and 1")
    out = np.full((len(lanes), len(ps)), np.nan)
    filled = [place for place, lane in enumerate(lanes) if len(lane)]
    if not filled or not len(ps):
        return out
    lines = [lanes[place] if ordered else np.sort(lanes[place]) for place in filled]
    sizes = np.array([len(line) for line in lines])
    # Lanes of one size share their positions.
    positions = {n: [_position(n, p, definition) for p in ps] for n in set(sizes.tolist())}
    below = np.array([[rank for rank, _ in positions[n]] for n in sizes.tolist()])
    share = np.array([[part for _, part in positions[n]] for n in sizes.tolist()])
    low, high = (
        np.array([line[ranks] for line, ranks in zip(lines, np.clip(below + up, 1, sizes[:, None]) - 1, strict=True)])
        for up in (0, 1)
    )
    out[filled] = _between(low, high, share)
    return out


def _position(n: int, p: float, definition: QuantileType) -> tuple[int, float]:
    """The rank below (from 1, may be 0) and the share of the way to the next one."""
    rule = QUANTILE_DEFINITIONS[definition]
    exact = n * p + rule.shift(p)
    near = round(exact)
    tolerance = 4.0 * np.finfo(np.float64).eps * max(1.0, float(n))
    below, rest = (near, 0.0) if abs(exact - near) <= tolerance else (math.floor(exact), exact - math.floor(exact))
    return below, rest if rule.step is None else rule.step(below, rest)


def _between(low: Floats | float, high: Floats | float, share: Floats | float) -> Floats:
    """The point a share of the way from low to high, never outside them, without overflow."""
    low, high, share = np.asarray(low), np.asarray(high), np.asarray(share)
    with np.errstate(over="ignore", invalid="ignore"):
        width = high - low
        value = np.where(share <= 0.5, low + share * width, high - (1.0 - share) * width)
        value = np.where(np.isinf(width), low * (1.0 - share) + high * share, value)
    value = np.where(share == 0.0, low, np.where(share == 1.0, high, value))
    return np.minimum(np.maximum(value, low), high)
