"""What every layer answers for."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from echelle.figures.geometry.frame import Band, Frame, MarkOf
from echelle.figures.geometry.lane_regions import OnSecond, region_of
from echelle.figures.geometry.lettering import Box, Lettering
from echelle.figures.lanes.figure_context import NOTHING, Measured, Study
from echelle.numbers.quantiles import Floats
from echelle.recipes.style import Style
from echelle.scene.models import Advice, Handle, LaneReadings, Role, ScenePart, Shape


@dataclass(frozen=True)
class LaneView:
    """One lane as a layer sees it. ``data`` is what the layer measured of it; ``bottom`` and ``top`` are the ends of its
    second axis; a miniature draws ``most_points`` of a lane at most, evenly picked, and has no ``letters``.
    """

    frame: Frame
    band: Band
    readings: LaneReadings
    style: Style
    study: Study
    points_shown: bool
    data: Any = None
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

    def region(self, layer: OnSecond) -> tuple[float, float]:
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
class PanelView:
    """All lanes of one panel, for what goes from lane to lane. ``taken`` holds the boxes of labels that stand in it."""

    frame: Frame
    lanes: Sequence[LaneView]
    taken: list[Box]


def _measures_nothing(layer: Any, study: Study) -> Measured:
    return NOTHING


def _no_handles(layer: Any, place: int, view: LaneView) -> list[Handle]:
    return []


def _draws_nothing(layer: Any, view: Any) -> list[ScenePart]:
    return []


def _remarks_nothing(layer: Any, views: Sequence[LaneView]) -> list[Advice]:
    return []


@dataclass(frozen=True)
class Told:
    """What a layer's clauses of the method note are made from: what it measured, and of which lanes."""

    study: Study
    found: Measured


@dataclass(frozen=True)
class LayerKind:
    """A layer's own answers: what it computes, its marks and handles of a lane, what it draws from lane to lane under them
    and over them, what only its places tell (``after``), its clauses of the method note in full and in brief, and what each
    setting means.
    """

    note: Callable[[Any, Told], list[str]]
    brief: Callable[[Any], str]
    settings: dict[str, str]
    draw: Callable[[Any, LaneView], list[ScenePart]] = _draws_nothing
    measure: Callable[[Any, Study], Measured] = _measures_nothing
    handles: Callable[[Any, int, LaneView], list[Handle]] = _no_handles
    draw_between: Callable[[Any, PanelView], list[ScenePart]] = _draws_nothing
    draw_over: Callable[[Any, PanelView], list[ScenePart]] = _draws_nothing
    after: Callable[[Any, Sequence[LaneView]], list[Advice]] = _remarks_nothing


@dataclass(frozen=True)
class KeyEntry:
    """A line of the figure's key: a shape in a colour, and what it stands for."""

    name: str
    colour: str
    shape: Shape = "square"


SHARED = {
    "shown": "Draw this layer, or leave it out for now.",
    "place": "On the lane's line, above it or below it.",
}
WIDTH = {"width": "How much of the lane it may use."}
LINE = {"line": "How thick the line is, in pt."}
DASH = {"dash": "Solid, dashed or dotted."}
