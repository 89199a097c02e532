"""Files that name their columns themselves to a grid: Parquet, Arrow IPC, JSON."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import orjson
import polars as pl
import pyarrow as pa

from echelle.errors import InputError
from echelle.tables.reading.grid import Grid, frame_of
from echelle.tables.reading.size_limits import ReadingLimits


def grid_of_parquet(data: bytes, limits: ReadingLimits) -> Grid:
    """Parquet. Raises InputError for a file that is cut off or holds nested columns."""
    return _grid(_open(lambda: pl.read_parquet(io.BytesIO(data)), "Parquet"), limits)


def grid_of_arrow(data: bytes, limits: ReadingLimits) -> Grid:
    """Arrow IPC, file or stream."""

    def opened() -> pl.DataFrame:
        reader = pa.ipc.open_file(data) if data.startswith(b"ARROW1") else pa.ipc.open_stream(data)
        return pl.DataFrame(pl.from_arrow(reader.read_all()))

    return _grid(_open(opened, "Arrow"), limits)


def grid_of_json(text: str, limits: ReadingLimits) -> Grid:
    """JSON records, columns, or one record a line.

    Raises InputError for text that is no JSON, for columns of unequal length and for cells that hold lists or objects.
    """
    try:
        loaded = orjson.loads(text)
    except orjson.JSONDecodeError as error:
        loaded = _lines(text, error)
    columns = _columns(loaded)
    if len(columns) > limits.columns:
        raise InputError(
            f"the file has {len(columns):,} columns, more than the {limits.columns:,} allowed", remedy="Keep those you need."
        )
    lengths = {len(cells) for cells in columns.values()}
    if len(lengths) > 1:
        raise InputError("the columns have unequal lengths", remedy="Give every column one value a row.")
    cells = [[_cell(value, name, row) for row, value in enumerate(column, 1)] for name, column in columns.items()]
    height = lengths.pop() if lengths else 0
    return Grid(frame=frame_of(cells), lines=np.arange(1, height + 1), names=tuple(columns))


def _open(open_it: Any, kind: str) -> pl.DataFrame:
    try:
        return open_it()  # type: ignore[no-any-return]
    except (pl.exceptions.PolarsError, pa.ArrowException, OSError, ValueError) as error:
        first = str(error).splitlines()[0][:120]
        raise InputError(f"the {kind} file cannot be read ({first})", remedy="Write or download it again.") from None


def _grid(frame: pl.DataFrame, limits: ReadingLimits) -> Grid:
    if frame.width > limits.columns:
        raise InputError(
            f"the file has {frame.width:,} columns, more than the {limits.columns:,} allowed", remedy="Keep those you need."
        )
    columns = []
    for name in frame.columns:
        column = frame[name]
        if column.dtype.is_nested():
            raise InputError(f"the column “{name}” holds lists or records", remedy="Give every cell one value and bring that.")
        if column.dtype == pl.Boolean:
            column = column.cast(pl.String)
        elif column.dtype == pl.Binary:
            column = column.cast(pl.String, strict=False)
        elif column.dtype == pl.Datetime:
            column = column.dt.strftime("%Y-%m-%d %H:%M:%S")
        else:
            column = column.cast(pl.String)
        bare = column.str.strip_chars()
        columns.append(bare.set(bare == "", None))
    return Grid(frame=frame_of(columns), lines=np.arange(1, frame.height + 1), names=tuple(frame.columns))


def _lines(text: str, whole: orjson.JSONDecodeError) -> list[Any]:
    """One JSON value a line."""
    result = []
    for number, line in enumerate(text.split("\n"), 1):
        if not line.strip():
            continue
        try:
            result.append(orjson.loads(line))
        except orjson.JSONDecodeError as error:
            where = f"line {number}" if result else f"line {whole.lineno}, column {whole.colno}"
            fault = error if result else whole
            raise InputError(f"the text is no JSON ({fault.msg})", where=where, remedy="Mend it there.") from None
    return result


def _columns(loaded: Any) -> dict[str, list[Any]]:
    if isinstance(loaded, dict) and isinstance(loaded.get("data"), list):
        names, loaded = loaded.get("columns"), loaded["data"]
        if isinstance(names, list) and all(isinstance(row, list) for row in loaded):
            loaded = [dict(zip(map(str, names), row, strict=False)) for row in loaded]
    if isinstance(loaded, dict) and loaded and all(isinstance(cells, list) for cells in loaded.values()):
        return {str(name): cells for name, cells in loaded.items()}
    if isinstance(loaded, list) and loaded and all(isinstance(record, dict) for record in loaded):
        names = list(dict.fromkeys(str(key) for record in loaded for key in record))
        return {name: [record.get(name) for record in loaded] for name in names}
    raise InputError(
        "the JSON holds no table", remedy="Give a list of records, or an object whose columns are lists of equal length."
    )


def _cell(value: Any, name: str, row: int) -> str | None:
    if isinstance(value, (list, dict)):
        kind = "a list" if isinstance(value, list) else "an object"
        raise InputError(f"the cell holds {kind}", where=f"record {row}, “{name}”", remedy="Give every cell one value.")
    if value is None:
        return None
    if isinstance(value, bool):
        return "true" if value else "false"
    return repr(value) if isinstance(value, float) else str(value).strip() or None
