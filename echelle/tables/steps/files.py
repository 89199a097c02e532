"""Preparations over files on disk."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import orjson
from pydantic import ValidationError

from echelle.errors import InputError
from echelle.strict_model import fault_of_json
from echelle.tables.reading.options import USUAL, ReadingOptions
from echelle.tables.reading.read import read_bytes, read_file
from echelle.tables.steps.joining import TableRef
from echelle.tables.steps.prepare import all_steps
from echelle.tables.steps.registry import STEP_NAMES, Step, StepList
from echelle.tables.table import Table


def prepared_file(
    path: Path, preparation: Path | None = None, steps: Sequence[Step] = (), options: ReadingOptions = USUAL
) -> Table:
    """The rows in use of a file: read, then every step. Tables that steps name are looked for beside it.

    Raises InputError for anything that does not fit, and for a preparation given twice.
    """
    if preparation is not None:
        if steps:
            raise InputError("the recipe carries its own preparation", where="--preparation", remedy="Leave the option out.")
        steps, options = steps_of_file(preparation)
    table = read_file(path, options).table
    return all_steps(table, steps, lambda ref: _beside(path, ref)) if steps else table


def steps_of_file(preparation: Path) -> tuple[list[Step], ReadingOptions]:
    """The steps of a file of steps, and how it says the table is read. Raises InputError that names the file."""
    try:
        source = preparation.read_bytes()
    except OSError as error:
        raise InputError((error.strerror or "cannot be read").lower(), where=str(preparation)) from None
    return steps_from(source, str(preparation)), _options(source, str(preparation))


def steps_from(source: bytes | list[Any], where: str = "") -> list[Step]:
    """Steps from JSON: a list, or an object that holds one as "steps". Raises InputError with the JSON path of a fault."""
    try:
        data = orjson.loads(source) if isinstance(source, bytes) else source
    except orjson.JSONDecodeError as error:
        place = f"{where}, line {error.lineno}, column {error.colno}".lstrip(", ")
        raise InputError(f"the preparation is not JSON ({error.msg})", where=place, remedy="Mend it there.") from None
    if isinstance(data, dict):
        data = data.get("steps")
    try:
        return StepList.validate_python(data)
    except ValidationError as error:
        raise fault_of_json(error, where, STEP_NAMES) from None


def _options(source: bytes, where: str) -> ReadingOptions:
    """How the file is to be read, where an object of steps says so as "read"."""
    data = orjson.loads(source)
    try:
        return ReadingOptions.model_validate(data.get("read") or {}) if isinstance(data, dict) else USUAL
    except ValidationError as error:
        raise fault_of_json(error, f"{where}, read:", ()) from None


def _beside(main: Path, ref: TableRef) -> Table:
    """The raw table of a reference: another sheet of the main file, or the file of its name beside it."""
    if ref.options.sheet is not None and hashlib.sha256(main.read_bytes()).hexdigest() == ref.sha256:
        return read_bytes(main.read_bytes(), ref.options).table
    path = main.parent / Path(ref.name).name
    try:
        data = path.read_bytes()
    except OSError:
        raise InputError(f"{ref.name} is not there", where=str(main.parent), remedy="Put the file beside the table.") from None
    if hashlib.sha256(data).hexdigest() != ref.sha256:
        raise InputError(
            f"{ref.name} is not the file that the step names", where=str(path),
            remedy=f"Bring the one whose SHA-256 begins with {ref.sha256[:12]}.",
        )  # fmt: skip
    return read_bytes(data, ref.options).table


def named_tables(steps: list[Step]) -> Iterator[TableRef]:
    """The tables that steps name, and those that theirs do."""
    for step in steps:
        ref = getattr(step, "table", None)
        if isinstance(ref, TableRef):
            yield ref
            yield from named_tables(ref.prepare)
