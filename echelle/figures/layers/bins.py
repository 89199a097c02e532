"""Bins: how many values fall between edges, as columns, an outline or a line through the mid-points."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from echelle.catalogue.catalogue import Catalogue, catalogue
from echelle.catalogue.message_template import MessageTemplate
from echelle.errors import InputError, Mend
from echelle.figures.geometry.lane_bands import is_overlaid, parts_placed
from echelle.figures.lanes.figure_context import AxisEdges, FigureContext, Measurement, SecondaryAmounts, cache_on_lane
from echelle.figures.lanes.lane import Lane
from echelle.figures.lanes.transforms import LINEAR
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext
from echelle.numbers.bins import Bins, NoBins, bin_count, count_in_bins, edges_of_width, even_edges
from echelle.numbers.remarks import Remark
from echelle.numbers.remarks import remark as made
from echelle.numbers.rounding import fixed_decimals, round_step, round_up
from echelle.numbers.sample import Floats
from echelle.recipes.layers.bins import BinsLayer
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Handle, Paint, ScenePart

_OVERLAID = 0.45
# So many bins of all lanes together are drawn within two seconds.
_MOST_BINS = 50_000


@dataclass(frozen=True, eq=False)
class Columns:
    """Edges in the measure's unit (shape (k + 1,), finite) and heights (k,) above ``floor`` (what stacked columns stand on).

    ``per_density`` turns a density on the axis' scale into these heights.
    """

    edges: Floats
    heights: Floats
    floor: Floats
    bins: Bins
    per_density: float


@dataclass(frozen=True, eq=False)
class Edges:
    """Where bins are drawn (finite), and between which they count: an open first or last bin counts all beyond."""

    drawn: Floats
    counting: Floats
    remark: Remark | None = None


# From so many recording steps a bin on it matters little that one holds one more.
_EVEN_STEPS = 10


def _measure(layer: BinsLayer, context: FigureContext) -> Measurement[Columns]:
    lanes = [lane for lane in context.arrangement.lanes if lane.filled]
    if not lanes:
        return Measurement(second=SecondaryAmounts("amount", _unit(layer, context), whole=layer.height == "count"))
    common = _edges(layer, context, None) if layer.common or layer.edges is not None else None
    totals = _totals(layer, lanes)
    stacked = context.stacked and common is not None
    result: dict[str, Columns] = {}
    floors: dict[tuple[str, int], Floats] = {}
    remarks: dict[Remark, list[str]] = (
        {common.remark: [context.words.say("all-lanes")]} if common is not None and common.remark else {}
    )
    for lane in lanes:
        edges = common if common is not None else _edges(layer, context, lane)
        if edges.remark and common is None:
            remarks.setdefault(edges.remark, []).append(lane.name)
        bins = _count(layer, context, lane, edges.counting)
        heights, per_density = _heights(layer, edges.drawn, bins, lane.n, totals[_whole(layer, lane)])
        floor = floors.get((lane.panel, lane.slot), np.zeros(len(heights))) if stacked else np.zeros(len(heights))
        floors[lane.panel, lane.slot] = floor + heights
        result[lane.key] = Columns(context.transform.back(edges.drawn), heights, floor, bins, per_density)
    top = max(float(np.max(columns.heights + columns.floor)) for columns in result.values())
    return Measurement(
        lanes=result,
        extents={key: _reach(layer, c.edges) for key, c in result.items()},
        second=SecondaryAmounts(
            "amount", _unit(layer, context), dict.fromkeys(result, top),
            per_density=None if layer.cumulative else {key: c.per_density for key, c in result.items()},
            whole=layer.height == "count",
        ),
        edges=AxisEdges({key: c.edges for key, c in result.items()}, layer.names),
        remarks=_remarks(layer, context.words, remarks, result),
        stand_ins=remarks,
    )  # fmt: skip


def _reach(layer: BinsLayer, edges: Floats) -> tuple[float, float]:
    """From where to where columns reach; a polygon ends half a bin further."""
    low, high = float(edges[0]), float(edges[-1])
    if layer.drawn != "mid-points" or layer.cumulative or len(edges) < 2:
        return low, high
    return low - float(edges[1] - edges[0]) / 2, high + float(edges[-1] - edges[-2]) / 2


def _whole(layer: BinsLayer, lane: Lane) -> str:
    """What a share of the lane's rows is a share of."""
    return {"lane": lane.key, "panel": lane.panel, "all": ""}[layer.share_of]


def _totals(layer: BinsLayer, lanes: list[Lane]) -> dict[str, int]:
    totals: dict[str, int] = {}
    for lane in lanes:
        totals[_whole(layer, lane)] = totals.get(_whole(layer, lane), 0) + lane.n
    return totals


