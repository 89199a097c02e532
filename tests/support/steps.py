"""Short ways to prepare tables in tests."""

from __future__ import annotations

from typing import Any

from echelle.tables.reading.read import read_bytes, with_source
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.prepare import PreparationResult, all_steps, prepare
from echelle.tables.table import Table

Record = dict[str, Any]


def read(text: str) -> Table:
    """A table from CSV text."""
    return with_source(read_bytes(text.encode()), lambda: text.encode()).table


def replayed(table: Table, *steps: Record, others: dict[str, Table] | None = None) -> PreparationResult:
    """The steps replayed; ``others`` gives tables by name."""
    return prepare(table, steps_from(list(steps)), lambda ref: (others or {})[ref.name])


def after(table: Table, *steps: Record, others: dict[str, Table] | None = None) -> Table:
    """The table after steps that must all fit."""
    return all_steps(table, steps_from(list(steps)), lambda ref: (others or {})[ref.name])


def cells(table: Table, name: str) -> list[str | None]:
    """A column's cells, None where missing."""
    column = table.column(name)
    return [text if here else None for text, here in zip(column.texts.to_list(), column.present.tolist(), strict=True)]


def ids(table: Table) -> list[str]:
    """The rows' ids, for people."""
    return [table.row_ids.written(int(key)) for key in table.row_ids.keys]


def ref(name: str) -> Record:
    """A reference to another table of a test."""
    return {"name": name, "sha256": "0" * 64}
