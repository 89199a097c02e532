"""A bundle opened: every file against its checksum, then recipe, data and trail."""

from __future__ import annotations

import hashlib
import io
import zipfile
from collections.abc import Callable
from pathlib import Path

import orjson
from pydantic import ValidationError

from echelle.bundles.models import CHECKSUMS, DATA, RECIPE, TRAIL, Bundle, RawData, TrailParts
from echelle.errors import InputError
from echelle.far.counted_file import ENDING, table_of_counted_file
from echelle.recipes.parse import recipe_from
from echelle.recipes.used_columns import columns_of
from echelle.tables.reading.options import USUAL
from echelle.tables.reading.read import read_bytes
from echelle.tables.steps.joining import TableRef
from echelle.tables.steps.lineage import needed_for
from echelle.tables.steps.prepare import all_steps
from echelle.tables.table import Table

_MOST_FILES = 200
_MOST_BYTES = 600_000_000


def open_bundle(data: bytes, where: str = "") -> Bundle:
    """Raises InputError that names the file at fault: no zip, a part missing, too large, or changed since it was made."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            files = _files(archive, where)
    except zipfile.BadZipFile:
        raise InputError("this is no bundle", where=where, remedy="Choose a zip file that Echelle made.") from None
    _check_digests(files, where)
    raws = sorted((name for name in files if name.startswith(DATA)), key=lambda name: int(name.split("/")[1]))
    if not raws:
        raise InputError("the bundle holds no data", where=where, remedy="Make it again.")
    result = [RawData(name.split("/", 2)[2], files[name]) for name in raws]
    try:
        trail = TrailParts.model_validate_json(files.get(TRAIL, b"[]")).root
    except ValidationError:
        raise InputError("its trail cannot be read", where=_place(where, TRAIL), remedy="Make the bundle again.") from None
    return Bundle(recipe_from(files[RECIPE], _place(where, RECIPE)), result[0], result[1:], trail)


def check_bundle(folder: Path, file: Path) -> None:
    """What a child process does with a bundle: open it, and lay its parts into the folder, raw files by number."""
    bundle = open_bundle(file.read_bytes())
    for place, raw in enumerate([bundle.raw, *bundle.others]):
        folder.joinpath(f"raw{place}").write_bytes(raw.data)
    parts = {
        "names": [raw.name for raw in (bundle.raw, *bundle.others)], "recipe": bundle.recipe.model_dump(mode="json"),
        "trail": [part.model_dump(mode="json") for part in bundle.trail],
    }  # fmt: skip
    folder.joinpath("parts.json").write_bytes(orjson.dumps(parts))


def checked_bundle(folder: Path) -> Bundle:
    """The bundle whose parts :func:`check_bundle` laid into the folder."""
    parts = orjson.loads(folder.joinpath("parts.json").read_bytes())
    raws = [RawData(name, folder.joinpath(f"raw{place}").read_bytes()) for place, name in enumerate(parts["names"])]
    return Bundle(recipe_from(parts["recipe"]), raws[0], raws[1:], TrailParts.model_validate(parts["trail"]).root)


def rows_of(bundle: Bundle) -> Table:
    """The rows in use: the raw data read and prepared as the recipe says. Raises InputError as reading and steps do."""
    recipe = bundle.recipe
    if bundle.raw.name.endswith(ENDING):
        _, steps = needed_for(columns_of(recipe), recipe.prepare or [])
        return all_steps(table_of_counted_file(bundle.raw.data), steps, _others(bundle))
    table = read_bytes(bundle.raw.data, recipe.read or USUAL).table
    return all_steps(table, recipe.prepare or [], _others(bundle))


def _others(bundle: Bundle) -> Callable[[TableRef], Table]:
    by_sum = {hashlib.sha256(raw.data).hexdigest(): raw for raw in [bundle.raw, *bundle.others]}

    def table_of(ref: TableRef) -> Table:
        raw = by_sum.get(ref.sha256)
        if raw is None:
            raise InputError(f"{ref.name} is not in the bundle", where=ref.name, remedy="Make the bundle again.")
        return read_bytes(raw.data, ref.options).table

    return table_of


def _files(archive: zipfile.ZipFile, where: str) -> dict[str, bytes]:
    entries = [entry for entry in archive.infolist() if not entry.is_dir()]
    if len(entries) > _MOST_FILES or sum(entry.file_size for entry in entries) > _MOST_BYTES:
        raise InputError("the bundle is larger than any that Echelle makes", where=where, remedy="Choose another file.")
    return {entry.filename: archive.read(entry) for entry in entries}


def _check_digests(files: dict[str, bytes], where: str) -> None:
    for needed in (CHECKSUMS, RECIPE):
        if needed not in files:
            raise InputError(f"the bundle lacks {needed}", where=where, remedy="Choose a zip file that Echelle made.")
    sums = dict(line.split("  ", 1)[::-1] for line in files[CHECKSUMS].decode("utf-8", "replace").splitlines() if "  " in line)
    for name, data in files.items():
        if name != CHECKSUMS and sums.get(name) != hashlib.sha256(data).hexdigest():
            remedy = "Use the bundle as it was made, or draw from recipe and data apart."
            raise InputError(f"{name} is not as it was when the bundle was made", where=_place(where, name), remedy=remedy)


def _place(where: str, name: str) -> str:
    return f"{where}, {name}".lstrip(", ")
