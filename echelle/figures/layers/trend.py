"""A line from lane to lane: through medians or means, or by least squares with its interval."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.geometry.frame import MarkOf
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext, PanelView
from echelle.numbers.quantiles import Floats
from echelle.recipes.layers.trend import TrendLayer
from echelle.scene.models import Paint, ScenePart


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
    """measure = a + b · level over all rows, with the confidence interval of the line (t, n − 2 degrees of freedom)."""
    from scipy.special import stdtrit

    slots = panel.lanes[0].context.arrangement.slots
    known = [view for view in views if slots[view.band.lane.slot].value is not None and view.band.lane.n]
    at = np.array([slots[view.band.lane.slot].value for view in known], dtype=np.float64)
    sizes = [view.band.lane.n for view in known]
    if len(known) < 2 or sum(sizes) < 3:
        return []
    x = np.repeat(at, sizes)
    y = np.concatenate([view.band.lane.values for view in known])
    slope, centre, middle, spread, sxx = least_squares(x, y)
    places = np.linspace(at.min(), at.max(), 41)
    across = np.interp(places, at, [view.band.across(0.0) for view in known])
    line = centre + slope * (places - middle)
    reach = float(stdtrit(len(x) - 2, (1 + layer.level) / 2)) * spread * np.sqrt(1 / len(x) + (places - middle) ** 2 / sxx)
    frame = panel.frame
    edges = (frame.along_all(line - reach), frame.along_all(line + reach))
    band = Paint(fill=paint.stroke, opacity=0.16)
    name = MarkOf(mark.lane, mark.layer, "trend", f"interval{mark.number}")
    outline = (np.concatenate([edges[0], edges[1][::-1]]), np.concatenate([across, across[::-1]]))
    return [frame.path(name, *outline, band, closed=True), frame.path(mark, frame.along_all(line), across, paint)]


def least_squares(x: Floats, y: Floats) -> tuple[float, float, float, float, float]:
    """Slope, mean of y, mean of x, residual SD (n − 2) and Σ(x − mean)² of the least-squares line."""
    middle, centre = float(x.mean()), float(y.mean())
    sxx = float(((x - middle) ** 2).sum())
    slope = float(((x - middle) * (y - centre)).sum()) / sxx
    left = y - centre - slope * (x - middle)
    return slope, centre, middle, math.sqrt(float((left**2).sum()) / (len(x) - 2)), sxx


def _note(layer: TrendLayer, note: NoteContext[None]) -> list[str]:
    if layer.through != "least squares":
        return [note.words.say("note-trend", through=layer.through)]
    return [note.words.say("note-trend-least-squares", level=f"{100 * layer.level:g}")]


def _brief(layer: TrendLayer, words: Catalogue) -> str:
    return words.say("brief-trend", through=layer.through)


def _explain(layer: TrendLayer, words: Catalogue) -> Iterator[Explanation]:
    yield None, words.say("key-trend", through=layer.through)


LAYER = Layer[TrendLayer, None](
    settings=TrendLayer,
    draw_between=_between,
    note=_note,
    brief=_brief,
    explain=_explain,
)
