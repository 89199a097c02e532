"""Boxes: the middle of the values, median, whiskers, and outliers where no points layer draws them."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from echelle.figures.geometry.frame import MarkOf
from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.lanes.figure_context import Measured, Study, held
from echelle.figures.lanes.lane import AtLimit, Rows
from echelle.figures.lanes.readings import first_box, lane_fences, read_lane, rules_of, rules_of_box
from echelle.figures.layers.base import SHARED, LaneView, LayerKind, Told
from echelle.numbers.fences import beyond
from echelle.numbers.quantiles import Floats, quantiles
from echelle.recipes.layers import BoxLayer, Fence, PointsLayer
from echelle.recipes.recipe import Recipe
from echelle.scene.models import Handle, LaneReadings, Paint, ScenePart, Shape

_WHISKER = 1.1
_BAR = 2.0
OUTLIER_SIZE = 4.4
LIMIT_SIZE = 4.0
_CROSS = 3.2


def _measure(layer: BoxLayer, study: Study) -> Measured:
    """The edges of each box, where they are not the quartiles; limits are in view."""
    lanes = study.arrangement.lanes
    edges = {}
    if layer.holds != 0.5:
        ends = ((1 - layer.holds) / 2, (1 + layer.holds) / 2)
        edges = {lane.key: quantiles(lane.ordered, ends, layer.quantile_type) for lane in lanes if len(lane.values)}
    return Measured(lanes=dict(edges), extents=limit_extents(study))


def limit_extents(study: Study) -> dict[str, tuple[float, float]]:
    """From where to where the limits of censored values reach, for the lanes that have some."""
    of_lane = {lane.key: np.concatenate([lane.below.limits, lane.above.limits]) for lane in study.arrangement.lanes}
    return {key: (float(limits.min()), float(limits.max())) for key, limits in of_lane.items() if len(limits)}


def _draw(layer: BoxLayer, view: LaneView) -> list[ScenePart]:
    readings, frame, band = _own_readings(layer, view), view.frame, view.band
    parts = _aside(layer, view)
    if readings.q1 is None or readings.q3 is None or readings.median is None:
        return parts
    low, high = view.data or (readings.q1, readings.q3)
    c0, c1 = band.spread(CENTRES[layer.place], layer.width)
    # Back to back, both whiskers stand beside the middle line, not on it.
    away = math.copysign(1.0, c1 - c0)
    middle = c0 + away * 1.2 if band.half else (c0 + c1) / 2
    half = abs(c1 - c0) / 2
    q1, q3, median = frame.held(low), frame.held(high), frame.held(readings.median)
    line = Paint(stroke=band.colour, stroke_width=_WHISKER)
    for name, edge, inner, end in (("low", q1, low, readings.whisker_low), ("high", q3, high, readings.whisker_high)):
        if end is None or abs(frame.held(end) - edge) < 1e-9 or (end > inner if name == "low" else end < inner):
            continue
        reach = frame.held(end)
        parts.append(frame.line(view.mark(layer.id, "whisker", name), edge, middle, reach, middle, line))
        if layer.cap:
            cap = half * layer.cap
            a, b = (middle, middle + away * cap) if band.half else (middle - cap, middle + cap)
            parts.append(frame.line(view.mark(layer.id, "cap", name), reach, a, reach, b, line))
    parts.append(frame.rect(view.mark(layer.id, "box"), q1, q3, c0, c1, _box_paint(view)))
    # A bar in the ground's colour would vanish with a box too thin to hold it.
    thin = abs(q3 - q1) < 2 * _BAR
    bar = Paint(fill=view.style.ink if thin else view.style.ground)
    parts.append(frame.rect(view.mark(layer.id, "median"), median - _BAR / 2, median + _BAR / 2, c0, c1, bar))
    return [*parts, *_outliers(layer, view, middle)]


def _own_readings(layer: BoxLayer, view: LaneView) -> LaneReadings:
    """The lane's readings by the rules of this box, which need not be those of the first."""
    recipe, lane = view.study.recipe, view.band.lane
    rules = rules_of_box(layer, recipe)
    if rules == rules_of(recipe):
        return view.readings
    return held(lane, ("readings", rules), lambda: read_lane(lane, rules, 0))


def _tells_outliers(layer: BoxLayer, study: Study) -> bool:
    """Whether values beyond the fences of this box are marked: those of the first box are, once."""
    return first_box(study.recipe) == layer and layer.fence.rule not in ("full range", "none")


def _box_paint(view: LaneView) -> Paint:
    """The lane's colour; ink where the box stands inside a shape of the same colour."""
    inside = any(one.shown and one.layer == "density" and one.side == "both" for one in view.study.recipe.layers)
    return Paint(fill=view.style.ink if inside else view.band.colour)


def _outliers(layer: BoxLayer, view: LaneView, middle: float) -> list[ScenePart]:
    fences, lane, frame = lane_fences(view.readings), view.band.lane, view.frame
    if fences is None or view.points_shown or not _tells_outliers(layer, view.study):
        return []
    places = beyond(lane.values, fences)
    places = places[frame.sees(lane.values[places])]
    if not len(places):
        return []
    paint = Paint(fill=view.style.ground, stroke=view.band.colour, stroke_width=1.0)
    along = frame.along_all(lane.values[places])
    return [frame.points(view.mark(layer.id, "outlier"), "diamond", OUTLIER_SIZE, paint, along, middle, lane.rows[places])]


