"""Kernel densities: on both sides of a lane's line, or on one."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from echelle.figures.geometry.lane_bands import lane_fill
from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.lanes.figure_context import FigureContext, Measurement, SecondaryAmounts, cache_on_lane, hull
from echelle.figures.lanes.lane import Lane
from echelle.figures.lanes.readings import rules_of
from echelle.figures.lanes.transforms import LINEAR
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.figures.layers.row_marks import aside_marks, limit_extents
from echelle.numbers.bandwidth import BANDWIDTHS, Bandwidth, bandwidth_of
from echelle.numbers.density import Density, Ends, density_curve, reach_past, size_factors
from echelle.numbers.remarks import Remark
from echelle.numbers.sample import Floats, sample_of
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.density import DensityLayer
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Handle, Paint, ScenePart

_MOST_POINTS = 40_000
# How much of its strength a fill keeps over columns of its colour, and tails beside the middle half.
_OVER_COLUMNS = 0.35
_TAILS = 0.42
_BAR = 1.8
_VALUE_SIZE = 3.0
# Fewer values than this make no curve beside lanes that hold enough.
_FEW = 5
_ENOUGH = 10


@dataclass(frozen=True, eq=False)
class Curve:
    """Heights on the second axis at values of the measure, both of shape (m,); the bandwidth is on the axis' scale. ``ends`` is
    how the curve ends.
    """

    at: Floats
    heights: Floats
    bandwidth: float = 0.0
    ends: Ends = "run past"


def points_of_curve(lanes: int) -> int:
    """How many points a curve is drawn with: fewer where many lanes share the sheet."""
    return int(np.clip(_MOST_POINTS // max(lanes, 1), 96, 256))


def _measure(layer: DensityLayer, context: FigureContext) -> Measurement[Curve]:
    lanes = context.arrangement.lanes
    points = points_of_curve(len(lanes))
    ends, low, high = _ends(layer, context)
    few = _lanes_of_few(context)
    curves: list[Density | None] = []
    remarks: dict[Remark, list[str]] = {}
    for lane in lanes:
        curve, remark = (None, None) if lane.key in few else _curve(layer, context, lane, points, (ends, low, high))
        curves.append(curve)
        if remark:
            remarks.setdefault(remark, []).append(lane.name)
    if context.per_density is None:
        factors = size_factors(curves, [lane.n for lane in lanes], layer.size)
    else:
        factors = [context.per_density.get(lane.key, 0.0) for lane in lanes]
    result = {
        lane.key: Curve(context.transform.back(curve.at), curve.values * factor, curve.bandwidth, ends)
        for lane, curve, factor in zip(lanes, curves, factors, strict=True)
        if curve is not None
    }
    words = context.words
    no_curve = [
        advice(words, f"{layer.id}/density", "no-curve", lanes=names, remark=words.remark(remark))
        for remark, names in remarks.items()
        if remark.code != "bandwidth-below-step"
    ]
    return Measurement(
        lanes=result,
        extents=_extents(layer, context, result),
        second=SecondaryAmounts("amount", _unit(layer, context), _tops(layer, context, result)),
        remarks=[*no_curve, *_few_advice(layer, context, few), *_covered_curves(layer, context, result)],
        stand_ins=remarks,
    )


def _lanes_of_few(context: FigureContext) -> set[str]:
    """Lanes whose few values would make a spike that flattens the curves of fuller lanes."""
    lanes = [lane for lane in context.arrangement.lanes if lane.given is None]
    if max((lane.n for lane in lanes), default=0) < _ENOUGH:
        return set()
    return {lane.key for lane in lanes if 0 < lane.n < _FEW}


def _few_advice(layer: DensityLayer, context: FigureContext, few: set[str]) -> list[Advice]:
    names = [context.arrangement.full_name(lane) for lane in context.arrangement.lanes if lane.key in few]
    return [advice(context.words, f"{layer.id}/few", "few-for-curve", lanes=names, few=str(_FEW))] if names else []


# How a curve ends, and where it is folded on the axis' scale.
_Folded = tuple[Ends, float | None, float | None]


def _ends(layer: DensityLayer, context: FigureContext) -> _Folded:
    """As set; automatic: folded at 0 where no value is negative and a curve would cross it, else past the data."""
    if layer.ends != "automatic":
        low, high = (_limit(end, context) for end in (layer.low, layer.high))
        return layer.ends, low, high
    lanes = [lane for lane in context.arrangement.lanes if lane.given is None and lane.filled]
    zero = _limit(0.0, context)
    if zero is None or any(lane.ordered[0] < 0 for lane in lanes):
        return "run past", None, None
    crosses = any(
        width is not None and context.bent(lane)[0] - reach_past(width, layer.kernel) < zero
        for lane in lanes
        for width in (_bandwidth(layer, context, lane).value,)
    )
    return ("fold", zero, None) if crosses else ("run past", None, None)


def _bandwidth(layer: DensityLayer, context: FigureContext, lane: Lane) -> Bandwidth:
    wide = layer.bandwidth
    rule = wide.rule if wide.value is None else wide.value
    key = ("bandwidth", context.transform.name, rule, wide.times)
    return cache_on_lane(lane, key, lambda: bandwidth_of(context.bent(lane), rule, wide.times))


def _curve(
    layer: DensityLayer, context: FigureContext, lane: Lane, points: int, folded: _Folded
) -> tuple[Density | None, Remark | None]:
    if lane.given is not None or not lane.filled:
        return None, None
    wide = layer.bandwidth

    def make() -> tuple[Density | None, Remark | None]:
        bandwidth = _bandwidth(layer, context, lane)
        if bandwidth.value is None:
            return None, bandwidth.remark
        return density_curve(context.bent(lane), bandwidth.value, layer.kernel, points, *folded), bandwidth.remark

    key = ("density", context.transform.name, layer.kernel, wide.rule, wide.value, wide.times, folded, points)
    return cache_on_lane(lane, key, make)


def _limit(end: float | None, context: FigureContext) -> float | None:
    """A limit on the axis' scale; one that the scale never reaches limits nothing."""
    at = -np.inf if end is None else float(context.transform.reached(np.array([end]))[0])
    return at if np.isfinite(at) else None


