"""The reader's key: one lane of the figure, with its marks numbered and said."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np

from echelle.catalogue.catalogue import catalogue
from echelle.figures.geometry.frame import MarkOf
from echelle.figures.geometry.label_places import LabelPlaces
from echelle.figures.geometry.lane_bands import colouring
from echelle.figures.geometry.lettering import Block, Lettering
from echelle.figures.geometry.secondary_axis import MeasuredLayers
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.lanes.lane import Arrangement, Lane, PanelOf
from echelle.figures.lanes.readings import read_lane, rules_of
from echelle.figures.layers.base import NoteContext
from echelle.figures.layers.measure import measure_figure
from echelle.figures.layers.registry import layer_of
from echelle.figures.layout.layout_model import GAP, MARGIN
from echelle.recipes.guides import Guide
from echelle.recipes.layers.base import AnyLayer
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import MethodNote, ReaderKey, Size, Style, Words
from echelle.scene.models import (
    LinePart,
    Paint,
    PathPart,
    PointsPart,
    RectPart,
    Role,
    Scene,
    ScenePart,
    TextPart,
    leaves,
    point_columns,
    round_coordinate,
    unpack,
)  # fmt: skip
from echelle.scene.translate import translate

BESIDE = 190.0
_LANE_HEIGHT = 118.0
_BADGE = 10.0
# Where a number looks for room about its mark: over it, under it, aside, then further out.
_TURNS = (0.0, 1.0, 0.25, -0.25, 0.75, -0.75, 0.5, -0.5)
_NEAR = [(r * math.sin(math.pi * turn), -r * math.cos(math.pi * turn)) for r in (11, 16, 22, 32, 46, 64) for turn in _TURNS]
Drawer = Callable[[Recipe, Arrangement], Scene]


@dataclass(frozen=True)
class _Entry:
    """A number (None for what no single lane shows), the place of its mark, and what it is."""

    number: int | None
    at: tuple[float, float] | None
    words: Block


def with_key(scene: Scene, recipe: Recipe, arrangement: Arrangement, letters: Lettering, drawer: Drawer) -> Scene:
    """The figure with its reader's key where the recipe places one: the sheet grows for it."""
    placed = recipe.words.key.placed
    lane = _lane(recipe, arrangement)
    if placed == "none" or lane is None:
        return scene
    beside = placed == "beside"
    key = key_of(recipe, arrangement, lane, letters, drawer, BESIDE if beside else scene.width)
    dx, dy = (scene.width, 0.0) if beside else (0.0, scene.height)
    width = scene.width + (key.width if beside else 0.0)
    height = max(scene.height, key.height) if beside else scene.height + key.height
    parts = [*scene.parts, *translate(key.parts, dx, dy, "key")]
    faces = sorted({*scene.faces, *key.faces})
    return scene.model_copy(
        update={"parts": parts, "width": round_coordinate(width), "height": round_coordinate(height), "faces": faces}
    )


def key_page(
    recipe: Recipe, arrangement: Arrangement, letters: Lettering, drawer: Drawer, width: float, title: str = ""
) -> Scene | None:
    """The key as a page of its own; None where no lane has values."""
    lane = _lane(recipe, arrangement)
    return None if lane is None else key_of(recipe, arrangement, lane, letters, drawer, width, title)


def _lane(recipe: Recipe, arrangement: Arrangement) -> Lane | None:
    """The lane that was chosen, else the one with most values."""
    known = [lane for lane in arrangement.lanes if lane.n]
    chosen = next((lane for lane in known if recipe.words.key.lane in (lane.group, lane.name)), None)
    rules = rules_of(recipe)
    # One that shows what most need to be told: values beyond the fences, limits, rows left out.
    marks = {lane.key: (read_lane(lane, rules, 0).beyond > 0, lane.censored > 0, lane.left_out > 0) for lane in known}
    return chosen or max(known, key=lambda lane: (sum(marks[lane.key]), lane.n), default=None)


