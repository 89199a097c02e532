"""The normal curve with the lane's mean and SD."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from echelle.figures.lanes.figure_context import FigureContext, Measurement, SecondaryAmounts
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.figures.layers.density import Curve, points_of_curve
from echelle.numbers.moments import moments
from echelle.numbers.normality import normal_curve
from echelle.recipes.layers.normal_curve import NormalCurveLayer
from echelle.scene.models import Paint, ScenePart


def _measure(layer: NormalCurveLayer, context: FigureContext) -> Measurement[Curve]:
    result = {}
    points = points_of_curve(len(context.arrangement.lanes))
    for lane in context.arrangement.lanes:
        shape = moments(context.bent(lane)) if context.transform.name != "linear" else lane.moments
        if shape.mean is None or not shape.sd or lane.given is not None:
            continue
        at = shape.mean + shape.sd * np.linspace(-3.5, 3.5, points)
        factor = 1.0 if context.per_density is None else context.per_density.get(lane.key, 0.0)
        result[lane.key] = Curve(context.transform.back(at), normal_curve(at, shape.mean, shape.sd) * factor)
    top = max((float(c.heights.max()) for c in result.values()), default=0.0)
    # What cannot be negative has no axis below zero for the curve's sake.
    extent = context.arrangement.extent
    least = 0.0 if extent is not None and extent[0] >= 0 else -np.inf
    extents = {key: (max(float(c.at[0]), least), float(c.at[-1])) for key, c in result.items()}
    return Measurement(result, extents, SecondaryAmounts("amount", context.per_unit(), dict.fromkeys(result, top)))


def _draw(layer: NormalCurveLayer, view: LaneView[Curve]) -> list[ScenePart]:
    curve: Curve | None = view.data
    if curve is None:
        return []
    base, tip = view.region(layer)
    edge = view.heights(curve.heights, base, tip)
    inside = view.frame.sees(curve.at)
    paint = Paint(stroke=view.style.ink, stroke_width=layer.line, dash=layer.dash)
    along = view.frame.along_all(curve.at[inside])
    return [view.frame.path(view.mark(layer.id, "normal-curve"), along, edge[inside], paint)] if inside.sum() > 1 else []


def _note(layer: NormalCurveLayer, note: NoteContext[Curve]) -> list[str]:
    return [note.words.say("note-normal-curve")] if note.measured.lanes else []


def _brief(layer: NormalCurveLayer, note: NoteContext[Curve]) -> str:
    return note.words.say("brief-normal-curve")


def _explain(layer: NormalCurveLayer, note: NoteContext[Curve]) -> Iterator[Explanation]:
    yield "normal-curve", note.words.say("key-normal-curve", dash=layer.dash)


LAYER = Layer[NormalCurveLayer, Curve](
    settings=NormalCurveLayer,
    draw=_draw,
    measure=_measure,
    note=_note,
    brief=_brief,
    explain=_explain,
)
