"""Means or medians with an interval: a dot, a tick or a bar from zero. What the line is stands in axis title and note."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from echelle.catalogue.catalogue import Catalogue, catalogue
from echelle.errors import InputError, Mend
from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.lanes.figure_context import FigureContext, Measurement, cache_on_lane
from echelle.figures.lanes.lane import Lane
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.numbers.intervals import Centre, CentreInterval, IntervalSettings, centre_interval, draws, half_length
from echelle.numbers.quantiles import quantiles
from echelle.numbers.remarks import Remark
from echelle.recipes.layers.mean import LEAST_RESAMPLES, MeanLayer
from echelle.scene.advice import advice
from echelle.scene.models import Paint, ScenePart

# What the line of a lane shows: a rule's interval, or what a table of summaries gives.
Shown = CentreInterval | Literal["given"]
# So many values are drawn in ten seconds or twenty.
_SECONDS_A_VALUE = 1e-8
_MOST_DRAWN = 1_500_000_000


@dataclass(frozen=True)
class LaneCentre:
    """A lane's centre, both ends of the line around it (None without one) and what it shows."""

    centre: float
    ends: tuple[float, float] | None
    shown: Shown = "none"


def _centre_of(lane: Lane, layer: MeanLayer) -> float | None:
    """The lane's mean or median; a table of summaries gives means."""
    if layer.centre == "mean" or lane.given is not None:
        return lane.moments.mean
    return quantiles(lane.ordered, (0.5,), 7)[0] if lane.filled else None


def _settings(layer: MeanLayer) -> IntervalSettings:
    return IntervalSettings(layer.centre, layer.level, layer.resamples, layer.seed)


def _line_of(lane: Lane, layer: MeanLayer, centre: float) -> tuple[LaneCentre, Remark | None]:
    """A lane's line, and why its rule is another than the layer's. Sources: :data:`INTERVAL_RULES`.

    Raises InputError where a table of summaries does not give what is asked.
    """
    given = lane.given
    if layer.interval == "none":
        return LaneCentre(centre, None), None
    settings = _settings(layer)
    if given is None:
        interval = centre_interval(lane.ordered, lane.moments, layer.interval, settings)
        if interval is None:
            return LaneCentre(centre, None), None
        return LaneCentre(centre, (interval.low, interval.high), interval.rule), interval.remark
    if layer.interval == "confidence" and given.low is not None and given.high is not None:
        return LaneCentre(centre, (given.low, given.high), "given"), None
    half = half_length(layer.interval, lane.moments, lane.n, replace(settings, centre="mean"))
    if half is None:
        what = interval_words(layer.interval, layer, "mean", catalogue())
        raise InputError(
            f"the summaries do not give the {what} of {lane.name}", where="$.layers",
            remedy="Choose another interval, or bring n and SD.",
        )  # fmt: skip
    return LaneCentre(centre, (centre - half, centre + half), layer.interval), None


def _refuse_many_draws(layer: MeanLayer, context: FigureContext) -> None:
    """Raises InputError where the intervals of a figure would draw too many values again, with what would do."""
    drawn = sum(_drawn(other, context) for other in context.recipe.shown(MeanLayer))
    if drawn <= _MOST_DRAWN:
        return
    path: tuple[str | int, ...] = ("layers", context.recipe.layers.index(layer))
    fitting, words = layer.resamples * _MOST_DRAWN // drawn // 100 * 100, context.words
    mends = [Mend(words.say("remedy-confidence"), (((*path, "interval"), "confidence"),))]
    if fitting >= LEAST_RESAMPLES:
        mends.insert(0, Mend(words.say("remedy-resamples", count=fitting), (((*path, "resamples"), fitting),)))
    raise InputError(
        f"{layer.resamples} resamples of these lanes are {drawn / 1e6:,.0f} million values, too many to be drawn",
        where=f"$.layers[{path[1]}].resamples", mends=tuple(mends),
        remedy=f"Choose {f'at most {fitting} resamples' if fitting >= LEAST_RESAMPLES else 'fewer rows'}, or another line.",
    )  # fmt: skip


def _drawn(layer: MeanLayer, context: FigureContext) -> int:
    """How many values the intervals of a layer draw again."""
    lanes = [lane for lane in context.arrangement.lanes if lane.filled and lane.given is None]
    return sum(draws(lane.ordered, layer.interval, _settings(layer)) for lane in lanes)


def interval_words(shown: Shown, layer: MeanLayer, centre: Centre, words: Catalogue) -> str:
    """What a line shows, by name."""
    return words.say("interval", kind=shown.replace(" ", "-"), level=f"{100 * layer.level:g}", centre=centre)


def centre_shown(layer: MeanLayer, context: FigureContext) -> Centre:
    """What the marks stand at: a table of summaries has no medians."""
    given = any(lane.given is not None for lane in context.arrangement.lanes)
    return "mean" if given else layer.centre


