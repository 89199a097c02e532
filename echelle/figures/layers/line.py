"""Lines across each lane at its centre, or at steps of its SD."""

from __future__ import annotations

from collections.abc import Iterator

from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.lanes.figure_context import FigureContext, Measurement
from echelle.figures.lanes.lane import Lane
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext, PanelView
from echelle.numbers.fences import count_beyond
from echelle.numbers.outliers import fences_of
from echelle.recipes.layers.line import LineLayer
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Paint, ScenePart

_SMALL = 0.72
# Words over a line take so much of it at most.
_MOST_OF_LANE = 0.5


def _places(layer: LineLayer, view: LaneView[None]) -> list[tuple[str, float]]:
    shape, readings = view.band.lane.moments, view.readings
    if not _shown(view.context, view.band.lane):
        return []
    if layer.at == "median":
        return [] if readings.median is None else [("median", readings.median)]
    if shape.mean is None:
        return []
    result = [("mean", shape.mean)]
    if layer.at == "mean and SD" and shape.sd is not None:
        result += [(f"{sign}{k:g}", shape.mean + s * k * shape.sd) for k in layer.sds for sign, s in (("+", 1), ("−", -1))]
    return result


def _shown(context: FigureContext, lane: Lane) -> bool:
    """Whether a line says more than the lane's only point, over which it would stand."""
    return lane.n != 1 or not any(layer.draws_rows for layer in context.recipe.shown_layers)


def _measure(layer: LineLayer, context: FigureContext) -> Measurement[None]:
    """Lines at SDs are in view."""
    if layer.at != "mean and SD":
        return Measurement()
    reach = max(layer.sds, default=0.0)
    ends = {
        lane.key: (m.mean - reach * m.sd, m.mean + reach * m.sd)
        for lane in context.arrangement.lanes
        if (m := lane.moments).mean is not None and m.sd is not None
    }
    return Measurement(
        extents={key: end for key, end in ends.items() if end[0] > context.transform.least},
        remarks=_beyond_advice(layer, context),
    )


def _beyond_advice(layer: LineLayer, context: FigureContext) -> list[Advice]:
    """How many values lie further than so many SDs from their lane's mean."""
    steps = sorted(k for k in layer.sds if k > 0)
    counts = {}
    for lane in context.arrangement.lanes:
        shape = lane.moments
        if shape.mean is not None and shape.sd and lane.given is None:
            beyond = (count_beyond(lane.ordered, fences_of(lane.ordered, "mean and SD", k)) for k in steps)
            counts[context.arrangement.full_name(lane)] = ", ".join(map(str, beyond))
    if not steps or not counts:
        return []
    listed = "; ".join(f"{name} {count}" for name, count in list(counts.items())[:8])
    lines = ", ".join(f"±{k:g}" for k in steps)
    more = max(0, len(counts) - 8)
    return [advice(context.words, f"{layer.id}/beyond", "beyond-lines", lines=lines, lanes=listed, more=more)]


def _draw(layer: LineLayer, view: LaneView[None]) -> list[ScenePart]:
    frame = view.frame
    a, b = view.band.spread(CENTRES[layer.place], layer.width)
    parts: list[ScenePart] = []
    for name, value in _places(layer, view):
        if not frame.domain[0] <= value <= frame.domain[1]:
            continue
        centre = name in ("mean", "median")
        paint = Paint(
            stroke=view.style.ink if centre else view.style.muted, stroke_width=layer.line if centre else layer.line * 0.5,
            dash=layer.dash if centre or layer.dash != "solid" else "dashed",
        )  # fmt: skip
        at = frame.along(value)
        parts.append(frame.line(view.mark(layer.id, "line", "" if centre else name), at, a, at, b, paint))
    return parts


def _names(layer: LineLayer, panel: PanelView[None]) -> list[ScenePart]:
    """What the lines at SDs are, at their ends, where there is room: "mean", "+2 SD"."""
    if layer.at != "mean and SD" or any(other.writes for other in panel.lanes[0].context.recipe.shown_layers):
        return []
    parts: list[ScenePart] = []
    for view in panel.lanes:
        frame, letters = view.frame, view.letters
        if letters is None:
            continue
        a, b = view.band.spread(CENTRES[layer.place], layer.width)
        size = letters.style.text_size * _SMALL
        for name, value in _places(layer, view):
            text = view.context.words.say("line-label", line="mean" if name == "mean" else "SD", steps=name)
            wide, at = letters.width(text, size), frame.along(value)
            if not frame.domain[0] <= value <= frame.domain[1] or (frame.runs == "up" and wide > _MOST_OF_LANE * abs(b - a)):
                continue
            # Over a line that lies flat, at its right end; beside the upper end of one that stands.
            x, y = (max(a, b), at - 1.5) if frame.runs == "up" else (at - 1.5, min(a, b) + size)
            if x - wide >= frame.left and y - size >= frame.top and panel.taken.claim((x - wide, y - size, x, y + 1)):
                mark = view.mark(layer.id, "line-label", name)
                parts.append(letters.put(mark, frame.key, text, x, y, size, view.style.muted, anchor=1.0))
    return parts


def _note(layer: LineLayer, note: NoteContext[None]) -> list[str]:
    lanes = [lane for lane in note.context.arrangement.lanes if _shown(note.context, lane)]
    readings = note.context.readings
    if layer.at != "mean and SD":
        known = any((readings[lane.key].median if layer.at == "median" else lane.moments.mean) is not None for lane in lanes)
        return [note.words.say("note-line", centre=layer.at)] if known else []
    if not any(lane.moments.sd is not None for lane in lanes):
        return [note.words.say("note-line", centre="mean")] if any(lane.moments.mean is not None for lane in lanes) else []
    return [note.words.say("note-line-sds", sds=", ".join(f"±{k:g}" for k in layer.sds))]


def _brief(layer: LineLayer, note: NoteContext[None]) -> str:
    return note.words.say("brief-line", centre=layer.at, sds="yes" if layer.at == "mean and SD" else "no")


def _explain(layer: LineLayer, note: NoteContext[None]) -> Iterator[Explanation]:
    centre, sds = layer.at.split(" ")[0], "yes" if layer.at == "mean and SD" else "no"
    yield "line", note.words.say("key-line", centre=centre, sds=sds)


LAYER = Layer[LineLayer, None](
    settings=LineLayer,
    draw=_draw,
    draw_over=_names,
    measure=_measure,
    note=_note,
    brief=_brief,
    explain=_explain,
)
