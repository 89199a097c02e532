"""What was counted as a file of its own, so that a figure is drawn again without its source."""

from __future__ import annotations

import io
from dataclasses import asdict
from typing import Any

import orjson
import polars as pl

from echelle.errors import InputError
from echelle.far.counted_table import FarSample, counted_table
from echelle.far.far_table import Counted, FarTable
from echelle.far.manifest import Manifest, Part
from echelle.far.opened_cells import Opened
from echelle.far.question import question_from
from echelle.far.tally import PartTally
from echelle.tables.table import Column, Table

ENDING = ".counted"
_FORMAT = 2


def counted_file(far: FarTable, counted: Counted) -> bytes:
    """What was counted and the cells that were opened, with what its columns are and what the parts are called."""
    like = dict(zip(far.sample.raw_names, far.sample.table.columns, strict=True))
    asked, opened = counted.question.count if counted.opened is None else counted.opened.question, counted.opened
    head = {
        "format": _FORMAT, "question": asdict(asked), "done": counted.parts,
        "parts": [part.name for part in far.manifest.parts],
        "columns": {name: _said(like[name]) for name in asked.every},
    }  # fmt: skip
    sink = io.BytesIO()
    kept = {"tally": [counted.tally.packed()], "opened": [b"" if opened is None else opened.tally.packed()]}
    pl.DataFrame({"head": [orjson.dumps(head)]} | kept).write_ipc(sink)
    return sink.getvalue()


def _said(column: Column) -> dict[str, Any]:
    levels = column.levels if column.kind in ("category", "yes/no", "date") else column.order
    return {"name": column.name, "kind": column.kind, "unit": column.unit, "order": levels, "ordered": column.ordered}


def table_of_counted_file(data: bytes) -> Table:
    """The counted rows again, as read. Raises InputError for what is no such file."""
    try:
        row = pl.read_ipc(io.BytesIO(data)).row(0, named=True)
        head = orjson.loads(row["head"])
        if head["format"] > _FORMAT:
            raise InputError("it was counted by a newer release", remedy="Open it with that one.")
        none = pl.Series([], dtype=pl.String)
        columns = [Column(cells=none, **said | {"order": tuple(said["order"])}) for said in head["columns"].values()]
        parts = tuple(Part(name, 0, "") for name in head["parts"])
        sample = FarSample(Table(tuple(columns), 0), tuple(head["columns"]), ",")
        question, tally = question_from(head["question"]), PartTally.unpacked(row["tally"])
        opened = Opened(question, PartTally.unpacked(row["opened"])) if row.get("opened") else None
        return counted_table(Manifest("", "parquet", parts), sample, question, tally, head["done"], opened)
    except (pl.exceptions.PolarsError, pl.exceptions.PanicException, ValueError, KeyError, TypeError) as error:
        first = (str(error).splitlines() or ["damaged"])[0][:120]
        raise InputError(f"this is no file of counted rows ({first})", remedy="Make the bundle again.") from None
