"""Counts: how many rows each lane has, and how many distinct subjects."""

from __future__ import annotations

from collections.abc import Iterator

from echelle.figures.lanes.figure_context import FigureContext, Measurement
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.recipes.layers.counts import CountOf, CountsLayer
from echelle.scene.models import Paint, ScenePart

# What a bar stands on, how long it is, and how many distinct subjects there are.
Count = tuple[int, int, int | None]


def _measure(layer: CountsLayer, context: FigureContext) -> Measurement[Count]:
    """How many of each, and what they stand on where subgroups are stacked."""
    counts: dict[str, Count] = {}
    floors: dict[tuple[str, int], int] = {}
    for lane in context.arrangement.lanes:
        floor = floors.get((lane.panel, lane.slot), 0) if context.stacked else 0
        people = lane.people if layer.of != "rows" else None
        counts[lane.key] = (floor, lane.n if layer.of != "subjects" or people is None else people, people)
        floors[lane.panel, lane.slot] = floor + counts[lane.key][1]
    return Measurement(counts, extents={key: (0.0, float(a + b or 1)) for key, (a, b, _) in counts.items()})


def _draw(layer: CountsLayer, view: LaneView[Count]) -> list[ScenePart]:
    if view.data is None:
        return []
    floor, count, people = view.data
    frame = view.frame
    a, b = view.band.spread(0.0, layer.width)
    start, end = frame.held(floor), frame.held(floor + count)
    parts: list[ScenePart] = [frame.rect(view.mark(layer.id, "count"), start, end, a, b, Paint(fill=view.band.colour))]
    if layer.of == "both" and people is not None and people < count and not view.context.stacked:
        # Distinct subjects: a narrow bar inside, in the ground's colour.
        c, d = view.band.spread(0.0, layer.width * 0.28)
        at = frame.held(people)
        parts.append(frame.rect(view.mark(layer.id, "subjects"), start, at, c, d, Paint(fill=view.style.ground)))
    return parts


def _counted(layer: CountsLayer, note: NoteContext[Count]) -> CountOf:
    """What the bars show: without an identifier that repeats there are rows alone."""
    lanes = [lane for lane in note.context.arrangement.lanes if lane.people is not None]
    if layer.of == "both" and (note.context.stacked or all(lane.people == lane.n for lane in lanes)):
        return "rows"
    return layer.of if lanes else "rows"


def _note(layer: CountsLayer, note: NoteContext[Count]) -> list[str]:
    return [note.words.say("note-counts", of=_counted(layer, note))]


def _brief(layer: CountsLayer, note: NoteContext[Count]) -> str:
    return note.words.say("brief-counts", of=_counted(layer, note))


def _explain(layer: CountsLayer, note: NoteContext[Count]) -> Iterator[Explanation]:
    yield "count", note.words.say("key-counts", of=_counted(layer, note))
    if _counted(layer, note) == "both":
        yield "subjects", note.words.say("key-counts-subjects")


LAYER = Layer[CountsLayer, Count](
    settings=CountsLayer,
    draw=_draw,
    measure=_measure,
    note=_note,
    brief=_brief,
    explain=_explain,
)
