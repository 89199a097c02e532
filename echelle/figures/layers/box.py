"""Boxes: quartiles, median, whiskers, and outliers where no points layer draws them."""

from __future__ import annotations

import numpy as np

from echelle.figures.frame import MarkOf
from echelle.figures.layers.base import CENTRES, LaneView, LayerKind
from echelle.figures.readings import lane_fences
from echelle.figures.scene import Handle, Paint, PointsPart, Role, ScenePart, point_columns
from echelle.numbers.fences import beyond
from echelle.recipes.models import BoxLayer

_WHISKER = 1.1
_BAR = 2.0
OUTLIER_SIZE = 4.4


def _draw(layer: BoxLayer, view: LaneView) -> list[ScenePart]:
    readings, frame, band = view.readings, view.frame, view.band
    if readings.q1 is None or readings.q3 is None or readings.median is None:
        return []
    middle = band.across(CENTRES[layer.place])
    half = layer.width * (band.end - band.start) / 2
    q1, q3, median = frame.held(readings.q1), frame.held(readings.q3), frame.held(readings.median)

    def mark(role: Role, number: str = "") -> MarkOf:
        return MarkOf(band.lane.key, layer.id, role, number)

    line = Paint(stroke=band.colour, stroke_width=_WHISKER)
    parts: list[ScenePart] = []
    for name, edge, end in (("low", q1, readings.whisker_low), ("high", q3, readings.whisker_high)):
        if end is None or abs(frame.held(end) - edge) < 1e-9:
            continue
        reach = frame.held(end)
        parts.append(frame.line(mark("whisker", name), edge, middle, reach, middle, line))
        if layer.cap:
            parts.append(
                frame.line(mark("cap", name), reach, middle - half * layer.cap, reach, middle + half * layer.cap, line)
            )
    parts.append(frame.rect(mark("box"), q1, q3, middle - half, middle + half, Paint(fill=band.colour)))
    # A bar in the ground's colour would vanish with a box too thin to hold it.
    thin = abs(q3 - q1) < 2 * _BAR
    bar = Paint(fill=view.style.ink if thin else view.style.ground)
    parts.append(frame.rect(mark("median"), median - _BAR / 2, median + _BAR / 2, middle - half, middle + half, bar))
    fences = lane_fences(readings)
    if fences is not None and not view.points_shown:
        places = beyond(band.lane.values, fences)
        places = places[frame.sees(band.lane.values[places])]
        if len(places):
            along = frame.along_all(band.lane.values[places])
            across = np.full(len(places), middle)
            x, y = (along, across) if frame.runs == "across" else (across, along)
            parts.append(
                PointsPart(
                    **mark("outlier").fields(frame.key), shape="diamond", size=OUTLIER_SIZE,
                    paint=Paint(fill=view.style.ground, stroke=band.colour, stroke_width=1.0),
                    columns=point_columns(x, y, band.lane.rows[places]),
                )
            )  # fmt: skip
    return parts


def _handles(layer: BoxLayer, place: int, view: LaneView) -> list[Handle]:
    readings = view.readings
    if not readings.iqr or readings.q1 is None or readings.q3 is None:
        return []
    lane = view.band.lane
    return [
        Handle(
            key=f"{view.frame.key}/{lane.key}/{layer.id}/fence/{name}", panel=view.frame.key, lane=lane.key,
            layer=layer.id, role="fence", at=at, origin=origin, unit=unit, least=0.0, most=20.0, step=0.05,
            value=layer.fence.k, path=["layers", place, "fence", "k"], name=f"{name} fence of {lane.name}",
        )
        for name, at, origin, unit in (
            ("lower", readings.fence_low, readings.q1, -readings.iqr),
            ("upper", readings.fence_high, readings.q3, readings.iqr),
        )
        if at is not None
    ]  # fmt: skip


def _note(layer: BoxLayer, points_shown: bool) -> list[str]:
    kind = "" if layer.quantile_type == 7 else f" (type {layer.quantile_type})"
    beyond_ones = "open diamonds" if points_shown else "diamonds"
    return [
        f"Boxes: median and quartiles{kind}; lines reach the furthest value within {layer.fence.k:g} × the "
        f"interquartile range of the box; {beyond_ones} lie beyond."
    ]


KIND = LayerKind(
    draw=_draw,
    handles=_handles,
    note=_note,
    settings={
        "shown": "Draw the boxes, or leave them out for now.",
        "place": "On the lane's line, above it or below it.",
        "quantile_type": "Which of the nine definitions of a quantile (Hyndman & Fan 1996) the quartiles follow.",
        "fence": "A value counts as an outlier beyond this many interquartile ranges from the box.",
        "width": "How much of the lane the box fills.",
        "cap": "A short bar at the whisker's end, as a share of the box's width.",
    },
)
