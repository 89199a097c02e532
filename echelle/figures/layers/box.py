"""Boxes: the middle of the values, median, whiskers, and outliers where no points layer draws them."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np
from numpy.typing import NDArray

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.lanes.figure_context import FigureContext, Measurement, cache_on_lane
from echelle.figures.lanes.readings import first_box, lane_fences, read_lane, rules_of, rules_of_box
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.figures.layers.row_marks import (
    OUTLIER_SIZE,
    aside_marks,
    explain_aside,
    fence_words,
    limit_extents,
    outlier_marks,
    thinned,
)
from echelle.numbers.decimals import decimal
from echelle.numbers.fences import beyond_fence
from echelle.numbers.quantiles import quantiles
from echelle.numbers.remarks import remark
from echelle.numbers.sample import Floats
from echelle.recipes.layers.base import Fence
from echelle.recipes.layers.box import BoxLayer
from echelle.scene.models import Advice, Handle, LaneReadings, Paint, ScenePart

_WHISKER = 1.1
_BAR = 2.0
# How much of its colour a box keeps under points.
_PALE = 0.22


def _measure(layer: BoxLayer, context: FigureContext) -> Measurement[list[float]]:
    """The edges of each box, where they are not the quartiles; limits are in view."""
    lanes = context.arrangement.lanes
    edges = {}
    if layer.holds != 0.5:
        edges = {lane.key: quantiles(lane.ordered, _ends(layer), layer.quantile_type) for lane in lanes if lane.filled}
    logs = any(fence is not None and fence.of == "logarithms" for fence in (layer.fence, layer.whiskers))
    without = [context.arrangement.full_name(lane) for lane in lanes if logs and lane.filled and lane.ordered[0] <= 0]
    stand_ins = {remark("fence-no-logarithms"): without} if without else {}
    return Measurement(lanes=dict(edges), extents=limit_extents(context), stand_ins=stand_ins)


def _ends(layer: BoxLayer) -> tuple[float, float]:
    """Below which shares of the values the box begins and ends."""
    return (1 - layer.holds) / 2, (1 + layer.holds) / 2


def _draw(layer: BoxLayer, view: LaneView[list[float]]) -> list[ScenePart]:
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
    parts.append(frame.rect(view.mark(layer.id, "box"), q1, q3, c0, c1, _box_paint(layer, view)))
    pale = (view.under_marks(layer) or layer.hollow) and not view.on_shape(layer)
    if pale or layer.outline:
        outline = Paint(stroke=band.colour, stroke_width=layer.outline or _WHISKER)
        parts.append(frame.rect(view.mark(layer.id, "box", "edge"), q1, q3, c0, c1, outline))
    # A bar in the ground's colour would vanish with a box too thin to hold it.
    thin = abs(q3 - q1) < 2 * _BAR
    bar = Paint(fill=view.band.colour if pale else view.style.ink if thin else view.style.ground)
    parts.append(frame.rect(view.mark(layer.id, "median"), median - _BAR / 2, median + _BAR / 2, c0, c1, bar))
    return [*parts, *_outliers(layer, view, middle)]


def _own_readings(layer: BoxLayer, view: LaneView[list[float]]) -> LaneReadings:
    """The lane's readings by the rules of this box, which need not be those of the first."""
    recipe, lane = view.context.recipe, view.band.lane
    rules = rules_of_box(layer, recipe)
    if rules == rules_of(recipe):
        return view.readings
    return cache_on_lane(lane, ("readings", rules), lambda: read_lane(lane, rules, 0))


def _tells_outliers(layer: BoxLayer, context: FigureContext) -> bool:
    """Whether values beyond the fences of this box are marked: those of the first box are, once."""
    return first_box(context.recipe) == layer and layer.fence.rule not in ("full range", "none")


def _box_paint(layer: BoxLayer, view: LaneView[list[float]]) -> Paint:
    """The lane's colour: pale with a clear edge where marks of that colour stand on it; ink inside a shape of that colour."""
    colour = view.band.colour
    if view.on_shape(layer):
        return Paint(fill=view.style.ink, opacity=layer.fill)
    return Paint(fill=colour, opacity=layer.fill * (_PALE if view.under_marks(layer) else 1.0))


