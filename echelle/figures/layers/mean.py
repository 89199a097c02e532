"""Means or medians with an interval: a dot, a tick or a bar from zero. What the line is stands in axis title and note."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from echelle.catalogue.catalogue import Catalogue, catalogue
from echelle.errors import InputError
from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.lanes.figure_context import FigureContext, Measurement, cache_on_lane
from echelle.figures.lanes.lane import Lane
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.numbers.intervals import IntervalSettings, centre_interval, half_length
from echelle.numbers.quantiles import quantiles
from echelle.recipes.layers.mean import MeanLayer
from echelle.scene.advice import advice
from echelle.scene.models import Paint, ScenePart

# Both ends of the line around a centre.
Interval = tuple[float, float]


def centre_of(lane: Lane, layer: MeanLayer) -> float | None:
    """The lane's mean or median."""
    if layer.centre == "mean" or lane.given is not None:
        return lane.moments.mean
    return quantiles(lane.ordered, (0.5,), 7)[0] if len(lane.values) else None


def mean_bar(lane: Lane, layer: MeanLayer) -> Interval | None:
    """Both ends of the line around a lane's centre; None without one. Sources: :data:`INTERVAL_RULES`.

    Raises InputError where a table of summaries does not give what is asked.
    """
    given = lane.given
    if lane.moments.mean is None or layer.interval == "none":
        return None
    settings = IntervalSettings(layer.centre, layer.level, layer.resamples, layer.seed)
    if given is None:
        interval = centre_interval(lane.ordered, lane.moments, layer.interval, settings)
        return None if interval is None else (interval.low, interval.high)
    if layer.interval == "confidence" and given.low is not None and given.high is not None:
        return given.low, given.high
    half = half_length(layer.interval, lane.moments, lane.n, replace(settings, centre="mean"))
    if half is None:
        raise InputError(
            f"the summaries do not give the {bar_words(layer, catalogue())} of {lane.name}", where="$.layers",
            remedy="Choose another interval, or bring n and SD.",
        )  # fmt: skip
    return lane.moments.mean - half, lane.moments.mean + half


def bar_words(layer: MeanLayer, words: Catalogue) -> str:
    """What the line shows, by name."""
    kind = layer.interval.replace(" ", "-")
    return words.say("interval", kind=kind, level=f"{100 * layer.level:g}", centre=layer.centre)


def _measure(layer: MeanLayer, context: FigureContext) -> Measurement[Interval | None]:
    """The interval of each lane; a bar begins at zero."""
    bars, extents = {}, {}
    for lane in context.arrangement.lanes:
        centre = centre_of(lane, layer)
        if centre is None:
            continue
        key = ("interval", layer.centre, layer.interval, layer.level, layer.seed, layer.resamples)
        bar = cache_on_lane(lane, key, lambda lane=lane: mean_bar(lane, layer))  # type: ignore[misc]
        bars[lane.key] = bar
        ends = [centre, *(bar or ()), *([0.0] if layer.mark == "bar" else [])]
        # A bent axis has no place for ends at or below zero.
        ends = [end for end in ends if end > context.transform.least]
        if ends:
            extents[lane.key] = (min(ends), max(ends))
    remarks = [advice(context.words, f"{layer.id}/bar", "bars-from-zero")] if layer.mark == "bar" else []
    return Measurement(lanes=bars, extents=extents, remarks=remarks)


def _draw(layer: MeanLayer, view: LaneView[Interval | None]) -> list[ScenePart]:
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


def _note(layer: MeanLayer, note: NoteContext[Interval | None]) -> list[str]:
    words = note.words
    seeded = layer.interval.startswith("bootstrap")
    resamples = words.say("note-mean-resamples", resamples=str(layer.resamples), seed=str(layer.seed)) if seeded else ""
    how = {"mean": "t", "median": "order"}[layer.centre] if layer.interval == "confidence" else "none"
    lines = words.say("note-mean-lines", interval=bar_words(layer, words), how=how, resamples=resamples)
    return [words.say("note-mean", mark=layer.mark, centre=layer.centre, lines="" if layer.interval == "none" else lines)]


def _brief(layer: MeanLayer, words: Catalogue) -> str:
    interval = words.say("brief-mean-with", interval=bar_words(layer, words)) if layer.interval != "none" else ""
    return words.say("brief-mean", mark=layer.mark, centre=layer.centre, **{"with": interval})


def _explain(layer: MeanLayer, words: Catalogue) -> Iterator[Explanation]:
    yield "mean", words.say("key-mean", mark=layer.mark, centre=layer.centre)
    if layer.interval == "SD":
        yield "interval", words.say("key-mean-sd")
    elif layer.interval != "none":
        yield "interval", words.say("key-mean-interval", interval=bar_words(layer, words), centre=layer.centre)


LAYER = Layer[MeanLayer, Interval | None](
    settings=MeanLayer,
    draw=_draw,
    measure=_measure,
    note=_note,
    brief=_brief,
    explain=_explain,
)
