"""A bundle as bytes: the same for the same contents, release and class of processor."""

from __future__ import annotations

import hashlib
import io
import re
import zipfile
from collections.abc import Iterator

import orjson

from echelle import RELEASE
from echelle.bundles.models import CHECKSUMS, DATA, RECIPE, TRAIL, Contents, RawData
from echelle.bundles.zip_file import FIRST, zip_files
from echelle.drawing.formats import FORMATS, Output, pages_bytes, scene_bytes
from echelle.drawing.readings import ReadingsFormat, readings_file
from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.recipes.parse import recipe_text
from echelle.recipes.recipe import Recipe
from echelle.render import pages_of_lanes, scene_of
from echelle.scene.models import Scene
from echelle.tables.storage.writers import rows_file
from echelle.tables.table import Table

_FIGURES = tuple(name for name, form in FORMATS.items() if form.linked)
_READINGS: tuple[ReadingsFormat, ...] = ("csv", "xlsx", "json")


def bundle(contents: Contents) -> bytes:
    """The zip file: recipe, raw data, trail, figure, readings, rows in use, method note, checksums and a README."""
    recipe, rows = contents.recipe, contents.rows
    scene = scene_of(recipe, rows)
    trail = [part.model_dump(mode="json", by_alias=True) for part in contents.trail]
    files: dict[str, bytes] = {
        RECIPE: recipe_text(recipe),
        TRAIL: orjson.dumps(trail, option=orjson.OPT_INDENT_2 | orjson.OPT_APPEND_NEWLINE),
        **dict(_figures(recipe, rows, scene)),
        **{f"readings.{kind}": readings_file(scene, kind) for kind in _READINGS},
        "rows.csv": rows_file(rows, "csv").data,
        "method-note.txt": (scene.note + "\n").encode(),
    }
    files["readings.xlsx"] = _timeless(files["readings.xlsx"])
    for number, raw in enumerate([contents.raw, *contents.others]):
        files[f"{DATA}{number}/{plain_name(raw.name)}"] = raw.data
    files["README.txt"] = _readme(contents, sorted(files)).encode()
    sums = "".join(f"{hashlib.sha256(data).hexdigest()}  {name}\n" for name, data in sorted(files.items()))
    return zip_files({**files, CHECKSUMS: sums.encode()}, recipe.made or FIRST)


def _figures(recipe: Recipe, rows: Table, scene: Scene) -> Iterator[tuple[str, bytes]]:
    """The figure in each format; where one page cannot hold it, on pages."""
    for kind in _FIGURES:
        output = Output(kind, made=recipe.made)
        try:
            yield f"figure.{kind}", scene_bytes(scene, output)
        except InputError:
            if FORMATS[kind].pages:
                yield f"figure.{kind}", pages_bytes(pages_of_lanes(recipe, arrange(recipe, rows)), output, scene.title)


def plain_name(name: str) -> str:
    """A file's name that every system takes."""
    return re.sub(r"[^\w .()+-]", "_", name).strip(". ")[:120] or "data"


def _timeless(workbook: bytes) -> bytes:
    """A workbook without the time it was written at, so that equal readings give equal bytes."""
    with zipfile.ZipFile(io.BytesIO(workbook)) as archive:
        parts = {name: archive.read(name) for name in archive.namelist()}
    core = "docProps/core.xml"
    parts[core] = re.sub(rb"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ", f"{FIRST:%Y-%m-%dT%H:%M:%SZ}".encode(), parts[core])
    return zip_files(parts, FIRST)


def _readme(contents: Contents, names: list[str]) -> str:
    raw: RawData = contents.raw
    made = contents.recipe.made
    when = f", settled {made:%Y-%m-%d %H:%M} UTC" if made else ""
    listed = "\n".join(f"  {name}" for name in names)
    return f"""Echelle bundle, release {RELEASE}{when}

A figure and everything that it was made of.

{listed}

recipe.json says how {raw.name} is read, prepared and drawn. To draw the figure again, byte for byte on the same release and
class of processor:

  echelle draw THIS-FILE.zip --out figure.svg

checksums.sha256 names the SHA-256 of every other file: sha256sum -c checksums.sha256
trail.json holds the states that led to the figure; a study of Echelle takes the whole file in, with preparation and trail.
"""
