"""echelle read: how a file is read."""

from __future__ import annotations

from pathlib import Path
from typing import cast, get_args

import click

from echelle.command_line.files import first_recipe
from echelle.command_line.shared import FILE, print_json, print_table
from echelle.errors import InputError
from echelle.recipes.default_recipe import question
from echelle.tables.numerals import Decimal
from echelle.tables.reading.encoding import Encoding
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.read import read_file
from echelle.tables.reading.read_report import account_of


@click.command()
@click.argument("file", type=FILE)
@click.option("--sheet", help="Of a workbook: the sheet to read; the first visible one when left out.")
@click.option("--delimiter", help="Of delimited text; “tab” or \\t for a tab, “ ” for blanks.")
@click.option("--decimal", type=click.Choice([",", "."]), help="The decimal mark.")
@click.option("--header-row", type=click.IntRange(0), help="Line (or sheet row) of the headings, from 1; 0: none.")
@click.option("--encoding", type=click.Choice(get_args(Encoding)), help="Of text that is no Unicode, or misread.")
@click.option("--json", "as_json", is_flag=True, help="One JSON object.")
def read(
    file: Path, sheet: str | None, delimiter: str | None, decimal: str | None, header_row: int | None,
    encoding: Encoding | None, as_json: bool,
) -> None:  # fmt: skip
    """Say how FILE is read: its columns, their kinds, what is missing, every guess, and the first question."""
    if delimiter is not None:
        delimiter = {"tab": "\t", "\\t": "\t"}.get(delimiter, delimiter)
        if len(delimiter) != 1 or delimiter in '"\r\n':
            raise InputError("a delimiter is one character", where="--delimiter", remedy="Give , ; | or tab.")
    mark = {",": "comma", ".": "point", None: None}[decimal]
    options = ReadingOptions(
        delimiter=delimiter,
        decimal=cast(Decimal | None, mark),
        header_row=header_row,
        sheet=sheet,
        encoding=encoding,
    )
    reading = read_file(file, options)
    account = account_of(reading) | {"question": question(first_recipe(reading.table))}
    if as_json:
        print_json(account)
        return
    head = [
        account["format"],
        account["sheet"],
        account["encoding"],
        f"{account['rows']} rows",
        f"heading on line {account['header_row']}",
    ]
    click.echo(" · ".join(str(part) for part in head if part))
    rows = [
        [
            column["name"], column["kind"], column["unit"] or "", *(str(column[key] or "") for key in ("missing", "censored")),
            ", ".join(column["first"]),
        ]
        for column in account["columns"]
    ]  # fmt: skip
    print_table(["column", "kind", "unit", "missing", "censored", "first values"], rows, right=("missing", "censored"))
    cells = account["cells"]
    click.echo(f"{cells['filled']} cells filled = {cells['values']} with a value + {cells['named']} named below")
    click.echo(account["question"])
    for remark in account["remarks"]:
        place = f"line {remark['line']}: " if remark["line"] else ""
        click.echo(f"- {place}{remark['text']}")
