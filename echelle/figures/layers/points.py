"""Points: every value once; those beyond the box's fences as open marks in their own place."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from echelle.figures.geometry.frame import MarkOf
from echelle.figures.geometry.lane_regions import CENTRES
from echelle.figures.lanes.figure_context import FigureContext, Measurement, Order, SecondaryAmounts, cache_on_lane
from echelle.figures.lanes.lane import Arrangement, Extra, Lane, Rows
from echelle.figures.lanes.order import numbers_in_order, order_shares, orders
from echelle.figures.lanes.readings import ReadingRules, first_box, lane_fences
from echelle.figures.layers.base import Explanation, KeyEntry, LaneView, Layer, NoteContext, PanelView
from echelle.figures.layers.row_marks import OUTLIER_SIZE, aside_marks, explain_aside, limit_extents, outlier_marks
from echelle.numbers.bandwidth import bandwidth_of
from echelle.numbers.density import density_curve
from echelle.numbers.fences import beyond_fence
from echelle.numbers.point_spread import jitter, shaped_jitter, stack, swarm
from echelle.numbers.sample import Floats
from echelle.recipes.layers.density import DensityLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.style import Style
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Paint, PointColumns, PointsPart, ScenePart, Shape, packed_places, point_columns
from echelle.tables.table import PART_KEYS

MOST_SWARM = 4_000
# About what it takes to find the place of a point in a swarm.
_SECONDS_A_POINT = 7e-5
# Up to so many values a lane holds points as they are set; no point is drawn smaller than this, in pt.
_MANY = 200
_LEAST_SIZE = 1.2
SHAPES: tuple[Shape, ...] = ("circle", "square", "triangle", "down-triangle", "plus", "hexagon")


def _measure(layer: PointsLayer, context: FigureContext) -> Measurement[Order]:
    lanes = context.arrangement.lanes
    remarks = []
    if layer.spread == "swarm":
        many = [lane.name for lane in lanes if lane.n > MOST_SWARM]
        if many:
            named, most = ", ".join(many[:3]), f"{MOST_SWARM:,}"
            remarks.append(advice(context.words, f"{layer.id}/swarm", "large-swarm", lanes=named, most=most))
    second, order = SecondaryAmounts(), dict[str, Order]()
    if layer.spread == "in order":
        order = orders(layer.against, context)
        second = SecondaryAmounts("order", orders=order)
    return Measurement(order, limit_extents(context), second, remarks=remarks)


def _draw(layer: PointsLayer, view: LaneView[Order]) -> list[ScenePart]:
    frame, lane = view.frame, view.band.lane
    parts: list[ScenePart] = []
    visible = np.flatnonzero(frame.sees(lane.values))
    seen = view.picked(visible)
    if len(seen):
        x, y = places(layer, view)
        fences = lane_fences(view.readings)
        odd = np.zeros(len(lane.values), dtype=np.bool_)
        if fences is not None:
            odd[beyond_fence(lane.values, fences)] = True
        if len(seen) < len(visible) and view.letters is not None:
            # Thinned on screen, outliers stay: they are what a reader looks for.
            seen = np.union1d(seen, view.picked(visible[odd[visible]]))
        for number, (members, colour, shape) in enumerate(_looks(layer, view, seen)):
            if len(members):
                parts += _marks(layer, view, members, odd[members], (x, y), colour, shape, str(number or ""))
    return [*parts, *aside_marks(layer.id, view, lambda rows: _jitter(layer, view, rows))]


def look_by_n(layer: PointsLayer, context: FigureContext) -> tuple[float, float]:
    """Diameter and strength of the points: as set up to so many values in the fullest lane, beyond that smaller and paler."""
    fullest = context.arrangement.fullest
    if not layer.by_n or fullest <= _MANY:
        return layer.size, layer.strength
    share = _MANY / fullest
    return max(layer.size * share**0.3, min(layer.size, _LEAST_SIZE)), max(layer.strength * share**0.3, 0.12)


def _jitter(layer: PointsLayer, view: LaneView[Order], rows: Rows) -> Floats:
    """Where rows that stand in no number lie across: by jitter, or on the line."""
    still = layer.spread in ("line", "in order")
    offsets = np.zeros(len(rows)) if still else jitter(rows, layer.seed) * layer.width
    return np.asarray(view.band.centre(_centre(layer)) + offsets * view.band.width, dtype=np.float64)


def _centre(layer: PointsLayer) -> float:
    """Where in its lane the points' line lies: an order takes all of the lane, as its axis does."""
    return 0.0 if layer.spread == "in order" else CENTRES[layer.place]


