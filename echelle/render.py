"""The whole way from a recipe and a table to a scene and a file: what command line, server and benchmarks share."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import Literal, get_args

import orjson

from echelle.drawing.cairo import to_pdf, to_png, to_tiff
from echelle.drawing.fonts.typesetter import set_line
from echelle.drawing.svg import SvgText, to_svg
from echelle.errors import InputError
from echelle.figures.compose import compose, reader_key
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.setting_previews import SettingPictures, pictures_of
from echelle.recipes.recipe import Recipe
from echelle.scene.models import Scene
from echelle.tables.table import Table

FileFormat = Literal["svg", "pdf", "png", "tiff", "json"]
FILE_FORMATS: tuple[FileFormat, ...] = get_args(FileFormat)


def scene_of(recipe: Recipe, table: Table) -> Scene:
    """The scene of a recipe over a table."""
    return scene_of_lanes(recipe, arrange(recipe, table))


def scene_of_lanes(recipe: Recipe, arrangement: Arrangement, miniature: bool = False, most_points: int | None = None) -> Scene:
    """The scene over lanes that are already arranged; ``most_points`` for a screen."""
    return compose(recipe, arrangement, set_line, miniature, most_points)


def reader_key_of(recipe: Recipe, arrangement: Arrangement) -> Scene:
    """The reader's key of arranged lanes as a page of its own. Raises InputError where no lane has values."""
    found = reader_key(recipe, arrangement, set_line)
    if found is None:
        raise InputError("no lane has values to explain", remedy="Keep more rows.")
    return found


@lru_cache(32)
def pictures_of_layer(layer: str) -> list[SettingPictures]:
    """A layer's settings in tiny pictures; the same for as long as the program runs."""
    return pictures_of(layer, set_line)


@dataclass(frozen=True)
class Output:
    """How a scene becomes a file: dots an inch (of PNG and TIFF, and of points drawn as an image), text of an SVG, and whether
    the ground is clear.
    """

    file_format: FileFormat
    dpi: float = 300.0
    svg_text: SvgText = "live"
    clear: bool = False


def figure_bytes(
    recipe: Recipe, table: Table, file_format: FileFormat, dpi: float = 300.0, svg_text: SvgText = "live"
) -> bytes:
    """The figure as a file's bytes: the same for the same recipe, table, release and class of processor."""
    return scene_bytes(scene_of(recipe, table), Output(file_format, dpi, svg_text), recipe.made)


def scene_bytes(scene: Scene, output: Output, made: datetime | None = None) -> bytes:
    """A scene as a file's bytes; ``made`` is a PDF's date. Raises InputError for dpi that nothing is drawn at."""
    dpi, file_format = output.dpi, output.file_format
    if not 18 <= dpi <= 2400:
        raise InputError(f"{dpi:g} dpi is no resolution to draw at", where="--dpi", remedy="Choose 72 to 1200.")
    if output.clear:
        scene = scene.model_copy(update={"ground": None})
    if file_format == "svg":
        return to_svg(scene, output.svg_text, dpi)
    if file_format == "pdf":
        return to_pdf(scene, made, dpi)
    if file_format == "png":
        return to_png(scene, dpi)
    if file_format == "tiff":
        return to_tiff(scene, dpi)
    return orjson.dumps(scene.model_dump(mode="json"), option=orjson.OPT_INDENT_2 | orjson.OPT_APPEND_NEWLINE)
