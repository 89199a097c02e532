"""Points: every value once; those beyond the box's fences as open diamonds in their own place."""

from __future__ import annotations

import numpy as np

from echelle.figures.arrange import Rows
from echelle.figures.frame import MarkOf
from echelle.figures.layers.base import CENTRES, LaneView, LayerKind
from echelle.figures.layers.box import OUTLIER_SIZE
from echelle.figures.readings import lane_fences
from echelle.figures.scene import Handle, Paint, PointColumns, PointsPart, ScenePart, packed_places, point_columns
from echelle.numbers.fences import beyond
from echelle.numbers.offsets import jitter
from echelle.numbers.quantiles import Floats
from echelle.recipes.models import PointsLayer

_MOST_PACKED = 3


def _draw(layer: PointsLayer, view: LaneView) -> list[ScenePart]:
    frame, band = view.frame, view.band
    seen = np.flatnonzero(frame.sees(band.lane.values))
    if len(seen) == 0:
        return []
    values, rows = band.lane.values[seen], band.lane.rows[seen]
    fences = lane_fences(view.readings)
    odd = beyond(values, fences) if fences else np.empty(0, dtype=np.intp)
    parts: list[ScenePart] = [
        PointsPart(
            **MarkOf(band.lane.key, layer.id, "point").fields(frame.key), shape="circle", size=layer.size,
            paint=Paint(fill=band.colour, opacity=layer.strength), columns=_packed(layer, view, values, rows),
            hidden=packed_places(odd),
        )
    ]  # fmt: skip
    if len(odd):
        parts.append(
            PointsPart(
                **MarkOf(band.lane.key, layer.id, "outlier").fields(frame.key), shape="diamond",
                size=max(OUTLIER_SIZE, layer.size * 1.3),
                paint=Paint(fill=view.style.ground, stroke=band.colour, stroke_width=1.0),
                columns=point_columns(*_places(layer, view, values[odd], rows[odd]), rows[odd]),
            )
        )  # fmt: skip
    return parts


def _packed(layer: PointsLayer, view: LaneView, values: Floats, rows: Rows) -> PointColumns:
    """All points of the lane, packed once for as long as nothing moves them."""
    key = (layer.spread, layer.width, layer.seed, layer.place, view.frame, view.band.start, view.band.end)
    held = view.band.lane.packed
    if key not in held:
        while len(held) >= _MOST_PACKED:
            held.pop(next(iter(held)), None)
        held[key] = point_columns(*_places(layer, view, values, rows), rows)
    return held[key].model_copy()


def _places(layer: PointsLayer, view: LaneView, values: Floats, rows: Rows) -> tuple[Floats, Floats]:
    """x and y of points: along by value, across by row id and seed."""
    frame, band = view.frame, view.band
    offsets = jitter(rows, layer.seed) * layer.width if layer.spread == "jitter" else np.zeros(len(rows))
    along = frame.along_all(values)
    across = band.across(CENTRES[layer.place]) + offsets * (band.end - band.start)
    return (along, across) if frame.runs == "across" else (across, along)


def _handles(layer: PointsLayer, place: int, view: LaneView) -> list[Handle]:
    return []


def _note(layer: PointsLayer, points_shown: bool) -> list[str]:
    if layer.spread == "line":
        return ["Points: every value, on one line."]
    return [f"Points: every value, moved across its lane only (uniform jitter, seed {layer.seed})."]


KIND = LayerKind(
    draw=_draw,
    handles=_handles,
    note=_note,
    settings={
        "shown": "Draw the points, or leave them out for now.",
        "place": "On the lane's line, above it or below it.",
        "spread": "Jitter moves points apart across the lane; line keeps them on one line.",
        "width": "How much of the lane the points may use.",
        "seed": "The number that fixes the jitter; the same seed gives the same places.",
        "size": "Diameter of a point in pt.",
        "strength": "How opaque a point is; weaker points show where many overlap.",
    },
)