def _looks(layer: PointsLayer, view: LaneView[Order], seen: NDArray[np.intp]) -> Iterator[tuple[NDArray[np.intp], str, Shape]]:
    """The points of each colour and shape."""
    extras = view.band.lane.extras
    own = view.style.ink if view.on_shape(layer) else view.band.colour
    colours = _codes(extras.get(layer.coloured or ""), len(view.band.lane.values))
    shapes = _codes(extras.get(layer.shaped or ""), len(view.band.lane.values))
    for colour in np.unique(colours[seen]).tolist():
        for shape in np.unique(shapes[seen]).tolist():
            members = seen[(colours[seen] == colour) & (shapes[seen] == shape)]
            paint = own if layer.coloured is None else level_colour(view.style, colour)
            yield members, paint, layer.shape if layer.shaped is None else SHAPES[shape % len(SHAPES)]


def _codes(extra: Extra | None, n: int) -> NDArray[np.int32]:
    return np.zeros(n, dtype=np.int32) if extra is None else extra.codes


def level_colour(style: Style, code: int) -> str:
    """The colour of a level; rows without one are muted."""
    return style.lane_colours[code % len(style.lane_colours)] if code >= 0 else style.muted


def key_of(layer: PointsLayer, context: FigureContext, style: Style) -> list[KeyEntry]:
    """What colours and shapes of points stand for, and what those have that have no level."""
    levels = context.arrangement.extras
    coloured = levels.get(layer.coloured or "", ())
    entries = [KeyEntry(name, level_colour(style, i), "circle") for i, name in enumerate(coloured)]
    if coloured and _some_without(layer.coloured or "", context):
        entries.append(KeyEntry(context.words.say("key-no-level", column=layer.coloured or ""), style.muted, "circle"))
    shaped_by = levels.get(layer.shaped or "", ())
    entries += [KeyEntry(name, style.muted, SHAPES[i % len(SHAPES)]) for i, name in enumerate(shaped_by)]
    if shaped_by and _some_without(layer.shaped or "", context):
        # Without a level a shape is the last one, as its code is.
        name = context.words.say("key-no-level", column=layer.shaped or "")
        entries.append(KeyEntry(name, style.muted, SHAPES[-1]))
    return entries


def _some_without(column: str, context: FigureContext) -> bool:
    """Whether any value's row has no level of a column."""
    return any((lane.extras[column].codes < 0).any() for lane in context.arrangement.lanes if column in lane.extras)


def _marks(
    layer: PointsLayer, view: LaneView[Order], members: NDArray[np.intp], odd: NDArray[np.bool_], at: tuple[Floats, Floats],
    colour: str, shape: Shape, number: str,
) -> list[ScenePart]:  # fmt: skip
    frame, lane = view.frame, view.band.lane
    edge = view.style.ground if layer.outline else None
    size, strength = look_by_n(layer, view.context)
    paint = Paint(fill=colour, opacity=strength, stroke=edge, stroke_width=layer.outline)
    if number == "" and len(members) == len(lane.values):
        columns = _swarm(layer, view, at)
    else:
        columns = point_columns(at[0][members], at[1][members], lane.rows[members])
    mark = view.mark(layer.id, "point", number).fields(frame.key)
    hidden = packed_places(np.flatnonzero(odd))
    points = PointsPart(**mark, shape=shape, size=size, paint=paint, columns=columns, hidden=hidden)
    if not odd.any():
        return [points]
    beyond_ones = members[odd]
    open_paint = Paint(fill=view.style.ground, stroke=colour, stroke_width=1.0)
    outliers = PointsPart(
        **view.mark(layer.id, "outlier", number).fields(frame.key),
        shape="diamond" if layer.shaped is None else shape,
        size=max(OUTLIER_SIZE, size * 1.3),
        paint=open_paint,
        columns=point_columns(at[0][beyond_ones], at[1][beyond_ones], lane.rows[beyond_ones]),
    )
    return [points, outliers]