def _extents(layer: DensityLayer, context: FigureContext, curves: dict[str, Curve]) -> dict[str, tuple[float, float]]:
    """From where to where curves reach, and the limits of censored values where they are drawn."""
    of_curves = {key: (float(curve.at[0]), float(curve.at[-1])) for key, curve in curves.items()}
    of_limits = limit_extents(context) if layer.middle else {}
    both = {key: hull([of_curves.get(key), of_limits.get(key)]) for key in {**of_curves, **of_limits}}
    return {key: extent for key, extent in both.items() if extent is not None}


def _tops(layer: DensityLayer, context: FigureContext, curves: dict[str, Curve]) -> dict[str, float]:
    """The highest point among the lanes that share one scale."""
    of = {
        lane.key: {"figure": "", "panel": lane.panel, "group": str(lane.slot)}[layer.compared]
        for lane in context.arrangement.lanes
    }
    tops: dict[str, float] = {}
    for key, curve in curves.items():
        tops[of[key]] = max(tops.get(of[key], 0.0), float(curve.heights.max()))
    return {key: tops[of[key]] for key in curves}


def _unit(layer: DensityLayer, context: FigureContext) -> str:
    if layer.size == "equal width":
        return ""
    return context.per_unit("rows" if layer.size == "by n" else "density")


def _covered_curves(layer: DensityLayer, context: FigureContext, curves: dict[str, Curve]) -> list[Advice]:
    """Whose curve vanishes in part behind that of the next strip, where curves rise over their strip and fills hide."""
    # From one strip to the next, in widths of a lane.
    pitch = 1 / lane_fill(context.recipe)
    if layer.width <= pitch or layer.fill < 0.5 or layer.side == "both":
        return []
    top = max((float(curve.heights.max()) for curve in curves.values()), default=0.0) or 1.0
    # The next strip lies below one that runs across, and to the right of one that runs up; it is drawn later.
    away = pitch / layer.width * (1 if context.recipe.axis.runs == "across" else -1)
    lanes = [lane for lane in context.arrangement.lanes if lane.key in curves]
    following: dict[tuple[str, int], list[Lane]] = {}
    for lane in lanes:
        following.setdefault((lane.panel, lane.slot - 1), []).append(lane)
    hidden = []
    for lane in lanes:
        curve = curves[lane.key]
        height = curve.heights / top + away
        over = [curves[front.key] for front in following.get((lane.panel, lane.slot), [])]
        covers = (np.interp(curve.at, front.at, front.heights, 0.0, 0.0) / top for front in over)
        if any(np.any((curve.heights > 0.02 * top) & (height > 0) & (cover > height)) for cover in covers):
            hidden.append(lane.name)
    if not hidden:
        return []
    return [advice(context.words, f"{layer.id}/covered", "covered-curve", lanes=hidden)]


