"""echelle describe: the readings of each lane."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import click
import numpy as np

from echelle.command_line.describe_options import describe_options
from echelle.command_line.lane_readings import describe_lanes
from echelle.command_line.rows import WORKERS, rows_for
from echelle.command_line.shared import FILE, options_named, print_json, print_table
from echelle.numbers.bandwidth import BANDWIDTH_RULES
from echelle.numbers.bins import BIN_RULES
from echelle.numbers.kernels import KERNELS
from echelle.numbers.rounding import decimals_of, display_number


@click.command()
@click.argument("table", type=FILE)
@click.option(
    "--measure",
    "measures",
    multiple=True,
    required=True,
    help="Column of numbers; several give one lane each, or one in each group.",
)
@click.option("--groups", help="Column whose levels become lanes.")
@click.option("--subgroups", help="Column that splits each group.")
@click.option("--preparation", type=FILE, help="Steps (JSON) that make the rows ready first.")
@click.option("--quantile-type", type=click.IntRange(1, 9), default=7, show_default=True, help="Hyndman & Fan definition.")
@click.option("--quantiles", help="Probabilities with commas, such as 0.1,0.5,0.9.")
@click.option("--fence", type=click.FloatRange(0), default=1.5, show_default=True, help="Reach of the fences in IQRs.")
@click.option("--bins", help=f"{', '.join(BIN_RULES)}; a count; width:W; or edges:a,b,c (ends may be -inf, inf).")
@click.option("--common-bins", is_flag=True, help="The same bins for all lanes.")
@click.option("--bandwidth", help=f"{', '.join(BANDWIDTH_RULES)}; or a number.")
@click.option("--kernel", type=click.Choice(KERNELS), help="Of the density; gaussian unless named.")
@click.option("--density-at", help="Where to compute the density: numbers with commas.")
@click.option("--limits-in-order", is_flag=True, help="Quantiles count “<0.4” at its place in the order.")
@click.option("--all-readings", is_flag=True, help="Also CV, geometric mean, peaks, intervals and tests of shape (in JSON).")
@WORKERS
@click.option("--json", "as_json", is_flag=True, help="One JSON object with full digits.")
def describe(
    table: Path, measures: tuple[str, ...], groups: str | None, subgroups: str | None, preparation: Path | None,
    workers: int, as_json: bool, **options: Any,
) -> None:  # fmt: skip
    """Print the readings of each lane of TABLE: a file, or a folder of Parquet or CSV files."""
    asked = describe_options(**options)
    with options_named():
        lanes = describe_lanes(rows_for(table, preparation, workers), measures, groups, subgroups, asked)
    if as_json:
        print_json(lanes)
        return
    keys = ("n", "missing", "censored", "min", "q1", "median", "q3", "max", "mean", "sd")
    ends = [lane[end] for lane in lanes["lanes"] for end in ("min", "max") if isinstance(lane[end], float)]
    places = decimals_of(np.array(ends, dtype=float)) + 1
    rows = []
    for lane in lanes["lanes"]:
        cells = [str(v) if isinstance(v := lane[key], int | str) else display_number(v, places) for key in keys]
        rows.append([_name(lane), *cells, str(lane["beyond"])])
    click.echo(str(lanes["measure"]))
    print_table(["lane", *keys, "beyond"], rows, right=(*keys, "beyond"))
    for lane in lanes["lanes"]:
        for line in _asked_lines(lane, places):
            click.echo(line)
    for remark in lanes["remarks"]:
        click.echo(f"- {remark}")


def _name(lane: dict[str, Any]) -> str:
    return " · ".join(part for part in (lane["group"], lane["subgroup"]) if part) or "all rows"


def _asked_lines(lane: dict[str, Any], places: int) -> Iterator[str]:
    """Quantiles, bins and the bandwidth of a lane, where they were asked for."""
    name, density = _name(lane), lane["density"]
    if lane["quantiles"]:
        said = {p: v if isinstance(v, str) else display_number(v, places) for p, v in lane["quantiles"].items()}
        yield f"{name}, quantiles " + ", ".join(f"{p}: {value}" for p, value in said.items())
    if lane["bins"]:
        ends = ["open" if edge is None else display_number(edge, places) for edge in lane["bins"]["edges"]]
        counted = zip(ends, ends[1:], lane["bins"]["counts"], strict=False)
        yield f"{name}, bins " + ", ".join(f"{low} to {high}: {count}" for low, high, count in counted)
    if density and density["bandwidth"] is not None:
        yield f"{name}, density: {density['kernel']}, bandwidth {density['bandwidth']:.4g}; --json has the curve"
