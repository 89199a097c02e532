"""echelle bundle: a figure and all it was made of in one file."""

from __future__ import annotations

from pathlib import Path

import click

from echelle.bundles.pseudonyms import with_pseudonyms
from echelle.bundles.writer import bundle as bundle_bytes
from echelle.command_line.files import contents_of, write
from echelle.command_line.shared import FILE


@click.command()
@click.argument("recipe", type=FILE)
@click.option("--table", type=FILE, required=True, help="The data: a CSV, TSV or XLSX file.")
@click.option("--out", type=FILE, required=True, help="The bundle: .zip.")
@click.option("--preparation", type=FILE, help="Steps (JSON) that make the rows ready, for a recipe that carries none.")
@click.option("--coded", "as_codes", is_flag=True, help="Replace identifiers by running codes.")
def bundle(recipe: Path, table: Path, out: Path, preparation: Path | None, as_codes: bool) -> None:
    """Put a figure and all it was made of into one zip file that redraws it anywhere."""
    contents = contents_of(recipe, table, preparation)
    write(out, bundle_bytes(with_pseudonyms(contents) if as_codes else contents))
