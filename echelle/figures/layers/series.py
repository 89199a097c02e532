"""Lines over the order of each lane: values, means or medians with a band, a straight line, a running total; and areas."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from echelle.figures.lanes.figure_context import FigureContext, Measurement, Order, SecondaryAmounts, cache_on_lane
from echelle.figures.lanes.lane import Lane
from echelle.figures.lanes.order import numbers_in_order, order_shares, orders
from echelle.figures.lanes.transforms import Transform
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.numbers.rounding import round_step, three_digits
from echelle.numbers.sample import Floats
from echelle.numbers.series import SeriesLine, centres_in_order, running_total, straight_line, values_in_order
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.layers.series import SeriesLayer
from echelle.scene.advice import advice, remedy
from echelle.scene.models import Advice, NamedReading, Paint, ScenePart

_BAND = 0.18
# Places are gathered into about so many steps; ``round_step`` makes two hundred.
_STEPS, _ROUND = 8, 200
_CALENDAR = (7, 14, 28, 91, 182, 365, 730, 1_826, 3_652)
_YEAR = 365.25
# From so many days on a slope is said by the year.
_LONG = 730.0


@dataclass(frozen=True, eq=False)
class LaneSeries:
    """The lines of a lane (one each subject, where there are several), and the order that they stand in."""

    lines: list[SeriesLine]
    order: Order


def _measure(layer: SeriesLayer, context: FigureContext) -> Measurement[LaneSeries]:
    order = orders(layer.against, context)
    lanes = {lane.key: LaneSeries(_lines(layer, lane), order[lane.key]) for lane in context.arrangement.lanes}
    extents = {key: ends for key, series in lanes.items() if (ends := _reach(layer, series, context.transform))}
    named = {key: [slope] for key, series in lanes.items() if (slope := _slope(layer, series, context)) is not None}
    return Measurement(
        lanes, extents, SecondaryAmounts("order", orders=order), remarks=_advice(layer, lanes, context), named=named
    )


def _lines(layer: SeriesLayer, lane: Lane) -> list[SeriesLine]:
    """A lane's lines, computed once for as long as nothing moves them."""
    key = ("series", layer.against, layer.through, layer.step, layer.by, layer.band, layer.level)
    return cache_on_lane(lane, key, lambda: _computed(layer, lane), long=True)


def _computed(layer: SeriesLayer, lane: Lane) -> list[SeriesLine]:
    """What has no place in the order is in no line; a table of summaries has none."""
    if lane.given is not None:
        return []
    at = numbers_in_order(lane, layer.against)
    known = np.isfinite(at)
    at, values = at[known], lane.values[known]
    if not len(at):
        return []
    if layer.through in ("means", "medians"):
        return [centres_in_order(at, values, layer.through, layer.band, layer.level, layer.step)]
    if layer.through == "least squares":
        line = straight_line(at, values, layer.band, layer.level)
        return [] if line is None else [line]
    line_of = values_in_order if layer.through == "values" else running_total
    subjects = lane.extras[layer.by].codes[known] if layer.by is not None else np.zeros(len(at), dtype=np.int32)
    return [line_of(at[subjects == code], values[subjects == code]) for code in np.unique(subjects[subjects >= 0]).tolist()]


def _reach(layer: SeriesLayer, series: LaneSeries, scale: Transform) -> tuple[float, float] | None:
    """From where to where lines, bands and areas reach, as far as the axis has a place for it."""
    parts = [part[np.isfinite(part)] for line in series.lines for part in (line.values, line.low, line.high)]
    ends = [float(end) for part in parts if len(part) for end in (part.min(), part.max())]
    if layer.fill and series.lines:
        ends.append(0.0)
    held = [end for end in ends if scale.holds(end)]
    return (min(held), max(held)) if held else None