def _outliers(layer: BoxLayer, view: LaneView[list[float]], middle: float) -> list[ScenePart]:
    lane, frame = view.band.lane, view.frame
    places = view.picked(_places_beyond(layer, view))
    if not len(places):
        return []
    paint = Paint(fill=view.style.ground, stroke=view.band.colour, stroke_width=1.0)
    along = frame.along_all(lane.values[places])
    across = middle + _fan(lane.values[places], abs(view.band.width) / 2 - OUTLIER_SIZE / 2)
    return [frame.points(view.mark(layer.id, "outlier"), "diamond", OUTLIER_SIZE, paint, along, across, lane.rows[places])]


def _places_beyond(layer: BoxLayer, view: LaneView[list[float]]) -> NDArray[np.intp]:
    """The places of the lane's values in view that this box marks as outliers."""
    fences, values = lane_fences(view.readings), view.band.lane.values
    if fences is None or view.points_shown or not _tells_outliers(layer, view.context):
        return np.empty(0, dtype=np.intp)
    places = beyond_fence(values, fences)
    return places[view.frame.sees(values[places])]


def _remarks(layer: BoxLayer, views: Sequence[LaneView[list[float]]]) -> list[Advice]:
    """That the screen shows a part of the outliers."""
    beyond = [(view, _places_beyond(layer, view)) for view in views if view.most_points is not None]
    used = sum(len(places) for _, places in beyond)
    drawn = sum(len(view.picked(places)) for view, places in beyond)
    return [thinned(views[0].context.words, "outliers", drawn, used)] if drawn < used else []


def _fan(values: Floats, room: float) -> Floats:
    """How far equal values stand from the lane's line, to both sides of it, so that each is seen; at most ``room``."""
    _, equal, counts = np.unique(values, return_inverse=True, return_counts=True)
    order = np.argsort(equal, kind="stable")
    place = np.empty(len(values), dtype=np.intp)
    place[order] = np.arange(len(values)) - np.repeat(np.cumsum(counts) - counts, counts)
    steps = np.minimum(OUTLIER_SIZE * 0.8, 2 * max(room, 0.0) / np.maximum(counts - 1, 1))
    return np.asarray((place - (counts[equal] - 1) / 2) * steps[equal], dtype=np.float64)


def _aside(layer: BoxLayer, view: LaneView[list[float]]) -> list[ScenePart]:
    """Censored values as arrows at their limit, left-out rows as faint crosses, where no points layer draws them."""
    if view.points_shown:
        return []
    middle = view.band.centre(CENTRES[layer.place])
    return aside_marks(layer.id, view, lambda rows: np.full(len(rows), middle))


def _handles(layer: BoxLayer, place: int, view: LaneView[list[float]]) -> list[Handle]:
    readings = _own_readings(layer, view)
    if (
        not readings.iqr
        or readings.q1 is None
        or readings.q3 is None
        or layer.fence.rule != "quartiles"
        or layer.fence.of != "values"
    ):
        return []
    lane, words = view.band.lane, view.context.words
    return [
        Handle(
            key=f"{view.frame.key}/{lane.key}/{layer.id}/fence/{name}", panel=view.frame.key, lane=lane.key,
            layer=layer.id, role="fence", at=at, origin=origin, unit=unit, least=0.0, most=20.0, step=0.05,
            value=layer.fence.k, path=["layers", place, "fence", "k"], name=words.say("handle-fence", end=name, lane=lane.name),
            after=words.say("handle-fence-after"),
        )
        for name, at, origin, unit in (
            ("lower", readings.fence_low, readings.q1, -readings.iqr),
            ("upper", readings.fence_high, readings.q3, readings.iqr),
        )
        if at is not None
    ]  # fmt: skip


