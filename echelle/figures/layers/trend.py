"""A line from lane to lane: through medians or means, or by least squares with its interval."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

import numpy as np

from echelle.figures.geometry.frame import MarkOf
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext, PanelView
from echelle.numbers.least_squares import least_squares
from echelle.recipes.layers.trend import TrendLayer
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Paint, ScenePart

# Points of the line from one lane to the next.
_STEPS = 12


def _between(layer: TrendLayer, panel: PanelView[None]) -> list[ScenePart]:
    parts: list[ScenePart] = []
    by_part: dict[int, list[LaneView[None]]] = {}
    for view in panel.lanes:
        by_part.setdefault(view.band.lane.part, []).append(view)
    for part, views in by_part.items():
        paint = Paint(
            stroke=views[0].band.colour if len(by_part) > 1 else views[0].style.ink, stroke_width=layer.line, dash=layer.dash
        )
        mark = MarkOf("", layer.id, "trend", str(part or ""))
        if layer.through == "least squares":
            parts += _least_squares(layer, panel, views, mark, paint)
            continue
        spots = [(_centre(layer, view), view) for view in views]
        known = [(centre, view.band.across(0.0)) for centre, view in spots if centre is not None]
        if len(known) > 1:
            along = panel.frame.along_all(np.array([centre for centre, _ in known]))
            parts.append(panel.frame.path(mark, along, np.array([across for _, across in known]), paint))
    return parts


def _centre(layer: TrendLayer, view: LaneView[None]) -> float | None:
    return view.readings.median if layer.through == "medians" else view.band.lane.moments.mean


def _least_squares(
    layer: TrendLayer, panel: PanelView[None], views: list[LaneView[None]], mark: MarkOf, paint: Paint
) -> list[ScenePart]:  # fmt: skip
    """measure = a + b · level over all rows, with the confidence interval of the line (t, n − 2 degrees of freedom); between
    lanes as they stand, whatever their order.
    """
    known = _numbered(views)
    if not _fits(known):
        return []
    at, sizes = np.array([number for number, _ in known]), [view.band.lane.n for _, view in known]
    x = np.repeat(at, sizes)
    y = np.concatenate([view.band.lane.values for _, view in known])
    fit = least_squares(x, y)
    across_lanes = np.array([view.band.across(0.0) for _, view in known])
    order = np.argsort(across_lanes, kind="stable")
    stops = np.linspace(0, len(order) - 1, _STEPS * (len(order) - 1) + 1)
    places, across = (np.interp(stops, np.arange(len(order)), ends[order]) for ends in (at, across_lanes))
    line, reach = fit.line(places), fit.reach(places, layer.level)
    frame = panel.frame
    edges = (frame.along_all(line - reach), frame.along_all(line + reach))
    band = Paint(fill=paint.stroke, opacity=0.16)
    name = MarkOf(mark.lane, mark.layer, "trend", f"interval{mark.number}")
    outline = (np.concatenate([edges[0], edges[1][::-1]]), np.concatenate([across, across[::-1]]))
    return [frame.path(name, *outline, band, closed=True), frame.path(mark, frame.along_all(line), across, paint)]


def _numbered(views: Sequence[LaneView[None]]) -> list[tuple[float, LaneView[None]]]:
    """The lanes with values whose group is a number."""
    slots = views[0].context.arrangement.slots if views else ()
    numbers = [(slots[view.band.lane.slot].value, view) for view in views if view.band.lane.filled]
    return [(number, view) for number, view in numbers if number is not None]


def _fits(known: Sequence[tuple[float, LaneView[None]]]) -> bool:
    """Whether a line can be fitted: two different numbers and three values."""
    return len({number for number, _ in known}) > 1 and sum(view.band.lane.n for _, view in known) > 2


def _note(layer: TrendLayer, note: NoteContext[None]) -> list[str]:
    if layer.through == "least squares":
        drawn = _lanes_fit(note.context)
        return [note.words.say("note-trend-least-squares", level=f"{100 * layer.level:g}")] if drawn else []
    readings = note.context.readings
    known = [(readings[lane.key].median if layer.through == "medians" else lane.moments.mean, lane) for lane in
             note.context.arrangement.lanes]  # fmt: skip
    places = Counter((lane.panel, lane.part) for centre, lane in known if centre is not None)
    return [note.words.say("note-trend", through=layer.through)] if max(places.values(), default=0) > 1 else []


def _lanes_fit(context: FigureContext) -> bool:
    """Whether a line can be fitted in any panel, for any subgroup."""
    arrangement = context.arrangement
    numbers: dict[tuple[str, int], list[tuple[float, int]]] = {}
    for lane in arrangement.lanes:
        number = arrangement.slots[lane.slot].value if lane.slot < len(arrangement.slots) else None
        if number is not None and lane.filled:
            numbers.setdefault((lane.panel, lane.part), []).append((number, lane.n))
    return any(len({number for number, _ in group}) > 1 and sum(n for _, n in group) > 2 for group in numbers.values())


def _remarks(layer: TrendLayer, views: Sequence[LaneView[None]]) -> list[Advice]:
    """Why no line is drawn."""
    if layer.through != "least squares" or not views or _lanes_fit(views[0].context):
        return []
    return [advice(views[0].context.words, f"{layer.id}/line", "no-trend")]


def _brief(layer: TrendLayer, note: NoteContext[None]) -> str:
    return note.words.say("brief-trend", through=layer.through)


def _explain(layer: TrendLayer, note: NoteContext[None]) -> Iterator[Explanation]:
    yield None, note.words.say("key-trend", through=layer.through)


LAYER = Layer[TrendLayer, None](
    settings=TrendLayer,
    draw_between=_between,
    note=_note,
    remarks=_remarks,
    brief=_brief,
    explain=_explain,
)
