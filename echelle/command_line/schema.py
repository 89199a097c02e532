"""echelle schema: the JSON Schema of the recipe."""

from __future__ import annotations

import click

from echelle.command_line.shared import print_json
from echelle.recipes.seal import schema as recipe_schema


@click.command()
def schema() -> None:
    """Print the JSON Schema of the recipe."""
    print_json(recipe_schema())
