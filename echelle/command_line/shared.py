"""What commands share: how they print, and how they name a fault."""

from __future__ import annotations

import sys
from collections.abc import Collection, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import click
import orjson

from echelle.errors import InputError

FILE = click.Path(path_type=Path)
_OPTION_OF = {"$.measure.columns[0]": "--measure", "$.groups.column": "--groups", "$.subgroups.column": "--subgroups",
              "$.panels.down.column": "--down", "$.panels.across.column": "--across", "$.layers": "--paired-by or --runs",
              "$.differences.reference": "--reference", "$.differences.to": "--to"}  # fmt: skip


def print_json(data: Any) -> None:
    """One JSON document, indented."""
    sys.stdout.buffer.write(orjson.dumps(data, option=orjson.OPT_INDENT_2 | orjson.OPT_APPEND_NEWLINE))


def print_table(headings: Sequence[str], rows: Sequence[Sequence[str]], right: Collection[str]) -> None:
    """A table of texts as they are written, each cell on one line; the columns of ``right`` stand to the right."""
    from tabulate import tabulate

    cells = [[" ".join(cell.split()) for cell in row] for row in rows]
    sides = ["right" if heading in right else "left" for heading in headings]
    click.echo(tabulate(cells, list(headings), tablefmt="plain", disable_numparse=True, colalign=sides if rows else None))


def refuse_subgroups_of_several(measures: Sequence[str], subgroups: str | None) -> None:
    """Raises InputError where several measures and subgroups would stand in the same place."""
    if len(measures) > 1 and subgroups is not None:
        what = "several measures stand where subgroups would"
        raise InputError(what, where="--subgroups", remedy="Leave one of them out.")


@contextmanager
def options_named() -> Iterator[None]:
    """Where the recipe was built from options, a fault names the option and not a JSON path."""
    try:
        yield
    except InputError as error:
        raise InputError(error.what, where=_OPTION_OF.get(error.where, error.where), remedy=error.remedy) from None
