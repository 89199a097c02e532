"""What was counted as a file of its own, so that a figure is drawn again without its source."""

from __future__ import annotations

import io
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import orjson
import polars as pl

from echelle.errors import InputError
from echelle.far.counted_table import FarSample, counted_table
from echelle.far.far_table import Counted, FarTable, known_table
from echelle.far.manifest import Manifest, Part
from echelle.far.opened_cells import Opened
from echelle.far.question import question_from
from echelle.far.tally import PartTally
from echelle.tables.reading.read import Reading
from echelle.tables.reading.subprocess_reader import lay_down, meta_of
from echelle.tables.table import Column, Table

# What names of such files end in, and what a table that has no other source is read of.
ENDING, FORMAT = ".counted", "counted"
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
    return CountedFile(head, counted.tally, None if opened is None else opened.tally).packed()


def _said(column: Column) -> dict[str, Any]:
    levels = column.levels if column.kind in ("category", "yes/no", "date") else column.order
    return {"name": column.name, "kind": column.kind, "unit": column.unit, "order": levels, "ordered": column.ordered}


@dataclass(frozen=True, eq=False)
class CountedFile:
    """What such a file holds: its head, and the tallies of all rows and of the cells that were opened."""

    head: dict[str, Any]
    tally: PartTally
    opened: PartTally | None

    @staticmethod
    def unpacked(data: bytes) -> CountedFile:
        """Back from :meth:`packed`. Raises InputError for what is no such file."""
        with _no_counts():
            row = pl.read_ipc(io.BytesIO(data)).row(0, named=True)
            head = orjson.loads(row["head"])
            if head["format"] > _FORMAT:
                raise InputError("it was counted by a newer release", remedy="Open it with that one.")
            opened = PartTally.unpacked(row["opened"]) if row.get("opened") else None
            return CountedFile(head, PartTally.unpacked(row["tally"]), opened)

    def packed(self) -> bytes:
        """As one Arrow file."""
        sink = io.BytesIO()
        kept = {"tally": [self.tally.packed()], "opened": [b"" if self.opened is None else self.opened.packed()]}
        pl.DataFrame({"head": [orjson.dumps(self.head)]} | kept).write_ipc(sink)
        return sink.getvalue()

    def table(self) -> Table:
        """The counted rows again, as read. Raises InputError where the parts do not fit one another."""
        with _no_counts():
            none = pl.Series([], dtype=pl.String)
            columns = [Column(cells=none, **said | {"order": tuple(said["order"])}) for said in self.head["columns"].values()]
            parts = tuple(Part(name, 0, "") for name in self.head["parts"])
            sample = FarSample(Table(tuple(columns), 0), tuple(self.head["columns"]), ",")
            question = question_from(self.head["question"])
            opened = None if self.opened is None else Opened(question, self.opened)
            return counted_table(Manifest("", "parquet", parts), sample, question, self.tally, self.head["done"], opened)


@contextmanager
def _no_counts() -> Iterator[None]:
    try:
        yield
    except (pl.exceptions.PolarsError, pl.exceptions.PanicException, ValueError, KeyError, TypeError, IndexError) as error:
        first = (str(error).splitlines() or ["damaged"])[0][:120]
        raise InputError(f"this is no file of counted rows ({first})", remedy="Make the bundle again.") from None


def table_of_counted_file(data: bytes) -> Table:
    """The counted rows of a file, for the figure that it was made for. Raises InputError for what is no such file."""
    return known_table(CountedFile.unpacked(data).table())


def read_counted_into(folder: Path, file: Path) -> None:
    """What a child process does with such a file that comes from elsewhere: what is sound of it lies in the folder, written
    anew, with its rows at hand as a sample. Raises InputError for what is no such file.
    """
    counted = CountedFile.unpacked(file.read_bytes())
    table = counted.table()
    assert table.tally is not None, "counted rows have counts"
    examples = table.tally.examples
    reading = Reading(
        table=examples, format=FORMAT, sheet=None, encoding=None, delimiter=None, decimal="point", header_row=0, sheets=(),
        remarks=(),
    )  # fmt: skip
    meta = meta_of(reading)
    meta["options"] |= {"sample_rows": examples.rows, "files": table.tally.of}
    meta["rows"] = table.records
    lay_down(folder, examples, meta)
    folder.joinpath("again").write_bytes(counted.packed())
