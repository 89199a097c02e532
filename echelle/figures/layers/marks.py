"""Small marks of a lane: ticks, lines at its centre or SDs, the normal curve."""

from __future__ import annotations

import numpy as np

from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.lanes.figure_context import Measured, Study
from echelle.figures.layers.base import DASH, LINE, SHARED, WIDTH, LaneView, LayerKind, Told
from echelle.figures.layers.density import Curve, points_of_curve
from echelle.numbers.moments import moments
from echelle.numbers.normality import normal_curve
from echelle.numbers.quantiles import quantiles
from echelle.recipes.layers import LineLayer, NormalCurveLayer, TicksLayer
from echelle.scene.models import Advice, Paint, ScenePart

_MOST_TICKS = 20_000


def _draw_ticks(layer: TicksLayer, view: LaneView) -> list[ScenePart]:
    lane, frame = view.band.lane, view.frame
    if not len(lane.values):
        return []
    values = lane.ordered
    if layer.quantiles is not None:
        values = np.array(quantiles(lane.ordered, layer.quantiles, 7))
    values = np.unique(values[frame.sees(values)])
    a, b = view.band.spread(CENTRES[layer.place], layer.width)
    along = np.unique(np.round(frame.along_all(values), 2))[:_MOST_TICKS]
    if frame.runs == "across":
        d = "".join(f"M{x:.2f} {a:.2f}L{x:.2f} {b:.2f}" for x in along.tolist())
    else:
        d = "".join(f"M{a:.2f} {y:.2f}L{b:.2f} {y:.2f}" for y in along.tolist())
    colour = view.band.colour if layer.quantiles is None else view.style.ink
    paint = Paint(stroke=colour, stroke_width=layer.line, opacity=layer.strength)
    return [frame.drawn(view.mark(layer.id, "tick"), d, paint)] if d else []


def _brief_ticks(layer: TicksLayer) -> str:
    return "ticks: every value" if layer.quantiles is None else "ticks: quantiles"


def _note_ticks(layer: TicksLayer, told: Told) -> list[str]:
    if layer.quantiles is None:
        return ["Ticks: every value."]
    return [f"Ticks: quantiles {', '.join(f'{p:g}' for p in layer.quantiles)} (type 7)."]


def _places(layer: LineLayer, view: LaneView) -> list[tuple[str, float]]:
    shape, readings = view.band.lane.moments, view.readings
    if layer.at == "median":
        return [] if readings.median is None else [("median", readings.median)]
    if shape.mean is None:
        return []
    found = [("mean", shape.mean)]
    if layer.at == "mean and SD" and shape.sd is not None:
        found += [(f"{sign}{k:g}", shape.mean + s * k * shape.sd) for k in layer.sds for sign, s in (("+", 1), ("−", -1))]
    return found


def _measure_line(layer: LineLayer, study: Study) -> Measured:
    """Lines at SDs are in view."""
    if layer.at != "mean and SD":
        return Measured()
    reach = max(layer.sds, default=0.0)
    ends = {
        lane.key: (m.mean - reach * m.sd, m.mean + reach * m.sd)
        for lane in study.arrangement.lanes
        if (m := lane.moments).mean is not None and m.sd is not None
    }
    return Measured(
        extents={key: end for key, end in ends.items() if end[0] > study.transform.least},
        remarks=_beyond(layer, study),
    )


def _beyond(layer: LineLayer, study: Study) -> list[Advice]:
    """How many values lie further than so many SDs from their lane's mean."""
    steps = sorted(k for k in layer.sds if k > 0)
    counts = {}
    for lane in study.arrangement.lanes:
        shape = lane.moments
        if shape.mean is not None and shape.sd:
            apart = np.abs(lane.values - shape.mean) / shape.sd
            counts[lane.name] = ", ".join(str(np.count_nonzero(apart > k)) for k in steps)
    if not steps or not counts:
        return []
    listed = "; ".join(f"{name} {found}" for name, found in list(counts.items())[:8])
    more = f"; {len(counts) - 8} more lanes" if len(counts) > 8 else ""
    words = ", ".join(f"±{k:g}" for k in steps)
    return [Advice(key=f"{layer.id}/beyond", text=f"Values beyond {words} SD: {listed}{more}.")]


