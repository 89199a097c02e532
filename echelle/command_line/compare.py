"""echelle compare: how large the differences between lanes are."""

from __future__ import annotations

from pathlib import Path
from typing import Any, get_args

import click

from echelle.command_line.describe_options import control_option
from echelle.command_line.rows import WORKERS, rows_for
from echelle.command_line.shared import FILE, options_named, print_json, refuse_subgroups_of_several
from echelle.comparison.lane_differences import compare_lanes
from echelle.comparison.models import LaneDifferences
from echelle.comparison.text_report import lines_of
from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.lane import Arrangement
from echelle.numbers.differences.multiple_comparisons import Adjustment
from echelle.numbers.differences.reference_limits import LimitMethod
from echelle.numbers.rounding import decimals_of
from echelle.recipes.differences import ComparedTo, Differences, Repeats
from echelle.recipes.forms import recipe_of_form
from echelle.tables.table import Table


@click.command()
@click.argument("table", type=FILE)
@click.option("--measure", "measures", multiple=True, required=True, help="Column of numbers; several are compared in pairs.")
@click.option("--groups", help="Column whose levels are compared.")
@click.option("--subgroups", help="Column that splits each group: two factors.")
@click.option("--preparation", type=FILE, help="Steps (JSON) that make the rows ready first.")
@click.option("--to", type=click.Choice(get_args(ComparedTo)), default="reference", show_default=True, help="What with what.")
@click.option("--reference", help="The level that the others are set against; the first one when left out.")
@click.option("--level", type=click.FloatRange(0.5, 0.999), default=0.95, show_default=True, help="Of the intervals.")
@click.option("--together", is_flag=True, help="Intervals that hold together, by Bonferroni.")
@click.option(
    "--adjusted", type=click.Choice(get_args(Adjustment)), default="Holm", show_default=True, help="p-values of pairs."
)
@click.option("--paired-by", help="Identifier column: differences within subjects.")
@click.option(
    "--by-row/--not-by-row", "by_row", default=None, help="Values of one row are pairs: usual where lanes share rows."
)
@click.option(
    "--repeats", type=click.Choice(get_args(Repeats)), default="mean", show_default=True, help="Several rows of one subject."
)
@click.option("--margin", type=float, help="The difference that still counts as equivalent.")
@click.option("--runs", help="Column of runs: within-run, between-run and total spread.")
@click.option("--limits", type=click.Choice(get_args(LimitMethod)), help="Reference limits.")
@click.option(
    "--control",
    help="Control rules in row order: “own”, a target mean and SD such as 5.2,0.3, or the values 1-20 of each lane.",
)
@click.option("--lots", help="With --control: column of lots; rules and targets begin anew with each.")
@click.option("--seed", type=click.IntRange(0), default=41, show_default=True, help="Of everything that is resampled.")
@WORKERS
@click.option("--json", "as_json", is_flag=True, help="One JSON object with full digits; keys: docs/differences.md.")
def compare(
    table: Path,
    measures: tuple[str, ...],
    groups: str | None,
    subgroups: str | None,
    preparation: Path | None,
    lots: str | None,
    workers: int,
    as_json: bool,
    **asked: Any,
) -> None:
    """Say how large the differences between the lanes of TABLE are, how sure that is, and what speaks for them."""
    with options_named():
        differences = Differences.model_validate(asked | {"control": control_option(asked["control"], lots)})
        if len(measures) < 2 and groups is None:
            raise InputError("nothing to compare", where="--groups", remedy="Name --groups, or --measure twice.")
        refuse_subgroups_of_several(measures, subgroups)
        recipe = recipe_of_form("means", measures[0], groups, subgroups)
        measure = recipe.measure.model_copy(update={"columns": list(measures)})
        recipe = recipe.model_copy(update={"differences": differences, "measure": measure})

        def compared(rows: Table) -> tuple[Arrangement, LaneDifferences]:
            arrangement = arrange(recipe, rows)
            return arrangement, compare_lanes(arrangement, differences)

        arrangement, lanes = compared(rows_for(table, preparation, workers)(recipe, compared))
    if as_json:
        print_json(lanes.model_dump(mode="json"))
        return
    for line in lines_of(lanes, decimals_of(arrangement.excerpt) + 1):
        click.echo(line)
