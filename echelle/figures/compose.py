"""Recipe and lanes to a scene."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, replace

from echelle.errors import InputError
from echelle.figures.advice.checks import advice_on, advice_on_layout
from echelle.figures.advice.peaks import peak_advice
from echelle.figures.advice.question import Question
from echelle.figures.decoration.guides import guide_bands, guide_lines, guides_out_of_view, guides_unnamed
from echelle.figures.decoration.handles import handles_around
from echelle.figures.decoration.line_weights import weighted
from echelle.figures.decoration.titles_axes_names import around, rulings, second_parts
from echelle.figures.geometry.count_axis import on_its_axis
from echelle.figures.geometry.frame import Band
from echelle.figures.geometry.lettering import Box, Lettering
from echelle.figures.geometry.secondary_axis import MeasuredLayers, Second, second_axes
from echelle.figures.lanes.figure_context import Measured, Study
from echelle.figures.lanes.guide_values import placed_guides, with_inside
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.lanes.lane_pairs import lanes_shown
from echelle.figures.lanes.readings import read_lane, rules_of
from echelle.figures.lanes.transforms import TRANSFORMS
from echelle.figures.layers.base import LaneView, LayerKind, PanelView
from echelle.figures.layers.registry import kind_of
from echelle.figures.layout.layout import bare, lay_out
from echelle.figures.layout.layout_model import Layout, PanelPlace
from echelle.figures.reader_key import TITLE, Drawer, key_page, with_key
from echelle.figures.words.description import description, title_of
from echelle.figures.words.method_note import method_note, note_clauses, points_are_shown
from echelle.figures.words.placeholders import OF_ALL, OF_LANES, filled
from echelle.numbers.rounding import decimals_of
from echelle.recipes.forms import form_of
from echelle.recipes.layers import BinsLayer, Layer
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import style_of
from echelle.recipes.style import points
from echelle.scene.models import Advice, Counts, GroupPart, Handle, Scene, SceneLane, ScenePart, rounded
from echelle.scene.typesetting import Typesetter
from echelle.tables.table import Table

MOST_LISTED = 200
MINIATURE = (96.0, 64.0)
_MOST_SMALL_POINTS = 600
Taken = dict[str, list[Box]]
Marks = tuple[list[ScenePart], list[Handle], list[Advice]]


@dataclass(frozen=True)
class _Drawing:
    """What drawing the layers of a figure needs."""

    study: Study
    measured: MeasuredLayers
    seconds: dict[str, Second]
    laid: Layout
    letters: Lettering
    miniature: bool
    most_points: int | None


def compose(
    recipe: Recipe, arrangement: Arrangement, typesetter: Typesetter, miniature: bool = False, most_points: int | None = None
) -> Scene:
    """The scene of a recipe over its lanes. A miniature carries marks alone: no text, handles or readings. With
    ``most_points`` a layer draws about so many at most, evenly picked, and says so; numbers are always of all.

    Raises InputError where the axis has no place for some values, or the sheet none for the figure.
    """
    return _with_key(recipe, lanes_shown(recipe, arrangement), typesetter, miniature, most_points)


def _with_key(
    recipe: Recipe, arrangement: Arrangement, typesetter: Typesetter, miniature: bool, most_points: int | None
) -> Scene:
    scene = _composed(recipe, arrangement, typesetter, miniature, most_points)
    if miniature or recipe.words.key.placed == "none":
        return scene
    return with_key(scene, recipe, arrangement, Lettering(typesetter, style_of(recipe)), _drawer(typesetter))


def reader_key(recipe: Recipe, arrangement: Arrangement, typesetter: Typesetter, title: str = TITLE) -> Scene | None:
    """The reader's key as a page of its own, as wide as the figure; None where no lane has values."""
    letters, width = Lettering(typesetter, style_of(recipe)), points(recipe.size.width)
    return key_page(recipe, lanes_shown(recipe, arrangement), letters, _drawer(typesetter), width, title)


def clauses_of(recipe: Recipe, arrangement: Arrangement) -> list[str]:
    """The sentences of a figure's method note."""
    return note_clauses(*_studied(recipe, lanes_shown(recipe, arrangement), MOST_LISTED))


def _studied(recipe: Recipe, arrangement: Arrangement, most_outliers: int) -> tuple[Study, MeasuredLayers]:
    """Readings, guides and what each layer computes."""
    rules = rules_of(recipe)
    guides = placed_guides(recipe, arrangement)
    drawn = on_its_axis(recipe)
    readings = {lane.key: read_lane(lane, rules, most_outliers) for lane in arrangement.lanes}
    return _measured(Study(drawn, arrangement, with_inside(guides, arrangement, readings), guides if drawn.guides else ()))


def _drawer(typesetter: Typesetter) -> Drawer:
    return lambda recipe, arrangement: _composed(recipe, arrangement, typesetter, False, None)


