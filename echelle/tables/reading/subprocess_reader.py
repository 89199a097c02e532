"""What a child process does with a table's file: read it, and write down what came of it."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

import orjson

from echelle.tables.column_summary import summary_of
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.read import Reading, read_bytes
from echelle.tables.reading.size_limits import USUAL_LIMITS
from echelle.tables.storage.arrow_store import pack_column
from echelle.tables.table import Remark, Table


def meta_of(reading: Reading) -> dict[str, Any]:
    """What a table's record keeps besides its columns."""
    return {
        "rows": reading.table.rows,
        "options": {
            "format": reading.format, "encoding": reading.encoding, "delimiter": reading.delimiter,
            "decimal": reading.decimal, "header_row": reading.header_row, "sheet": reading.sheet, "sheets": reading.sheets,
        },
        "remarks": [_record(remark) for remark in reading.remarks],
        "columns": [summary_of(column).model_dump(mode="json") for column in reading.table.columns],
    }  # fmt: skip


def _record(remark: Remark) -> dict[str, Any]:
    """A remark in words, as it is kept."""
    remedies = [{"words": undo.words, "options": undo.options, "steps": undo.steps} for undo in remark.remedies]
    return {"text": remark.text, "column": remark.column, "line": remark.line, "row": remark.row, "remedies": remedies}


def read_into(folder: Path, file: Path, told: dict[str, Any], megabytes: float = USUAL_LIMITS.megabytes) -> None:
    """Read the file; what came of it lies in the folder as meta.json and a file a column. Raises InputError as reading does."""
    limits = replace(USUAL_LIMITS, megabytes=megabytes)
    reading = read_bytes(file.read_bytes(), ReadingOptions.model_validate(told), limits)
    lay_down(folder, reading.table, meta_of(reading))


def lay_down(folder: Path, table: Table, meta: dict[str, Any]) -> None:
    """What a table's record keeps as meta.json, and a file a column."""
    for place, column in enumerate(table.columns):
        folder.joinpath(f"{place}.arrow").write_bytes(pack_column(column))
    folder.joinpath("meta.json").write_bytes(orjson.dumps(meta))