def _draw(layer: DensityLayer, view: LaneView[Curve]) -> list[ScenePart]:
    return [*_aside(layer, view), *(_values_alone(layer, view) if view.data is None else _shape(layer, view, view.data))]


def _aside(layer: DensityLayer, view: LaneView[Curve]) -> list[ScenePart]:
    """Limits and rows left out, where the curve stands for all of its lane and no other layer draws them."""
    if not layer.middle or any(other.draws_outliers for other in view.context.recipe.shown_layers):
        return []
    foot = view.band.centre(CENTRES[layer.place])
    return aside_marks(layer.id, view, lambda rows: np.full(len(rows), foot))


def _shape(layer: DensityLayer, view: LaneView[Curve], curve: Curve) -> list[ScenePart]:
    base, tip = view.region(layer)
    along = view.frame.along_all(curve.at)
    edge = view.heights(curve.heights, base, tip)
    foot = np.full(len(edge), view.band.across(base))
    far = 2 * foot - edge if layer.side == "both" and not view.band.half else foot
    mark = view.mark(layer.id, "density")
    parts: list[ScenePart] = []
    if layer.fill:
        outline = (np.concatenate([along, along[::-1]]), np.concatenate([edge, far[::-1]]))
        # Columns of the same colour are seen through the curve.
        columns = any(other.drawn == "columns" for other in view.context.recipe.shown(BinsLayer))
        strength = layer.fill * (_OVER_COLUMNS if columns else 1.0)
        paint = Paint(fill=view.band.colour, opacity=strength * (_TAILS if layer.middle else 1.0))
        parts.append(view.frame.path(mark, *outline, paint, closed=True))
        if layer.middle:
            parts += _middle_half(layer, view, (along, edge, far), Paint(fill=view.band.colour, opacity=strength))
    if layer.line:
        paint = Paint(stroke=view.band.colour, stroke_width=layer.line)
        for number, side in enumerate((edge, far) if far is not foot else (edge,)):
            parts.append(view.frame.path(view.mark(layer.id, "density", f"line{number or ''}"), along, side, paint))
    return parts


def _values_alone(layer: DensityLayer, view: LaneView[Curve]) -> list[ScenePart]:
    """The values of a lane that has no curve, where nothing else shows them."""
    lane, frame = view.band.lane, view.frame
    if any(other.draws_rows or other.turns_pale for other in view.context.recipe.shown_layers):
        return []
    values, first = np.unique(lane.values, return_index=True)
    seen = frame.sees(values)
    if not seen.any():
        return []
    paint = Paint(fill=view.band.colour, opacity=0.8)
    along, foot = frame.along_all(values[seen]), view.band.across(view.region(layer)[0])
    return [frame.points(view.mark(layer.id, "point"), "circle", _VALUE_SIZE, paint, along, foot, lane.rows[first[seen]])]


def _middle_half(
    layer: DensityLayer, view: LaneView[Curve], shape: tuple[Floats, Floats, Floats], paint: Paint
) -> list[ScenePart]:
    """The part of a curve between the quartiles, and a bar at the median as wide as the curve there."""
    readings, frame = view.readings, view.frame
    if readings.q1 is None or readings.q3 is None or readings.median is None:
        return []
    along, edge, far = shape
    rises = 1 if along[-1] > along[0] else -1
    low, high, middle = (frame.held(value) for value in (readings.q1, readings.q3, readings.median))

    def at(place: float, side: Floats) -> float:
        return float(np.interp(rises * place, rises * along, side))

    inside = (rises * along > rises * low) & (rises * along < rises * high)
    there = np.concatenate([[low], along[inside], [high]])
    near, other = (np.concatenate([[at(low, side)], side[inside], [at(high, side)]]) for side in (edge, far))
    outline = (np.concatenate([there, there[::-1]]), np.concatenate([near, other[::-1]]))
    bar = Paint(fill=view.style.ground)
    ends = sorted((at(middle, edge), at(middle, far)))
    return [
        frame.path(view.mark(layer.id, "density", "middle"), *outline, paint, closed=True),
        frame.rect(view.mark(layer.id, "median"), middle - _BAR / 2, middle + _BAR / 2, ends[0], ends[1], bar),
    ]


