"""Recipe and lanes to a scene."""

from __future__ import annotations

from echelle.figures.arrange import Arrangement
from echelle.figures.frame import Band, Frame, MarkOf
from echelle.figures.layers.base import LaneView
from echelle.figures.layers.registry import KINDS
from echelle.figures.layout import GAP, MARGIN, Layout, bare, lay_out
from echelle.figures.lettering import LEADING, Lettering
from echelle.figures.readings import read_lane, rules_of
from echelle.figures.scene import Counts, GroupPart, Handle, LaneReadings, Paint, Scene, SceneLane, ScenePart, rounded
from echelle.figures.typesetting import Typesetter
from echelle.figures.words import advice_on, description, method_note, points_are_shown, title_of
from echelle.numbers.rounding import decimals_of
from echelle.recipes.models import Recipe
from echelle.recipes.seal import style_of

MOST_LISTED = 200
MINIATURE = (96.0, 64.0)


def compose(recipe: Recipe, arrangement: Arrangement, typesetter: Typesetter, miniature: bool = False) -> Scene:
    """The scene of a recipe over its lanes. A miniature carries marks alone: no text, handles or readings."""
    letters = Lettering(typesetter, style_of(recipe))
    readings = [read_lane(lane, rules_of(recipe), MOST_LISTED) for lane in arrangement.lanes]
    laid = bare(recipe, arrangement, letters, *MINIATURE) if miniature else lay_out(recipe, arrangement, letters)
    marks, handles = _layers(recipe, laid, readings, letters)
    around = [] if miniature else _around(laid, letters)
    decimals = decimals_of(arrangement.pooled)
    shortened = sum(name.name.cut for name in laid.names)
    advice = advice_on(recipe, arrangement, readings, laid.frame.domain, laid.turned, "".join(letters.unwritable), shortened)
    return Scene(
        width=rounded(laid.width), height=rounded(laid.height), ground=letters.style.ground,
        title=title_of(recipe, arrangement), description=description(arrangement, readings, decimals),
        parts=[*(_rulings(laid, letters)), *marks, *around],
        panels=[laid.frame.panel()], lanes=[_scene_lane(laid.frame, band) for band in laid.bands],
        handles=[] if miniature else handles, readings=[] if miniature else readings, decimals=decimals,
        counts=_counts(arrangement), note=method_note(recipe, arrangement), advice=advice, faces=sorted(letters.faces),
    )  # fmt: skip


def _layers(
    recipe: Recipe, laid: Layout, readings: list[LaneReadings], letters: Lettering
) -> tuple[list[ScenePart], list[Handle]]:
    """One group a layer, in it one group a lane; in the order of the recipe's list."""
    parts: list[ScenePart] = []
    handles: list[Handle] = []
    points_shown = points_are_shown(recipe)
    for place, layer in enumerate(recipe.layers):
        if not layer.shown:
            continue
        kind = KINDS[type(layer)]
        lanes: list[ScenePart] = []
        for band, numbers in zip(laid.bands, readings, strict=True):
            view = LaneView(laid.frame, band, numbers, letters.style, points_shown)
            drawn = kind.draw(layer, view)
            handles += kind.handles(layer, place, view)
            if drawn:
                key = f"{laid.frame.key}/{band.lane.key}/{layer.id}"
                lanes.append(
                    GroupPart(
                        key=key, panel=laid.frame.key, lane=band.lane.key, layer=layer.id, role=drawn[0].role, parts=drawn
                    )
                )
        if lanes:
            parts.append(
                GroupPart(
                    key=f"{laid.frame.key}/{layer.id}", panel=laid.frame.key, layer=layer.id, role=lanes[0].role, parts=lanes
                )
            )
    return parts, handles


def _rulings(laid: Layout, letters: Lettering) -> list[ScenePart]:
    frame, paint = laid.frame, Paint(stroke=letters.style.hairline, stroke_width=0.6)
    c0, c1 = (frame.top, frame.top + frame.height) if frame.runs == "across" else (frame.left, frame.left + frame.width)
    return [
        frame.line(MarkOf("", "", "ruling", str(i)), frame.along(value), c0, frame.along(value), c1, paint)
        for i, value in enumerate(laid.ticks.values)
    ]


