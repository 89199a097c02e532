"""Means or medians with an interval: a dot, a tick or a bar from zero. What the line is stands in axis title and note."""

from __future__ import annotations

import numpy as np

from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.lanes.figure_context import Measured, Study, held
from echelle.figures.layers.base import SHARED, LaneView, LayerKind, Told
from echelle.figures.words.means import bar_words, centre_of, mean_bar
from echelle.recipes.layers import MeanLayer
from echelle.scene.models import Advice, Paint, ScenePart


def _measure(layer: MeanLayer, study: Study) -> Measured:
    """The interval of each lane; a bar begins at zero."""
    bars, extents = {}, {}
    for lane in study.arrangement.lanes:
        centre = centre_of(lane, layer)
        if centre is None:
            continue
        key = ("interval", layer.centre, layer.interval, layer.level, layer.seed, layer.resamples)
        bar = held(lane, key, lambda lane=lane: mean_bar(lane, layer))  # type: ignore[misc]
        bars[lane.key] = bar
        ends = [centre, *(bar or ()), *([0.0] if layer.mark == "bar" else [])]
        # A bent axis has no place for ends at or below zero.
        ends = [end for end in ends if end > study.transform.least]
        if ends:
            extents[lane.key] = (min(ends), max(ends))
    remarks = []
    if layer.mark == "bar":
        why = "A bar's length shows only the mean; values, boxes or densities show the spread."
        remarks.append(Advice(key=f"{layer.id}/bar", text="Bars from zero hide how values spread.", why=why))
    return Measured(lanes=bars, extents=extents, remarks=remarks)


def _draw(layer: MeanLayer, view: LaneView) -> list[ScenePart]:
    frame, band = view.frame, view.band
    centre = centre_of(band.lane, layer)
    if centre is None:
        return []
    middle = band.centre(CENTRES[layer.place])
    parts: list[ScenePart] = []
    at = frame.held(centre)
    if layer.mark == "bar":
        a, b = band.spread(CENTRES[layer.place], layer.width)
        zero = frame.held(0.0) if frame.transform.name == "linear" else frame.range[0]
        parts.append(frame.rect(view.mark(layer.id, "mean"), zero, at, a, b, Paint(fill=band.colour, opacity=0.9)))
        middle = (a + b) / 2
    bar = view.data
    if bar is not None:
        low, high = frame.held(bar[0]), frame.held(bar[1])
        line = Paint(stroke=view.style.ink if layer.mark == "bar" else band.colour, stroke_width=layer.strength)
        parts.append(frame.line(view.mark(layer.id, "interval"), low, middle, high, middle, line))
        half = layer.cap * band.width / 2
        for name, end in (("low", low), ("high", high)) if half else ():
            parts.append(frame.line(view.mark(layer.id, "cap", name), end, middle - half, end, middle + half, line))
    if layer.mark == "tick":
        a, b = band.spread(CENTRES[layer.place], layer.width)
        tick = Paint(stroke=view.style.ink, stroke_width=layer.strength * 1.3)
        parts.append(frame.line(view.mark(layer.id, "mean"), at, a, at, b, tick))
    elif layer.mark == "dot":
        dot, nobody = np.array([at]), np.zeros(1, dtype=np.int64)
        paint = Paint(fill=band.colour)
        parts.append(frame.points(view.mark(layer.id, "mean"), "circle", layer.size, paint, dot, middle, nobody))
    return parts


def _note(layer: MeanLayer, told: Told) -> list[str]:
    marks = {"dot": "Dots", "bar": "Bars", "tick": "Ticks"}[layer.mark]
    words = f"{marks}: {layer.centre}s"
    seeded = f", {layer.resamples} resamples, seed {layer.seed}" if layer.interval.startswith("bootstrap") else ""
    how = {"mean": " (t)", "median": " (order statistics)"}[layer.centre] if layer.interval == "confidence" else ""
    return [f"{words}; lines: {bar_words(layer)}{how}{seeded}." if layer.interval != "none" else f"{words}."]


def _brief(layer: MeanLayer) -> str:
    marks = {"dot": "dots", "bar": "bars", "tick": "ticks"}[layer.mark]
    return f"{marks}: {layer.centre}s" + (f" with {bar_words(layer)}" if layer.interval != "none" else "")


KIND = LayerKind(
    draw=_draw,
    measure=_measure,
    note=_note,
    brief=_brief,
    settings={
        **SHARED,
        "centre": "The mean, or the median.",
        "interval": "What the line shows: standard deviation, standard error, a confidence interval (t for the mean, order "
        "statistics for the median), or one from resampled values.",
        "level": "How sure the confidence interval is.",
        "seed": "The number that fixes the resamples.",
        "resamples": "How often the values are drawn again.",
        "mark": "A dot, a short tick across the lane, or a bar from zero.",
        "size": "Diameter of the dot.",
        "width": "How much of the lane a bar or tick takes.",
        "strength": "How thick the line is.",
        "cap": "A short bar at the line's ends, as a share of the lane.",
    },
)
