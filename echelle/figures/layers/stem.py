"""Stem and leaf as text: each stem stands at its place on the measure, its leaves beside it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from echelle.errors import InputError
from echelle.figures.geometry.frame import MarkOf
from echelle.figures.geometry.label_places import LabelPlaces
from echelle.figures.geometry.lettering import Lettering
from echelle.figures.lanes.figure_context import FigureContext, Measurement
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext, PanelView
from echelle.numbers.sample import Floats
from echelle.numbers.stem import Split, StemLine, leaf_example, stem_lines, usual_unit
from echelle.recipes.layers.stem import StemLayer
from echelle.scene.advice import advice, remedy
from echelle.scene.models import Advice, Paint, ScenePart, TextPart

_LEAST = 4.0
# Between a label, the line of a stem, its leaves and the end of the lane.
_GAPS = 9.0
MOST_STEMS = 2_000


@dataclass(frozen=True)
class Stems:
    """The lines of a lane and the distance of two stems on the measure; the longest row of leaves and the labels of all lanes,
    which share one scale, and what a stem and a leaf stand for.
    """

    lines: list[StemLine]
    pitch: float
    longest: int
    labels: tuple[str, ...]
    example: str


def _measure(layer: StemLayer, context: FigureContext) -> Measurement[Stems]:
    """One unit for all lanes."""
    lanes = [lane for lane in context.arrangement.lanes if lane.filled]
    if not lanes:
        return Measurement()
    if context.transform.name != "linear":
        linear = remedy(context.words, "linear-axis", (["axis", "scale"], "linear"))
        return Measurement(remarks=[advice(context.words, f"{layer.id}/scale", "stem-scale", remedies=[linear])])
    ordered = {lane.key: lane.ordered.repeats for lane in lanes}
    unit = layer.unit or max(map(usual_unit, ordered.values()))
    _must_be_few(unit, max(map(_span, ordered.values())))
    split = layer.split or _split(max(len(stem_lines(values, unit, 1, layer.set_aside)) for values in ordered.values()))
    pitch = unit * 10 / split
    lines = {key: stem_lines(values, unit, split, layer.set_aside) for key, values in ordered.items()}
    every = [line for of_lane in lines.values() for line in of_lane]
    longest = max((len(line.leaves) for line in every if not line.aside), default=0)
    labels = tuple(sorted({_label(line, context) for line in every}))
    example = context.written(leaf_example(ordered[lanes[0].key], unit, layer.set_aside))
    result = {key: Stems(of_lane, pitch, longest, labels, example) for key, of_lane in lines.items()}
    remarks = [advice(context.words, f"{layer.id}/unit", "stem-unit", unit=f"{unit:g}")]
    extents = {key: _reach(stems) for key, stems in result.items()}
    return Measurement(result, extents, line_pitch=pitch, remarks=remarks)


def _split(stems: int) -> Split:
    return 1 if stems >= 10 else 2 if stems >= 6 else 5


def _reach(stems: Stems) -> tuple[float, float]:
    ends = [line.at for line in stems.lines]
    return min(ends) - stems.pitch / 2, max(ends) + stems.pitch


def _draw(layer: StemLayer, view: LaneView[Stems]) -> list[ScenePart]:
    """Each stem at its place on the measure, its leaves to the right; in a miniature, and in a lane too narrow for a digit, a
    bar as long as the leaves.
    """
    stems: Stems | None = view.data
    if stems is None:
        return []
    return _texts(layer, view, stems, view.letters) if view.letters and _legible(view) else _bars(layer, view, stems)


def _texts(layer: StemLayer, view: LaneView[Stems], stems: Stems, letters: Lettering) -> list[ScenePart]:
    frame, style = view.frame, view.style
    size, start, wide = _room(view, stems, letters)
    each = _each(stems, letters, size, wide)
    rule = f"M{start - 1:.2f} {frame.top:.2f}L{start - 1:.2f} {frame.top + frame.height:.2f}"
    parts: list[ScenePart] = [frame.drawn(view.mark(layer.id, "line"), rule, Paint(stroke=style.hairline, stroke_width=0.8))]
    free = frame.top + frame.height + size
    for number, line in enumerate(stems.lines):
        # Values set aside may lie close to a stem: they move on, never over it.
        y = min(frame.held(line.at) + size * 0.33, free)
        free = y - size * 1.16
        if y - size < frame.top - 2:
            break
        leaves = _fitting(view.context.written(line.leaves), letters, size, wide) if line.aside else line.leaves[::each]
        mark, leaf = (view.mark(layer.id, "stem", f"{number}{end}") for end in ("", "/leaves"))
        parts.append(letters.put(mark, frame.key, _label(line, view.context), start - 4, y, size, style.muted, 600, anchor=1.0))
        if leaves:
            parts.append(letters.put(leaf, frame.key, leaves, start + 2, y, size, style.ink))
    return parts


def _label(line: StemLine, context: FigureContext) -> str:
    """A stem's number, or at which end its values were set aside."""
    return context.words.say("stem-aside", end=line.label) if line.aside else context.written(line.label)


def _room(view: LaneView[Stems], stems: Stems, letters: Lettering) -> tuple[float, float, float]:
    """The size of the letters, where leaves begin, and how wide they may be."""
    pitch = abs(view.frame.along(view.frame.domain[0] + stems.pitch) - view.frame.along(view.frame.domain[0]))
    size = max(_LEAST, min(view.style.text_size, pitch / 1.2, _widest(view, stems, letters)))
    start = view.band.start + max(letters.width(label, size, 600) for label in stems.labels) + 4
    return size, start, view.band.end - start - _GAPS + 4