def _edges(layer: BinsLayer, context: FigureContext, lane: Lane | None) -> Edges:
    """Edges on the axis' scale, over all values or one lane's."""
    forward = context.transform.forward
    if layer.edges is not None:
        given = np.array(layer.edges)
        if context.transform.refuses(given):
            raise InputError(
                f"a {context.transform.name} axis has no place for an edge at {given[0]:g}", where="$.layers",
                remedy="Begin the edges above zero, or choose a linear axis.",
            )  # fmt: skip
        edges = forward(given)
        ends = (-np.inf if layer.open_below else edges[0], np.inf if layer.open_above else edges[-1])
        within = edges.copy()
        lifted = _lift(layer)
        within[lifted] = np.nextafter(within[lifted], np.inf)
        return Edges(edges, np.concatenate([ends[:1], within[1:-1], ends[1:]]))
    over = context.bent(lane) if lane is not None else context.arrangement.pooled.moved(forward)
    low, high, remark = float(over[0]), float(over[-1]), None
    if layer.width_of_bins is not None:
        _refuse_many(layer, context, high - low, layer.width_of_bins)
        try:
            edges = edges_of_width(low, high, layer.width_of_bins, layer.anchor)
        except NoBins as error:
            raise InputError(
                catalogue().remark(error.remark), where="$.layers", remedy="Choose another width of the bins."
            ) from None
        return Edges(edges, edges)
    count = layer.count
    if count is None:
        count, remark = bin_count(over, layer.rule)
        _refuse_many(layer, context, high - low, (high - low) / count)
        if _whole_numbers(context):
            # Centred on whole numbers, each bin holds as many of them as any other.
            edges = edges_of_width(low - 0.5, high + 0.5, max(1.0, round((high - low) / count)), low - 0.5)
            return Edges(edges, edges, remark)
        step = context.arrangement.step if context.transform is LINEAR else None
        if step is not None and (high - low) / count < _EVEN_STEPS * step:
            # Else one bin holds three recording steps and the next two, and columns rise and fall by that alone.
            steps = max(1, round((high - low) / count / step))
            edges = edges_of_width(low - step / 2, high + step / 2, steps * step, low - step / 2)
            return Edges(edges, edges, remark or made("bins-of-steps", rule=layer.rule, step=f"{step:g}", count=steps))
    edges = even_edges(low, high, count)
    return Edges(edges, edges, remark)


def _refuse_many(layer: BinsLayer, context: FigureContext, span: float, width: float) -> None:
    """Raises InputError where a figure would hold too many bins, with a width that does. No width above 0 is for others."""
    lanes = sum(lane.filled for lane in context.arrangement.lanes)
    if width <= 0 or lanes * span <= _MOST_BINS * width:
        return
    fitting = round_up(lanes * span / _MOST_BINS)
    path = ("layers", context.recipe.layers.index(layer), "width_of_bins")
    bins = f"{lanes * span / width:,.0f} in {lanes} lanes"
    raise InputError(
        f"bins {width:.3g} wide over {span:.3g} are about {bins}, more than a figure holds",
        where="$.layers", remedy=f"Choose bins {fitting:g} wide, or wider.",
        mends=(Mend(context.words.say("remedy-bins", width=f"{fitting:g}"), ((path, fitting),)),),
    )  # fmt: skip


def _whole_numbers(context: FigureContext) -> bool:
    """Whether values are counts or codes in steps of one, on an even axis."""
    return context.transform is LINEAR and context.arrangement.step == 1.0


def _lift(layer: BinsLayer) -> list[int]:
    """Inner edges whose value belongs below; where bins hold their right edge anyway there is none."""
    count = len(layer.edges or [])
    return sorted({place for place in layer.held_below if 0 < place < count - 1}) if layer.closed == "left" else []


def _count(layer: BinsLayer, context: FigureContext, lane: Lane, edges: Floats) -> Bins:
    key = ("bins", context.transform.name, layer.closed, edges.tobytes())
    return cache_on_lane(lane, key, lambda: count_in_bins(context.bent(lane), edges, layer.closed))


def _heights(layer: BinsLayer, edges: Floats, bins: Bins, n: int, total: int) -> tuple[Floats, float]:
    """Heights of the columns, and what a density of the lane is multiplied by to lie over them."""
    width = float(np.mean(np.diff(edges)))
    counts = np.cumsum(bins.counts) if layer.cumulative else bins.counts
    if layer.height == "count":
        return counts.astype(np.float64), n * width
    if layer.height == "share" or layer.cumulative:
        return counts / max(total, 1), n / max(total, 1) * width
    return counts / max(n, 1) / np.diff(edges), 1.0


