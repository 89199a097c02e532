"""Files that name their columns themselves to a grid: Parquet, Arrow IPC, JSON."""

from __future__ import annotations

import base64
import io
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import time
from typing import TYPE_CHECKING, Any, TypeVar

import numpy as np
import orjson
import polars as pl

if TYPE_CHECKING:
    # Slow to import, and needed for Parquet and Arrow alone.
    import pyarrow as pa

from echelle.errors import InputError
from echelle.tables.coding import code_texts, written
from echelle.tables.reading.extents import check_extent
from echelle.tables.reading.grid import Grid, KnownTexts, frame_of
from echelle.tables.reading.size_limits import ReadingLimits
from echelle.tables.table import Remark, Remedy

Opened = TypeVar("Opened")
_LIMIT = " limit"
_UNIT_KEYS = (b"unit", b"units", b"UNIT")
_LABEL_KEYS = (b"label", b"LABEL", b"long_name", b"description")
_MOST_LETTERS = 120
_THREADS, _LONG = 2, 50_000
# Of so many texts at the start, how many may differ for a column to be coded.
_START, _FEW = 4_096, 256
_DELETE = 0x7F
_EXACT = 1 << 53


def grid_of_parquet(data: bytes, limits: ReadingLimits) -> Grid:
    """Parquet. Raises InputError for a file that is cut off or holds nested columns."""
    scanned = pl.scan_parquet(io.BytesIO(data))
    width, height = _open(lambda: (len(scanned.collect_schema()), scanned.select(pl.len()).collect().item()), "Parquet")
    check_extent(height, width, limits)
    frame = _open(lambda: pl.read_parquet(io.BytesIO(data)), "Parquet")
    return _grid(frame, _parquet_fields(data), limits)


def _parquet_fields(data: bytes) -> list[pa.Field]:
    """The fields of the file's schema, where they say more than names and types."""
    try:
        said = base64.b64decode(pl.read_parquet_metadata(io.BytesIO(data)).get("ARROW:schema", ""))
    except (pl.exceptions.PolarsError, pl.exceptions.PanicException, ValueError):
        return []
    if not any(key in said for key in (*_UNIT_KEYS, *_LABEL_KEYS)):
        return []
    import pyarrow as pa
    from pyarrow.parquet import read_schema

    return _fields(lambda: read_schema(pa.BufferReader(data)))


def grid_of_arrow(data: bytes, limits: ReadingLimits) -> Grid:
    """Arrow IPC, file or stream."""
    import pyarrow as pa

    def opened() -> pa.Table:
        reader = pa.ipc.open_file(data) if data.startswith(b"ARROW1") else pa.ipc.open_stream(data)
        read = reader.read_all()
        # Changed bytes may point anywhere: nothing may look at the values before all of them are checked.
        read.validate(full=True)
        return read

    table = _open(opened, "Arrow", (pa.ArrowException,))
    check_extent(table.num_rows, table.num_columns, limits)
    frame = _open(lambda: pl.DataFrame(pl.from_arrow(table)), "Arrow", (pa.ArrowException,))
    return _grid(frame, _fields(lambda: table.schema), limits)


def grid_of_json(text: str, limits: ReadingLimits) -> Grid:
    """JSON records, columns, or one record a line.

    Raises InputError for text that is no JSON, for columns of unequal length and for cells that hold lists or objects.
    """
    try:
        loaded = orjson.loads(text)
    except orjson.JSONDecodeError as error:
        loaded = _lines(text, error)
    columns = _columns(loaded)
    check_extent(max(map(len, columns.values()), default=0), len(columns), limits)
    lengths = {len(cells) for cells in columns.values()}
    if len(lengths) > 1:
        raise InputError("the columns have unequal lengths", remedy="Give every column one value a row.")
    cells = [[_cell(value, name, row) for row, value in enumerate(column, 1)] for name, column in columns.items()]
    height = lengths.pop() if lengths else 0
    return Grid(frame=frame_of(cells), lines=np.arange(1, height + 1), names=tuple(columns))


