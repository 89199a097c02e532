"""Counts: how many rows each lane has, and how many distinct subjects."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from echelle.errors import InputError, Mend
from echelle.figures.geometry.colours import lightness
from echelle.figures.lanes.figure_context import FigureContext, Measurement
from echelle.figures.lanes.lane import Lane
from echelle.figures.lanes.shares import share_of
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.numbers.rounding import fixed_decimals
from echelle.recipes.layers.counts import CountOf, CountsLayer
from echelle.scene.models import Paint, ScenePart

_SMALL = 0.9
# Darker fills carry their number in the ground's colour.
_LIGHT = 0.7
# Labels stand beyond the lines of intervals, which pale bars let be seen.
_LABEL_ROOM = 1.08
_PALE = 0.5


@dataclass(frozen=True)
class Count:
    """What a bar stands on and how long it is, on its axis; how many there are, how many distinct subjects, of how many; and
    the ends of its share's interval, in per cent.
    """

    floor: float
    length: float
    count: int
    people: int | None
    total: int
    ends: tuple[float, float] | None = None

    @property
    def percent(self) -> float:
        """Of the rows that it is a part of."""
        return 100.0 * self.count / self.total if self.total else 0.0


def _measure(layer: CountsLayer, context: FigureContext) -> Measurement[Count]:
    """How many of each, and what they stand on where subgroups are stacked."""
    lanes = context.arrangement.lanes
    if layer.of_value is not None:
        return _measure_value(layer, layer.of_value, context)
    numbers = {lane.key: _number(layer, lane) for lane in lanes}
    totals: dict[object, int] = {}
    for lane in lanes:
        totals[_part_of(layer, context, lane)] = totals.get(_part_of(layer, context, lane), 0) + numbers[lane.key]
    counts: dict[str, Count] = {}
    floors: dict[tuple[str, int], float] = {}
    for lane in lanes:
        floor = floors.get((lane.panel, lane.slot), 0.0) if context.stacked else 0.0
        count = numbers[lane.key]
        made = Count(
            floor, float(count), count, lane.people if layer.of != "rows" else None, totals[_part_of(layer, context, lane)]
        )
        if layer.height == "percent":
            made = replace(made, length=made.percent)
        counts[lane.key] = made
        floors[lane.panel, lane.slot] = floor + made.length
    return Measurement(counts, extents={key: (0.0, (c.floor + c.length) or 1.0) for key, c in counts.items()})


def _measure_value(layer: CountsLayer, value: str, context: FigureContext) -> Measurement[Count]:
    """How many of each lane have one value, of how many whose value is known. Raises InputError for stacked subgroups."""
    if context.stacked:
        raise InputError(
            "shares of a value cannot stand on one another: each is of its own rows", where="$.subgroups.placed",
            remedy="Place the subgroups beside one another.",
            mends=(Mend(context.words.say("remedy-beside"), ((("subgroups", "placed"), "beside"),)),),
        )  # fmt: skip
    counts: dict[str, Count] = {}
    for lane in context.arrangement.lanes:
        share = share_of(value, lane, context.arrangement.name)
        if share is None:
            continue
        percent = 100.0 * share.count / share.total
        low, high = share.interval
        ends = (100.0 * low, 100.0 * high) if layer.interval and layer.height == "percent" else None
        length = percent if layer.height == "percent" else float(share.count)
        counts[lane.key] = Count(0.0, length, share.count, None, share.total, ends)
    room = 1.0 if layer.labels == "none" else _LABEL_ROOM
    extents = {key: (0.0, room * max(c.length, c.ends[1] if c.ends else 0.0) or 1.0) for key, c in counts.items()}
    return Measurement(counts, extents=extents)


def _number(layer: CountsLayer, lane: Lane) -> int:
    return lane.n if layer.of != "subjects" or lane.people is None else lane.people


def of_all(layer: CountsLayer, context: FigureContext) -> bool:
    """Whether per cent are of all rows: without a split a group is a whole of its own, which says nothing."""
    return layer.percent_of == "all" or not context.arrangement.parts


def _part_of(layer: CountsLayer, context: FigureContext, lane: Lane) -> object:
    return "" if of_all(layer, context) else (lane.panel, lane.slot)


def _draw(layer: CountsLayer, view: LaneView[Count]) -> list[ScenePart]:
    if view.data is None:
        return []
    here = view.data
    frame = view.frame
    a, b = view.band.spread(0.0, layer.width)
    start, end = frame.held(here.floor), frame.held(here.floor + here.length)
    paint = Paint(fill=view.band.colour, opacity=1.0 if here.ends is None else _PALE)
    parts: list[ScenePart] = [frame.rect(view.mark(layer.id, "count"), start, end, a, b, paint)]
    if layer.of == "both" and here.people is not None and here.people < here.count and not view.context.stacked:
        # Distinct subjects: a narrow bar inside, in the ground's colour.
        c, d = view.band.spread(0.0, layer.width * 0.28)
        at = frame.held(here.length * here.people / here.count)
        parts.append(frame.rect(view.mark(layer.id, "subjects"), start, at, c, d, Paint(fill=view.style.ground)))
    if here.ends is not None:
        parts += _interval(layer, view, here.ends)
        end = frame.held(here.ends[1]) if layer.labels != "none" else end
    return [*parts, *_label(layer, view, here, (start, end))]


def _interval(layer: CountsLayer, view: LaneView[Count], ends: tuple[float, float]) -> list[ScenePart]:
    frame, middle = view.frame, view.band.across(0.0)
    low, high = (frame.held(end) for end in ends)
    paint = Paint(stroke=view.style.ink, stroke_width=1.0)
    return [frame.line(view.mark(layer.id, "interval"), low, middle, high, middle, paint)]


def _label(layer: CountsLayer, view: LaneView[Count], here: Count, ends: tuple[float, float]) -> list[ScenePart]:
    """The number on a bar: inside it where it holds it, else beyond its end; stacked bars without room have none."""
    letters, frame = view.letters, view.frame
    if layer.labels == "none" or letters is None or not here.count:
        return []
    size = letters.style.text_size * _SMALL
    text = str(here.count) if layer.labels == "count" else f"{fixed_decimals(here.percent, 0)} %"
    start, end = ends
    along = letters.width(text, size) if frame.runs == "across" else size
    inside = here.ends is None and abs(end - start) >= along + 4
    if not inside and view.context.stacked:
        return []
    away = 1 if end >= start else -1
    at = (start + end) / 2 if inside else end + away * (along / 2 + 3)
    dark = lightness(view.band.colour) < _LIGHT
    colour = (view.style.ground if dark else letters.style.ink) if inside else letters.style.ink
    middle = view.band.across(0.0)
    x, y = (at, middle) if frame.runs == "across" else (middle, at)
    mark = view.mark(layer.id, "count-label")
    return [letters.put(mark, frame.key, text, x, y + size * 0.34, size, colour, anchor=0.5)]


def _counted(layer: CountsLayer, note: NoteContext[Count]) -> CountOf:
    """What the bars show: without an identifier that repeats there are rows alone."""
    lanes = [lane for lane in note.context.arrangement.lanes if lane.people is not None]
    if layer.of == "both" and (note.context.stacked or all(lane.people == lane.n for lane in lanes)):
        return "rows"
    return layer.of if lanes else "rows"


def _note(layer: CountsLayer, note: NoteContext[Count]) -> list[str]:
    if layer.of_value is not None:
        shown = any(count.ends is not None for count in note.measured.lanes.values())
        return [
            note.words.say(
                "note-counts-value", value=layer.of_value, percent="no" if layer.height == "count" else "yes",
                interval="yes" if shown else "no",
            )
        ]  # fmt: skip
    percent = "no" if layer.height == "count" else "all" if of_all(layer, note.context) else "group"
    return [note.words.say("note-counts", of=_counted(layer, note), percent=percent)]


def _brief(layer: CountsLayer, note: NoteContext[Count]) -> str:
    if layer.of_value is not None:
        return note.words.say("brief-counts-value", value=layer.of_value)
    return note.words.say("brief-counts", of=_counted(layer, note))


def _explain(layer: CountsLayer, note: NoteContext[Count]) -> Iterator[Explanation]:
    if layer.of_value is not None:
        yield "count", note.words.say("key-counts-value", value=layer.of_value)
        return
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
