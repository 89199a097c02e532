"""What every layer answers for."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

import numpy as np
from numpy.typing import NDArray

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.geometry.frame import Band, Frame, MarkOf
from echelle.figures.geometry.label_places import LabelPlaces
from echelle.figures.geometry.lane_regions import region_of
from echelle.figures.geometry.lettering import Lettering
from echelle.figures.lanes.figure_context import FigureContext, Measurement
from echelle.numbers.sample import Floats
from echelle.recipes.layers.base import AnyLayer, RisingLayer
from echelle.recipes.style import Style
from echelle.scene.models import Advice, Handle, LaneReadings, Role, ScenePart, Shape

Settings = TypeVar("Settings", bound=AnyLayer, contravariant=True)
Measured = TypeVar("Measured")
Data = TypeVar("Data", covariant=True)
# A mark's role (None where no single lane shows it) and what it is, in a sentence that forestalls the usual misreading.
Explanation = tuple[Role | None, str]


@dataclass(frozen=True, kw_only=True)
class LaneView(Generic[Data]):
    """One lane as a layer sees it. ``data`` is what the layer measured of it; ``bottom`` and ``top`` are the ends of its
    second axis; a miniature draws ``most_points`` of a lane at most, evenly picked, and has no ``letters``.
    """

    frame: Frame
    band: Band
    readings: LaneReadings
    style: Style
    context: FigureContext
    points_shown: bool
    data: Data | None = None
    bottom: float = 0.0
    top: float = 1.0
    most_points: int | None = None
    letters: Lettering | None = None

    def mark(self, layer: str, role: Role, number: str = "") -> MarkOf:
        """Names a mark of this lane."""
        return MarkOf(self.band.lane.key, layer, role, number)

    def picked(self, places: NDArray[np.intp]) -> NDArray[np.intp]:
        """All places of points, or as many as a miniature shows."""
        if self.most_points is None or len(places) <= self.most_points:
            return places
        return places[:: -(-len(places) // self.most_points)]

    def on_shape(self, layer: AnyLayer) -> bool:
        """Whether another layer fills the lane with its colour where a mark of this one stands; boxes turn pale under some."""
        others = (other for other in self.context.recipe.shown_layers if other.id != layer.id)
        return any(other.fills(layer.place) and not (other.turns_pale and layer.stands_on_box) for other in others)

    def under_marks(self, layer: AnyLayer) -> bool:
        """Whether points or other marks of the lane stand on a box of this layer."""
        return any(other.stands_on_box and other.place == layer.place for other in self.context.recipe.shown_layers)

    def region(self, layer: RisingLayer) -> tuple[float, float]:
        """Shares of the lane: where a mark of the layer has its base, and where its tip may reach."""
        if self.band.half:
            return 0.0, self.band.half * min(layer.width, 1.0) / 2
        return region_of(layer)

    def heights(self, heights: Floats, base: float, tip: float) -> Floats:
        """Coordinates across of heights on the second axis (shape (n,)), from the base's place to the tip's."""
        span = self.top - self.bottom or 1.0
        share = np.clip((heights - self.bottom) / span, 0.0, 1.0)
        low, high = self.band.across(base), self.band.across(tip)
        return np.asarray(low + share * (high - low), dtype=np.float64)


@dataclass(frozen=True)
class PanelView(Generic[Data]):
    """All lanes of one panel, for what goes from lane to lane. ``taken`` holds the places of labels that stand in it."""

    frame: Frame
    lanes: Sequence[LaneView[Data]]
    taken: LabelPlaces


@dataclass(frozen=True)
class NoteContext(Generic[Data]):
    """What a layer's clauses of the method note are made from: what it measured, of which lanes, and the words for it."""

    context: FigureContext
    measured: Measurement[Data]
    words: Catalogue


@dataclass(frozen=True)
class KeyEntry:
    """A line of the figure's key: a shape in a colour, and what it stands for; without a shape, what those after it are of."""

    name: str
    colour: str
    shape: Shape | None = "square"


def _measures_nothing(layer: AnyLayer, context: FigureContext) -> Measurement[Measured]:
    return Measurement()


def _no_handles(layer: AnyLayer, place: int, view: LaneView[Measured]) -> list[Handle]:
    return []


def _draws_nothing(layer: AnyLayer, view: object) -> list[ScenePart]:
    return []


def _remarks_nothing(layer: AnyLayer, views: Sequence[LaneView[Measured]]) -> list[Advice]:
    return []


def _takes_nothing(layer: AnyLayer, context: FigureContext) -> float:
    return 0.0


def _no_keys(layer: AnyLayer, context: FigureContext, style: Style) -> list[KeyEntry]:
    return []


@dataclass(frozen=True)
class Layer(Generic[Settings, Measured]):
    """A kind of layer: the model of its settings, and its answers.

    note, brief: its clauses of the method note in full and in brief.
    explain: what a reader should know of its marks, in reading order.
    measure: what it computes of all lanes, before anything has a place. Where it ``leads`` it comes first: curves are scaled
    to it.
    draw: its marks of a lane; draw_between, draw_over: what goes from lane to lane under them and over them.
    handles: what can be dragged in a lane; the number is the layer's place in the recipe.
    remarks: what only its places tell. key: its entries of the figure's key.
    seconds: about how long a core is at what it computes the first time, where that may be long; refuses what it measures in
    no case.
    """

    settings: type[Settings]
    note: Callable[[Settings, NoteContext[Measured]], list[str]]
    brief: Callable[[Settings, NoteContext[Measured]], str]
    explain: Callable[[Settings, NoteContext[Measured]], Iterable[Explanation]]
    measure: Callable[[Settings, FigureContext], Measurement[Measured]] = _measures_nothing
    draw: Callable[[Settings, LaneView[Measured]], list[ScenePart]] = _draws_nothing
    draw_between: Callable[[Settings, PanelView[Measured]], list[ScenePart]] = _draws_nothing
    draw_over: Callable[[Settings, PanelView[Measured]], list[ScenePart]] = _draws_nothing
    handles: Callable[[Settings, int, LaneView[Measured]], list[Handle]] = _no_handles
    remarks: Callable[[Settings, Sequence[LaneView[Measured]]], list[Advice]] = _remarks_nothing
    key: Callable[[Settings, FigureContext, Style], list[KeyEntry]] = _no_keys
    leads: bool = False
    seconds: Callable[[Settings, FigureContext], float] = _takes_nothing
