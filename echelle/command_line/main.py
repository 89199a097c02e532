"""The command line: echelle read, describe, compare, draw, schema."""

from __future__ import annotations

import shutil
import sys
from collections.abc import Iterator
from contextlib import contextmanager, nullcontext
from pathlib import Path
from typing import Any, cast, get_args

import click
import numpy as np
import orjson
from rich.console import Console
from rich.table import Table as Grid

from echelle import RELEASE
from echelle.batch import Many
from echelle.bundles.pseudonyms import coded
from echelle.bundles.writer import bundle as bundle_bytes
from echelle.command_line.describe_options import asked_from, control_asked
from echelle.command_line.files import contents_of, draw_many, format_of, recipe_and_rows, sized, write
from echelle.command_line.lane_readings import describe_lanes
from echelle.comparison.lane_differences import compared
from echelle.comparison.text_report import lines_of
from echelle.drawing.svg import SvgText
from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.numbers.bandwidth import BANDWIDTH_RULES
from echelle.numbers.bins import BIN_RULES
from echelle.numbers.differences.multiple_comparisons import Adjustment
from echelle.numbers.differences.reference_limits import LimitMethod
from echelle.numbers.kernels import KERNELS
from echelle.numbers.rounding import as_read, decimals_of
from echelle.recipes.differences import ComparedTo, Differences, Repeats
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.seal import schema as recipe_schema
from echelle.render import FILE_FORMATS, FileFormat, Output, reader_key_of, scene_bytes, scene_of
from echelle.tables.numerals import Decimal
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.read import read_file
from echelle.tables.reading.read_report import account_of
from echelle.tables.steps.files import prepared_file

_FILE = click.Path(path_type=Path)
_OPTION_OF = {"$.measure.columns[0]": "--measure", "$.groups.column": "--groups", "$.subgroups.column": "--subgroups",
              "$.panels.down.column": "--down", "$.panels.across.column": "--across", "$.layers": "--paired-by or --runs",
              "$.differences.reference": "--reference", "$.differences.to": "--to"}  # fmt: skip


@click.version_option(RELEASE, message="Echelle %(version)s")
@click.group(help="Compare a measurement across groups: the numbers and the figure.", no_args_is_help=False)
def app() -> None:
    """The group of all commands."""


@app.command()
@click.argument("file", type=_FILE)
@click.option("--sheet", help="Of a workbook: the sheet to read; the first visible one when left out.")
@click.option("--delimiter", help="Of delimited text; “tab” or \\t for a tab.")
@click.option("--decimal", type=click.Choice([",", "."]), help="The decimal mark.")
@click.option("--header-row", type=click.IntRange(1), help="The line (or sheet row) of the headings, from 1.")
@click.option("--json", "as_json", is_flag=True, help="One JSON object.")
def read(
    file: Path, sheet: str | None, delimiter: str | None, decimal: str | None, header_row: int | None, as_json: bool
) -> None:
    """Say how FILE is read: its columns, their kinds, what is missing, and every guess."""
    if delimiter is not None:
        delimiter = {"tab": "\t", "\\t": "\t"}.get(delimiter, delimiter)
        if len(delimiter) != 1 or delimiter in '"\r\n':
            raise InputError("a delimiter is one character", where="--delimiter", remedy="Give , ; | or tab.")
    mark = {",": "comma", ".": "point", None: None}[decimal]
    options = ReadingOptions(delimiter=delimiter, decimal=cast(Decimal | None, mark), header_row=header_row, sheet=sheet)
    found = account_of(read_file(file, options))
    if as_json:
        _print_json(found)
        return
    head = [
        found["format"],
        found["sheet"],
        found["encoding"],
        f"{found['rows']} rows",
        f"heading on line {found['header_row']}",
    ]
    grid = Grid("column", "kind", "unit", title=" · ".join(str(h) for h in head if h), title_justify="left", box=None)
    grid.header_style, grid.pad_edge = "bold", False
    for key in ("missing", "censored"):
        grid.add_column(key, justify="right")
    grid.add_column("first values")
    for column in found["columns"]:
        counts = [str(column[key] or "") for key in ("missing", "censored")]
        grid.add_row(column["name"], column["kind"], column["unit"] or "", *counts, ", ".join(column["first"]))
    console = Console(highlight=False, markup=False, width=max(120, shutil.get_terminal_size().columns))
    console.print(grid)
    for remark in found["remarks"]:
        place = f"line {remark['line']}: " if remark["line"] else ""
        console.print(f"- {place}{remark['text']}")