def _slope(layer: SeriesLayer, series: LaneSeries, context: FigureContext) -> NamedReading | None:
    """The slope of a straight line with its interval, for the ledger."""
    fit = series.lines[0].fit if series.lines else None
    if fit is None:
        return None
    dates, span = series.order.dates, series.order.high - series.order.low
    per, times = ("year", _YEAR) if dates and span > _LONG else ("day" if dates else "unit", 1.0)
    slope, reach = fit.slope * times, fit.slope_reach(layer.level) * times
    low, high = slope - reach, slope + reach
    level = f"{100 * layer.level:g}"
    shown = context.words.ends(three_digits(low), three_digits(high))
    return NamedReading(
        reading="slope",
        name=context.words.say("reading-slope", per=per, column=layer.against or "row", level=level),
        value=slope, low=low, high=high,
        text=f"{three_digits(slope)} ({shown})",
    )  # fmt: skip


def _advice(layer: SeriesLayer, lanes: dict[str, LaneSeries], context: FigureContext) -> list[Advice]:
    """Lanes without a line, and another layer that stands in another order."""
    names = [context.arrangement.full_name(lane) for lane in context.arrangement.lanes if not lanes[lane.key].lines]
    remarks = []
    if names and layer.through == "least squares":
        remarks.append(advice(context.words, f"{layer.id}/line", "no-straight-line", lanes=names))
    lines = [line for series in lanes.values() for line in series.lines]
    if layer.through in ("means", "medians") and layer.band != "none" and any(line.bare for line in lines):
        remarks.append(_band_advice(layer, lanes, context))
    others = [other.against for other in context.recipe.shown(PointsLayer) if other.spread == "in order"]
    others += [other.against for other in context.recipe.shown(SeriesLayer)]
    if (other := next((other for other in others if other != layer.against), layer.against)) != layer.against:
        one, two = (column or context.words.say("note-points-rows") for column in (layer.against, other))
        remarks.append(advice(context.words, f"{layer.id}/order", "two-orders", one=one, two=two))
    return remarks


def _band_advice(layer: SeriesLayer, lanes: dict[str, LaneSeries], context: FigureContext) -> Advice:
    """At how many places there are too few values for a band, and a step that gathers them."""
    lines = [(line, series.order) for series in lanes.values() for line in series.lines]
    bare, places = sum(line.bare for line, _ in lines), sum(len(line.at) for line, _ in lines)
    order = lines[0][1]
    remedies = []
    if layer.against is not None and not order.levels:
        length, days = _gathering(order), "yes" if order.dates else "no"
        change = (("layers", context.recipe.layers.index(layer), "step"), length)
        remedies.append(remedy(context.words, "gather", change, length=f"{length:g}", days=days))
    return advice(context.words, f"{layer.id}/band", "no-band", bare=bare, places=places, remedies=remedies)


def _gathering(order: Order) -> float:
    """A step that makes about eight of an order: a round one, or one of weeks, months and years of days."""
    span = order.high - order.low
    if not order.dates:
        return round_step(span * _ROUND / _STEPS)
    return float(next((days for days in _CALENDAR if span / days <= _STEPS), _CALENDAR[-1]))


def _draw(layer: SeriesLayer, view: LaneView[LaneSeries]) -> list[ScenePart]:
    if view.data is None:
        return []
    parts: list[ScenePart] = []
    for number, line in enumerate(view.data.lines):
        parts += _areas(layer, view, view.data.order, line, number)
    for number, line in enumerate(view.data.lines):
        across = _across(view, view.data.order, line.at)
        paint = Paint(stroke=view.band.colour, stroke_width=layer.line, dash=layer.dash)
        along = view.frame.along_all(line.values)
        if len(along) > 1:
            parts.append(view.frame.path(view.mark(layer.id, "series", str(number or "")), along, across, paint))
        elif len(along) == 1 and view.frame.sees(line.values).all():
            # A single place is no line, and is seen all the same.
            short = np.array([across[0] - 2.0, across[0] + 2.0])
            mark = view.mark(layer.id, "series", str(number or ""))
            parts.append(view.frame.path(mark, np.repeat(along, 2), short, paint))
    return parts