def _note(layer: BoxLayer, note: NoteContext[list[float]]) -> list[str]:
    words, context = note.words, note.context
    if not any(readings.q1 is not None for readings in context.readings.values()):
        return []
    outliers = ""
    if _marks_outliers(layer, context):
        beyond_what = "" if layer.whiskers is None else f" {fence_words(layer.fence, words)}"
        outliers = words.say("note-box-outliers", marks=outlier_marks(context.recipe, words), fence=beyond_what)
    reach = layer.whiskers or layer.fence
    within = words.say("note-box-within", fence=fence_words(reach, words))
    lines = words.say("note-box-lines", lines=_lines(reach, words, within)) if _draws_whiskers(layer, context) else ""
    clauses = [words.say("note-box", middle=_middle(layer, note), type=layer.quantile_type, lines=lines, outliers=outliers)]
    if context.transform.name != "linear" and "values" in _scales(layer, bool(lines), bool(outliers)):
        clauses.append(words.say("note-fences-of-values", scale=words.say("scale", scale=context.transform.name)))
    return clauses


def _scales(layer: BoxLayer, lines: bool, outliers: bool) -> set[str]:
    """Whether what is drawn goes by fences of values or of logarithms."""
    fences = ([layer.whiskers or layer.fence] if lines else []) + ([layer.fence] if outliers else [])
    return {fence.of for fence in fences if fence.rule not in ("full range", "none", "percentiles")}


def _marks_outliers(layer: BoxLayer, context: FigureContext) -> bool:
    """Whether the figure marks a value beyond the fences of this box."""
    return _tells_outliers(layer, context) and any(readings.beyond for readings in context.readings.values())


def _draws_whiskers(layer: BoxLayer, context: FigureContext) -> bool:
    """Whether any lane has a whisker: a value between the box and its reach."""
    rules = rules_of_box(layer, context.recipe)
    for lane in context.arrangement.lanes:
        own = context.readings[lane.key] if rules == rules_of(context.recipe) else read_lane(lane, rules, 0)
        if own.q1 is None or own.q3 is None:
            continue
        low, high = (own.q1, own.q3) if layer.holds == 0.5 else quantiles(lane.ordered, _ends(layer), layer.quantile_type)
        if (own.whisker_low is not None and own.whisker_low < low) or (
            own.whisker_high is not None and own.whisker_high > high
        ):
            return True
    return False


def _middle(layer: BoxLayer, note: NoteContext[list[float]]) -> str:
    """What the box holds."""
    central = note.words.say("note-box-central", share=f"{float(100 * decimal(layer.holds)):g}")
    return note.words.say("note-box-quartiles") if layer.holds == 0.5 else central


def _lines(reach: Fence, words: Catalogue, within: str) -> str:
    """How far the lines reach."""
    return words.say("note-box-extremes") if reach.rule in ("full range", "none") else within


def _brief(layer: BoxLayer, note: NoteContext[list[float]]) -> str:
    reach, words = layer.whiskers or layer.fence, note.words
    lines = ""
    if _draws_whiskers(layer, note.context):
        lines = words.say("brief-box-lines", lines=_lines(reach, words, fence_words(reach, words)))
    middle = _middle(layer, note) if layer.holds == 0.5 else words.say("brief-box-central", share=f"{100 * layer.holds:g}")
    return words.say("brief-box", middle=middle, lines=lines)


def _explain(layer: BoxLayer, note: NoteContext[list[float]]) -> Iterator[Explanation]:
    words = note.words
    yield "median", words.say("key-box-median")
    share = f"{100 * layer.holds:g}"
    yield "box", words.say("key-box", share=share, quartiles="yes" if layer.holds == 0.5 else "no")
    reach = layer.whiskers or layer.fence
    if reach.rule in ("full range", "none"):
        yield "whisker", words.say("key-box-extremes")
    else:
        yield "whisker", words.say("key-box-whisker", fence=fence_words(reach, words))
    if layer.fence.rule not in ("full range", "none"):
        yield "outlier", words.say("key-box-outlier")
    yield from explain_aside(words)


LAYER = Layer[BoxLayer, list[float]](
    settings=BoxLayer,
    draw=_draw,
    measure=_measure,
    handles=_handles,
    note=_note,
    brief=_brief,
    explain=_explain,
    remarks=_remarks,
)