@app.command()
@click.argument("table", type=_FILE)
@click.option("--measure", "measures", multiple=True, required=True, help="Column of numbers; several give one lane each.")
@click.option("--groups", help="Column whose levels become lanes.")
@click.option("--subgroups", help="Column that splits each group.")
@click.option("--preparation", type=_FILE, help="Steps (JSON) that make the rows ready first.")
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
@click.option("--json", "as_json", is_flag=True, help="One JSON object with full digits.")
def describe(
    table: Path, measures: tuple[str, ...], groups: str | None, subgroups: str | None, preparation: Path | None,
    as_json: bool, **options: Any,
) -> None:  # fmt: skip
    """Print the readings of each lane of TABLE."""
    asked = asked_from(**options)
    with _options_named():
        found = describe_lanes(prepared_file(table, preparation), measures, groups, subgroups, asked)
    if as_json:
        _print_json(found)
        return
    keys = ("n", "missing", "censored", "min", "q1", "median", "q3", "max", "mean", "sd")
    grid = Grid("lane", title=str(found["measure"]), title_justify="left", box=None, pad_edge=False, header_style="bold")
    for key in (*keys, "beyond"):
        grid.add_column(key, justify="right", no_wrap=True)
    ends = [lane[end] for lane in found["lanes"] for end in ("min", "max") if isinstance(lane[end], float)]
    places = decimals_of(np.array(ends, dtype=float)) + 1
    for lane in found["lanes"]:
        cells = [str(v) if isinstance(v := lane[key], int | str) else as_read(v, places) for key in keys]
        name = " · ".join(part for part in (lane["group"], lane["subgroup"]) if part) or "all rows"
        grid.add_row(name, *cells, str(len(lane["outliers"])))
    Console(highlight=False, width=max(120, shutil.get_terminal_size().columns)).print(grid)
    for remark in found["remarks"]:
        click.echo(f"- {remark}")


@app.command()
@click.argument("table", type=_FILE)
@click.option("--measure", required=True, help="Column of numbers.")
@click.option("--groups", required=True, help="Column whose levels are compared.")
@click.option("--subgroups", help="Column that splits each group: two factors.")
@click.option("--preparation", type=_FILE, help="Steps (JSON) that make the rows ready first.")
@click.option("--to", type=click.Choice(get_args(ComparedTo)), default="reference", show_default=True, help="What with what.")
@click.option("--reference", help="The level that the others are set against; the first one when left out.")
@click.option("--level", type=click.FloatRange(0.5, 0.999), default=0.95, show_default=True, help="Of the intervals.")
@click.option("--together", is_flag=True, help="Intervals that hold together, by Bonferroni.")
@click.option(
    "--adjusted", type=click.Choice(get_args(Adjustment)), default="Holm", show_default=True, help="p-values of pairs."
)
@click.option("--paired-by", help="Identifier column: differences within subjects.")
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
@click.option("--json", "as_json", is_flag=True, help="One JSON object with full digits; keys: docs/differences.md.")
def compare(
    table: Path,
    measure: str,
    groups: str,
    subgroups: str | None,
    preparation: Path | None,
    lots: str | None,
    as_json: bool,
    **asked: Any,
) -> None:
    """Say how large the differences between the lanes of TABLE are, how sure that is, and what speaks for them."""
    with _options_named():
        differences = Differences.model_validate(asked | {"control": control_asked(asked["control"], lots)})
        recipe = recipe_of_form("means", measure, groups, subgroups).model_copy(update={"differences": differences})
        arrangement = arrange(recipe, prepared_file(table, preparation))
        found = compared(arrangement, differences)
    if as_json:
        _print_json(found.model_dump(mode="json"))
        return
    for line in lines_of(found, decimals_of(arrangement.sample) + 1):
        click.echo(line)


