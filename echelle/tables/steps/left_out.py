"""Left-out rows: how one is described so that it is found again, and finding it."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Sequence
from datetime import datetime

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from echelle.errors import InputError
from echelle.strict_model import StrictModel
from echelle.tables.table import PART_KEYS, Column, Source, Table


class IdentifierValue(StrictModel):
    """The value of a column in which every record has its own."""

    column: str
    value: str


class LeftOut(StrictModel):
    """One row left out, and why.

    ``row`` is the raw record from 1 (``part`` the source column or table, where that is needed to name the row). In a
    file with another SHA-256 the row is found again by ``identifier``, else by ``fingerprint`` over ``columns``.
    """

    row: int = Field(ge=0, description="0 where the reader may not see rows")
    part: str = ""
    reason: str = Field(min_length=1, max_length=500)
    by: str = ""
    at: datetime | None = None
    sha256: str = ""
    columns: list[str] = Field(max_length=2_000, default_factory=list)
    fingerprint: str = ""
    identifier: IdentifierValue | None = None


def entry_for(table: Table, place: int, reason: str, by: str, at: datetime | None = None) -> LeftOut:
    """The entry that leaves out the row at ``place`` of a prepared table, with all that finds it in a newer file."""
    ids = table.row_ids
    key = int(ids.keys[place])
    entry = LeftOut(row=key % PART_KEYS, part=ids.parts[key // PART_KEYS], reason=reason, by=by, at=at)
    if table.source is None or _elsewhere(entry, table.source.raw):
        return entry
    raw = table.source.raw
    columns = sorted(column.name for column in raw.columns)
    record = entry.row - 1
    unique = next((c for c in raw.columns if c.kind == "identifier" and _all_distinct(c)), None)
    value = None if unique is None else unique.texts[record]
    return entry.model_copy(
        update={
            "sha256": table.source.sha256,
            "columns": columns,
            "fingerprint": fingerprint(raw, columns, record),
            "identifier": None if unique is None or value is None else IdentifierValue(column=unique.name, value=value),
        }
    )


def _elsewhere(entry: LeftOut, raw: Table) -> bool:
    """Whether a row came from an appended table: then its record is none of this file."""
    return bool(entry.part) and entry.part not in {column.name for column in raw.columns}


def _all_distinct(column: Column) -> bool:
    return len(column.levels) == int((column.codes >= 0).sum())


def fingerprint(raw: Table, columns: Sequence[str], record: int) -> str:
    """A short digest of a record's raw cells, by column name, so that the order of columns does not matter."""
    cells = (raw.column(name).texts[record] for name in columns)
    return _digest(columns, cells)


def _digest(columns: Sequence[str], cells: Iterator[str | None] | Sequence[str | None]) -> str:
    text = "\x1e".join(f"{name}\x1f{'' if cell is None else cell}" for name, cell in zip(columns, cells, strict=True))
    return hashlib.blake2b(text.encode(), digest_size=12).hexdigest()


def mask_of(entries: Sequence[LeftOut], table: Table, where: str) -> NDArray[np.bool_]:
    """Which rows of a prepared table the entries leave out; bool, shape (rows,).

    A record that earlier steps took away already, or that stands behind combined repeats, raises nothing in the first case
    and leaves out the combined row in the second. Raises InputError for an entry whose record is not in the file, or that
    matches more than one.
    """
    out = np.zeros(table.rows, dtype=np.bool_)
    if not entries:
        return out
    keys = [_key(entry, table, f"{where}[{place}]") for place, entry in enumerate(entries)]
    ids = table.row_ids
    if ids.members is None or ids.ends is None:
        return np.asarray(np.isin(ids.keys, keys))
    rows = np.searchsorted(ids.ends, np.flatnonzero(np.isin(ids.members, keys)), side="right")
    out[rows] = True
    return out | np.isin(ids.keys, keys)


def _key(entry: LeftOut, table: Table, where: str) -> int:
    parts = table.row_ids.parts
    if entry.part and entry.part not in parts:
        raise InputError(
            f"left-out row {entry.row} · {entry.part} is not in the table", where=where, remedy="Take the entry out."
        )
    part = parts.index(entry.part) if entry.part else 0
    source = table.source
    if source is not None and entry.sha256 and entry.sha256 != source.sha256:
        return part * PART_KEYS + _match(entry, source, where)
    records = source.raw.rows if source is not None and part == 0 else None
    if records is None and part == 0:
        records = int(table.row_ids.keys.max(initial=0)) if table.ids is not None else table.rows
    if records is not None and entry.row > records:
        raise InputError(
            f"row {entry.row} is not in the table of {records} rows",
            where=f"{where}.row",
            remedy="Take the entry out or correct the row.",
        )
    return part * PART_KEYS + entry.row


def _match(entry: LeftOut, source: Source, where: str) -> int:
    """The record of a newer file that is the one left out: by its identifier where it has one, else by its cells."""
    raw = source.raw
    known = {column.name: column for column in raw.columns}
    if entry.identifier is not None and entry.identifier.column in known:
        result = known[entry.identifier.column].texts == entry.identifier.value
        places = np.flatnonzero(result.fill_null(False).to_numpy())
        named = f"{entry.identifier.column} {entry.identifier.value}"
    elif entry.fingerprint and all(name in known for name in entry.columns):
        cells = zip(*(known[name].texts.to_list() for name in entry.columns), strict=True)
        places = np.array([i for i, row in enumerate(cells) if _digest(entry.columns, row) == entry.fingerprint], dtype=int)
        named = f"left-out row {entry.row}"
    else:
        places, named = np.empty(0, dtype=int), f"left-out row {entry.row}"
    if len(places) != 1:
        what = "is not in the newer file" if len(places) == 0 else f"stands {len(places)} times in the newer file"
        raise InputError(
            f"{named} {what} ({entry.reason})",
            where=where,
            remedy="Leave the right row out again, or take the entry out.",
        )
    return int(places[0]) + 1