def lines_shown(lines: Iterable[object]) -> list[Shown]:
    """What the lines of a figure's lanes show, each once; the usual one first."""
    counts = Counter(line.shown for line in lines if isinstance(line, LaneCentre) and line.ends is not None)
    return [shown for shown, _ in counts.most_common()]


def _measure(layer: MeanLayer, context: FigureContext) -> Measurement[LaneCentre]:
    """The line of each lane; a bar begins at zero."""
    lines, extents = dict[str, LaneCentre](), {}
    stand_ins: dict[Remark, list[str]] = {}
    for lane in context.arrangement.lanes:
        centre = _centre_of(lane, layer)
        if centre is None:
            continue
        key = ("interval", layer.centre, layer.interval, layer.level, layer.seed, layer.resamples)
        line, why = cache_on_lane(lane, key, lambda lane=lane, at=centre: _line_of(lane, layer, at))  # type: ignore[misc]
        lines[lane.key] = line
        if why is not None:
            stand_ins.setdefault(why, []).append(context.arrangement.full_name(lane))
        ends = [centre, *(line.ends or ()), *([0.0] if layer.mark == "bar" else [])]
        # A bent axis has no place for ends at or below zero.
        ends = [end for end in ends if end > context.transform.least]
        if ends:
            extents[lane.key] = (min(ends), max(ends))
    remarks = [advice(context.words, f"{layer.id}/bar", "bars-from-zero")] if layer.mark == "bar" else []
    return Measurement(lanes=lines, extents=extents, remarks=remarks, stand_ins=stand_ins)


def _draw(layer: MeanLayer, view: LaneView[LaneCentre]) -> list[ScenePart]:
    frame, band, line_shown = view.frame, view.band, view.data
    if line_shown is None:
        return []
    centre = line_shown.centre
    middle, on_shape = band.centre(CENTRES[layer.place]), view.on_shape(layer)
    parts: list[ScenePart] = []
    at = frame.held(centre)
    if layer.mark == "bar":
        a, b = band.spread(CENTRES[layer.place], layer.width)
        zero = frame.held(0.0) if frame.transform.name == "linear" else frame.range[0]
        parts.append(frame.rect(view.mark(layer.id, "mean"), zero, at, a, b, Paint(fill=band.colour, opacity=0.9)))
        middle = (a + b) / 2
    bar = line_shown.ends
    if bar is not None:
        low, high = frame.held(bar[0]), frame.held(bar[1])
        line = Paint(stroke=view.style.ink if layer.mark == "bar" or on_shape else band.colour, stroke_width=layer.strength)
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
        paint = Paint(fill=view.style.ink, stroke=view.style.ground, stroke_width=1.0) if on_shape else Paint(fill=band.colour)
        parts.append(frame.points(view.mark(layer.id, "mean"), "circle", layer.size, paint, dot, middle, nobody))
    return parts


def _note(layer: MeanLayer, note: NoteContext[LaneCentre]) -> list[str]:
    if not note.measured.lanes:
        return []
    words, shown, centre = note.words, lines_shown(note.measured.lanes.values()), centre_shown(layer, note.context)
    lines = ""
    if shown:
        first = shown[0]
        seeded = first.startswith("bootstrap")
        resamples = words.say("note-mean-resamples", resamples=str(layer.resamples), seed=str(layer.seed)) if seeded else ""
        how = {"mean": "t", "median": "order"}[centre] if first == "confidence" else "none"
        lines = words.say("note-mean-lines", interval=interval_words(first, layer, centre, words), how=how, resamples=resamples)
    return [words.say("note-mean", mark=layer.mark, centre=centre, lines=lines)]


def _brief(layer: MeanLayer, note: NoteContext[LaneCentre]) -> str:
    words, shown, centre = note.words, lines_shown(note.measured.lanes.values()), centre_shown(layer, note.context)
    listed = words.names([interval_words(each, layer, centre, words) for each in shown])
    interval = words.say("brief-mean-with", interval=listed) if shown else ""
    return words.say("brief-mean", mark=layer.mark, centre=centre, **{"with": interval})


def _explain(layer: MeanLayer, note: NoteContext[LaneCentre]) -> Iterator[Explanation]:
    words, centre = note.words, centre_shown(layer, note.context)
    yield "mean", words.say("key-mean", mark=layer.mark, centre=centre)
    for shown in lines_shown(note.measured.lanes.values())[:1]:
        if shown == "SD":
            yield "interval", words.say("key-mean-sd")
        else:
            yield (
                "interval",
                words.say("key-mean-interval", interval=interval_words(shown, layer, centre, words), centre=centre),
            )


def _seconds(layer: MeanLayer, context: FigureContext) -> float:
    _refuse_many_draws(layer, context)
    return _SECONDS_A_VALUE * _drawn(layer, context)


LAYER = Layer[MeanLayer, LaneCentre](
    settings=MeanLayer,
    draw=_draw,
    measure=_measure,
    note=_note,
    brief=_brief,
    explain=_explain,
    seconds=_seconds,
)
