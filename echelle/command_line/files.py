"""What ``echelle draw`` and ``echelle bundle`` read and write."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import cast

from echelle.batch import Batch, BatchSpec, figures_of, file_names
from echelle.bundles.models import Contents, RawData
from echelle.bundles.reader import open_bundle, rows_of
from echelle.command_line.rows import rows_for, rows_of_recipe
from echelle.drawing.formats import FORMATS, Output, format_of_ending, pages_bytes, scene_bytes
from echelle.errors import InputError
from echelle.recipes.default_recipe import default_recipe_with
from echelle.recipes.forms import form_of, in_form, recipe_of_form
from echelle.recipes.parse import recipe_from
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.series_order import order_of
from echelle.render import scene_of
from echelle.tables.column_summary import summary_of
from echelle.tables.reading.options import USUAL
from echelle.tables.steps.files import named_tables, prepared_file, steps_of_file
from echelle.tables.summary_statistics_tables import summary_columns
from echelle.tables.table import Table


def format_of(out: Path) -> str:
    """The format that a file's name ends in. Raises InputError for another one."""
    name = format_of_ending(out.suffix)
    if name is None:
        *others, last = (f".{name}" for name in FORMATS)
        what = f"no figure can be written as “{out.suffix or out.name}”"
        raise InputError(what, where=str(out), remedy=f"End the name in {', '.join(others)} or {last}.")
    return name


def recipe_and_rows(
    recipe: Path | None,
    table: Path | None,
    preparation: Path | None,
    form: str | None,
    roles: dict[str, str | None],
    workers: int = 0,
) -> tuple[Recipe, Table]:
    """What is drawn and over which rows: of a bundle, of a recipe file with its table, or of a form with the columns' roles."""
    if recipe is not None and recipe.suffix.lower() == ".zip":
        bundle = open_bundle(_bytes(recipe), str(recipe))
        return bundle.recipe, rows_of(bundle)
    if table is None:
        raise InputError("there is no table to draw", where="--table", remedy="Name the data, or give a bundle.")
    if recipe is None and (form is None or roles["measure"] is None):
        rows, sampled = rows_of_recipe(table, None, _nothing, preparation, workers)
        first = _asked(rows, form, roles)
        return first, rows_for(table, preparation, workers)(first, partial(scene_of, first)) if sampled else rows
    drawn = _recipe(recipe, form, roles)
    rows, _ = rows_of_recipe(table, drawn, partial(scene_of, drawn), preparation, workers, drawn.read or USUAL)
    return (_along_its_order(drawn, rows) if recipe is None else drawn), rows


def _nothing(table: Table) -> None:
    """Nothing is done with rows that are a sample."""


def first_recipe(table: Table, measure: str | None = None, groups: str | None = None) -> Recipe:
    """The first question of a table, with the measure and the groups that a person named."""
    columns = [summary_of(column) for column in table.columns]
    return default_recipe_with(columns, measure, groups, summary_columns(columns, table.rows))


def _asked(table: Table, form: str | None, roles: dict[str, str | None]) -> Recipe:
    """The first question in a form and with the roles that a person named."""
    first = first_recipe(table, roles["measure"], roles["groups"])
    more = {name: column for name, column in roles.items() if name not in ("measure", "groups") and column}
    if more:
        groups = first.groups.column if first.groups else None
        return recipe_of_form(cast(FormName, form or "box"), first.measure.columns[0], groups, **more)
    return _along_its_order(in_form(first, cast(FormName, form)), table) if form else first


def contents_of(recipe: Path, table: Path, preparation: Path | None) -> Contents:
    """What goes into a bundle: the recipe with its preparation inside, the table and the tables that steps name beside it."""
    told = _recipe(recipe, None, {})
    if preparation is not None:
        steps, options = steps_of_file(preparation)
        told = told.model_copy(update={"prepare": steps, "read": options})
    rows = prepared_file(table, None, told.prepare or (), told.read or USUAL)
    refs = named_tables(told.prepare or [])
    others = {ref.name: RawData(ref.name, _bytes(table.parent / Path(ref.name).name)) for ref in refs}
    return Contents(told, RawData(table.name, _bytes(table)), list(others.values()), rows)


def draw_many(recipe: Recipe, rows: Table, out: Path, output: Output, many: BatchSpec) -> Iterator[Path]:
    """A figure for every level or measure: a file each in a folder, or a page each of one PDF. Raises InputError, once the
    others are written, where some cannot be drawn.
    """
    drawn = Batch(figures_of(recipe, rows, many), rows)
    one_file = format_of_ending(out.suffix)
    if one_file is not None and FORMATS[one_file].pages:
        pages = [scene for _, scene in drawn.scenes()]
        if pages:
            write(out, pages_bytes(pages, replace(output, file_format=one_file), pages[0].title))
            yield out
    else:
        out.mkdir(parents=True, exist_ok=True)
        names = list(file_names([name for name, _ in drawn.figures], output.file_format))
        for place, scene in drawn.scenes():
            write(out / names[place], scene_bytes(scene, output))
            yield out / names[place]
    if drawn.fault:
        raise drawn.fault


def resize(recipe: Recipe, size: str) -> Recipe:
    """The recipe on another sheet. Raises InputError for a size that is none."""
    width, _, height = size.partition("x")
    sizes = {"width": width.strip(), "height": height.strip() or None}
    return recipe_from({**recipe.model_dump(mode="json"), "size": sizes}, "--size")


def write(out: Path, data: bytes) -> None:
    """Raises InputError where the place does not take a file."""
    try:
        out.write_bytes(data)
    except OSError as error:
        what = (error.strerror or "cannot be written").lower()
        raise InputError(what, where=str(out), remedy="Choose another place.") from None


def _bytes(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as error:
        raise InputError((error.strerror or "cannot be read").lower(), where=str(path)) from None


def _recipe(path: Path | None, form: str | None, roles: dict[str, str | None]) -> Recipe:
    if path is not None:
        if form or any(roles.values()):
            raise InputError("a recipe file excludes --form and the roles of columns", remedy="Change the recipe instead.")
        return recipe_from(_bytes(path), str(path))
    measure = roles.pop("measure")
    if form is None or measure is None:
        raise InputError("there is no recipe to draw", remedy="Give a recipe file, or --form with --measure.")
    if roles["subgroups"] and not roles["groups"]:
        raise InputError("subgroups need groups", where="--subgroups", remedy="Name --groups too.")
    return recipe_of_form(cast(FormName, form), measure, **roles)


def _along_its_order(recipe: Recipe, table: Table) -> Recipe:
    """A series follows the table's dates or times, as on the page."""
    name = form_of(recipe)
    if name != "series":
        return recipe
    return in_form(recipe, name, order_of(recipe, [summary_of(column) for column in table.columns]))
