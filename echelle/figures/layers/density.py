"""Kernel densities: on both sides of a lane's line, or on one."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from echelle.figures.geometry.lane_bands import lane_fill
from echelle.figures.lanes.figure_context import FigureContext, Measurement, SecondaryAmounts, cache_on_lane
from echelle.figures.lanes.lane import Lane
from echelle.figures.lanes.transforms import LINEAR
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.numbers.bandwidth import bandwidth_of
from echelle.numbers.decimals import Floats
from echelle.numbers.density import Density, density_curve, size_factors
from echelle.numbers.remarks import Remark
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.density import DensityLayer
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Handle, Paint, ScenePart

_MOST_POINTS = 40_000
# How much of its strength a fill keeps over columns of its colour.
_OVER_COLUMNS = 0.35


@dataclass(frozen=True, eq=False)
class Curve:
    """Heights on the second axis at values of the measure, both of shape (m,); the bandwidth is on the axis' scale."""

    at: Floats
    heights: Floats
    bandwidth: float = 0.0


def points_of_curve(lanes: int) -> int:
    """How many points a curve is drawn with: fewer where many lanes share the sheet."""
    return int(np.clip(_MOST_POINTS // max(lanes, 1), 96, 256))


def _measure(layer: DensityLayer, context: FigureContext) -> Measurement[Curve]:
    lanes = context.arrangement.lanes
    points = points_of_curve(len(lanes))
    curves: list[Density | None] = []
    remarks: dict[Remark, list[str]] = {}
    for lane in lanes:
        curve, remark = _curve(layer, context, lane, points)
        curves.append(curve)
        if remark:
            remarks.setdefault(remark, []).append(lane.name)
    if context.per_density is None:
        factors = size_factors(curves, [lane.n for lane in lanes], layer.size)
    else:
        factors = [context.per_density.get(lane.key, 0.0) for lane in lanes]
    result = {
        lane.key: Curve(context.transform.back(curve.at), curve.values * factor, curve.bandwidth)
        for lane, curve, factor in zip(lanes, curves, factors, strict=True)
        if curve is not None
    }
    words = context.words
    no_curve = [
        advice(words, f"{layer.id}/density", "no-curve", lanes=names, remark=words.remark(remark))
        for remark, names in remarks.items()
    ]
    return Measurement(
        lanes=result,
        extents={key: (float(c.at[0]), float(c.at[-1])) for key, c in result.items()},
        second=SecondaryAmounts("amount", _unit(layer, context), _tops(layer, context, result)),
        remarks=[*no_curve, *_covered_curves(layer, context, result)],
        stand_ins=remarks,
    )


def _curve(layer: DensityLayer, context: FigureContext, lane: Lane, points: int) -> tuple[Density | None, Remark | None]:
    if lane.given is not None or len(lane.values) == 0:
        return None, None
    wide = layer.bandwidth
    low, high = (_limit(end, context) for end in (layer.low, layer.high))

    def make() -> tuple[Density | None, Remark | None]:
        ordered = context.bent(lane)
        bandwidth = bandwidth_of(ordered, wide.rule if wide.value is None else wide.value, wide.times)
        if bandwidth.value is None:
            return None, bandwidth.remark
        return density_curve(ordered, bandwidth.value, layer.kernel, points, layer.ends, low, high), bandwidth.remark

    key = ("density", context.transform.name, layer.kernel, wide.rule, wide.value, wide.times, layer.ends, low, high, points)
    return cache_on_lane(lane, key, make)


def _limit(end: float | None, context: FigureContext) -> float | None:
    """A limit on the axis' scale; one that the scale never reaches limits nothing."""
    at = -np.inf if end is None else float(context.transform.reached(np.array([end]))[0])
    return at if np.isfinite(at) else None


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
    curve: Curve | None = view.data
    if curve is None:
        return []
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
        paint = Paint(fill=view.band.colour, opacity=layer.fill * (_OVER_COLUMNS if columns else 1.0))
        parts.append(view.frame.path(mark, *outline, paint, closed=True))
    if layer.line:
        paint = Paint(stroke=view.band.colour, stroke_width=layer.line)
        for number, side in enumerate((edge, far) if far is not foot else (edge,)):
            parts.append(view.frame.path(view.mark(layer.id, "density", f"line{number or ''}"), along, side, paint))
    return parts


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
    limits = [f"{end:g}" for end in (layer.low, layer.high) if end is not None] or [words.say("note-density-no-limit")]
    both = words.say("note-density-both-limits", low=limits[0], high=limits[-1]) if len(limits) > 1 else limits[0]
    return [
        words.say(
            "note-density", kernel=words.say("rule", rule=layer.kernel), width=width, times=times,
            ends=words.say("note-density-ends", ends=layer.ends.replace(" ", "-"), limits=both),
            size=words.say("note-density-size", size=layer.size.replace(" ", "-")),
            compared=words.say("note-density-compared", compared=layer.compared),
        )
    ]  # fmt: skip


def _brief(layer: DensityLayer, note: NoteContext[Curve]) -> str:
    return note.words.say("brief-density", kernel=note.words.say("rule", rule=layer.kernel))


def _explain(layer: DensityLayer, note: NoteContext[Curve]) -> Iterator[Explanation]:
    yield "density", note.words.say("key-density", **{"by-n": "yes" if layer.size == "by n" else "no"})


LAYER = Layer[DensityLayer, Curve](
    settings=DensityLayer,
    draw=_draw,
    measure=_measure,
    handles=_handles,
    note=_note,
    brief=_brief,
    explain=_explain,
)
