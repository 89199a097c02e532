"""The difference of each lane to a reference lane, on the measure's own axis: zero stands at the reference's centre."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from echelle.figures.geometry.axes import Ticks, ticks_of
from echelle.figures.geometry.frame import Frame, MarkOf
from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.geometry.lettering import LEADING, Lettering
from echelle.figures.lanes.figure_context import FigureContext, Measurement, cache_on_lane
from echelle.figures.lanes.lane import Lane
from echelle.figures.lanes.lane_pairs import LanePair
from echelle.figures.lanes.pair_estimates import PairEstimate, Way, pair_estimate
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext, PanelView
from echelle.figures.layers.between import difference_words, level_words, method_words, size_words
from echelle.numbers.bandwidth import bandwidth_of
from echelle.numbers.density import density_curve
from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.differences.multiple_comparisons import level_of_each
from echelle.numbers.quantiles import quantiles
from echelle.numbers.rounding import decimals_of
from echelle.numbers.sample import Floats
from echelle.recipes.differences import Differences
from echelle.recipes.layers.difference import DifferenceLayer
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Paint, RectPart, ScenePart, round_coordinate

_POINTS = 96
# About what the comparison of a lane takes.
_SECONDS_A_LANE = {"means": 0.005, "medians": 0.012, "shift": 0.02}
_USUAL = Differences()
# So far may a label of the far axis reach over the panel.
_BESIDE = 10.0
_DOT = 4.5


@dataclass(frozen=True, eq=False)
class Shift:
    """An estimate about the reference's centre, and its density (at, heights; shape (m,)) where it has one. The reference
    itself has no estimate.
    """

    centre: float
    estimate: Estimate | None
    density: tuple[Floats, Floats] | None
    way: Way = "rows"


def _measure(layer: DifferenceLayer, context: FigureContext) -> Measurement[Shift]:
    shifts: dict[str, Shift] = {}
    extents: dict[str, tuple[float, float]] = {}
    missing = []
    asked = context.recipe.differences
    wanted = layer.reference or (asked.reference if asked else None)
    differences, level = asked or _USUAL, _level_of_each(layer, context)
    for panel in context.arrangement.panels:
        here = [lane for lane in context.arrangement.of_panel(panel.key) if lane.filled]
        for part in sorted({lane.part for lane in here}):
            lanes = [lane for lane in here if lane.part == part]
            reference = next((lane for lane in lanes if wanted in (lane.group, lane.name)), None)
            if wanted is None:
                reference = lanes[0]
            if reference is None:
                missing.append(panel.name or context.arrangement.heading)
                continue
            for lane in lanes:
                shift = _shift(layer, differences, level, reference, lane)
                shifts[lane.key] = shift
                ends = _ends(shift)
                if min(ends) > context.transform.least:
                    extents[lane.key] = (min(ends), max(ends))
    remarks = []
    if missing:
        remarks.append(advice(context.words, f"{layer.id}/reference", "no-reference", reference=wanted or ""))
    far = layer.axis and bool(shifts) and _linear(context)
    return Measurement(lanes=dict(shifts), extents=extents, remarks=remarks, far=far)


def _ends(shift: Shift) -> list[float]:
    estimate = shift.estimate
    if estimate is None or estimate.value is None:
        return [shift.centre]
    known = [end for end in (estimate.value, estimate.low, estimate.high) if end is not None]
    return [shift.centre, *(shift.centre + end for end in known)]


def _level_of_each(layer: DifferenceLayer, context: FigureContext) -> float:
    """The level of each interval, higher where all are to hold together."""
    differences = context.recipe.differences or _USUAL
    filled = [(lane.panel, lane.part) for lane in context.arrangement.lanes if lane.filled]
    return level_of_each(layer.level, len(filled) - len(set(filled)), differences.together)


def _shift(layer: DifferenceLayer, differences: Differences, level: float, reference: Lane, lane: Lane) -> Shift:
    centre = reference.moments.mean if layer.of == "means" else quantiles(reference.ordered, (0.5,), 7)[0]
    assert centre is not None
    if lane is reference:
        return Shift(centre, None, None)
    result = pair_estimate(LanePair(reference, lane), differences, layer.of, level, layer.seed)
    key = ("difference density", reference.key, layer.of, layer.seed, result.way, differences.paired_by, differences.repeats)
    return Shift(centre, result.estimate, cache_on_lane(lane, key, lambda: _density(result)), result.way)


def _density(result: PairEstimate) -> tuple[Floats, Floats] | None:
    """The density of an estimate: of its resamples, or by t."""
    from scipy.stats import t as student

    estimate = result.estimate
    if result.resampled is not None:
        return _curve(np.sort(result.resampled))
    if not estimate.spread or estimate.df is None or estimate.value is None:
        return None
    at = np.linspace(-4.0, 4.0, _POINTS)
    return estimate.value + at * estimate.spread, student.pdf(at, estimate.df)


def _curve(ordered: Floats) -> tuple[Floats, Floats] | None:
    width = bandwidth_of(ordered, "silverman").value if len(ordered) else None
    if width is None:
        return None
    curve = density_curve(ordered, width, points=_POINTS)
    return curve.at, curve.values


def _draw(layer: DifferenceLayer, view: LaneView[Shift]) -> list[ScenePart]:
    shift: Shift | None = view.data
    if shift is None or shift.estimate is None or shift.estimate.value is None:
        return []
    frame, band, estimate, value = view.frame, view.band, shift.estimate, shift.estimate.value
    middle = band.centre(CENTRES[layer.place])
    parts: list[ScenePart] = []
    if layer.density and shift.density is not None:
        at, heights = shift.density
        along = frame.along_all(shift.centre + at)
        rise = heights / heights.max() * layer.width * band.width * (-1 if band.turned else 1)
        edge = middle - rise
        outline = (np.concatenate([along, along[::-1]]), np.concatenate([edge, np.full(len(edge), middle)]))
        paint = Paint(fill=view.style.muted, opacity=0.35)
        parts.append(frame.path(view.mark(layer.id, "density"), *outline, paint, closed=True))
    if estimate.low is not None and estimate.high is not None:
        low, high = frame.held(shift.centre + estimate.low), frame.held(shift.centre + estimate.high)
        line = Paint(stroke=view.style.ink, stroke_width=layer.line)
        parts.append(frame.line(view.mark(layer.id, "interval"), low, middle, high, middle, line))
    dot, nobody = np.array([frame.held(shift.centre + value)]), np.zeros(1, dtype=np.int64)
    point = Paint(fill=view.style.ink)
    return [*parts, frame.points(view.mark(layer.id, "mean"), "circle", _DOT, point, dot, middle, nobody)]


def _reference(layer: DifferenceLayer, panel: PanelView[Shift]) -> list[ScenePart]:
    """The line of no difference, at the reference's centre, once for each centre in the panel."""
    centres = {view.data.centre for view in panel.lanes if view.data is not None}
    frame, (start, end) = panel.frame, panel.frame.sides
    paint = Paint(stroke=panel.lanes[0].style.muted, stroke_width=0.8, dash="dashed")
    return [
        frame.line(MarkOf("", layer.id, "line", str(i)), frame.along(centre), start, frame.along(centre), end, paint)
        for i, centre in enumerate(sorted(centres))
        if frame.domain[0] <= centre <= frame.domain[1]
    ]


