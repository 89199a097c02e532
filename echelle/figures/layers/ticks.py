"""Ticks: a short one at each value, or at chosen quantiles."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.numbers.quantiles import quantiles
from echelle.recipes.layers.ticks import TicksLayer
from echelle.scene.models import Paint, ScenePart

_MOST_TICKS = 20_000


def _draw(layer: TicksLayer, view: LaneView[None]) -> list[ScenePart]:
    lane, frame = view.band.lane, view.frame
    if not lane.filled:
        return []
    values = lane.ordered.values
    if layer.quantiles is not None:
        values = np.unique(quantiles(lane.ordered, layer.quantiles, 7))
    values = values[frame.sees(values)]
    a, b = view.band.spread(CENTRES[layer.place], layer.width)
    along = np.unique(np.round(frame.along_all(values), 2))[:_MOST_TICKS]
    if frame.runs == "across":
        d = "".join(f"M{x:.2f} {a:.2f}L{x:.2f} {b:.2f}" for x in along.tolist())
    else:
        d = "".join(f"M{a:.2f} {y:.2f}L{b:.2f} {y:.2f}" for y in along.tolist())
    own = layer.quantiles is None and not view.on_shape(layer)
    colour = view.band.colour if own else view.style.ink
    paint = Paint(stroke=colour, stroke_width=layer.line, opacity=layer.strength)
    return [frame.drawn(view.mark(layer.id, "tick"), d, paint)] if d else []


def _note(layer: TicksLayer, note: NoteContext[None]) -> list[str]:
    if not note.context.arrangement.used:
        return []
    if layer.quantiles is None:
        return [note.words.say("note-ticks")]
    return [note.words.say("note-ticks-quantiles", quantiles=", ".join(f"{p:g}" for p in layer.quantiles))]


def _brief(layer: TicksLayer, note: NoteContext[None]) -> str:
    return note.words.say("brief-ticks", quantiles="no" if layer.quantiles is None else "yes")


def _explain(layer: TicksLayer, note: NoteContext[None]) -> Iterator[Explanation]:
    yield "tick", note.words.say("key-ticks", quantiles="no" if layer.quantiles is None else "yes")


LAYER = Layer[TicksLayer, None](
    settings=TicksLayer,
    draw=_draw,
    note=_note,
    brief=_brief,
    explain=_explain,
)