def _unit(layer: BinsLayer, context: FigureContext) -> str:
    if layer.height == "count":
        return context.words.say("axis-rows")
    if layer.height == "share" or layer.cumulative:
        return context.words.say("axis-share", of=layer.share_of)
    bent = context.transform.name
    return context.per_unit() if bent == "linear" else context.words.say("axis-bent-density", scale=bent)


def _remarks(
    layer: BinsLayer, words: Catalogue, remarks: dict[Remark, list[str]], columns_by_lane: dict[str, Columns]
) -> list[Advice]:
    result = [
        advice(words, f"{layer.id}/rule", "bin-rule", lanes=", ".join(names[:4]), remark=words.remark(remark))
        for remark, names in remarks.items()
    ]
    below, above = (sum(getattr(columns.bins, side) for columns in columns_by_lane.values()) for side in ("below", "above"))
    if below or above:
        result.append(advice(words, f"{layer.id}/beyond", "beyond-bins", below=str(below), above=str(above)))
    return result


def _handles(layer: BinsLayer, place: int, view: LaneView[Columns]) -> list[Handle]:
    """The width of the bins at the first one, or each edge where edges were given; in the first lane of a panel."""
    columns: Columns | None = view.data
    lane = view.band.lane
    if columns is None or view.context.transform is not LINEAR or (lane.slot, lane.part) != (0, 0):
        return []
    low, high = view.frame.domain
    step, path = round_step(high - low), ["layers", place]
    where = {"panel": view.frame.key, "lane": lane.key, "layer": layer.id, "step": step}
    edges = columns.edges.tolist()
    if layer.edges is None:
        width = edges[1] - edges[0]
        also = [{"path": [*path, "anchor"], "value": edges[0]}, {"path": [*path, "count"], "value": None}]
        shared = {"role": "bin-width", "at": edges[1], "origin": edges[0], "value": width, "path": [*path, "width_of_bins"]}
        least = max(step, (high - low) / 400)
        ends = {"least": least, "most": high - low, "unit": 1.0, "also": also}
        words = view.context.words
        ends |= {"name": words.say("handle-bin-width"), "after": words.say("handle-bin-width-after")}
        return [Handle.model_validate({**where, **shared, **ends, "key": f"{view.frame.key}/{layer.id}/bin-width"})]
    around = [low, *edges, high]
    return [
        Handle.model_validate(
            {
                **where, "key": f"{view.frame.key}/{layer.id}/edge{i}", "role": "bin-edge", "at": edge,
                "origin": 0.0, "unit": 1.0,
                "least": min(around[i] + step, edge), "most": max(around[i + 2] - step, edge), "value": edge,
                "path": [*path, "edges", i], "name": view.context.words.say("handle-bin-edge", number=i + 1),
            }
        )
        for i, edge in enumerate(edges)
    ]  # fmt: skip


def _draw(layer: BinsLayer, view: LaneView[Columns]) -> list[ScenePart]:
    columns: Columns | None = view.data
    if columns is None:
        return []
    base, tip = view.region(layer)
    edges = view.frame.along_all(columns.edges)
    feet = view.heights(columns.floor, base, tip)
    tops = view.heights(columns.floor + columns.heights, base, tip)
    if layer.side == "both" and not view.band.half:
        feet = 2 * view.band.across(base) - tops
    if layer.drawn == "columns":
        return _as_columns(layer, view, edges, feet, tops)
    if layer.drawn == "mid-points":
        along, across = (edges[1:] + edges[:-1]) / 2, tops
        if not layer.cumulative and len(along):
            # A polygon begins and ends at zero, in the middle of the empty bins beside it.
            ends = (2 * edges[0] - along[0], 2 * edges[-1] - along[-1])
            along = np.concatenate([ends[:1], along, ends[1:]])
            across = np.concatenate([feet[:1], across, feet[-1:]])
    else:
        foot = [view.band.across(base)]
        along, across = np.repeat(edges, 2), np.concatenate([foot, np.repeat(tops, 2), foot])
    paint = Paint(stroke=view.band.colour, stroke_width=layer.line or 1.0)
    return [view.frame.path(view.mark(layer.id, "bin", "line"), along, across, paint)]