def _label_over(layer: DifferenceLayer, panel: PanelView[Shift]) -> list[ScenePart]:
    return [*_far_axis(layer, panel), *_words(layer, panel)]


def _far_axis(layer: DifferenceLayer, panel: PanelView[Shift]) -> list[ScenePart]:
    """An axis of differences on the far side of the measure's: zero stands at the reference's centre."""
    known = [view for view in panel.lanes if view.data is not None and view.letters is not None]
    reference = next((view for view in known if view.data and view.data.estimate is None), None)
    if (
        reference is None
        or reference.data is None
        or reference.letters is None
        or not layer.axis
        or not _linear(reference.context)
    ):
        return []
    frame, letters, centre = panel.frame, reference.letters, reference.data.centre
    size, ink, across = letters.style.text_size, letters.style.muted, frame.runs == "across"
    length = frame.width if across else frame.height
    ticks = _ticks(frame, centre, letters, size)
    right, parts = frame.left + frame.width, list[ScenePart]()
    widest = 0.0
    for i, (value, number) in enumerate(zip(ticks.values, ticks.labels, strict=True)):
        label = reference.context.written(number)
        mark, at = MarkOf("", layer.id, "axis-label", str(i)), frame.along(centre + value)
        half = letters.width(label, size) / 2
        if across and not (frame.left - _BESIDE <= at - half and at + half <= right + _BESIDE):
            continue
        x, y, anchor = (at, frame.top - 5, 0.5) if across else (right + 5, at + size * 0.33, 0.0)
        widest = max(widest, letters.width(label, size))
        parts.append(letters.put(mark, frame.key, label, x, y, size, ink, anchor=anchor))
    mark = MarkOf("", layer.id, "axis-title")
    title = letters.block(reference.context.words.say("axis-difference", lane=reference.band.lane.name), length, size, 400, 1)
    x, y = (frame.left, frame.top - 5 - size * LEADING) if across else (right + widest + 6 + size, frame.top + frame.height / 2)
    return [
        *parts,
        letters.put(mark, frame.key, title.lines[0], x, y, title.size, ink, anchor=0.0 if across else 0.5, turned=not across),
    ]


def _ticks(frame: Frame, centre: float, letters: Lettering, size: float) -> Ticks:
    """As many ticks from a centre as have labels apart."""
    across, (low, high) = frame.runs == "across", frame.domain
    most = max(2, int((frame.width if across else frame.height) / (52 if across else 34)))
    while True:
        ticks = ticks_of(low - centre, high - centre, most)
        places = [frame.along(centre + value) for value in ticks.values]
        rooms = [letters.width(label, size) if across else size for label in ticks.labels]
        apart = all(
            abs(b - a) >= (room + next_room) / 2 + 2
            for (a, b), (room, next_room) in zip(pairwise(places), pairwise(rooms), strict=True)
        )
        if apart or most <= 2:
            return ticks
        most -= 1


