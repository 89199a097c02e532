"""Reading in a process of its own, so that a hostile or huge file can cost neither memory nor time beyond a limit.

python -m echelle.tables.reading.subprocess_reader FILE FOLDER MEGABYTES SECONDS [OPTIONS] writes FOLDER/meta.json and a file a
column, or FOLDER/fault.json for a file that cannot be read.
"""

from __future__ import annotations

import resource
import sys
from pathlib import Path
from typing import Any

import orjson

from echelle.errors import InputError
from echelle.tables.column_summary import summary_of
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.read import Reading, read_bytes
from echelle.tables.reading.size_limits import ReadingLimits
from echelle.tables.storage.arrow_store import pack_column
from echelle.tables.table import Remark


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


def main(file: str, folder: str, megabytes: str, seconds: str, told: str = "{}") -> int:
    """Read ``file``; 0 when read, 2 when refused."""
    memory = int(float(megabytes) * 1e6)
    resource.setrlimit(resource.RLIMIT_DATA, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (int(seconds), int(seconds)))
    out = Path(folder)
    try:
        reading = read_bytes(Path(file).read_bytes(), ReadingOptions.model_validate_json(told), ReadingLimits())
    except InputError as error:
        out.joinpath("fault.json").write_bytes(orjson.dumps(vars(error)))
        return 2
    except MemoryError:
        fault = {"what": "the file needs more memory than one reading may have", "where": "", "remedy": "Bring fewer columns."}
        out.joinpath("fault.json").write_bytes(orjson.dumps(fault))
        return 2
    for place, column in enumerate(reading.table.columns):
        out.joinpath(f"{place}.arrow").write_bytes(pack_column(column))
    out.joinpath("meta.json").write_bytes(orjson.dumps(meta_of(reading)))
    return 0


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