def _aside(layer: BoxLayer, view: LaneView) -> list[ScenePart]:
    """Censored values as arrows at their limit, left-out rows as faint crosses, where no points layer draws them."""
    if view.points_shown:
        return []
    middle = view.band.centre(CENTRES[layer.place])
    return aside_marks(layer.id, view, lambda rows: np.full(len(rows), middle))


def aside_marks(layer_id: str, view: LaneView, across: Callable[[Rows], Floats]) -> list[ScenePart]:
    """Rows that stand in no number stay visible: an arrow a censored value, at its limit and pointing to where the value
    lies; a faint cross a left-out row. ``across`` gives the coordinates of rows.
    """
    frame, lane = view.frame, view.band.lane
    ways: tuple[Shape, Shape] = ("left", "right") if frame.runs == "across" else ("down", "up")
    arrow = Paint(stroke=view.band.colour, stroke_width=1.0)
    faint = Paint(stroke=view.style.muted, stroke_width=0.8, opacity=0.5)
    below, above = view.mark(layer_id, "limit", ways[0]), view.mark(layer_id, "limit", ways[1])
    kinds: tuple[tuple[MarkOf, AtLimit, Shape, float, Paint], ...]
    kinds = ((below, lane.below, ways[0], LIMIT_SIZE, arrow), (above, lane.above, ways[1], LIMIT_SIZE, arrow),
             (view.mark(layer_id, "left-out"), lane.out, "cross", _CROSS, faint))  # fmt: skip
    parts: list[ScenePart] = []
    for mark, rows, shape, size, paint in kinds:
        seen = frame.sees(rows.limits)
        if seen.any():
            along, side = frame.along_all(rows.limits[seen]), across(rows.rows)[seen]
            parts.append(frame.points(mark, shape, size, paint, along, side, rows.rows[seen]))
    return parts


def _handles(layer: BoxLayer, place: int, view: LaneView) -> list[Handle]:
    readings = _own_readings(layer, view)
    if not readings.iqr or readings.q1 is None or readings.q3 is None or layer.fence.rule != "quartiles":
        return []
    lane = view.band.lane
    return [
        Handle(
            key=f"{view.frame.key}/{lane.key}/{layer.id}/fence/{name}", panel=view.frame.key, lane=lane.key,
            layer=layer.id, role="fence", at=at, origin=origin, unit=unit, least=0.0, most=20.0, step=0.05,
            value=layer.fence.k, path=["layers", place, "fence", "k"], name=f"{name} fence of {lane.name}", after=" × IQR",
        )
        for name, at, origin, unit in (
            ("lower", readings.fence_low, readings.q1, -readings.iqr),
            ("upper", readings.fence_high, readings.q3, readings.iqr),
        )
        if at is not None
    ]  # fmt: skip


def fence_words(fence: Fence) -> str:
    """Beyond which a value counts as an outlier."""
    k = f"{fence.k:g}"
    return {
        "quartiles": f"{k} × the interquartile range of the box",
        "percentiles": f"the {100 * fence.k:g}th and {100 - 100 * fence.k:g}th percentile",
        "full range": "the full range",
        "none": "no limit",
        "mean and SD": f"mean ± {k} × SD",
        "median and MAD": f"median ± {k} × 1.4826 × MAD",
        "skew-adjusted": f"{k} × the interquartile range of the box, adjusted for skew (medcouple)",
        "extreme deviates": f"generalised extreme Studentised deviates (at most {k})",
    }[fence.rule]


def outlier_marks(recipe: Recipe) -> str:
    """What marks values beyond the fences."""
    shown = [layer for layer in recipe.layers if isinstance(layer, PointsLayer) and layer.shown]
    if not shown:
        return "diamonds"
    return "open diamonds" if all(layer.shaped is None for layer in shown) else "open marks"


def _note(layer: BoxLayer, told: Told) -> list[str]:
    kind = f" (type {layer.quantile_type})"
    middle = "quartiles" if layer.holds == 0.5 else f"the central {100 * layer.holds:g} % of values"
    reach = layer.whiskers or layer.fence
    whole = reach.rule in ("full range", "none")
    lines = "the extremes" if whole else f"the furthest value within {fence_words(reach)}"
    note = f"Boxes: median and {middle}{kind}; lines reach {lines}"
    if not _tells_outliers(layer, told.study):
        return [f"{note}."]
    beyond_what = "" if layer.whiskers is None else f" {fence_words(layer.fence)}"
    return [f"{note}; {outlier_marks(told.study.recipe)} lie beyond{beyond_what}."]


def _brief(layer: BoxLayer) -> str:
    reach = layer.whiskers or layer.fence
    whole = reach.rule in ("full range", "none")
    holds = "quartiles" if layer.holds == 0.5 else f"central {100 * layer.holds:g} %"
    return f"boxes: median and {holds}, lines to {'the extremes' if whole else fence_words(reach)}"


KIND = LayerKind(
    draw=_draw,
    measure=_measure,
    handles=_handles,
    note=_note,
    brief=_brief,
    settings={
        **SHARED,
        "quantile_type": "Which of the nine published definitions of a quantile is used; they differ for few values.",
        "holds": "The central share of the values that the box holds: 0.5 stands between the quartiles.",
        "fence": "Beyond this a value counts as an outlier.",
        "whiskers": "How far whiskers reach, where that is not the fence of the outliers.",
        "width": "How much of the lane the box fills.",
        "cap": "A short bar at the end of each whisker.",
    },
)
