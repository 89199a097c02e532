"""Where in its lane a mark stands, in shares of the lane: −0.5 is the edge above it, 0.5 the one below."""

from __future__ import annotations

from echelle.recipes.layers.base import Place, RisingLayer, Side

CENTRES: dict[Place, float] = {"above": -0.38, "on": 0.0, "below": 0.38}
# Where one-sided marks stand: on the lane's edge, or just off its line.
_BASES: dict[Place, float] = {"on": 0.5, "above": -0.08, "below": 0.08}


def region_of(layer: RisingLayer) -> tuple[float, float]:
    """Where a mark has its base, and where its tip may reach. What rises may leave the lane, for which the sheet keeps room;
    all else ends with it.
    """
    return _region(layer.place, layer.rise(), layer.width)


def rise_over_lane(layer: RisingLayer) -> float:
    """By how much of a lane a mark may rise over it."""
    return max(0.0, -0.5 - region_of(layer)[1])


def _region(place: Place, side: Side, width: float) -> tuple[float, float]:
    if side == "both":
        centre = CENTRES[place]
        return centre, max(centre - width / 2, -0.5, -0.5 + 2 * centre)
    if side == "above":
        return _BASES[place], _BASES[place] - width
    base = -0.5 if place == "on" else _BASES[place]
    return base, min(base + width, 0.5)