def _as_columns(layer: BinsLayer, view: LaneView[Columns], edges: Floats, feet: Floats, tops: Floats) -> list[ScenePart]:
    low, high = sorted(view.frame.range)
    paint = Paint(fill=view.band.colour, opacity=layer.fill)
    if _laid_over(view.context):
        # Where columns of several lanes lie over one another, the overlap is seen and each keeps its edge.
        paint = Paint(fill=view.band.colour, opacity=layer.fill * _OVERLAID, stroke=view.band.colour, stroke_width=0.8)
    # Between columns of any width there is one gap: that of the narrowest.
    inset = layer.gap / 2 * min(np.diff(edges), key=abs, default=0.0)
    starts, ends = np.clip(edges[:-1] + inset, low, high), np.clip(edges[1:] - inset, low, high)
    seen = np.flatnonzero((np.abs(tops - feet) >= 1e-9) & (np.abs(ends - starts) >= 1e-9))
    corners = np.column_stack([starts, ends, feet, tops])[seen].tolist()
    paints = [("", paint), ("edge", Paint(stroke=view.band.colour, stroke_width=layer.edge))][: 2 if layer.edge else 1]
    words = _column_words(layer, view, seen.tolist())
    return [
        view.frame.rect(view.mark(layer.id, "bin", f"{i}{name}"), a, b, foot, top, painted, said)
        for name, painted in paints
        for i, (a, b, foot, top), said in zip(seen.tolist(), corners, words, strict=True)
    ]


def _column_words(layer: BinsLayer, view: LaneView[Columns], places: list[int]) -> list[str]:
    """Of some columns the class, how many values it holds, and their share of the lane; "" in a miniature."""
    if view.data is None or view.letters is None:
        return [""] * len(places)
    columns = view.data
    edges = [f"{edge:.6g}".replace("-", "−") for edge in columns.edges.tolist()]
    counts, endless = columns.bins.counts.tolist(), np.isinf(columns.bins.edges).tolist()
    template = MessageTemplate(view.context.words, "column-says", ("low", "high", "percent"))
    result = []
    for place in places:
        own = f"{layer.names[place]}: " if place < len(layer.names) else ""
        ends = "below" if endless[place] else "above" if endless[place + 1] else "no"
        percent = fixed_decimals(100 * counts[place] / view.band.lane.n, 1)
        said = template.say(int(counts[place]), edges[place], edges[place + 1], percent, open=ends)
        result.append(own + view.context.written(said))
    return result


def _laid_over(context: FigureContext) -> bool:
    arrangement = context.arrangement
    if is_overlaid(context.recipe):
        return len(arrangement.slots) > 1 or len(arrangement.parts) > 1
    return len(arrangement.parts) > 1 and parts_placed(context.recipe, arrangement) == "overlaid"


def _note(layer: BinsLayer, note: NoteContext[Columns]) -> list[str]:
    words = note.words
    if not note.measured.lanes:
        return []
    closed = words.say("note-bins-closed", closed=layer.closed)
    if layer.edges is not None and (lifted := _lift(layer)):
        edges = [f"{layer.edges[place]:g}" for place in lifted]
        both = edges[0]
        for edge in edges[1:]:
            both = words.say("note-bins-and", first=both, last=edge)
        closed = words.say("note-bins-lifted", closed=closed, edges=both)
    return [
        words.say(
            "note-bins", how=_how(layer, note), closed=closed, common="yes" if layer.common else "no",
            cumulative="yes" if layer.cumulative else "no", height=layer.height, of=layer.share_of,
        )
    ]  # fmt: skip


def _how(layer: BinsLayer, note: NoteContext[Columns]) -> str:
    """Where the edges come from, and how wide bins are."""
    words = note.words
    if layer.edges is not None:
        ends = {(False, False): "none", (True, False): "below", (False, True): "above", (True, True): "both"}
        given = ends[layer.open_below, layer.open_above]
        return words.say("note-bins-given", count=str(len(layer.edges) - 1), open=given)
    if layer.width_of_bins is not None:
        return words.say("note-bins-width", width=f"{layer.width_of_bins:g}", anchor=f"{layer.anchor:g}")
    by_rule = words.say("note-bins-rule", rule=words.say("rule", rule=layer.rule))
    how = by_rule if layer.count is None else words.say("note-bins-count", count=str(layer.count))
    widths = sorted({float(f"{np.diff(columns.edges).max():.4g}") for columns in note.measured.lanes.values()})
    if not widths or note.context.transform.name != "linear":
        return how
    if layer.count is None and _whole_numbers(note.context):
        how = words.say("note-bins-whole", how=how)
    ends_words = words.ends(f"{widths[0]:g}", f"{widths[-1]:g}")
    return words.say("note-bins-wide", how=how, widths=f"{ends_words} {note.context.unit}".rstrip())


def _brief(layer: BinsLayer, note: NoteContext[Columns]) -> str:
    return note.words.say("brief-bins", height=layer.height)


def _explain(layer: BinsLayer, note: NoteContext[Columns]) -> Iterator[Explanation]:
    yield "bin", note.words.say("key-bins", height=layer.height, cumulative="yes" if layer.cumulative else "no")


LAYER = Layer[BinsLayer, Columns](
    settings=BinsLayer,
    draw=_draw,
    measure=_measure,
    handles=_handles,
    note=_note,
    brief=_brief,
    explain=_explain,
    leads=True,
)