def key_of(
    recipe: Recipe, arrangement: Arrangement, lane: Lane, letters: Lettering, drawer: Drawer, width: float, heading: str = ""
) -> Scene:
    """A lane alone, numbered, over what its numbers mean."""
    heading = heading or catalogue(recipe.words.note.english).say("key-title", figures="one", letter="")
    item = drawer(_alone(recipe, width), _only(recipe, arrangement, lane, letters.style))
    size = letters.style.text_size
    title = letters.block(heading, width - 2 * MARGIN, size * 1.1, 700)
    down = MARGIN + title.height + 2
    parts = [*letters.put_block(MarkOf("", "reader", "title"), "", title, MARGIN, MARGIN, letters.style.ink)]
    parts += translate(item.parts, 0.0, down, "lane")  # type: ignore[arg-type]
    alone = measure_figure(_alone(recipe, width), _only(recipe, arrangement, lane, letters.style), 0)
    # What goes from lane to lane is not on the key's lane, and said of the whole figure.
    shown = {layer.id: note_of for layer, note_of in _notes(measure_figure(recipe, arrangement, 0))}
    shown |= {layer.id: note_of for layer, note_of in _notes(alone)}
    entries = _entries(recipe, shown, item, letters, width, down)
    taken = LabelPlaces(part.box for part in leaves(parts) if isinstance(part, TextPart))
    for entry in entries:
        if entry.number is not None and entry.at is not None:
            parts += _badge_near(entry.number, entry.at, taken, letters, (width, down + item.height))  # type: ignore[arg-type]
    top = down + item.height + GAP
    for entry in entries:
        middle = top + size * 0.62
        if entry.number is not None:
            parts += _badge(entry.number, (MARGIN + _BADGE / 2, middle), letters, "list")  # type: ignore[arg-type]
        mark = MarkOf("", "reader", "key-words", str(len(parts)))
        parts += letters.put_block(mark, "", entry.words, MARGIN + _BADGE + 5, top, letters.style.ink)
        top += entry.words.height + 3
    update = {
        "parts": parts,
        "width": round_coordinate(width),
        "height": round_coordinate(top + MARGIN),
        "faces": sorted(letters.faces),
    }
    return item.model_copy(update={**update, "title": heading, "handles": [], "readings": [], "panels": [], "lanes": []})


def _alone(recipe: Recipe, width: float) -> Recipe:
    """The recipe of the key's lane: the same layers and axis, without guides and any words but the axis label."""
    height = f"{_LANE_HEIGHT:g}pt"
    groups = recipe.groups and recipe.groups.model_copy(update={"placed": "evenly"})
    note = MethodNote(english=recipe.words.note.english)
    words = Words(measure=recipe.words.measure, counts=recipe.words.counts, note=note, key=ReaderKey())
    update = {
        "words": words, "guides": list[Guide](), "groups": groups, "subgroups": None,
        "axis": recipe.axis.model_copy(update={"runs": "across", "start": None, "end": None}),
        "size": Size(width=f"{width:g}pt", height=height),
        "layers": [layer for layer in recipe.layers if not layer.joins_lanes],
        "second_axis": recipe.second_axis.model_copy(update={"shown": False, "start": None, "end": None}),
    }  # fmt: skip
    return recipe.model_copy(update=update)


def _only(recipe: Recipe, arrangement: Arrangement, lane: Lane, style: Style) -> Arrangement:
    # The lane's own name: that of its subgroup too.
    slot = tuple(replace(level, name=lane.name, signed="") for level in arrangement.slots[lane.slot : lane.slot + 1])
    alone = replace(lane, slot=0, part=0, panel="p1", tint=colouring(recipe, arrangement, style)(lane))
    return replace(
        arrangement, lanes=(alone,), slots=slot, parts=(), subgroups=None, panels=(PanelOf("p1", "", 0, 0),), panelled=(),
    )  # fmt: skip


def _notes(result: tuple[FigureContext, MeasuredLayers]) -> Iterator[tuple[AnyLayer, NoteContext[object]]]:
    """What each layer's words are made from."""
    context, measured = result
    for layer, measurement in measured:
        yield layer, NoteContext(context, measurement, context.words)