def _open(open_it: Callable[[], Opened], kind: str, faults: tuple[type[BaseException], ...] = ()) -> Opened:
    expected: tuple[type[BaseException], ...]
    expected = (pl.exceptions.PolarsError, pl.exceptions.PanicException, OSError, ValueError, *faults)
    try:
        return open_it()
    except expected as error:
        first = (str(error).splitlines() or ["damaged"])[0][:120]
        raise InputError(f"the {kind} file cannot be read ({first})", remedy="Write or download it again.") from None


def _fields(schema: Callable[[], pa.Schema]) -> list[pa.Field]:
    """The fields of the file's schema; none where it cannot be read."""
    import pyarrow as pa

    try:
        return list(schema())
    except (pa.ArrowException, OSError, ValueError):
        return []


def _metadata(fields: list[pa.Field], keys: tuple[bytes, ...]) -> dict[str, str]:
    """What each column's field says about itself under one of ``keys``."""
    entries: dict[str, str] = {}
    for field in fields:
        metadata = field.metadata or {}
        entry = next((metadata[key] for key in keys if metadata.get(key)), b"")
        if text := entry.decode(errors="replace").strip():
            entries[field.name] = text
    return entries


def _label_remarks(names: tuple[str, ...], fields: list[pa.Field]) -> list[Remark]:
    """The names in full that the file gives its columns besides their short ones."""
    labels = {name: label[:_MOST_LETTERS] for name, label in _metadata(fields, _LABEL_KEYS).items() if name in names}
    labels = {name: label for name, label in labels.items() if label not in names}
    if not labels:
        return []
    once = {label: name for name, label in labels.items()}
    steps = tuple({"step": "rename", "column": name, "to": label} for label, name in once.items())
    said = [f"{name}: {label}" for name, label in labels.items()]
    return [Remark("read-labels", {"labels": said}, remedies=(Remedy("undo-labels", steps=steps),))]


def _grid(frame: pl.DataFrame, fields: list[pa.Field], limits: ReadingLimits) -> Grid:
    check_extent(frame.height, frame.width, limits)
    remarks: list[Remark] = []
    units = _metadata(fields, _UNIT_KEYS)
    # Most of the work on a long column is polars' own, outside the interpreter's lock.
    with ThreadPoolExecutor(_THREADS) as pool:
        run = pool.map if frame.height * frame.width >= _LONG else map
        known = dict(zip(frame.columns, run(lambda name: _known_texts(frame[name]), frame.columns), strict=True))
        cells = run(
            lambda name: frame[name] if known[name] is not None else cells_of(frame[name], name, units, remarks), frame.columns
        )
        columns = dict(zip(frame.columns, cells, strict=True))
    for name in [name for name in columns if name.endswith(_LIMIT) and name.removesuffix(_LIMIT) in columns]:
        _take_limits(columns, name.removesuffix(_LIMIT), name)
    names = tuple(columns)
    remarks += _label_remarks(names, fields)
    return Grid(
        frame=frame_of(list(columns.values())), lines=np.arange(1, frame.height + 1), names=names,
        units=tuple(units.get(name) for name in names), remarks=tuple(remarks),
        known={place: texts for place, name in enumerate(names) if (texts := known[name]) is not None},
    )  # fmt: skip


def _known_texts(column: pl.Series) -> KnownTexts | None:
    """What is known of a long column of texts that are cells as they stand; None for those that need a closer look."""
    if column.dtype != pl.String or len(column) < _LONG:
        return None
    if column.head(_START).n_unique() > _FEW:
        return KnownTexts() if _are_bare(column) else None
    coded = code_texts(column)
    bare = coded[1].str.strip_chars()
    as_they_stand = bare.equals(coded[1]) and not (bare == "").any() and not bare.str.contains("\0", literal=True).any()
    return KnownTexts(coded) if as_they_stand else None