def _swarm(layer: PointsLayer, view: LaneView[Order], at: tuple[Floats, Floats]) -> PointColumns:
    """All points of the lane, packed once for as long as nothing moves them."""
    lane = view.band.lane
    return cache_on_lane(lane, ("packed", _key(layer, view)), lambda: point_columns(*at, lane.rows), long=True).model_copy()


def _key(layer: PointsLayer, view: LaneView[Order]) -> object:
    band = view.band
    size = look_by_n(layer, view.context)[0] if layer.spread in ("swarm", "stack") else 0.0
    share = _curve_share(view.context, band.lane) if layer.spread == "shaped" else 1.0
    return (
        layer.spread,
        share,
        layer.against,
        layer.width,
        layer.seed,
        layer.place,
        size,
        view.frame,
        band.start,
        band.end,
        band.half,
    )


def places(layer: PointsLayer, view: LaneView[Order]) -> tuple[Floats, Floats]:
    """x and y of a lane's points (shape (n,)): along by value, across by row id and seed."""
    along, across, _ = _coordinates(layer, view)
    return view.frame.xy(along, across)


def _coordinates(layer: PointsLayer, view: LaneView[Order]) -> tuple[Floats, Floats, int]:
    """Coordinates along and across, and how many points found no free place."""

    def make() -> tuple[Floats, Floats, int]:
        frame, band = view.frame, view.band
        along = frame.along_all(band.lane.values)
        width = layer.width * (0.5 if band.half else 1.0)
        offsets, crowded = _offsets(layer, view, along, width)
        wide = -band.width if band.turned else band.width
        # An order takes the whole lane, halves or not: its axis does.
        centre = band.across(0.0) if layer.spread == "in order" else band.centre(_centre(layer))
        return along, centre + offsets * wide, crowded

    return cache_on_lane(view.band.lane, ("places", _key(layer, view)), make, long=True)


def _offsets(layer: PointsLayer, view: LaneView[Order], along: Floats, width: float) -> tuple[Floats, int]:
    """Shares of the lane, at most half the width to each side; and how many points found no free place."""
    lane = view.band.lane
    room = width * view.band.width
    if layer.spread == "swarm" and lane.n <= MOST_SWARM:
        result = swarm(along, lane.rows, look_by_n(layer, view.context)[0], room / 2)
        return result.offsets / view.band.width, result.crowded
    if layer.spread == "line":
        return np.zeros(len(along)), 0
    if layer.spread == "jitter":
        return jitter(lane.rows, layer.seed) * width, 0
    if layer.spread == "in order":
        return order_shares(numbers_in_order(lane, layer.against), _order(view), view.band.turned), 0
    if layer.spread == "stack":
        piles = stack(along, lane.rows, look_by_n(layer, view.context)[0])
        return -piles / view.band.width * min(1.0, room / (float(piles.max(initial=0.0)) or 1.0)), 0
    share = _curve_share(view.context, lane)
    return shaped_jitter(lane.rows, layer.seed, _local_density(view.context, lane)) * width * share, 0


def _order(view: LaneView[Order]) -> Order:
    assert view.data is not None, "every lane has an order where points stand in one"
    return view.data


