"""The whole way from a recipe and a table to a scene and a file: what command line, server and benchmarks share."""

from __future__ import annotations

from functools import lru_cache

from echelle.drawing.fonts.typesetter import set_line
from echelle.drawing.formats import Output, scene_bytes
from echelle.drawing.svg import SvgText
from echelle.errors import InputError
from echelle.figures.compose import compose, reader_key
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.pages import figure_pages
from echelle.figures.setting_previews import SettingPictures, pictures_of
from echelle.recipes.recipe import Recipe
from echelle.scene.models import Scene
from echelle.tables.table import Table


def scene_of(recipe: Recipe, table: Table) -> Scene:
    """The scene of a recipe over a table."""
    return scene_of_lanes(recipe, arrange(recipe, table))


def scene_of_lanes(recipe: Recipe, arrangement: Arrangement, miniature: bool = False, most_points: int | None = None) -> Scene:
    """The scene over lanes that are already arranged; ``most_points`` for a screen."""
    return compose(recipe, arrangement, set_line, miniature, most_points)


def reader_key_of(recipe: Recipe, arrangement: Arrangement) -> Scene:
    """The reader's key of arranged lanes as a page of its own. Raises InputError where no lane has values."""
    key = reader_key(recipe, arrangement, set_line)
    if key is None:
        raise InputError("no lane has values to explain", remedy="Keep more rows.")
    return key


def pages_of_lanes(recipe: Recipe, arrangement: Arrangement) -> list[Scene]:
    """The scenes of a figure on pages of A4. Raises InputError for one that is higher and cannot be cut."""
    return figure_pages(recipe, arrangement, set_line)


@lru_cache(32)
def pictures_of_layer(layer: str) -> list[SettingPictures]:
    """A layer's settings in tiny pictures; the same for as long as the program runs."""
    return pictures_of(layer, set_line)


def figure_bytes(recipe: Recipe, table: Table, file_format: str, dpi: float = 300.0, svg_text: SvgText = "live") -> bytes:
    """The figure as a file's bytes: the same for the same recipe, table, release and class of processor."""
    return scene_bytes(scene_of(recipe, table), Output(file_format, dpi, svg_text, made=recipe.made))
