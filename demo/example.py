"""A whole example without browser or database: reads the demo table, draws three figures, prints the readings."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.readings import read_lane, rules_of
from echelle.numbers.rounding import display_number
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers import Layer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.parse import recipe_text
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import Axis
from echelle.render import figure_bytes
from echelle.tables.reading.read import read_file
from echelle.tables.steps.conditions import OneOf

_FORMATS = ("svg", "pdf", "png")


def recipes() -> dict[str, Recipe]:
    """Three questions to the samples."""
    waking = [OneOf(column="sample", values=["Waking"])]
    by_shift = recipe_of_form("box", "cortisol", "shift pattern").model_copy(update={"keep": waking})
    by_ward = recipe_of_form("box", "cortisol", "ward").model_copy(update={"keep": waking})
    layers: list[Layer] = [*by_ward.layers, PointsLayer(id="p1")]
    by_sample = recipe_of_form("box", "cortisol", "sample").model_copy(update={"axis": Axis(runs="up")})
    return {
        "waking-by-shift": by_shift,
        "waking-by-ward-with-points": by_ward.model_copy(update={"layers": layers}),
        "day-course": by_sample,
    }


@click.command()
@click.argument("folder", type=click.Path(path_type=Path))
def main(folder: Path) -> None:
    """Draw three box figures of demo/samples.csv into FOLDER, each as SVG, PDF, PNG and recipe."""
    folder.mkdir(parents=True, exist_ok=True)
    table = read_file(Path(__file__).parent / "samples.csv").table
    for name, recipe in recipes().items():
        (folder / f"{name}.recipe.json").write_bytes(recipe_text(recipe))
        for file_format in _FORMATS:
            (folder / f"{name}.{file_format}").write_bytes(figure_bytes(recipe, table, file_format))
        sys.stdout.write(f"\n{name}\n")
        for lane in arrange(recipe, table).lanes:
            r = read_lane(lane, rules_of(recipe))
            median, q1, q3 = (display_number(v, 2) for v in (r.median, r.q1, r.q3))
            sys.stdout.write(
                f"  {lane.name:<10} n {r.n:>4}   median {median:>6}   quartiles {q1} to {q3}   beyond {r.beyond}\n"
            )
    sys.stdout.write(f"\n{3 * len(_FORMATS)} figures and 3 recipes are in {folder}.\n")


if __name__ == "__main__":
    main()