@app.command()
@click.argument("recipe", type=_FILE, required=False)
@click.option("--table", type=_FILE, help="The data: a CSV or TSV file; a bundle brings its own.")
@click.option("--out", type=_FILE, required=True, help="The figure: .svg, .pdf, .png, .tiff, or .json for the scene.")
@click.option("--form", type=click.Choice(list(FORMS)), help="Build a recipe on the spot.")
@click.option("--measure", help="With --form: column of numbers.")
@click.option("--groups", help="With --form: column whose levels become lanes.")
@click.option("--subgroups", help="With --form: column that splits each group.")
@click.option("--down", help="With --form: column whose levels get panels one under another.")
@click.option("--across", help="With --form: column whose levels get panels side by side.")
@click.option("--dpi", type=float, default=300.0, show_default=True, help="Of PNG and TIFF, and of points drawn as an image.")
@click.option("--size", help="Width, or width x height, such as 174mmx110mm.")
@click.option("--svg-text", type=click.Choice(["live", "outlines"]), default="live", show_default=True)
@click.option("--clear", is_flag=True, help="Leave the ground clear.")
@click.option("--reader-key", "key", is_flag=True, help="Draw the reader's key as a page of its own instead of the figure.")
@click.option("--each", help="A figure for every level of this column; --out is a folder, or one PDF.")
@click.option("--measures", help="A figure for each of these measures, with commas, or “all”; --out is a folder, or one PDF.")
@click.option("--kind", type=click.Choice(FILE_FORMATS), default="svg", show_default=True, help="Of the files in a folder.")
@click.option("--preparation", type=_FILE, help="Steps (JSON) that make the rows ready, for a recipe that carries none.")
def draw(
    recipe: Path | None, table: Path | None, out: Path, form: str | None, dpi: float, size: str | None, svg_text: str,
    clear: bool, key: bool, each: str | None, measures: str | None, kind: str, preparation: Path | None, **roles: str | None,
) -> None:  # fmt: skip
    """Draw a figure from a RECIPE file (JSON) or a bundle (zip), or from --form and the columns' roles."""
    many = each is not None or measures is not None
    file_format = cast(FileFormat, kind) if many else format_of(out)
    drawn, rows = recipe_and_rows(recipe, table, preparation, form, roles)
    if size:
        drawn = sized(drawn, size)
    output = Output(file_format, dpi, cast(SvgText, svg_text), clear)
    with _options_named() if form else nullcontext():
        if many:
            listed = [] if measures == "all" else [name.strip() for name in measures.split(",")] if measures else None
            for path in draw_many(drawn, rows, out, output, Many(each, listed)):
                click.echo(path)
            return
        data = scene_bytes(reader_key_of(drawn, arrange(drawn, rows)) if key else scene_of(drawn, rows), output, drawn.made)
    write(out, data)


@app.command()
@click.argument("recipe", type=_FILE)
@click.option("--table", type=_FILE, required=True, help="The data: a CSV, TSV or XLSX file.")
@click.option("--out", type=_FILE, required=True, help="The bundle: .zip.")
@click.option("--preparation", type=_FILE, help="Steps (JSON) that make the rows ready, for a recipe that carries none.")
@click.option("--coded", "as_codes", is_flag=True, help="Replace identifiers by running codes.")
def bundle(recipe: Path, table: Path, out: Path, preparation: Path | None, as_codes: bool) -> None:
    """Put a figure and all it was made of into one zip file that redraws it anywhere."""
    contents = contents_of(recipe, table, preparation)
    write(out, bundle_bytes(coded(contents) if as_codes else contents))


@app.command()
def schema() -> None:
    """Print the JSON Schema of the recipe."""
    _print_json(recipe_schema())


def _print_json(data: Any) -> None:
    sys.stdout.buffer.write(orjson.dumps(data, option=orjson.OPT_INDENT_2 | orjson.OPT_APPEND_NEWLINE))


@contextmanager
def _options_named() -> Iterator[None]:
    """Where the recipe was built from options, a fault names the option and not a JSON path."""
    try:
        yield
    except InputError as error:
        raise InputError(error.what, where=_OPTION_OF.get(error.where, error.where), remedy=error.remedy) from None


def main() -> None:
    """Run the command line: exit 0, or 2 with one line on stderr for anything wrong with the input."""
    try:
        code = app(standalone_mode=False)
    except InputError as error:
        code = _refuse(error.sentence())
    except click.ClickException as error:
        code = _refuse(error.format_message())
    except (click.Abort, KeyboardInterrupt):
        code = 130
    except BrokenPipeError:
        code = 0
    sys.exit(code or 0)


def _refuse(sentence: str) -> int:
    print(f"echelle: {' '.join(sentence.split())}", file=sys.stderr)
    return 2


if __name__ == "__main__":
    main()