def _composed(
    recipe: Recipe, arrangement: Arrangement, typesetter: Typesetter, miniature: bool, most_points: int | None
) -> Scene:
    _has_place(on_its_axis(recipe), arrangement)
    letters = Lettering(typesetter, style_of(recipe))
    study, measured = _studied(recipe, arrangement, 0 if miniature else MOST_LISTED)
    recipe, readings = study.recipe, study.readings
    words, unfilled = filled(recipe, arrangement, list(readings.values()))
    recipe = recipe.model_copy(update={"words": words})
    study = replace(study, recipe=recipe)
    seconds = second_axes(study, measured)
    laid = bare(study, measured, letters, *MINIATURE) if miniature else lay_out(study, measured, seconds, letters)
    drawing = _Drawing(study, measured, seconds, laid, letters, miniature, _MOST_SMALL_POINTS if miniature else most_points)
    taken: Taken = {place.panel.key: [] for place in laid.panels}
    lines = [] if miniature else guide_lines(laid, study, letters, taken)
    marks, handles, remarks = _layers(drawing, taken)
    over = [] if miniature else [*lines, *around(laid, letters), *_second(drawing)]
    under = rulings(laid, letters) if letters.style.rulings else []
    decimals = decimals_of(arrangement.sample)
    listed = list(readings.values())
    domains = {place.panel.key: place.frame.domain for place in laid.panels}
    asked = Question(recipe, arrangement, readings, measured, domains)
    advice = [] if miniature else [*_unfilled(unfilled, arrangement), *_advice(drawing, asked, remarks)]
    return Scene(
        form=form_of(recipe), width=rounded(laid.width), height=rounded(laid.height), ground=letters.style.ground,
        title=title_of(recipe, arrangement), description=description(arrangement, listed, decimals),
        parts=[*under, *guide_bands(laid, study, letters), *weighted(marks, letters.style), *over],
        panels=[place.frame.panel(place.panel.name, place.panel.level) for place in laid.panels],
        lanes=[_scene_lane(place, band) for place in laid.panels for band in place.bands],
        handles=[] if miniature else [*handles, *handles_around(laid, study)],
        readings=[] if miniature else listed, decimals=decimals,
        counts=_counts(arrangement), note=method_note(study, measured), advice=advice, faces=sorted(letters.faces),
    )  # fmt: skip


def deep_advice(recipe: Recipe, arrangement: Arrangement, table: Callable[[], Table]) -> list[Advice]:
    """Advice that takes too long for a preview: on peaks, and on what tells them apart in the lanes' table, which is asked for
    only where a lane has several.
    """
    arrangement = lanes_shown(recipe, arrangement)
    study, measured = _studied(recipe, arrangement, 0)
    return peak_advice(Question(recipe, arrangement, study.readings, measured, {}), table)


def _advice(drawing: _Drawing, asked: Question, remarks: list[Advice]) -> list[Advice]:
    """What the data, the layers, their places and the layout have to say."""
    laid, measured = drawing.laid, [one for _, found in drawing.measured for one in found.remarks]
    layout = advice_on_layout(laid.turned, "".join(drawing.letters.unwritable), laid.shortened)
    guides = [*guides_out_of_view(laid, drawing.study), *guides_unnamed(laid, drawing.study)]
    return [*_thinned(drawing), *advice_on(asked), *measured, *remarks, *layout, *guides]


def _unfilled(places: list[str], arrangement: Arrangement) -> list[Advice]:
    if not places:
        return []
    lane = next((lane.name for lane in arrangement.lanes), "Night")
    panel = arrangement.panels[0].name
    name = f"{panel} · {lane}" if len(arrangement.panels) > 1 else lane
    why = f"Of all rows: {', '.join(OF_ALL)}. Of one lane, by its name: {', '.join(OF_LANES)}, such as {{median:{name}}}."
    return [Advice(key="words/places", text=f"Nothing fills {', '.join(places)}.", why=why)]


def _has_place(recipe: Recipe, arrangement: Arrangement) -> None:
    """Refuse values that the axis' scale cannot show, by name and count."""
    transform = TRANSFORMS[recipe.axis.scale]
    refused: Counter[str] = Counter()
    for lane in arrangement.lanes:
        refused[lane.name] += transform.refuses(lane.ordered)
    if total := refused.total():
        what = "zero or below" if not transform.least_in else "below zero"
        names = ", ".join(f"{name} ({count})" for name, count in refused.items() if count)
        raise InputError(
            f"a {transform.name} axis has no place for {total} values that are {what}: {names}", where="$.axis.scale",
            remedy="Choose a linear axis, or keep only values above zero.",
        )  # fmt: skip


def _measured(study: Study) -> tuple[Study, MeasuredLayers]:
    """What each shown layer computes; bins come first, since curves are scaled to them."""
    shown = [layer for layer in study.recipe.layers if layer.shown]
    bins = next((layer for layer in shown if isinstance(layer, BinsLayer)), None)
    found: dict[str, Measured] = {}
    if bins is not None:
        found[bins.id] = kind_of(bins).measure(bins, study)
        study = replace(study, bins=None if bins.cumulative else found[bins.id])
    for layer in shown:
        if layer.id not in found:
            found[layer.id] = kind_of(layer).measure(layer, study)
    return study, [(layer, found[layer.id]) for layer in shown]