def _curve_share(context: FigureContext, lane: Lane) -> float:
    """How high the lane's curve is beside the highest that it is compared with: points fill the curve that is drawn."""
    curve = next(iter(context.recipe.shown(DensityLayer)), None)
    if curve is None or curve.size == "equal width":
        return 1.0

    def densest(other: Lane) -> float:
        return float(_local_density(context, other).max(initial=0.0))

    def height(other: Lane) -> float:
        top = cache_on_lane(other, ("densest", context.transform.name), lambda: densest(other))
        return top * (other.n if curve.size == "by n" else 1)

    def scale(other: Lane) -> object:
        return {"figure": None, "panel": other.panel, "group": other.slot}[curve.compared]

    highest = max(height(other) for other in context.arrangement.all_lanes if scale(other) == scale(lane))
    return height(lane) / highest if highest > 0 else 1.0


def _local_density(context: FigureContext, lane: Lane) -> Floats:
    """The density at each value, by Silverman's rule; 1 where there is none."""
    ordered = context.bent(lane)
    width = bandwidth_of(ordered, "silverman").value
    if width is None:
        return np.ones(len(lane.values))
    curve = density_curve(ordered, width)
    return np.asarray(np.interp(context.transform.forward(lane.values), curve.at, curve.values), dtype=np.float64)


def _between(layer: PointsLayer, panel: PanelView[Order]) -> list[ScenePart]:
    """Thin lines that join the points of one subject from lane to lane."""
    if layer.joined is None and not layer.join_rows:
        return []
    subjects: dict[int, list[tuple[float, float]]] = {}
    for view in panel.lanes:
        lane = view.band.lane
        if not lane.n:
            continue
        x, y = places(layer, view)
        seen = view.picked(np.flatnonzero(view.frame.sees(lane.values)))
        codes = _subjects(layer, lane)[seen]
        for code, px, py in zip(codes.tolist(), x[seen].tolist(), y[seen].tolist(), strict=True):
            if code >= 0:
                subjects.setdefault(code, []).append((px, py))
    d = "".join("M" + "L".join(f"{px:.2f} {py:.2f}" for px, py in spots) for spots in subjects.values() if len(spots) > 1)
    if not d:
        return []
    style = panel.lanes[0].style
    paint = Paint(stroke=style.muted, stroke_width=0.5, opacity=0.4)
    return [panel.frame.drawn(MarkOf("", layer.id, "join"), d, paint)]


def _names(layer: PointsLayer, panel: PanelView[Order]) -> list[ScenePart]:
    """Names beside chosen points; one that would lie over another label is left out."""
    chosen = set(layer.named)
    parts: list[ScenePart] = []
    for view in panel.lanes if chosen else ():
        lane, frame, letters = view.band.lane, view.frame, view.letters
        if letters is None:
            continue
        size = letters.style.text_size * 0.9
        x, y = places(layer, view)
        for place in np.flatnonzero(np.isin(lane.rows, list(chosen)) & frame.sees(lane.values)).tolist():
            text = _name(layer, lane, place)
            wide, gap = letters.width(text, size), look_by_n(layer, view.context)[0] / 2 + 2
            left = float(x[place]) + gap
            if left + wide > frame.left + frame.width:
                left = float(x[place]) - gap - wide
            base = float(y[place]) + size * 0.33
            if panel.taken.claim((left, base - size, left + wide, base + size * 0.3)):
                mark = view.mark(layer.id, "point-name", str(place))
                parts.append(letters.put(mark, frame.key, text, left, base, size, letters.style.ink))
    return parts


def _name(layer: PointsLayer, lane: Lane, place: int) -> str:
    """What a point is called: by the identifier column, else its row."""
    extra = lane.extras.get(layer.names or "")
    known = extra is not None and extra.codes[place] >= 0
    return extra.levels[extra.codes[place]] if extra is not None and known else str(lane.rows[place])