def _around(laid: Layout, letters: Lettering) -> list[ScenePart]:
    """Title, axis and names."""
    style, size, frame = letters.style, letters.style.text_size, laid.frame
    parts: list[ScenePart] = []
    top = MARGIN
    if laid.title:
        parts += letters.put_block(MarkOf("", "", "title"), "", laid.title, MARGIN, top, style.ink)
        top += laid.title.height + GAP
    if laid.groups_title:
        parts += letters.put_block(MarkOf("", "", "axis-title", "groups"), "", laid.groups_title, MARGIN, top, style.muted)
    if laid.source:
        parts += letters.put_block(
            MarkOf("", "", "source"), "", laid.source, MARGIN, laid.height - MARGIN - laid.source.height, style.muted
        )
    return [*parts, *_axis(frame, laid, letters, size), *_names(laid, letters)]


def _axis(frame: Frame, laid: Layout, letters: Lettering, size: float) -> list[ScenePart]:
    style = letters.style
    across = frame.runs == "across"
    edge = frame.top + frame.height if across else frame.left
    parts: list[ScenePart] = []
    pooled = [band.lane.ordered for band in laid.bands if len(band.lane.values)]
    if pooled:
        low, high = frame.held(min(v[0] for v in pooled)), frame.held(max(v[-1] for v in pooled))
        line = Paint(stroke=style.muted, stroke_width=1.0)
        parts.append(frame.line(MarkOf("", "", "axis-line"), low, edge, high, edge, line))
    for i, (value, label) in enumerate(zip(laid.ticks.values, laid.ticks.labels, strict=True)):
        mark, place = MarkOf("", "", "axis-label", str(i)), frame.along(value)
        x, y, anchor = (place, edge + 4 + size * 0.9, 0.5) if across else (edge - 5, place + size * 0.33, 1.0)
        parts.append(letters.put(mark, frame.key, label, x, y, size, style.muted, anchor=anchor))
    mark = MarkOf("", "", "axis-title")
    if across:
        under = edge + 4 + size * LEADING + 2
        centre = frame.left + frame.width / 2
        parts += letters.put_block(mark, frame.key, laid.axis_title, centre, under, style.ink, 0.5)
    else:
        for i, words in enumerate(laid.axis_title.lines):
            x = MARGIN + size * (0.96 + LEADING * i)
            middle = frame.top + frame.height / 2
            numbered = MarkOf("", "", "axis-title", str(i or ""))
            parts.append(
                letters.put(numbered, frame.key, words, x, middle, laid.axis_title.size, style.ink, anchor=0.5, turned=True)
            )
    return parts


def _names(laid: Layout, letters: Lettering) -> list[ScenePart]:
    style, frame = letters.style, laid.frame
    parts: list[ScenePart] = []
    for band, name in zip(laid.bands, laid.names, strict=True):
        height = name.name.height + (name.count.height if name.count else 0.0)
        if frame.runs == "across":
            x, top, anchor = frame.left - GAP - 2, band.across(0.0) - height / 2, 1.0
        else:
            x, top, anchor = band.across(0.0), frame.top + frame.height + 5, 0.5
        key = band.lane.key
        parts += letters.put_block(MarkOf(key, "", "lane-label"), frame.key, name.name, x, top, style.ink, anchor)
        if name.count:
            under = top + name.name.height
            parts += letters.put_block(MarkOf(key, "", "lane-count"), frame.key, name.count, x, under, style.muted, anchor)
    return parts


def _scene_lane(frame: Frame, band: Band) -> SceneLane:
    lane = band.lane
    return SceneLane(
        key=lane.key, panel=frame.key, group=lane.group, name=lane.name, colour=band.colour,
        start=rounded(band.start), end=rounded(band.end),
    )  # fmt: skip


def _counts(arrangement: Arrangement) -> Counts:
    return Counts(
        rows=arrangement.rows, kept=arrangement.kept, used=arrangement.used, people=arrangement.people,
        missing=sum(arrangement.missing_by.values()), missing_by=arrangement.missing_by, censored=arrangement.censored,
        left_out=arrangement.left_out, ungrouped=arrangement.ungrouped, not_finite=arrangement.not_finite,
    )  # fmt: skip
