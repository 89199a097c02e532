"""Time and memory of scenes, form by form, and how they grow: python -m benchmarks.figures.

A scene is timed cold (fresh lanes) and warm (lanes and curves at hand, as in a worker that has drawn the figure before).
Limits: docs/speed.md.
"""

from __future__ import annotations

import statistics
import sys
import time
import tracemalloc

import click
import numpy as np
import orjson
import polars as pl

from echelle.figures.lanes.arrange import arrange
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.recipe import FormName, Recipe
from echelle.render import scene_of_lanes
from echelle.tables.column_builders import measure_of, words_of
from echelle.tables.table import Table

SIZES = (1_000, 10_000, 100_000, 1_000_000)
# Forms that draw or write each value apart stop where nobody could read them.
MOST: dict[FormName, int] = {"stem": 10_000}
WARM_LIMITS = {("raincloud", 10_000): 40.0}
PREVIEW_LIMIT = 80.0
MINIATURES_LIMIT = 300.0


def table(rows: int) -> Table:
    """Skewed values in four groups."""
    rng = np.random.default_rng(7)
    groups = np.array([f"group {i}" for i in range(1, 5)])[rng.integers(0, 4, rows)]
    names = words_of("group", "category", pl.Series(groups.tolist()))
    return Table((names, measure_of("level", rng.lognormal(2.0, 0.5, rows))), rows)


def milliseconds(recipe: Recipe, table: Table, pairs: int) -> tuple[float, float, float]:
    """Cold, warm median and warm 95th percentile of a scene with its serialising."""
    began = time.perf_counter()
    lanes = arrange(recipe, table)
    orjson.dumps(scene_of_lanes(recipe, lanes).model_dump(mode="json"))
    cold = (time.perf_counter() - began) * 1000
    warm = []
    for _ in range(pairs):
        began = time.perf_counter()
        orjson.dumps(scene_of_lanes(recipe, lanes).model_dump(mode="json"))
        warm.append((time.perf_counter() - began) * 1000)
    return cold, statistics.median(warm), float(np.quantile(warm, 0.95))


def memory(recipe: Recipe, table: Table) -> float:
    """Peak while a scene is made, as a multiple of the values."""
    lanes = arrange(recipe, table)
    tracemalloc.start()
    scene_of_lanes(recipe, lanes)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    return peak / (8 * table.rows)


@click.command()
@click.option("--pairs", default=15)
@click.option("--most", default=SIZES[-1], help="The most rows.")
def main(pairs: int, most: int) -> None:
    """Measure."""
    over = False
    click.echo(f"{'form':<12}{'rows':>10}{'cold ms':>10}{'warm ms':>10}{'warm p95':>10}{'memory × values':>18}")
    tables = {rows: table(rows) for rows in SIZES if rows <= most}
    for form in FORMS:
        recipe = recipe_of_form(form, "level", "group")
        for rows, data in tables.items():
            if rows > MOST.get(form, most):
                continue
            cold, warm, late = milliseconds(recipe, data, pairs if rows < 1_000_000 else 3)
            limit = WARM_LIMITS.get((form, rows), PREVIEW_LIMIT if rows == 100_000 else None)
            failed = limit is not None and warm > limit
            over |= failed
            words = f"   limit {limit:g}{'   <-- over' if failed else ''}" if limit else ""
            click.echo(f"{form:<12}{rows:>10}{cold:>10.1f}{warm:>10.1f}{late:>10.1f}{memory(recipe, data):>18.1f}{words}")
    for rows, data in tables.items():
        # As in a worker that has just drawn the figure: its lanes are at hand, curves and bins of other forms are not.
        lanes = arrange(recipe_of_form("box", "level", "group"), data)
        began = time.perf_counter()
        for form in FORMS:
            scene_of_lanes(recipe_of_form(form, "level", "group"), lanes, miniature=True)
        took = (time.perf_counter() - began) * 1000
        limit = MINIATURES_LIMIT if rows == 100_000 else None
        over |= limit is not None and took > limit
        click.echo(f"all miniatures, {rows} rows: {took:.0f} ms" + (f"   limit {limit:g}" if limit else ""))
    sys.exit(int(over))


if __name__ == "__main__":
    main()
