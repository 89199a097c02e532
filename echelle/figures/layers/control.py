"""Control lines of values in order: target mean and SDs of each lot, where the lot changes, and what breaks a rule."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.geometry.lettering import LEADING, Box
from echelle.figures.lanes.control_charts import ControlChart, control_chart
from echelle.figures.lanes.figure_context import FigureContext, Measurement, Order
from echelle.figures.lanes.order import order_shares, orders
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext, PanelView
from echelle.numbers.differences.control_rules import LotRun, RuleViolation
from echelle.numbers.sample import Floats
from echelle.recipes.control import Control, ControlStretch, ControlTarget
from echelle.recipes.layers.control import ControlLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Paint, ScenePart

_WARNING = "1-2s"
_SMALL = 0.85
# So many rules of a lane are named on the figure, the first; the others have their rings.
_MOST_NAMES = 1_000
_USUAL = Control()
# About what a value takes to be held against the rules and drawn.
_SECONDS_A_VALUE = 1e-6


@dataclass(frozen=True, eq=False)
class ControlLane:
    """A lane's runs and hits, the order they stand in, and the lots' names."""

    chart: ControlChart
    order: Order
    lots: tuple[str, ...]


def _control(context: FigureContext) -> Control:
    """What the tab Differences asks; the lane's own mean and SD where it asks nothing."""
    control = context.recipe.differences
    return (control.control if control else None) or _USUAL


def _measure(layer: ControlLayer, context: FigureContext) -> Measurement[ControlLane]:
    control = _control(context)
    result = {lane.key: control_chart(lane, control) for lane in context.arrangement.lanes if lane.filled}
    order = orders(control.order, context)
    lanes = {
        lane.key: ControlLane(result[lane.key], order[lane.key], lane.extras[control.lots].levels if control.lots else ())
        for lane in context.arrangement.lanes
        if lane.key in result
    }
    extents = {}
    for key, item in result.items():
        ends = [end for run in item.runs for _, end in _lines(layer, run) if end > context.transform.least]
        if ends:
            extents[key] = (min(ends), max(ends))
    remarks = []
    points = context.recipe.shown(PointsLayer)
    if not any(point.spread == "in order" and point.against == control.order for point in points):
        along = context.words.say("order-of-rows") if control.order is None else control.order
        remarks.append(advice(context.words, f"{layer.id}/order", "control-order", along=along))
    return Measurement(lanes=dict(lanes), extents=extents, remarks=remarks)


def _lane_of(view: LaneView[ControlLane]) -> ControlLane:
    assert view.data is not None, "only lanes with values are drawn"
    return view.data


def _lines(layer: ControlLayer, run: LotRun) -> list[tuple[str, float]]:
    """Mean and SD lines of a run, each with its name."""
    if run.mean is None or run.sd is None:
        return []
    ends = [(f"{sign}{k:g}", run.mean + side * k * run.sd) for k in layer.sds for sign, side in (("+", 1), ("-", -1))]
    return [("mean", run.mean), *ends]


def _edges(view: LaneView[ControlLane], lane: ControlLane) -> list[tuple[float, float]]:
    """From where to where each run reaches across the lane: half way to its neighbours."""
    numbers, runs = lane.chart.numbers, lane.chart.runs
    between = [(numbers[run.end - 1] + numbers[run.end]) / 2 for run in runs[:-1]]
    ends = np.array([lane.order.low, *between, lane.order.high], dtype=np.float64)
    at = _across(view, lane, ends).tolist()
    return list(itertools.pairwise(at))


def _across(view: LaneView[ControlLane], lane: ControlLane, numbers: Floats) -> Floats:
    shares = order_shares(numbers, lane.order, view.band.turned)
    return view.band.across(shares)


def _draw(layer: ControlLayer, view: LaneView[ControlLane]) -> list[ScenePart]:
    lane: ControlLane | None = view.data
    if lane is None:
        return []
    frame, parts = view.frame, list[ScenePart]()
    change = Paint(stroke=view.style.muted, stroke_width=0.8, dash="dotted")
    for number, (run, (start, end)) in enumerate(zip(lane.chart.runs, _edges(view, lane), strict=True)):
        for name, value in _lines(layer, run):
            if frame.domain[0] <= value <= frame.domain[1]:
                solid = name == "mean"
                paint = Paint(stroke=view.style.ink, stroke_width=layer.line, dash="solid" if solid else "dashed", opacity=0.75)
                mark = view.mark(layer.id, "line" if solid else "limit", f"{number}{name}")
                parts.append(frame.line(mark, frame.along(value), start, frame.along(value), end, paint))
        if number:
            low, high = frame.range
            parts.append(frame.line(view.mark(layer.id, "tick", str(number)), low, start, high, start, change))
    return [*parts, *_rings(layer, view, lane)]