def _draw_line(layer: LineLayer, view: LaneView) -> list[ScenePart]:
    frame = view.frame
    a, b = view.band.spread(CENTRES[layer.place], layer.width)
    parts: list[ScenePart] = []
    for name, value in _places(layer, view):
        if not frame.domain[0] <= value <= frame.domain[1]:
            continue
        centre = name in ("mean", "median")
        paint = Paint(
            stroke=view.style.ink if centre else view.style.muted, stroke_width=layer.line if centre else layer.line * 0.5,
            dash=layer.dash if centre or layer.dash != "solid" else "dashed",
        )  # fmt: skip
        at = frame.along(value)
        parts.append(frame.line(view.mark(layer.id, "line", "" if centre else name), at, a, at, b, paint))
    return parts


def _brief_line(layer: LineLayer) -> str:
    return f"bars across: {layer.at}s" if layer.at != "mean and SD" else "lines: mean and SDs"


def _note_line(layer: LineLayer, told: Told) -> list[str]:
    if layer.at != "mean and SD":
        return [f"Bars across the lanes: {layer.at}s."]
    return [f"Lines: mean, and {', '.join(f'±{k:g}' for k in layer.sds)} SD."]


def _measure_curve(layer: NormalCurveLayer, study: Study) -> Measured:
    found = {}
    points = points_of_curve(len(study.arrangement.lanes))
    for lane in study.arrangement.lanes:
        shape = moments(study.bent(lane)) if study.transform.name != "linear" else lane.moments
        if shape.mean is None or not shape.sd or lane.given is not None:
            continue
        at = shape.mean + shape.sd * np.linspace(-3.5, 3.5, points)
        factor = 1.0 if study.bins is None else study.bins.lanes[lane.key].per_density if lane.key in study.bins.lanes else 0.0
        found[lane.key] = Curve(study.transform.back(at), normal_curve(at, shape.mean, shape.sd) * factor)
    top = max((float(c.heights.max()) for c in found.values()), default=0.0)
    extents = {key: (float(c.at[0]), float(c.at[-1])) for key, c in found.items()}
    unit = f"density per {study.unit or 'unit'}"
    return Measured(lanes=dict(found), extents=extents, tops=dict.fromkeys(found, top), family="amount", unit=unit)


def _draw_curve(layer: NormalCurveLayer, view: LaneView) -> list[ScenePart]:
    curve: Curve | None = view.data
    if curve is None:
        return []
    base, tip = view.region(layer)
    edge = view.heights(curve.heights, base, tip)
    inside = view.frame.sees(curve.at)
    paint = Paint(stroke=view.style.ink, stroke_width=layer.line, dash=layer.dash)
    along = view.frame.along_all(curve.at[inside])
    return [view.frame.path(view.mark(layer.id, "normal-curve"), along, edge[inside], paint)] if inside.sum() > 1 else []


def _brief_curve(layer: NormalCurveLayer) -> str:
    return "normal curves"


def _note_curve(layer: NormalCurveLayer, told: Told) -> list[str]:
    return ["Normal curves: each lane's mean and SD."]


TICKS = LayerKind(
    draw=_draw_ticks,
    note=_note_ticks, brief=_brief_ticks,
    settings={
        **SHARED, **WIDTH, **LINE,
        "quantiles": "Ticks at these quantiles instead of at each value.",
        "strength": "How opaque a tick is.",
    },
)  # fmt: skip
CENTRE_LINE = LayerKind(
    draw=_draw_line,
    measure=_measure_line,
    note=_note_line, brief=_brief_line,
    settings={
        **SHARED, **WIDTH, **LINE, **DASH,
        "at": "At the mean, the median, or the mean with steps of the SD.",
        "sds": "How many SDs from the mean the lines stand.",
    },
)  # fmt: skip
NORMAL_CURVE = LayerKind(
    draw=_draw_curve,
    measure=_measure_curve,
    note=_note_curve,
    brief=_brief_curve,
    settings={**SHARED, **WIDTH, **LINE, **DASH, "side": "To which side of the lane's line the curve rises."},
)