def _crowded_advice(layer: PointsLayer, views: Sequence[LaneView[Order]]) -> list[Advice]:
    """How many points of a swarm found no place of their own."""
    counts = {view.band.lane.name: _coordinates(layer, view)[2] for view in views}
    total = sum(counts.values())
    if not total:
        return []
    names = ", ".join(f"{name} {count}" for name, count in counts.items() if count)
    return [advice(views[0].context.words, f"{layer.id}/crowded", "crowded-swarm", points=str(total), lanes=names)]


def _note(layer: PointsLayer, note: NoteContext[Order]) -> list[str]:
    words = note.words
    if not note.context.arrangement.used:
        return []
    joined = (layer.joined or words.say("pair-row")) if _joins(layer, note.context.arrangement) else None
    more = {
        name: words.say(f"note-points-{name}", column=column) if column else ""
        for name, column in (("joined", joined), ("coloured", layer.coloured), ("shaped", layer.shaped))
    }
    return [
        words.say(
            "note-points", values=_values(note),
            spread=layer.spread.replace(" ", "-"), seed=str(layer.seed), crowded=_not_placed(layer, note),
            order=layer.against or words.say("note-points-rows"), outliers=_outlier_note(note), **more,
        )
    ]  # fmt: skip


def _values(note: NoteContext[Order]) -> str:
    return note.words.say("points-values", whole="yes" if note.context.arrangement.account.parts is None else "no")


def _joins(layer: PointsLayer, arrangement: Arrangement) -> bool:
    """Whether any level of the column that joins points has two of them in a panel."""
    if layer.joined is None and not layer.join_rows:
        return False
    for panel in arrangement.panels:
        codes = [_subjects(layer, lane) for lane in arrangement.of_panel(panel.key) if lane.n]
        every = np.concatenate(codes) if codes else np.empty(0, dtype=np.int64)
        known = every[every >= 0]
        if len(np.unique(known)) < len(known):
            return True
    return False


def _subjects(layer: PointsLayer, lane: Lane) -> NDArray[np.integer[Any]]:
    """By what points are joined: the codes of a column, or the rows of the file."""
    return lane.extras[layer.joined].codes if layer.joined is not None else lane.rows % PART_KEYS


def _not_placed(layer: PointsLayer, note: NoteContext[Order]) -> str:
    """Which lanes hold too many points for a swarm."""
    many = [lane.name for lane in note.context.arrangement.lanes if lane.n > MOST_SWARM]
    return note.words.say("note-points-crowded", seed=str(layer.seed), lanes=note.words.names(many)) if many else ""


def _outlier_note(note: NoteContext[Order]) -> str:
    """What open marks are, where no box has said it and some are drawn."""
    context, usual = note.context, ReadingRules()
    if first_box(context.recipe) is not None or not any(readings.beyond for readings in context.readings.values()):
        return ""
    marks = outlier_marks(context.recipe, note.words)
    return note.words.say("note-points-outliers", marks=marks, k=f"{usual.k:g}", type=usual.quantile_type)


def _brief(layer: PointsLayer, note: NoteContext[Order]) -> str:
    return note.words.say("brief-points", values=_values(note))


def _explain(layer: PointsLayer, note: NoteContext[Order]) -> Iterator[Explanation]:
    order = layer.against or note.words.say("note-points-rows")
    yield "point", note.words.say("key-point", spread=layer.spread.replace(" ", "-"), order=order)
    yield "outlier", note.words.say("key-point-outlier", shaped="no" if layer.shaped is None else "yes")
    yield from explain_aside(note.words)


def _seconds(layer: PointsLayer, context: FigureContext) -> float:
    if layer.spread != "swarm":
        return 0.0
    return _SECONDS_A_POINT * sum(lane.n for lane in context.arrangement.lanes if lane.n <= MOST_SWARM)


LAYER = Layer[PointsLayer, Order](
    settings=PointsLayer,
    draw=_draw,
    measure=_measure,
    draw_between=_between,
    draw_over=_names,
    remarks=_crowded_advice,
    note=_note,
    brief=_brief,
    explain=_explain,
    key=key_of,
    seconds=_seconds,
)
