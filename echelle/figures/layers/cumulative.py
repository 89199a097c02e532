"""The share of rows at or below each value: as steps, or as points against a normal distribution."""

from __future__ import annotations

import numpy as np

from echelle.figures.lanes.figure_context import Measured, Study, held
from echelle.figures.layers.base import LINE, SHARED, WIDTH, LaneView, LayerKind, Told
from echelle.numbers.cumulative import normal_scores, robust_line, steps
from echelle.numbers.quantiles import Floats
from echelle.recipes.layers import CumulativeLayer
from echelle.scene.models import Paint, ScenePart

_MOST_STEPS = 2_000


def _measure(layer: CumulativeLayer, study: Study) -> Measured:
    """Shares from 0 to 1, or normal scores from −top to top; the top is that of the largest lane."""
    lanes = [lane for lane in study.arrangement.lanes if len(lane.values)]
    if layer.against == "shares":
        return Measured(tops=dict.fromkeys((lane.key for lane in lanes), 1.0), family="share", unit="share of rows at or below")
    top = max((float(normal_scores(lane.n, layer.positions)[-1]) for lane in lanes), default=1.0) * 1.05 or 1.0
    tops = dict.fromkeys((lane.key for lane in lanes), max(top, 0.1))
    return Measured(tops=tops, family="score", unit="share of a normal distribution")


def _draw(layer: CumulativeLayer, view: LaneView) -> list[ScenePart]:
    if not len(view.band.lane.values):
        return []
    return _steps(layer, view) if layer.against == "shares" else _scores(layer, view)


def _steps(layer: CumulativeLayer, view: LaneView) -> list[ScenePart]:
    values, shares = held(view.band.lane, ("steps",), lambda: steps(view.band.lane.ordered), long=True)
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
    paint = Paint(stroke=view.band.colour, stroke_width=layer.line)
    return [view.frame.path(view.mark(layer.id, "step"), view.frame.along_all(np.clip(at, low, high)), across, paint)]


def _scores(layer: CumulativeLayer, view: LaneView) -> list[ScenePart]:
    lane, frame = view.band.lane, view.frame
    scores = normal_scores(lane.n, layer.positions)
    order = np.argsort(lane.values, kind="stable")
    base, tip = view.region(layer)
    seen = view.picked(np.flatnonzero(frame.sees(lane.ordered)))
    along, across = frame.along_all(lane.ordered[seen]), view.heights(scores[seen], base, tip)
    paint = Paint(fill=view.band.colour, opacity=0.75)
    rows = lane.rows[order][seen]
    parts: list[ScenePart] = []
    if layer.robust_line and lane.n > 1:
        line = robust_line(view.study.bent(lane))
        ends: Floats = np.array([-view.top, view.top])
        at = view.study.transform.back(line.centre + line.slope * ends)
        stroke = Paint(stroke=view.band.colour, stroke_width=layer.line * 0.7, dash="dashed")
        path = view.frame.path(view.mark(layer.id, "line"), frame.along_all(at), view.heights(ends, base, tip), stroke)
        parts.append(path)
    return [*parts, frame.points(view.mark(layer.id, "point"), "circle", layer.size, paint, along, across, rows)]


def _note(layer: CumulativeLayer, told: Told) -> list[str]:
    if layer.against == "shares":
        return ["Steps: share of rows at or below each value."]
    line = "; line through the quartiles" if layer.robust_line else ""
    return [f"Points: values against a normal distribution (plotting positions of {layer.positions.title()}){line}."]


def _brief(layer: CumulativeLayer) -> str:
    return "steps: share of rows at or below" if layer.against == "shares" else "points against a normal distribution"


KIND = LayerKind(
    draw=_draw,
    measure=_measure,
    note=_note,
    brief=_brief,
    settings={
        **SHARED, **WIDTH, **LINE,
        "against": "Shares of rows, or the places that values of a normal distribution would have: then they lie on a line.",
        "positions": "Which published plotting positions are used; they differ at the ends.",
        "robust_line": "The line through the quartiles, which outliers do not move.",
        "size": "Diameter of a point in pt.",
    },
)  # fmt: skip
