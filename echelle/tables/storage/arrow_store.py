"""A column to and from its own Arrow IPC buffer (zstd). A measure keeps value, limit mark and raw text."""

from __future__ import annotations

from typing import Any

import numpy as np
import orjson
import polars as pl
import pyarrow as pa

from echelle.tables.table import Column

_META = b"echelle"


def pack_column(column: Column) -> bytes:
    """The column as an Arrow IPC stream; words go through a dictionary of their distinct values."""
    texts = column.texts.to_arrow().cast(pa.string()).dictionary_encode()
    arrays: dict[str, pa.Array] = {"text": texts}
    if column.numbers is not None and column.marks is not None:
        arrays |= {"value": pa.array(column.numbers), "mark": pa.array(column.marks)}
    meta = {
        "name": column.name, "kind": column.kind, "unit": column.unit, "ordered": column.ordered, "absent": column.absent,
        "length": column.length, "order": list(column.order), "each_once": column.each_once,
    }  # fmt: skip
    batch = pa.record_batch(arrays).replace_schema_metadata({_META: orjson.dumps(meta)})
    sink = pa.BufferOutputStream()
    with pa.ipc.new_stream(sink, batch.schema, options=pa.ipc.IpcWriteOptions(compression="zstd")) as writer:
        writer.write_batch(batch)
    return bytes(sink.getvalue())


def unpack_column(data: bytes) -> Column:
    """Back from :func:`pack_column`."""
    with pa.ipc.open_stream(data) as reader:
        batch = reader.read_next_batch()
    meta: dict[str, Any] = orjson.loads(batch.schema.metadata[_META])
    texts = pl.Series(pl.from_arrow(batch.column("text"))).cast(pl.String)
    numbers = marks = None
    if "value" in batch.schema.names:
        numbers = batch.column("value").to_numpy(zero_copy_only=False).astype(np.float64)
        marks = batch.column("mark").to_numpy(zero_copy_only=False).astype(np.int8)
    meta["order"] = tuple(meta.get("order", ()))
    return Column(cells=texts, numbers=numbers, marks=marks, **meta)
