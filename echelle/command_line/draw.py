"""echelle draw: a figure, or many, as files."""

from __future__ import annotations

from contextlib import nullcontext
from pathlib import Path
from typing import cast

import click

from echelle.batch import BatchSpec
from echelle.command_line.files import draw_many, format_of, recipe_and_rows, resize, write
from echelle.command_line.rows import WORKERS
from echelle.command_line.shared import FILE, options_named
from echelle.drawing.formats import FORMATS, Output, pages_bytes, scene_bytes
from echelle.drawing.svg import SvgText
from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.recipes.forms import FORMS
from echelle.render import pages_of_lanes, reader_key_of, scene_of


@click.command()
@click.argument("recipe", type=FILE, required=False)
@click.option("--table", type=FILE, help="The data; alone, its first question is drawn. A bundle brings its own.")
@click.option("--out", type=FILE, required=True, help=f"The figure: {', '.join(f'.{name}' for name in FORMATS)}.")
@click.option("--form", type=click.Choice(list(FORMS)), help="Which form the figure has.")
@click.option("--measure", help="Column of numbers; the first question's when left out.")
@click.option("--groups", help="Column whose levels become lanes.")
@click.option("--subgroups", help="Column that splits each group.")
@click.option("--down", help="Column whose levels get panels one under another.")
@click.option("--across", help="Column whose levels get panels side by side.")
@click.option("--dpi", type=float, default=300.0, show_default=True, help="Of PNG and TIFF, and of points drawn as an image.")
@click.option("--size", help="Width, or width x height, such as 174mmx110mm.")
@click.option("--svg-text", type=click.Choice(["live", "outlines"]), default="live", show_default=True)
@click.option("--clear", is_flag=True, help="Leave the ground clear.")
@click.option("--reader-key", "key", is_flag=True, help="Draw the reader's key as a page of its own instead of the figure.")
@click.option("--pages", is_flag=True, help="Many lanes on pages of A4, in one PDF.")
@click.option("--each", help="A figure for every level of this column; --out is a folder, or one PDF.")
@click.option("--measures", help="A figure for each of these measures, with commas, or “all”; --out is a folder, or one PDF.")
@click.option("--kind", type=click.Choice(list(FORMATS)), default="svg", show_default=True, help="Of the files in a folder.")
@click.option("--preparation", type=FILE, help="Steps (JSON) that make the rows ready, for a recipe that carries none.")
@WORKERS
def draw(
    recipe: Path | None, table: Path | None, out: Path, form: str | None, dpi: float, size: str | None, svg_text: str,
    clear: bool, key: bool, pages: bool, each: str | None, measures: str | None, kind: str, preparation: Path | None,
    workers: int, **roles: str | None,
) -> None:  # fmt: skip
    """Draw a figure from a RECIPE file (JSON) or a bundle (zip), from --form and roles, or of a table's first question."""
    many = each is not None or measures is not None
    file_format = kind if many else format_of(out)
    drawn, rows = recipe_and_rows(recipe, table, preparation, form, roles, workers)
    if size:
        drawn = resize(drawn, size)
    if key and pages:
        raise InputError("the reader's key is one page", where="--pages", remedy="Leave out --pages or --reader-key.")
    output = Output(file_format, dpi, cast(SvgText, svg_text), clear, drawn.made)
    with options_named() if form else nullcontext():
        if many:
            listed = [] if measures == "all" else [name.strip() for name in measures.split(",")] if measures else None
            for path in draw_many(drawn, rows, out, output, BatchSpec(each, listed)):
                click.echo(path)
            return
        if pages:
            scenes = pages_of_lanes(drawn, arrange(drawn, rows))
            write(out, pages_bytes(scenes, output, scenes[0].title))
            return
        data = scene_bytes(reader_key_of(drawn, arrange(drawn, rows)) if key else scene_of(drawn, rows), output)
    write(out, data)