def _handles(layer: DensityLayer, place: int, view: LaneView[Curve]) -> list[Handle]:
    """The smoothing: one bandwidth beside the highest point, as long as it is on the axis."""
    curve: Curve | None = view.data
    if curve is None or view.context.transform is not LINEAR:
        return []
    lane, wide = view.band.lane, layer.bandwidth
    peak = float(curve.at[int(np.argmax(curve.heights))])
    path: list[str | int] = ["layers", place, "bandwidth", "times"]
    words = view.context.words
    return [
        Handle(
            key=f"{view.frame.key}/{lane.key}/{layer.id}/smoothing", panel=view.frame.key, lane=lane.key, layer=layer.id,
            role="smoothing", at=peak + curve.bandwidth, origin=peak, unit=curve.bandwidth / wide.times, least=0.05, most=20.0,
            step=0.05, value=wide.times, path=path, name=words.say("handle-smoothing", lane=lane.name),
            after=words.say("handle-smoothing-after"),
        )
    ]  # fmt: skip


def _note(layer: DensityLayer, note: NoteContext[Curve]) -> list[str]:
    wide, words = layer.bandwidth, note.words
    by_rule = words.say("note-density-rule", rule=words.say("rule", rule=wide.rule))
    width = by_rule if wide.value is None else words.say("note-density-value", value=f"{wide.value:g}")
    times = f" × {wide.times:g}" if wide.times != 1 else ""
    used = sorted({curve.bandwidth for curve in note.measured.lanes.values() if curve.bandwidth > 0})
    if not note.measured.lanes:
        return []
    if used and (wide.value is None or times):
        unit = f" {note.context.unit}".rstrip() if note.context.transform.name == "linear" else ""
        times += f" = {words.ends(f'{used[0]:.3g}', f'{used[-1]:.3g}')}{unit}"
    ends = next(iter(note.measured.lanes.values())).ends
    folded = [end for end in (layer.low, layer.high) if end is not None] if layer.ends == "fold" else [0.0]
    limits = [f"{end:g}" for end in folded] or [words.say("note-density-no-limit")]
    both = words.say("note-density-both-limits", low=limits[0], high=limits[-1]) if len(limits) > 1 else limits[0]
    return [
        words.say(
            "note-density", kernel=words.say("rule", rule=layer.kernel), width=width, times=times,
            ends=words.say("note-density-ends", ends=ends.replace(" ", "-"), limits=both),
            size=words.say("note-density-size", size=layer.size.replace(" ", "-")),
            compared=words.say("note-density-compared", compared=layer.compared),
        ),
        *([words.say("note-density-middle", type=rules_of(note.context.recipe).quantile_type)] if layer.middle else []),
        *_of_few(note),
    ]  # fmt: skip


def _of_few(note: NoteContext[Curve]) -> list[str]:
    """Which lanes have no curve because they hold too few values beside the others."""
    arrangement, few = note.context.arrangement, _lanes_of_few(note.context)
    names = [arrangement.full_name(lane) for lane in arrangement.lanes if lane.key in few]
    return [note.words.say("note-density-few", few=str(_FEW), lanes=note.words.names(names))] if names else []


def _brief(layer: DensityLayer, note: NoteContext[Curve]) -> str:
    return note.words.say("brief-density", kernel=note.words.say("rule", rule=layer.kernel))


def _explain(layer: DensityLayer, note: NoteContext[Curve]) -> Iterator[Explanation]:
    if layer.middle:
        yield "median", note.words.say("key-density-median")
    yield "density", note.words.say("key-density", **{"by-n": "yes" if layer.size == "by n" else "no"})


def _seconds(layer: DensityLayer, context: FigureContext) -> float:
    if layer.bandwidth.value is not None:
        return 0.0
    rule = BANDWIDTHS[layer.bandwidth.rule]
    lanes = [lane for lane in context.arrangement.lanes if lane.given is None and lane.filled]
    return sum(rule.seconds(len(sample_of(lane.ordered).values)) for lane in lanes)


LAYER = Layer[DensityLayer, Curve](
    settings=DensityLayer,
    draw=_draw,
    measure=_measure,
    handles=_handles,
    note=_note,
    brief=_brief,
    explain=_explain,
    seconds=_seconds,
)