def _entries(
    recipe: Recipe, shown: Mapping[str, NoteContext[object]], scene: Scene, letters: Lettering, width: float, down: float
) -> list[_Entry]:
    entries: list[_Entry] = []
    number = 0
    room = width - 2 * MARGIN - _BADGE - 5
    for layer in recipe.shown_layers:
        for role, text in layer_of(layer).explain(layer, shown[layer.id]):
            block = letters.block(text, room, letters.style.text_size * 0.92, 400, 6)
            spot = _spot(scene, layer.id, role) if role is not None else None
            if role is not None and spot is None:
                continue
            number += spot is not None
            at = None if spot is None else (spot[0], spot[1] + down)
            entries.append(_Entry(number if spot else None, at, block))
    return entries


def _spot(scene: Scene, layer: str, role: Role) -> tuple[float, float] | None:
    """A place on the first mark of a layer's role; of several lines, on the longest."""
    marks = [part for part in scene.walk() if part.layer == layer and part.role == role]
    if role == "whisker":
        marks.sort(key=lambda part: -abs(part.x2 - part.x1) if isinstance(part, LinePart) else 0.0)
    for part in marks:
        spots = list(_places(part))
        if spots:
            return spots[len(spots) // 2]
    return None


def _places(part: ScenePart) -> Iterator[tuple[float, float]]:
    if isinstance(part, RectPart):
        yield part.x + part.width * 0.25, part.y + 1
    elif isinstance(part, LinePart):
        yield (part.x1 + part.x2) / 2, (part.y1 + part.y2) / 2
    elif isinstance(part, PathPart):
        words = part.d.replace("M", " ").replace("L", " ").replace("C", " ").replace("Z", " ").split()
        spots = list(zip(map(float, words[::2]), map(float, words[1::2]), strict=False))
        if spots:
            yield min(spots, key=lambda spot: spot[1])
    elif isinstance(part, PointsPart) and part.columns.count:
        x, y = unpack(part.columns.x, "<f4"), unpack(part.columns.y, "<f4")
        shown = np.setdiff1d(np.arange(part.columns.count), unpack(part.hidden, "<i4").astype(np.int64))
        if len(shown):
            last = int(shown[np.argmax(x[shown])])
            yield float(x[last]), float(y[last])
    elif isinstance(part, TextPart):
        yield part.x, part.y


def _badge_near(
    number: int, at: tuple[float, float], taken: LabelPlaces, letters: Lettering, sheet: tuple[float, float]
) -> list[ScenePart]:
    """The number beside its mark, where none stands yet, with a line that leads to it."""
    half = _BADGE / 2
    spots = [(min(max(at[0] + dx, half), sheet[0] - half), max(at[1] + dy, half)) for dx, dy in _NEAR]
    free = (spot for spot in spots if taken.claim((spot[0] - half, spot[1] - half, spot[0] + half, spot[1] + half)))
    x, y = next(free, spots[0])
    fields = MarkOf("", "reader", "key-number", f"lead{number}").fields("")
    paint = Paint(stroke=letters.style.ink, stroke_width=0.6)
    lead = LinePart(
        **fields,
        x1=round_coordinate(at[0]),
        y1=round_coordinate(at[1]),
        x2=round_coordinate(x),
        y2=round_coordinate(y),
        paint=paint,
    )
    return [lead, *_badge(number, (x, y), letters, "mark")]


def _badge(number: int, at: tuple[float, float], letters: Lettering, where: str) -> list[ScenePart]:
    columns = point_columns(np.array([at[0]]), np.array([at[1]]), np.zeros(1, dtype=np.int64))
    mark = MarkOf("", "reader", "key-number", f"{where}{number}")
    disc = PointsPart(**mark.fields(""), shape="circle", size=_BADGE, paint=Paint(fill=letters.style.ink), columns=columns)
    size = 6.5
    words = MarkOf("", "reader", "key-number", f"{where}{number}n")
    text = letters.put(words, "", str(number), at[0], at[1] + size * 0.36, size, letters.style.ground, 700, anchor=0.5)
    return [disc, text]
