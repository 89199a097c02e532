"""The share of rows at or below each value: as steps, or as points against a normal distribution."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from echelle.figures.lanes.figure_context import FigureContext, Measurement, SecondaryAmounts, cache_on_lane
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.numbers.cumulative import normal_scores, robust_line, steps
from echelle.numbers.sample import Floats
from echelle.recipes.layers.cumulative import CumulativeLayer
from echelle.scene.models import Paint, ScenePart

_MOST_STEPS = 2_000


def _measure(layer: CumulativeLayer, context: FigureContext) -> Measurement[None]:
    """Shares from 0 to 1, or normal scores from −top to top; the top is that of the largest lane."""
    lanes = [lane for lane in context.arrangement.lanes if lane.filled]
    if layer.against == "shares":
        tops = dict.fromkeys((lane.key for lane in lanes), 1.0)
        return Measurement(second=SecondaryAmounts("share", context.words.say("axis-cumulative"), tops))
    top = max((float(normal_scores(lane.n, layer.positions)[-1]) for lane in lanes), default=1.0) * 1.05 or 1.0
    tops = dict.fromkeys((lane.key for lane in lanes), max(top, 0.1))
    return Measurement(second=SecondaryAmounts("score", context.words.say("axis-normal"), tops))


def _draw(layer: CumulativeLayer, view: LaneView[None]) -> list[ScenePart]:
    if not view.band.lane.filled:
        return []
    return _steps(layer, view) if layer.against == "shares" else _scores(layer, view)


def _steps(layer: CumulativeLayer, view: LaneView[None]) -> list[ScenePart]:
    values, shares = cache_on_lane(view.band.lane, ("steps",), lambda: steps(view.band.lane.ordered), long=True)
    most = view.most_points or _MOST_STEPS
    if len(values) > most:
        # More steps than a sheet has room for: every k-th, the last among them.
        kept = np.unique(np.append(np.arange(0, len(values), len(values) // most + 1), len(values) - 1))
        values, shares = values[kept], shares[kept]
    base, tip = view.region(layer)
    low, high = view.frame.domain
    at = np.concatenate([[low], np.repeat(values, 2), [high]])
    heights = np.concatenate([[0.0, 0.0], np.repeat(shares, 2)])
    across = view.heights(heights, base, tip)
    paint = Paint(stroke=_colour(layer, view), stroke_width=layer.line)
    return [view.frame.path(view.mark(layer.id, "step"), view.frame.along_all(np.clip(at, low, high)), across, paint)]


def _colour(layer: CumulativeLayer, view: LaneView[None]) -> str:
    """The lane's colour; ink where it would run through a shape of that colour."""
    return view.style.ink if view.on_shape(layer) else view.band.colour


def _scores(layer: CumulativeLayer, view: LaneView[None]) -> list[ScenePart]:
    lane, frame = view.band.lane, view.frame
    scores = normal_scores(lane.n, layer.positions)
    order = np.argsort(lane.values, kind="stable")
    base, tip = view.region(layer)
    ordered = lane.values[order]
    seen = view.picked(np.flatnonzero(frame.sees(ordered)))
    along, across = frame.along_all(ordered[seen]), view.heights(scores[seen], base, tip)
    paint = Paint(fill=view.band.colour, opacity=0.75)
    rows = lane.rows[order][seen]
    parts: list[ScenePart] = []
    if layer.robust_line and lane.n > 1:
        line = robust_line(view.context.bent(lane))
        ends: Floats = np.array([-view.top, view.top])
        at = view.context.transform.back(line.centre + line.slope * ends)
        stroke = Paint(stroke=view.band.colour, stroke_width=layer.line * 0.7, dash="dashed")
        path = view.frame.path(view.mark(layer.id, "line"), frame.along_all(at), view.heights(ends, base, tip), stroke)
        parts.append(path)
    return [*parts, frame.points(view.mark(layer.id, "point"), "circle", layer.size, paint, along, across, rows)]


def _note(layer: CumulativeLayer, note: NoteContext[None]) -> list[str]:
    if not note.context.arrangement.used:
        return []
    if layer.against == "shares":
        return [note.words.say("note-cumulative")]
    line = "yes" if layer.robust_line else "no"
    return [note.words.say("note-cumulative-normal", positions=layer.positions, line=line)]


def _brief(layer: CumulativeLayer, note: NoteContext[None]) -> str:
    return note.words.say("brief-cumulative", against=layer.against.split(" ")[0])


def _explain(layer: CumulativeLayer, note: NoteContext[None]) -> Iterator[Explanation]:
    if layer.against == "shares":
        yield "step", note.words.say("key-cumulative")
    else:
        yield "point", note.words.say("key-cumulative-normal")


LAYER = Layer[CumulativeLayer, None](
    settings=CumulativeLayer,
    draw=_draw,
    measure=_measure,
    note=_note,
    brief=_brief,
    explain=_explain,
)
