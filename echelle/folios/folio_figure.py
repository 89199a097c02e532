"""Figures of a folio, drawn in their column: figures of one row stand level."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from echelle.errors import InputError
from echelle.figures.compose import compose
from echelle.figures.geometry.count_axis import only_counts
from echelle.figures.lanes.lane import Arrangement
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import ReaderKey, Size
from echelle.scene.models import Scene, ScenePart, round_coordinate
from echelle.scene.translate import translate
from echelle.scene.typesetting import Typesetter

_HEADING = ("title", "subtitle")
_TRIES = 4


@dataclass(frozen=True, eq=False)
class DrawnFigure:
    """A figure in its column: its recipe without note and key of its own, since the folio has one for all; lanes; scene."""

    recipe: Recipe
    lanes: Arrangement
    scene: Scene

    def along(self, domain: tuple[float, float], typesetter: Typesetter) -> DrawnFigure:
        """The figure over another part of the measure, or of counts."""
        ends = {"start": domain[0], "end": domain[1]}
        axis = "second_axis" if only_counts(self.recipe) else "axis"
        told = self.recipe.model_copy(update={axis: getattr(self.recipe, axis).model_copy(update=ends)})
        return DrawnFigure(told, self.lanes, compose(told, self.lanes, typesetter))

    def tall(self, height: float, typesetter: Typesetter) -> Scene:
        """The figure at another height."""
        size = Size(width=self.recipe.size.width, height=f"{height:g}pt")
        return compose(self.recipe.model_copy(update={"size": size}), self.lanes, typesetter)


def draw_folio_figure(recipe: Recipe, lanes: Arrangement, wide: float, most: float, typesetter: Typesetter) -> DrawnFigure:
    """A figure in a column so many points wide, as high as its lanes ask for, and at ``most`` so high where that can be."""
    note = recipe.words.note.model_copy(update={"under": False})
    words = recipe.words.model_copy(update={"note": note, "key": ReaderKey()})
    told = recipe.model_copy(update={"words": words, "size": Size(width=f"{wide:g}pt", height=None)})
    drawn = DrawnFigure(told, lanes, compose(told, lanes, typesetter))
    if drawn.scene.height <= most:
        return drawn
    try:
        return replace(drawn, scene=drawn.tall(most, typesetter))
    except InputError:
        # Lanes that cannot be so low take a page of their own size.
        return drawn


@dataclass(frozen=True)
class _Inside:
    """From the sheet's upper edge to its panels, the panels' height, and from there to the lower edge; in points."""

    over: float
    panels: float
    under: float


def level(row: Sequence[DrawnFigure], typesetter: Typesetter) -> list[Scene]:
    """The scenes of a row with panels that begin and end level, so that lanes can be read across; headings stay at the top."""
    panels = max(_inside(figure.scene).panels for figure in row)
    scenes = [_stretch(figure, panels, typesetter) for figure in row]
    over = max(_inside(scene).over for scene in scenes)
    height = over + max(scene.height - _inside(scene).over for scene in scenes)
    return [_lower(scene, over, height) for scene in scenes]


def _stretch(figure: DrawnFigure, panels: float, typesetter: Typesetter) -> Scene:
    """The scene with panels so high. Where curves rise over their panels, a part of what is added goes there: it takes more."""
    scene = figure.scene
    for _ in range(_TRIES):
        missing = panels - _inside(scene).panels
        if missing <= 0.5:
            break
        scene = figure.tall(scene.height + missing, typesetter)
    return scene


def _lower(scene: Scene, over: float, height: float) -> Scene:
    """The scene on a sheet so high, with its panels so far under the upper edge."""
    parts = [part for part in scene.parts if _heads(part)]
    lowered = translate([part for part in scene.parts if not _heads(part)], 0.0, over - _inside(scene).over, "lanes")
    return scene.model_copy(update={"parts": [*lowered, *parts], "height": round_coordinate(height)})


def _heads(part: ScenePart) -> bool:
    return part.role in _HEADING and part.layer == ""


def _inside(scene: Scene) -> _Inside:
    top = min(panel.box[1] for panel in scene.panels)
    low = max(panel.box[1] + panel.box[3] for panel in scene.panels)
    return _Inside(top, low - top, scene.height - low)