def _widest(view: LaneView[Stems], stems: Stems, letters: Lettering) -> float:
    """The size at which the longest label and one leaf take the lane's width."""
    of_size = max(letters.width(label, 1.0, 600) for label in stems.labels) + letters.width("0", 1.0)
    return (view.band.width - _GAPS) / of_size


def _legible(view: LaneView[Stems]) -> bool:
    return view.letters is not None and view.data is not None and _widest(view, view.data, view.letters) >= _LEAST


def _each(stems: Stems, letters: Lettering, size: float, wide: float) -> int:
    """How many values a leaf stands for, at most, where not all leaves fit: the same in all lanes."""
    digit = max(letters.width(sign * 10, size) / 10 for sign in "0123456789")
    return max(1, math.ceil(digit * stems.longest / max(wide, 1.0)))


def _most(views: Sequence[LaneView[Stems]]) -> int:
    """How many values a leaf stands for, at most, over lanes."""
    rooms = [
        (view.data, view.letters, _room(view, view.data, view.letters))
        for view in views
        if view.data is not None and view.letters is not None and _legible(view)
    ]
    return max((_each(stems, letters, size, wide) for stems, letters, (size, _, wide) in rooms), default=1)


def _leaf_words(layer: StemLayer, panel: PanelView[Stems]) -> list[ScenePart]:
    """In a panel, where it is free, what a stem and a leaf stand for."""
    most, view, frame = _most(panel.lanes), panel.lanes[0], panel.frame
    letters, size = view.letters, view.style.text_size * 0.8
    example = next((lane.data.example for lane in panel.lanes if lane.data is not None and _legible(lane)), "")
    if not example or letters is None:
        return []
    text = example if most == 1 else f"{example} · {view.context.words.say('stem-leaf', most=most)}"
    wide, right = letters.width(text, size), frame.left + frame.width
    drawn = [part for lane in panel.lanes if lane.data and _legible(lane) for part in _texts(layer, lane, lane.data, letters)]
    taken = LabelPlaces(part.box for part in drawn if isinstance(part, TextPart))
    for y in np.arange(frame.top + size, frame.top + frame.height, size / 2).tolist():
        for x in (right, right - (frame.width - wide) / 2, frame.left + wide + 2):
            if wide < frame.width and taken.claim((x - wide, y - size, x, y + 2)):
                mark = MarkOf("", layer.id, "note")
                return [letters.put(mark, frame.key, text, x, y, size, view.style.muted, anchor=1.0)]
    return []


def _fitting(text: str, letters: Lettering, size: float, wide: float) -> str:
    """The values that have room, with an ellipsis for the others."""
    shown = text[: int(wide / letters.width("1", size)) + 8]
    if shown == text and letters.width(text, size) <= wide:
        return text
    while shown and letters.width(shown + " …", size) > wide:
        shown = shown[:-1]
    return shown.rstrip(" ,") + " …"


def _bars(layer: StemLayer, view: LaneView[Stems], stems: Stems) -> list[ScenePart]:
    frame, band = view.frame, view.band
    lines = [line for line in stems.lines if not line.aside]
    paint = Paint(fill=band.colour)
    parts: list[ScenePart] = []
    for number, line in enumerate(lines):
        low, high = (frame.held(line.at + side * stems.pitch) for side in (-0.4, 0.4))
        end = band.start + band.width * len(line.leaves) / max(stems.longest, 1)
        if line.leaves:
            parts.append(frame.rect(view.mark(layer.id, "stem", str(number)), low, high, band.start, end, paint))
    return parts


def _leaf_advice(layer: StemLayer, views: Sequence[LaneView[Stems]]) -> list[Advice]:
    """That leaves stand for several values, or have no room at all."""
    bare = [view.band.lane.name for view in views if view.data is not None and not _legible(view)]
    most = _most(views)
    if bare:
        return [advice(views[0].context.words, f"{layer.id}/leaves", "bare-stems", lanes=bare)]
    if most == 1:
        return []
    return [advice(views[0].context.words, f"{layer.id}/leaves", "shared-leaves", most=str(most))]


def _note(layer: StemLayer, note: NoteContext[Stems]) -> list[str]:
    return [note.words.say("note-stem", aside="yes" if layer.set_aside else "no")] if note.measured.lanes else []


def _brief(layer: StemLayer, note: NoteContext[Stems]) -> str:
    return note.words.say("brief-stem")


def _explain(layer: StemLayer, note: NoteContext[Stems]) -> Iterator[Explanation]:
    yield "stem", note.words.say("key-stem")


LAYER = Layer[StemLayer, Stems](
    settings=StemLayer,
    draw=_draw,
    draw_over=_leaf_words,
    measure=_measure,
    remarks=_leaf_advice,
    note=_note,
    brief=_brief,
    explain=_explain,
)


def _span(ordered: Floats) -> float:
    """From the lowest value to the highest, and from zero, where stems begin."""
    return max(float(ordered[-1] - ordered[0]), abs(float(ordered[0])) * 1e-12, abs(float(ordered[-1])) * 1e-12)


def _must_be_few(unit: float, span: float) -> None:
    """Raises InputError for a unit that makes more stems than anybody reads."""
    if span / (10 * unit) > MOST_STEMS:
        least = 10.0 ** math.ceil(math.log10(span / (10 * MOST_STEMS)))
        what = f"leaves of {unit:g} make more than {MOST_STEMS:,} stems"
        raise InputError(what, where="stem, unit", remedy=f"Choose {least:g} or more, or leave it to Echelle.")
