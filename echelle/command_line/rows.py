"""The rows that a command looks at: of one file, or of the many files of a far table, counted for the question."""

from __future__ import annotations

import re
import sys
from collections.abc import Callable
from pathlib import Path

import click

from echelle.recipes.recipe import Recipe
from echelle.recipes.used_columns import columns_of
from echelle.tables.reading.options import USUAL, ReadingOptions
from echelle.tables.reading.size_limits import USUAL_LIMITS
from echelle.tables.steps.base import StepBase
from echelle.tables.steps.files import prepared_file, steps_of_file
from echelle.tables.table import Table

# What is done with rows: of a far table it tells which values are looked for one by one.
Use = Callable[[Table], object]
# The prepared rows for a recipe and what is done with them.
RowsOf = Callable[[Recipe, Use], Table]
_STORE = re.compile(r"^([a-z][a-z0-9]+):/(?=[^/])")
WORKERS = click.option(
    "--workers", type=click.IntRange(0), default=0, show_default=True,
    help="Processes that count many files, or one too large to be read; 0: threads. ECHELLE_SCHEDULER names a cluster.",
)  # fmt: skip


def rows_for(path: Path, preparation: Path | None, workers: int) -> RowsOf:
    """The rows of a file, or of a folder or pattern of files. Raises InputError for what cannot be read."""
    if not _is_far(path):
        table = prepared_file(path, preparation)
        return lambda recipe, use: table
    steps, _ = steps_of_file(preparation) if preparation is not None else ((), USUAL)
    return lambda recipe, use: counted_rows(path, recipe, use, steps, workers)


def _address_of(path: Path) -> str:
    """Where a folder, a pattern or a file lies; a store's address (s3://bucket/log), which a path has with one slash."""
    return _STORE.sub(r"\1://", str(path), count=1)


def _is_far(path: Path) -> bool:
    return (
        bool(_STORE.match(str(path)))
        or path.is_dir()
        or _is_beyond_reading(path)
        or (any(sign in str(path) for sign in "*?[") and not path.exists())
    )


def _is_beyond_reading(path: Path) -> bool:
    """Whether a file is larger than those that are read whole, and of a format that is counted batch by batch."""
    if not path.is_file():
        return False
    large, ending = path.stat().st_size > USUAL_LIMITS.megabytes * 1e6, path.suffix.lower()
    if not large and ending not in (".parquet", ".pq"):
        return False
    from echelle.far.manifest import ENDINGS, extent_of

    if large:
        return ending in ENDINGS
    rows, columns = extent_of(path) or (0, 0)
    return rows > USUAL_LIMITS.rows or rows * columns > USUAL_LIMITS.cells


def rows_of_recipe(
    path: Path, recipe: Recipe | None, use: Use, preparation: Path | None, workers: int, options: ReadingOptions = USUAL
) -> tuple[Table, bool]:
    """The rows for a recipe, and whether they are a sample: those of a far table without a recipe."""
    steps = (recipe.prepare if recipe is not None else None) or ()
    if not _is_far(path):
        return prepared_file(path, preparation, steps, options), False
    if preparation is not None:
        steps, _ = steps_of_file(preparation)
    if recipe is not None:
        return counted_rows(path, recipe, use, steps, workers), False
    from echelle.far.far_table import FarTable
    from echelle.tables.steps.prepare import all_steps

    return all_steps(FarTable.at(_address_of(path)).sample.table, list(steps)), True


def counted_rows(path: Path, recipe: Recipe, use: Use, steps: list[StepBase] | tuple[()], workers: int) -> Table:
    """The counted rows of a far table that a recipe arranges, with its progress on a terminal."""
    from echelle.far.engine import Engine
    from echelle.far.far_table import FarTable, PartsDone

    far = FarTable.at(_address_of(path))
    columns = columns_of(recipe) - set(recipe.measure.columns)

    def say(parts: PartsDone) -> None:
        if sys.stderr.isatty():
            click.echo(f"\r{parts.done} of {parts.of} files", nl=parts.done == parts.of, err=True)

    questions = {measure: far.question(measure, columns, steps) for measure in recipe.measure.columns}
    return far.count(questions, use, Engine.from_environment(workers), say, recipe.left_out)