def _rings(layer: ControlLayer, view: LaneView[ControlLane], lane: ControlLane) -> list[ScenePart]:
    """Rings about the values that break a rule; thin ones where it is but a warning."""
    parts: list[ScenePart] = []
    strong = {place for hit in lane.chart.hits if hit.rule != _WARNING for place in hit.places}
    weak = {place for hit in lane.chart.hits if hit.rule == _WARNING for place in hit.places} - strong
    for number, (members, width) in enumerate(((strong, 1.4), (weak if layer.warnings else set(), 0.7))):
        at = np.array(sorted(members), dtype=np.intp)
        rows = lane.chart.places[at]
        values = view.band.lane.values[rows]
        seen = view.frame.sees(values)
        if seen.any():
            along = view.frame.along_all(values[seen])
            across = _across(view, lane, lane.chart.numbers[at][seen])
            paint = Paint(stroke=view.style.ink, stroke_width=width)
            mark, ids = view.mark(layer.id, "outlier", str(number)), view.band.lane.rows[rows[seen]]
            parts.append(view.frame.points(mark, "circle", layer.size, paint, along, across, ids))
    return parts


def _words(layer: ControlLayer, panel: PanelView[ControlLane]) -> list[ScenePart]:
    """The lots' names at the upper edge, and the rules beside the last value of each hit, where there is room."""
    views = [view for view in panel.lanes if view.data is not None and view.letters is not None] if layer.words else []
    for view in views:
        panel.taken.extend(_ring_boxes(layer, view))
    parts = [part for view in views for part in _lot_names(layer, panel, view)]
    return parts + [part for view in views for part in _rule_names(layer, panel, view)]


def _lot_names(layer: ControlLayer, panel: PanelView[ControlLane], view: LaneView[ControlLane]) -> list[ScenePart]:
    lane = _lane_of(view)
    frame, size, parts = view.frame, view.style.text_size * _SMALL, list[ScenePart]()
    for number, (run, edges) in enumerate(zip(lane.chart.runs, _edges(view, lane), strict=True)):
        if lane.lots and run.lot >= 0:
            up = frame.runs == "up"
            x, y = (min(edges) + 2.5, frame.top + size) if up else (frame.left + frame.width - 3, min(edges) + size)
            words = lane.lots[run.lot]
            wide = 0.0 if up else view.letters.width(words, size) if view.letters else 0.0
            # A line lower where a ring stands.
            spots = [(x - wide, y + line * size * LEADING) for line in range(4)]
            parts += _put(layer, panel, view, f"lot{number}", words, spots)
    return parts


def _ring_boxes(layer: ControlLayer, view: LaneView[ControlLane]) -> list[Box]:
    """Where rings stand: no name is written over one."""
    lane = _lane_of(view)
    shown = [hit for hit in lane.chart.hits if layer.warnings or hit.rule != _WARNING]
    at = np.array(sorted({place for hit in shown for place in hit.places})[: 2 * _MOST_NAMES], dtype=np.intp)
    values = view.band.lane.values[lane.chart.places[at]]
    seen, half = view.frame.sees(values), layer.size / 2
    xs, ys = view.frame.xy(view.frame.along_all(values[seen]), _across(view, lane, lane.chart.numbers[at][seen]))
    return [(x - half, y - half, x + half, y + half) for x, y in zip(xs.tolist(), ys.tolist(), strict=True)]


def _rule_names(layer: ControlLayer, panel: PanelView[ControlLane], view: LaneView[ControlLane]) -> list[ScenePart]:
    """Beside the ring, else over or under it."""
    lane = _lane_of(view)
    frame, parts, size = view.frame, list[ScenePart](), view.style.text_size * _SMALL
    assert view.letters is not None
    named = _last(layer, lane.chart.hits)[:_MOST_NAMES]
    at = np.array([place for _, place in named], dtype=np.intp)
    values = view.band.lane.values[lane.chart.places[at]]
    seen = frame.sees(values).tolist()
    xs, ys = frame.xy(frame.along_all(values), _across(view, lane, lane.chart.numbers[at]))
    away = layer.size / 2 + 2
    for number, ((rules, _), here, x, y) in enumerate(zip(named, seen, xs.tolist(), ys.tolist(), strict=True)):
        if here:
            wide = view.letters.width(rules, size)
            spots = [(x + away, y + size * 0.33), (x - away - wide, y + size * 0.33)]
            spots += [(x - wide / 2, y - away - size * 0.3), (x - wide / 2, y + away + size)]
            parts += _put(layer, panel, view, f"hit{number}", rules, spots)
    return parts