def _across(view: LaneView[LaneSeries], order: Order, at: Floats) -> Floats:
    shares = order_shares(at, order, view.band.turned)
    return view.band.across(shares)


def _areas(layer: SeriesLayer, view: LaneView[LaneSeries], order: Order, line: SeriesLine, number: int) -> Iterator[ScenePart]:
    """The area down to zero, and the band about the line, broken where places have none."""
    frame, across = view.frame, _across(view, order, line.at)
    if layer.fill and len(line.at) > 1:
        floor = np.full(len(line.at), frame.held(0.0))  # the axis' low end where it has no zero
        outline = np.concatenate([frame.along_all(line.values), floor])
        mark = view.mark(layer.id, "series-area", str(number or ""))
        paint = Paint(fill=view.band.colour, opacity=layer.fill)
        yield frame.path(mark, outline, np.concatenate([across, across[::-1]]), paint, closed=True)
    known = np.flatnonzero(np.isfinite(line.low))
    runs = np.split(known, np.flatnonzero(np.diff(known) > 1) + 1) if len(known) else []
    for place, run in enumerate(runs):
        spots = across[run] if len(run) > 1 else across[run] + np.array([-1.5, 1.5])
        low, high = (frame.along_all(np.broadcast_to(ends[run], spots.shape)) for ends in (line.low, line.high))
        outline = np.concatenate([low, high[::-1]])
        mark = view.mark(layer.id, "series-band", f"{number or ''}{f'r{place}' if place else ''}")
        paint = Paint(fill=view.band.colour, opacity=_BAND)
        yield frame.path(mark, outline, np.concatenate([spots, spots[::-1]]), paint, closed=True)


def _note(layer: SeriesLayer, note: NoteContext[LaneSeries]) -> list[str]:
    drawn = [series for series in note.measured.lanes.values() if series.lines]
    if not drawn:
        return []
    words, rows = note.words, note.words.say("note-points-rows")
    filled = layer.fill and any(len(line.at) > 1 for series in drawn for line in series.lines)
    bands = any(np.isfinite(line.low).any() for series in drawn for line in series.lines)
    bare = sum(line.bare for series in drawn for line in series.lines)
    gathered = layer.step is not None and layer.through in ("means", "medians")
    subjects = layer.by if layer.through in ("values", "running total") else None
    zero = note.context.transform.holds(0.0)
    return [
        words.say(
            "note-series", through=layer.through.replace(" ", "-"), order=layer.against or rows,
            step=f"{layer.step:g}" if gathered else "none", days="yes" if drawn[0].order.dates else "no",
            subjects=subjects or "none", band=layer.band if bands else "none", level=f"{100 * layer.level:g}",
            bare=bare if bands else 0, area="no" if not filled else "zero" if zero else "end",
        )
    ]  # fmt: skip


def _brief(layer: SeriesLayer, note: NoteContext[LaneSeries]) -> str:
    order = layer.against or note.words.say("note-points-rows")
    return note.words.say("brief-series", through=layer.through.replace(" ", "-"), order=order)


def _explain(layer: SeriesLayer, note: NoteContext[LaneSeries]) -> Iterator[Explanation]:
    order = layer.against or note.words.say("note-points-rows")
    yield "series", note.words.say("key-series", through=layer.through.replace(" ", "-"), order=order)
    if layer.band != "none":
        through, level = layer.through.replace(" ", "-"), f"{100 * layer.level:g}"
        yield "series-band", note.words.say("key-series-band", through=through, band=layer.band, level=level)


LAYER = Layer[SeriesLayer, LaneSeries](
    settings=SeriesLayer,
    draw=_draw,
    measure=_measure,
    note=_note,
    brief=_brief,
    explain=_explain,
)