def _linear(context: FigureContext) -> bool:
    return context.transform.name == "linear" and not context.arrangement.parts


def _words(layer: DifferenceLayer, panel: PanelView[Shift]) -> list[ScenePart]:
    """Estimate and interval beside each line, where there is room."""
    parts: list[ScenePart] = []
    for view in panel.lanes if layer.words else ():
        shift: Shift | None = view.data
        letters = view.letters
        if letters is None or shift is None or shift.estimate is None or shift.estimate.value is None:
            continue
        decimals = decimals_of(view.context.arrangement.excerpt) + 1
        text = view.context.written(size_words(shift.estimate, decimals, view.context.words))
        size, frame = letters.style.text_size * 0.9, view.frame
        wide, middle = letters.width(text, size), view.band.centre(CENTRES[layer.place])
        ends = [frame.held(end) for end in _ends(shift)[1:]]
        if frame.runs == "across":
            x, base = max(ends) + 5, middle + size * 0.33
            if x + wide > frame.left + frame.width:
                x = min(ends) - 5 - wide
        else:
            x, base = middle - wide / 2, min(ends) - 4
        box = (x, base - size, x + wide, base + size * 0.3)
        inside = frame.left <= x and x + wide <= frame.left + frame.width and base - size >= frame.top
        if inside and panel.taken.claim(box):
            mark = view.mark(layer.id, "point-name")
            # A ground behind the words keeps the reference's line and points out of them.
            ground = view.mark(layer.id, "note").fields(frame.key)
            behind = Paint(fill=letters.style.ground, opacity=0.88)
            x0, y0, x1, y1 = (round_coordinate(end) for end in (box[0] - 1.5, box[1] + 0.5, box[2] + 1.5, box[3]))
            parts.append(
                RectPart(**ground, x=x0, y=y0, width=round_coordinate(x1 - x0), height=round_coordinate(y1 - y0), paint=behind)
            )
            parts.append(letters.put(mark, frame.key, text, x, base, size, letters.style.ink))
    return parts


def _after(layer: DifferenceLayer, views: Sequence[LaneView[Shift]]) -> list[Advice]:
    """Estimates without an interval, by the reason."""
    reasons: dict[str, list[str]] = {}
    for view in views:
        estimate = view.data.estimate if view.data is not None else None
        if estimate is not None and estimate.low is None and estimate.remark:
            reasons.setdefault(view.context.words.remark(estimate.remark), []).append(view.band.lane.name)
    return [
        advice(
            views[0].context.words, f"{layer.id}/none", "no-interval", lanes=", ".join(names[:4]), reason=reason.capitalize()
        )
        for reason, names in reasons.items()
    ]


def _note(layer: DifferenceLayer, note: NoteContext[Shift]) -> list[str]:
    words, shifts = note.words, note.measured.lanes
    drawn = [shift for shift in shifts.values() if shift.estimate is not None and shift.estimate.value is not None]
    if not drawn:
        return []
    known = [lane for lane in note.context.arrangement.lanes if lane.key in shifts and shifts[lane.key].estimate is None]
    whom = words.names(list(dict.fromkeys(lane.group or lane.name for lane in known)))
    return [
        words.say(
            "note-difference", differences=_what(layer, note), whom=whom or words.say("note-difference-reference"),
            level=_level(layer, note), how=method_words(_ways(note), layer.of, layer.seed, words),
            curve="yes" if layer.density and any(shift.density is not None for shift in drawn) else "no",
        )
    ]  # fmt: skip


def _what(layer: DifferenceLayer, note: NoteContext[Shift]) -> str:
    """Which differences the dots are."""
    return difference_words(_ways(note) or ["rows"], layer.of, note.context.recipe.differences or _USUAL, note.words)


def _ways(note: NoteContext[Shift]) -> list[Way]:
    """How the lanes were compared with the reference, each way once."""
    known = (shift for shift in note.measured.lanes.values() if shift.estimate is not None and shift.estimate.value is not None)
    return list(dict.fromkeys(shift.way for shift in known))


def _level(layer: DifferenceLayer, note: NoteContext[Shift]) -> str:
    return level_words(layer.level, _level_of_each(layer, note.context), note.words)


def _brief(layer: DifferenceLayer, note: NoteContext[Shift]) -> str:
    return note.words.say("brief-difference", differences=_what(layer, note), level=_level(layer, note))


def _explain(layer: DifferenceLayer, note: NoteContext[Shift]) -> Iterator[Explanation]:
    yield None, note.words.say("key-difference", of=layer.of, level=_level(layer, note))


def _seconds(layer: DifferenceLayer, context: FigureContext) -> float:
    return _SECONDS_A_LANE[layer.of] * sum(lane.filled for lane in context.arrangement.lanes)


LAYER = Layer[DifferenceLayer, Shift](
    settings=DifferenceLayer,
    draw=_draw,
    measure=_measure,
    draw_between=_reference,
    draw_over=_label_over,
    remarks=_after,
    note=_note,
    brief=_brief,
    explain=_explain,
    seconds=_seconds,
)