def _last(layer: ControlLayer, hits: list[RuleViolation]) -> list[tuple[str, int]]:
    """The rules that end at each value, in words."""
    by_place: dict[int, list[str]] = {}
    for hit in hits:
        if layer.warnings or hit.rule != _WARNING:
            by_place.setdefault(hit.places[-1], []).append(hit.rule)
    return [(", ".join(rules), place) for place, rules in sorted(by_place.items())]


def _put(
    layer: ControlLayer,
    panel: PanelView[ControlLane],
    view: LaneView[ControlLane],
    number: str,
    words: str,
    spots: list[tuple[float, float]],
) -> list[ScenePart]:
    """Words at the first of some spots (left end of the baseline) that is free and in the panel; none where all are taken."""
    letters, frame, size = view.letters, panel.frame, view.style.text_size * _SMALL
    assert letters is not None
    wide = letters.width(words, size)
    for x, y in spots:
        box = (x, y - size, x + wide, y + size * 0.3)
        within = frame.left <= x and x + wide <= frame.left + frame.width and frame.top - 1 <= box[1]
        if within and box[3] <= frame.top + frame.height + 1 and panel.taken.claim(box):
            return [letters.put(view.mark(layer.id, "point-name", number), frame.key, words, x, y, size, view.style.ink)]
    return []


def _after(layer: ControlLayer, views: Sequence[LaneView[ControlLane]]) -> list[Advice]:
    """Lanes and lots without a target."""
    bare = [
        view.band.lane.name
        for view in views
        if view.data is not None and any(run.sd is None for run in view.data.chart.runs)
    ]  # fmt: skip
    words = views[0].context.words
    return [advice(words, f"{layer.id}/target", "no-target", lanes=", ".join(bare[:4]))] if bare else []


def target_words(control: Control, words: Catalogue) -> str:
    """What control lines stand at."""
    each = words.say("control-each", lots="yes" if control.lots else "no")
    if isinstance(control.target, ControlTarget):
        return words.say("control-target", mean=f"{control.target.mean:g}", sd=f"{control.target.sd:g}")
    if isinstance(control.target, ControlStretch):
        first, last = str(control.target.first), str(control.target.last)
        return words.say("control-stretch", each=each, first=first, last=last)
    return words.say("control-own", each=each)


def _note(layer: ControlLayer, note: NoteContext[ControlLane]) -> list[str]:
    control, words, lanes = _control(note.context), note.words, note.measured.lanes.values()
    if not any(run.sd is not None for lane in lanes for run in lane.chart.runs):
        return []
    clauses = [words.say("note-control", target=target_words(control, words), sds=words.names([f"{k:g}" for k in layer.sds]))]
    if any(layer.warnings or hit.rule != _WARNING for lane in lanes for hit in lane.chart.hits):
        order = words.say("note-control-by", column=control.order) if control.order else words.say("note-control-rows")
        lots = words.say("note-control-lots", column=control.lots) if control.lots else ""
        clauses.append(words.say("note-control-rings", order=order, lots=lots, warnings="yes" if layer.warnings else "no"))
    return clauses


def _brief(layer: ControlLayer, note: NoteContext[ControlLane]) -> str:
    return note.words.say("brief-control", sds=note.words.names([f"{k:g}" for k in layer.sds]))


def _explain(layer: ControlLayer, note: NoteContext[ControlLane]) -> Iterator[Explanation]:
    yield "line", note.words.say("key-control-line")
    yield "outlier", note.words.say("key-control-ring")


def _seconds(layer: ControlLayer, context: FigureContext) -> float:
    return _SECONDS_A_VALUE * sum(lane.n for lane in context.arrangement.lanes)


LAYER = Layer[ControlLayer, ControlLane](
    settings=ControlLayer,
    draw=_draw,
    measure=_measure,
    draw_over=_words,
    remarks=_after,
    note=_note,
    brief=_brief,
    explain=_explain,
    seconds=_seconds,
)
