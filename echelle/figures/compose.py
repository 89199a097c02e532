"""Recipe and lanes to a scene: measure, lay out, draw, say."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from echelle.figures.advice.checks import advice_on, advice_on_layout
from echelle.figures.advice.peaks import peak_advice
from echelle.figures.advice.question import Question
from echelle.figures.decoration.guides import guide_bands, guide_labels, guide_lines, guides_out_of_view, guides_unnamed
from echelle.figures.decoration.handles import handles_around
from echelle.figures.decoration.line_weights import scale_line_weights
from echelle.figures.decoration.titles_axes_names import rulings, second_parts, titles_and_axes
from echelle.figures.geometry.count_axis import on_its_axis
from echelle.figures.geometry.frame import Band
from echelle.figures.geometry.label_places import LabelPlaces
from echelle.figures.geometry.lettering import Lettering
from echelle.figures.geometry.secondary_axis import MeasuredLayers, SecondaryAxis, secondary_axes
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.lanes.lane_pairs import lanes_shown
from echelle.figures.layer_marks import LaidFigure, OccupiedPlaces, draw_layers, lane_views, part_of_points
from echelle.figures.layers.measure import measure_figure, refuse_without_place, refuse_words
from echelle.figures.layout.layout import bare, lay_out
from echelle.figures.layout.layout_model import PanelPlace
from echelle.figures.reader_key import Drawer, key_page, with_key
from echelle.figures.words.description import description, title_of
from echelle.figures.words.method_note import method_note, note_clauses
from echelle.figures.words.placeholders import OF_ALL, OF_LANES, fill_placeholders
from echelle.numbers.rounding import decimals_of
from echelle.recipes.forms import form_of
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import style_of
from echelle.recipes.style import points
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Counts, FilesCounted, Scene, SceneLane, ScenePart, round_coordinate
from echelle.scene.typesetting import Typesetter
from echelle.tables.table import Table

MOST_LISTED = 200
MINIATURE = (96.0, 64.0)
# Of more nothing could be told apart.
_MOST_SMALL_POINTS, _MOST_SMALL_GROUPS = 600, 120


@dataclass(frozen=True, eq=False)
class MeasuredFigure:
    """What a figure is drawn of: its context with every place of its words filled, and the places that nothing fills; what its
    layers measured, and the second axes of its lanes.
    """

    context: FigureContext
    unfilled: Sequence[str]
    measured: MeasuredLayers
    seconds: dict[str, SecondaryAxis]


def compose(
    recipe: Recipe, arrangement: Arrangement, typesetter: Typesetter, miniature: bool = False, most_points: int | None = None
) -> Scene:
    """The scene of a recipe over its lanes. A miniature carries marks alone: no text, handles or readings. With
    ``most_points`` a layer draws about so many at most, evenly picked, and says so; numbers are always of all.

    Raises InputError where the axis has no place for some values, or the sheet none for the figure.
    """
    arrangement = lanes_shown(recipe, arrangement)
    scene = draw(measure(recipe, arrangement, miniature), typesetter, miniature, most_points)
    return scene if miniature else with_key_of(scene, recipe, arrangement, typesetter)


def measure(recipe: Recipe, arrangement: Arrangement, miniature: bool = False) -> MeasuredFigure:
    """What the shown lanes come to before anything has a place. Raises InputError where the axis has no place for values."""
    refuse_words(recipe, arrangement)
    refuse_without_place(on_its_axis(recipe), arrangement)
    slots = len(arrangement.slots)
    if miniature and slots > _MOST_SMALL_GROUPS and recipe.differences is None:
        arrangement = arrangement.of_slots(range(0, slots, -(-slots // _MOST_SMALL_GROUPS)))
    context, measured = measure_figure(recipe, arrangement, 0 if miniature else MOST_LISTED)
    words, unfilled = fill_placeholders(context.recipe, arrangement, list(context.readings.values()))
    context = replace(context, recipe=context.recipe.model_copy(update={"words": words}))
    return MeasuredFigure(context, unfilled, measured, secondary_axes(context, measured))


def draw(drawn: MeasuredFigure, typesetter: Typesetter, miniature: bool = False, most_points: int | None = None) -> Scene:
    """The scene of what was measured, without a reader's key. Raises InputError where the sheet has no place for it."""
    context, measured, seconds, arrangement = drawn.context, drawn.measured, drawn.seconds, drawn.context.arrangement
    letters = Lettering(typesetter, style_of(context.recipe))
    # Lay out.
    layout = bare(context, measured, letters, *MINIATURE) if miniature else lay_out(context, measured, seconds, letters)
    most = _MOST_SMALL_POINTS if miniature else most_points
    figure = LaidFigure(
        context=context,
        measured=measured,
        seconds=seconds,
        layout=layout,
        letters=letters,
        miniature=miniature,
        most_points=most,
    )
    # Draw: labels of guides stand first, marks keep off them.
    occupied: OccupiedPlaces = {place.panel.key: LabelPlaces() for place in layout.panels}
    labels = [] if miniature else guide_labels(layout, context, letters, occupied)
    marks = draw_layers(figure, occupied)
    # No ruling goes through digits.
    ruled = letters.style.rulings and not any(layer.even_axis for layer in context.recipe.shown_layers)
    under = rulings(layout, letters) if ruled else []
    behind, over = guide_bands(layout, context, letters), list[ScenePart]()
    if not miniature:
        behind += guide_lines(layout, context, letters, behind=True)
        lines = guide_lines(layout, context, letters, behind=False)
        over = [*lines, *labels, *titles_and_axes(layout, letters), *_second_axes(figure)]
    # Say.
    readings, decimals = list(context.readings.values()), decimals_of(arrangement.excerpt)
    return Scene(
        form=form_of(context.recipe), width=round_coordinate(layout.width), height=round_coordinate(layout.height),
        ground=letters.style.ground,
        title=title_of(context.recipe, arrangement), description=description(arrangement, readings, decimals, context.words),
        parts=[*under, *behind, *scale_line_weights(marks.parts, letters.style), *over],
        panels=[place.frame.panel(place.panel.name, place.panel.level) for place in layout.panels],
        lanes=[_scene_lane(place, band) for place in layout.panels for band in place.bands],
        handles=[] if miniature else [*marks.handles, *handles_around(layout, context)],
        readings=[] if miniature else readings, decimals=decimals, counts=_counts(arrangement), files=_files(arrangement),
        note=method_note(context, measured),
        advice=[] if miniature else [*_placeholder_advice(drawn.unfilled, context), *_advice(figure, marks.remarks)],
        faces=sorted(letters.faces),
    )  # fmt: skip


