"""The marks, handles and remarks of all layers, once every lane has its place."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from echelle.figures.geometry.label_places import LabelPlaces
from echelle.figures.geometry.lettering import Lettering
from echelle.figures.geometry.secondary_axis import MeasuredLayers, SecondaryAxis
from echelle.figures.lanes.figure_context import FigureContext, Measurement
from echelle.figures.layers.base import LaneView, Layer, PanelView
from echelle.figures.layers.registry import layer_of
from echelle.figures.layers.row_marks import thinned
from echelle.figures.layout.layout_model import Layout, PanelPlace
from echelle.figures.words.method_note import points_shown
from echelle.progress import step
from echelle.recipes.layers.base import AnyLayer
from echelle.scene.models import Advice, GroupPart, Handle, ScenePart, TextPart, leaves

OccupiedPlaces = dict[str, LabelPlaces]


@dataclass(frozen=True, kw_only=True)
class LaidFigure:
    """A figure whose lanes have their places. ``seconds`` is each lane's second axis; with ``most_points`` a layer draws about
    so many at most.
    """

    context: FigureContext
    measured: MeasuredLayers
    seconds: dict[str, SecondaryAxis]
    layout: Layout
    letters: Lettering
    miniature: bool
    most_points: int | None


@dataclass
class Marks:
    """One group a layer, in it one group a lane, in the order of the recipe's list; with handles and remarks."""

    parts: list[ScenePart] = field(default_factory=list)
    handles: list[Handle] = field(default_factory=list)
    remarks: list[Advice] = field(default_factory=list)


def draw_layers(figure: LaidFigure, occupied: OccupiedPlaces) -> Marks:
    """All layers; ``occupied`` holds the places of labels in each panel, and takes those that layers write."""
    marks = Marks()
    places = {layer.id: i for i, layer in enumerate(figure.context.recipe.layers)}
    for settings, measurement in figure.measured:
        layer, all_views = layer_of(settings), list[LaneView[object]]()
        for place in figure.layout.panels:
            views = lane_views(figure, place, measurement)
            all_views += views
            groups = _panel_groups(layer, settings, PanelView(place.frame, views, occupied[place.panel.key]))
            marks.handles += [handle for view in views for handle in layer.handles(settings, places[settings.id], view)]
            if groups:
                key = f"{place.frame.key}/{settings.id}"
                marks.parts.append(
                    GroupPart(key=key, panel=place.frame.key, layer=settings.id, role=groups[0].role, parts=groups)
                )
        marks.remarks += layer.remarks(settings, all_views) if all_views and not figure.miniature else []
    return marks


def _panel_groups(layer: Layer[AnyLayer, object], settings: AnyLayer, panel: PanelView[object]) -> list[ScenePart]:
    if not panel.lanes:
        return []
    lanes = [group for view in panel.lanes if (group := _lane_group(layer, settings, view))]
    # Words of a lane keep the words of the layers after it off.
    panel.taken.extend(part.box for part in leaves(lanes) if isinstance(part, TextPart))
    return [*layer.draw_between(settings, panel), *lanes, *layer.draw_over(settings, panel)]


def _lane_group(layer: Layer[AnyLayer, object], settings: AnyLayer, view: LaneView[object]) -> GroupPart | None:
    """What a layer draws of one lane."""
    step()
    parts = layer.draw(settings, view)
    if not parts:
        return None
    panel, lane = view.frame.key, view.band.lane.key
    key = f"{panel}/{lane}/{settings.id}"
    return GroupPart(key=key, panel=panel, lane=lane, layer=settings.id, role=parts[0].role, parts=parts)


def lane_views(figure: LaidFigure, place: PanelPlace, measurement: Measurement[object]) -> list[LaneView[object]]:
    """The lanes of a panel as a layer sees them."""
    with_points, letters = points_shown(figure.context.recipe), None if figure.miniature else figure.letters
    views = []
    for band in place.bands:
        bottom, top = _ends(figure, band.lane.key, measurement)
        views.append(
            LaneView(
                frame=place.frame, band=band, readings=figure.context.readings[band.lane.key], style=figure.letters.style,
                context=figure.context, points_shown=with_points, data=measurement.lanes.get(band.lane.key), bottom=bottom,
                top=top, most_points=_most_of_lane(figure, place), letters=letters,
            )
        )  # fmt: skip
    return views


def _most_of_lane(figure: LaidFigure, place: PanelPlace) -> int | None:
    """How many points a lane may draw: its part of a small picture, or of a screen that cannot hold all of them."""
    most, arrangement = figure.most_points, figure.context.arrangement
    if most is None or (not figure.miniature and arrangement.drawn <= most):
        return None
    return max(1, most // (len(place.bands) if figure.miniature else len(arrangement.lanes)))


def _ends(figure: LaidFigure, lane: str, measurement: Measurement[object]) -> tuple[float, float]:
    """Bottom and top of a lane for a layer: those of the second axis, where the layer belongs to it."""
    axis, second = figure.seconds.get(lane), measurement.second
    if axis is not None and axis.family == second.family and second.family != "order":
        return axis.bottom, axis.top
    top = second.tops.get(lane, 1.0)
    return (-top if second.family == "score" else 0.0), top


def part_of_points(figure: LaidFigure) -> Sequence[Advice]:
    """That the screen shows a part of the points."""
    used, most = figure.context.arrangement.drawn, figure.most_points
    if most is None or used <= most or not points_shown(figure.context.recipe):
        return []
    return [thinned(figure.context.words, "points", most, used)]