def _views(drawing: _Drawing, place: PanelPlace, found: Measured) -> list[LaneView]:
    points_shown = points_are_shown(drawing.study.recipe)
    return [
        LaneView(
            place.frame, band, drawing.study.readings[band.lane.key], drawing.letters.style, drawing.study, points_shown,
            found.lanes.get(band.lane.key), *_ends(drawing, band.lane.key, found),
            _most_of_lane(drawing, place), None if drawing.miniature else drawing.letters,
        )
        for band in place.bands
    ]  # fmt: skip


def _most_of_lane(drawing: _Drawing, place: PanelPlace) -> int | None:
    """How many points a lane may draw: its part of a small picture, or of a screen that cannot hold all of them."""
    most = drawing.most_points
    if most is None:
        return None
    lanes = len(place.bands) if drawing.miniature else len(drawing.study.arrangement.lanes)
    few = not drawing.miniature and drawing.study.arrangement.used <= most
    return None if few else max(1, most // lanes)


def _thinned(drawing: _Drawing) -> list[Advice]:
    """That the screen shows a part of the points."""
    used, most = drawing.study.arrangement.used, drawing.most_points
    if most is None or used <= most or not points_are_shown(drawing.study.recipe):
        return []
    text = f"About {most:,} of {used:,} points are shown on screen.".replace(",", " ")
    return [Advice(key="thinned", text=text, why="Every number and every export uses all of them.")]


def _ends(drawing: _Drawing, lane: str, found: Measured) -> tuple[float, float]:
    """Bottom and top of a lane for a layer: those of the second axis, where the layer belongs to it."""
    axis = drawing.seconds.get(lane)
    if axis is not None and axis.family == found.family and found.family != "order":
        return axis.bottom, axis.top
    top = found.tops.get(lane, 1.0)
    return (-top if found.family == "score" else 0.0), top


def _layers(drawing: _Drawing, taken: Taken) -> Marks:
    """One group a layer, in it one group a lane; in the order of the recipe's list."""
    parts: list[ScenePart] = []
    handles: list[Handle] = []
    remarks: list[Advice] = []
    numbers = {layer.id: i for i, layer in enumerate(drawing.study.recipe.layers)}
    for layer, found in drawing.measured:
        kind, all_views = kind_of(layer), list[LaneView]()
        for place in drawing.laid.panels:
            views = _views(drawing, place, found)
            all_views += views
            panel = PanelView(place.frame, views, taken[place.panel.key])
            groups = list(kind.draw_between(layer, panel)) if views else []
            groups += [group for view in views if (group := _lane_group(kind, layer, view))]
            groups += kind.draw_over(layer, panel) if views else []
            handles += [handle for view in views for handle in kind.handles(layer, numbers[layer.id], view)]
            if groups:
                key = f"{place.frame.key}/{layer.id}"
                parts.append(GroupPart(key=key, panel=place.frame.key, layer=layer.id, role=groups[0].role, parts=groups))
        remarks += [] if drawing.miniature else kind.after(layer, all_views)
    return parts, handles, remarks


def _lane_group(kind: LayerKind, layer: Layer, view: LaneView) -> GroupPart | None:
    """What a layer draws of one lane."""
    drawn = kind.draw(layer, view)
    if not drawn:
        return None
    panel, lane = view.frame.key, view.band.lane.key
    return GroupPart(key=f"{panel}/{lane}/{layer.id}", panel=panel, lane=lane, layer=layer.id, role=drawn[0].role, parts=drawn)


def _second(drawing: _Drawing) -> list[ScenePart]:
    parts: list[ScenePart] = []
    lead = next((found for _, found in drawing.measured if found.family), None)
    if lead is not None:
        for place in drawing.laid.panels:
            parts += second_parts(place, _views(drawing, place, lead), drawing.seconds, drawing.letters)
    return parts


def _scene_lane(place: PanelPlace, band: Band) -> SceneLane:
    lane = band.lane
    return SceneLane(
        key=lane.key, panel=place.frame.key, group=lane.group, subgroup=lane.subgroup, slot=lane.slot, name=lane.name,
        colour=band.colour,
        start=rounded(band.start), end=rounded(band.end),
    )  # fmt: skip


def _counts(arrangement: Arrangement) -> Counts:
    return Counts(
        rows=arrangement.rows, kept=arrangement.kept, used=arrangement.used, people=arrangement.people,
        called=arrangement.called.many, missing=sum(arrangement.missing_by.values()),
        missing_by=arrangement.missing_by, censored=arrangement.censored,
        left_out=arrangement.left_out, ungrouped=arrangement.ungrouped, not_finite=arrangement.not_finite,
    )  # fmt: skip