def _files(arrangement: Arrangement) -> FilesCounted | None:
    parts, gathered = arrangement.account.parts, arrangement.account.gathered
    if parts is None:
        return None
    return FilesCounted(done=parts[0], of=parts[1], cells=gathered is not None and gathered.waits and not gathered.known)


def reader_key(recipe: Recipe, arrangement: Arrangement, typesetter: Typesetter, title: str = "") -> Scene | None:
    """The reader's key as a page of its own, as wide as the figure, under a title (its usual one where none is given); None
    where no lane has values.
    """
    letters, width = Lettering(typesetter, style_of(recipe)), points(recipe.size.width)
    return key_page(recipe, lanes_shown(recipe, arrangement), letters, _drawer(typesetter), width, title)


def with_key_of(scene: Scene, recipe: Recipe, arrangement: Arrangement, typesetter: Typesetter) -> Scene:
    """The scene with the reader's key of these lanes, where the recipe places one."""
    if recipe.words.key.placed == "none":
        return scene
    return with_key(scene, recipe, arrangement, Lettering(typesetter, style_of(recipe)), _drawer(typesetter))


def method_note_clauses(recipe: Recipe, arrangement: Arrangement) -> list[str]:
    """The sentences of a figure's method note."""
    return note_clauses(*measure_figure(recipe, lanes_shown(recipe, arrangement), MOST_LISTED))


def deep_advice(recipe: Recipe, arrangement: Arrangement, table: Callable[[], Table]) -> list[Advice]:
    """Advice that takes too long for a preview: on peaks, and on what tells them apart in the lanes' table, which is asked for
    only where a lane has several.
    """
    arrangement = lanes_shown(recipe, arrangement)
    context, measured = measure_figure(recipe, arrangement, 0)
    return peak_advice(Question(recipe, arrangement, context.readings, measured, {}), table)


def _drawer(typesetter: Typesetter) -> Drawer:
    return lambda recipe, arrangement: draw(measure(recipe, arrangement), typesetter)


def _second_axes(figure: LaidFigure) -> list[ScenePart]:
    lead = next((measurement for _, measurement in figure.measured if measurement.second.family), None)
    if lead is None:
        return []
    panels = figure.layout.panels
    return [
        part
        for place in panels
        for part in second_parts(place, lane_views(figure, place, lead), figure.seconds, figure.letters)
    ]


def _advice(figure: LaidFigure, remarks: Sequence[Advice]) -> list[Advice]:
    """What the data, the layers, their places and the layout have to say."""
    layout, context, letters = figure.layout, figure.context, figure.letters
    domains = {place.panel.key: place.frame.domain for place in layout.panels}
    question = Question(context.recipe, context.arrangement, context.readings, figure.measured, domains)
    of_layers = [remark for _, measurement in figure.measured for remark in measurement.remarks]
    of_layout = advice_on_layout(context.words, layout.turned, "".join(letters.unwritable), layout.shortened)
    of_guides = [*guides_out_of_view(layout, context), *guides_unnamed(layout, context)]
    return [*part_of_points(figure), *advice_on(question), *of_layers, *remarks, *of_layout, *of_guides]


def _placeholder_advice(places: Sequence[str], context: FigureContext) -> list[Advice]:
    if not places:
        return []
    arrangement = context.arrangement
    lane = next((lane.name for lane in arrangement.lanes), "Night")
    panel = arrangement.panels[0].name
    name = f"{panel} · {lane}" if len(arrangement.panels) > 1 else lane
    return [
        advice(
            context.words, "words/places", "unfilled", places=", ".join(places),
            of_all=", ".join(OF_ALL), of_lanes=", ".join(OF_LANES), example=f"{{median:{name}}}",
        )
    ]  # fmt: skip


def _scene_lane(place: PanelPlace, band: Band) -> SceneLane:
    lane = band.lane
    return SceneLane(
        key=lane.key, panel=place.frame.key, group=lane.group, subgroup=lane.subgroup, slot=lane.slot, name=lane.name,
        colour=band.colour,
        start=round_coordinate(band.start), end=round_coordinate(band.end),
    )  # fmt: skip


def _counts(arrangement: Arrangement) -> Counts:
    account = arrangement.account
    return Counts(
        rows=account.rows, kept=account.kept, used=arrangement.used, people=account.people,
        called=arrangement.subject_noun.many, missing=sum(account.missing_by.values()),
        missing_by=account.missing_by, censored=account.censored,
        left_out=account.left_out, ungrouped=account.ungrouped, not_finite=account.not_finite, dropped=account.dropped,
        read=account.read,
        prepared=list(account.prepared),
    )  # fmt: skip
