"""Every form, both ways, with and without subgroups and panels, on contact sheets: python -m demo.sheets FOLDER."""

from __future__ import annotations

import io
import sys
from collections.abc import Sequence
from pathlib import Path

import click
from PIL import Image

from echelle.errors import InputError
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.style import Runs
from echelle.render import figure_bytes
from echelle.tables.reading.read import read_file

_SPLITS: dict[str, dict[str, str]] = {
    "plain": {},
    "subgroups": {"subgroups": "day"},
    "panels": {"across": "ward"},
    "panels and subgroups": {"down": "day", "across": "ward", "subgroups": "haemolysed"},
}
_WAYS: tuple[Runs, ...] = ("across", "up")
_WIDE, _GAP, _IN_LINE = 560, 10, 4


def recipes(form: FormName) -> list[Recipe]:
    """A form's figures, in the order of the sheet."""
    made = []
    for runs in _WAYS:
        for roles in _SPLITS.values():
            recipe = recipe_of_form(form, "cortisol", "shift pattern", **roles)
            made.append(recipe.model_copy(update={"axis": recipe.axis.model_copy(update={"runs": runs})}))
    return made


def sheet(pictures: Sequence[Image.Image]) -> Image.Image:
    """Pictures in lines, all of one width."""
    sized = [picture.resize((_WIDE, round(picture.height * _WIDE / picture.width))) for picture in pictures]
    lines = [sized[i : i + _IN_LINE] for i in range(0, len(sized), _IN_LINE)]
    heights = [max(picture.height for picture in line) + _GAP for line in lines]
    whole = Image.new("RGB", (_IN_LINE * (_WIDE + _GAP), sum(heights)), "#8a8a8a")
    top = 0
    for line, height in zip(lines, heights, strict=True):
        for column, picture in enumerate(line):
            whole.paste(picture, (column * (_WIDE + _GAP), top))
        top += height
    return whole


@click.command()
@click.argument("folder", type=click.Path(path_type=Path))
def main(folder: Path) -> None:
    """Draw a contact sheet (PNG) of each form into FOLDER."""
    folder.mkdir(parents=True, exist_ok=True)
    table = read_file(Path(__file__).parent / "samples.csv").table
    for form in FORMS:
        pictures = []
        for recipe in recipes(form):
            try:
                pictures.append(Image.open(io.BytesIO(figure_bytes(recipe, table, "png", 100))))
            except InputError as error:
                sys.stdout.write(f"{form}: {error.sentence()}\n")
        sheet(pictures).save(folder / f"{form}.png")
        sys.stdout.write(f"{form}: {len(pictures)} figures\n")


if __name__ == "__main__":
    main()