def cells_of(column: pl.Series, name: str, units: dict[str, str], remarks: list[Remark]) -> pl.Series:
    """A typed column's cells: numbers that float64 holds as they are, all else as it is written; null for blanks. Raises
    InputError as :func:`texts_of` does.
    """
    kind = column.dtype
    if kind == pl.Float64:
        with np.errstate(over="ignore", invalid="ignore"):
            # Were a cell missing or infinite, the sum would be.
            if not column.null_count() and len(column) and np.isfinite(column.to_numpy().sum()):
                return column
        numbers = column.fill_nan(None)
        if numbers.null_count() < len(numbers) and not numbers.is_infinite().any():
            return numbers
    elif kind.is_integer() and column.null_count() < len(column):
        ends = [column.min(), column.max()]
        if all(isinstance(end, int) and abs(end) < _EXACT for end in ends):
            return column
    return texts_of(column, name, units, remarks)


def texts_of(column: pl.Series, name: str, units: dict[str, str], remarks: list[Remark]) -> pl.Series:
    """A typed column as its cells are written; null for blanks. Raises InputError for lists and records."""
    kind = column.dtype
    if kind.is_nested() or kind == pl.Object:
        raise InputError(f"the column “{name}” holds lists or records", remedy="Give every cell one value and bring that.")
    if kind == pl.Null:
        return pl.Series([None] * len(column), dtype=pl.String)
    if kind == pl.Binary:
        try:
            column = column.cast(pl.String)
        except pl.exceptions.PolarsError:
            column = column.bin.encode("hex")
            remarks.append(Remark("read-bytes", {"column": name}, name))
    elif kind == pl.Duration:
        column = (column.dt.total_microseconds().cast(pl.Float64) / 1e6).cast(pl.String)
        units.setdefault(name, "s")
        remarks.append(Remark("read-duration", {"column": name}, name))
    elif kind == pl.Datetime:
        zone = getattr(kind, "time_zone", None)
        midnight = zone is None and bool((column.dt.time() == time(0)).fill_null(True).all())
        column = column.dt.strftime("%Y-%m-%d" if midnight else "%Y-%m-%d %H:%M:%S%.f" + ("%:z" if zone else ""))
    elif kind == pl.Time:
        column = column.dt.strftime("%H:%M:%S%.f")
    elif kind.is_float():
        return column.fill_nan(None).cast(pl.String)
    elif kind.is_integer() or kind == pl.Boolean:
        return column.cast(pl.String)
    else:
        column = column.cast(pl.String)
    bare = column.str.strip_chars()
    return bare.set(bare == "", None)


def _are_bare(column: pl.Series) -> bool:
    """Whether texts hold letters, digits and marks of ASCII alone: nothing blank, nothing that no text can hold."""
    if column.null_count() or not len(column) or not column.str.len_bytes().min():
        return False
    letters = np.frombuffer(str(column.str.join("").item()).encode(), dtype=np.uint8)
    return bool(letters.min() > ord(" ") and letters.max() < _DELETE)


def _take_limits(columns: dict[str, pl.Series], name: str, limits: str) -> None:
    """Limits that stand in a column of their own, as our own files have them, back among the numbers."""
    here = columns[limits].is_not_null()
    held = columns[limits].dtype == pl.String and columns[limits].filter(here).str.contains(r"^[<>]\s*[+-]?[\d.]").all()
    if here.any() and held and columns[name].filter(here).is_null().all():
        both = pl.when(here).then(columns[limits]).otherwise(written(columns[name]))
        columns[name] = pl.select(both).to_series()
        del columns[limits]


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
    if isinstance(loaded, dict) and loaded and all(isinstance(cells, dict) and cells for cells in loaded.values()):
        keys = list(dict.fromkeys(key for cells in loaded.values() for key in cells))
        if any(isinstance(value, (list, dict)) for cells in loaded.values() for value in cells.values()):
            raise InputError("the JSON holds no table", remedy="Give every cell one value.")
        return {str(name): [cells.get(key) for key in keys] for name, cells in loaded.items()}
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
