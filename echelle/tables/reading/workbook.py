"""Workbooks (XLSX, ODS, XLS) to a grid: one sheet, stored results, merged cells known."""

from __future__ import annotations

import hashlib
import io
import zipfile
import zlib
from collections.abc import Sequence
from datetime import date, datetime, time, timedelta
from typing import Any

import numpy as np
import python_calamine as calamine

from echelle.catalogue.catalogue import catalogue
from echelle.errors import InputError
from echelle.tables.reading.extents import check_extent, check_workbook_extents
from echelle.tables.reading.grid import Grid, frame_of, without_blank_records
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.sheet_marks import SheetMarks, marks_of_sheet
from echelle.tables.reading.size_limits import ReadingLimits
from echelle.tables.table import Remark, Remedy

Merged = tuple[tuple[int, int], tuple[int, int]]
_MOST_SHEETS = 40


def grid_of_workbook(data: bytes, options: ReadingOptions, limits: ReadingLimits) -> tuple[Grid, tuple[str, ...], int]:
    """The named sheet, or the first visible one that is not blank; the names of all, and the place of the one read.

    Formulas give their stored result; one that was never calculated is missing, with a remark. A cell merged downwards
    stands in every row that it covers. Raises InputError for a password, a damaged file, an unknown sheet, and for a file that
    unpacks to more than the limit.
    """
    if data[:2] == b"PK":
        _check_unpacked(data, limits)
    try:
        book = calamine.CalamineWorkbook.from_filelike(io.BytesIO(data))
        name, rows, blank = _choose(book, options.sheet)
        merged = book.get_sheet_by_name(name).merged_cell_ranges or []
    except calamine.PasswordError:
        raise InputError("the workbook is protected by a password", remedy="Save it without one and bring that.") from None
    except (calamine.CalamineError, calamine.ZipError, calamine.XmlError) as error:
        raise InputError(f"the workbook cannot be read ({error})", remedy="Open it, save it again and bring that.") from None
    except BaseException as error:
        if type(error).__name__ != "PanicException":  # of the reading library: no subclass of Exception
            raise
        raise InputError("the workbook is damaged", remedy="Open it, save it again and bring that.") from None
    cells = [[_text(cell) for cell in row] for row in rows]
    width = max(map(len, cells), default=0)
    check_extent(len(cells), width, limits)
    remarks = [Remark("read-blank-sheet", {"name": sheet}) for sheet in blank] + _remarks(data, book, name)
    if options.merged != "first":
        remarks += _fill_merged(cells, merged)
    padded = {i for row in rows for i, cell in enumerate(row) if isinstance(cell, str) and "" != cell.strip() != cell}
    frame = frame_of([[row[i] if i < len(row) else None for row in cells] for i in range(width)])
    frame, lines = without_blank_records(frame, np.arange(1, len(cells) + 1))
    spans = tuple((top + 1, left, right) for (top, left), (_, right) in merged if right > left)
    names = tuple(str(sheet) for sheet in book.sheet_names)
    grid = Grid(frame=frame, lines=lines, spans=spans, padded=frozenset(padded), remarks=tuple(remarks))
    return grid, names, names.index(name)


def _fill_merged(cells: list[list[str | None]], merged: Sequence[Merged]) -> list[Remark]:
    """Write a cell that is merged downwards into every row that it covers."""
    filled = 0
    for (top, left), (bottom, right) in merged:
        if bottom == top or right > left or top >= len(cells) or left >= len(cells[top]) or cells[top][left] is None:
            continue
        for row in cells[top + 1 : bottom + 1]:
            if left < len(row) and row[left] is None:
                row[left] = cells[top][left]
        filled += 1
    if not filled:
        return []
    undo = Remedy("undo-merged-cells", {}, {"merged": "first"})
    return [Remark("read-merged-cells", {"count": filled}, remedies=(undo,))]


def _rows(book: calamine.CalamineWorkbook, name: str) -> list[list[Any]]:
    return book.get_sheet_by_name(name).to_python(skip_empty_area=False)


def _choose(book: calamine.CalamineWorkbook, sheet: str | None) -> tuple[str, list[list[Any]], list[str]]:
    """The sheet's name, its rows, and the names of blank sheets before it."""
    names = [str(name) for name in book.sheet_names]
    if sheet is not None:
        if sheet not in names:
            listed = ", ".join(f"“{name}”" for name in names)
            raise InputError(f"the workbook has no sheet “{sheet}”", remedy=f"It has: {listed}.")
        return sheet, _rows(book, sheet), []
    visible = [m.name for m in book.sheets_metadata if m.visible == calamine.SheetVisibleEnum.Visible]
    if not names:
        raise InputError("the workbook has no sheet", remedy="Bring one that has.")
    blank: list[str] = []
    candidates = (visible or names)[:_MOST_SHEETS]
    for name in candidates:
        rows = _rows(book, name)
        if any(cell not in ("", None) for row in rows for cell in row):
            return name, rows, blank
        blank.append(name)
    return candidates[0], [], blank[1:]


def _text(cell: object) -> str | None:
    if isinstance(cell, bool):
        return "true" if cell else "false"
    if isinstance(cell, float):
        return str(int(cell)) if cell.is_integer() and abs(cell) < 2**53 else repr(cell)
    if isinstance(cell, datetime):
        return cell.date().isoformat() if cell.time() == time() else cell.isoformat(" ")
    if isinstance(cell, (date, time, timedelta)):
        return cell.isoformat() if not isinstance(cell, timedelta) else str(cell)
    return " ".join(str(cell).split()) or None if isinstance(cell, str) else str(cell)


def _alike(book: calamine.CalamineWorkbook, chosen: str) -> list[str]:
    """The other visible sheets that have the same first row: one sheet per group."""

    def first(name: str) -> list[object]:
        rows = book.get_sheet_by_name(name).to_python(nrows=1)
        return list(rows[0]) if rows else []

    visible = [m.name for m in book.sheets_metadata if m.visible == calamine.SheetVisibleEnum.Visible and m.name != chosen]
    return [name for name in visible if first(name) == first(chosen) != []]


def _all_below(data: bytes, chosen: str, others: list[str]) -> Remedy:
    """The other sheets appended, with the sheet's name as a column."""
    digest = hashlib.sha256(data).hexdigest()
    refs = [{"name": name, "sha256": digest, "options": {"sheet": name}} for name in others]
    steps = tuple({"step": "append", "table": ref, "source": "sheet", "here": chosen} for ref in refs)
    return Remedy("undo-append-sheets", steps=steps)


def _check_unpacked(data: bytes, limits: ReadingLimits) -> None:
    """Refuse a workbook that would unpack to gigabytes or reaches too far, before it does."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            size = sum(entry.file_size for entry in archive.infolist())
        if size <= limits.unpacked_megabytes * 1e6:
            check_workbook_extents(data, limits)
    except (zipfile.BadZipFile, zlib.error, NotImplementedError, EOFError, ValueError, OSError):
        raise InputError("the workbook is damaged or cut off", remedy="Save or download it again and bring that.") from None
    if size > limits.unpacked_megabytes * 1e6:
        raise InputError(
            f"the workbook unpacks to {size / 1e6:,.0f} MB, more than the {limits.unpacked_megabytes:g} MB allowed",
            remedy="Keep the rows and columns you need and bring those.",
        )


def _remarks(data: bytes, book: calamine.CalamineWorkbook, chosen: str) -> list[Remark]:
    remarks: list[Remark] = []
    words = catalogue()
    visible = calamine.SheetVisibleEnum.Visible
    others = [
        (m.name, words.say("sheet", name=m.name, hidden="no" if m.visible == visible else "yes"))
        for m in book.sheets_metadata
        if m.name != chosen
    ]
    if others:
        remedies = tuple(Remedy("undo-sheet", {"name": name}, {"sheet": name}) for name, _ in others[:4])
        alike = _alike(book, chosen) if len(others) < _MOST_SHEETS else []
        if alike:
            remedies = (_all_below(data, chosen, alike), *remedies)
        remarks.append(
            Remark("read-sheet", {"name": chosen, "others": ", ".join(name for _, name in others)}, remedies=remedies)
        )
    if data[:2] == b"PK":
        remarks += _mark_remarks(marks_of_sheet(data, list(book.sheet_names).index(chosen)))
    return remarks


def _mark_remarks(marks: SheetMarks) -> list[Remark]:
    """Remarks on what a sheet says beside its values."""
    remarks = []
    if marks.uncalculated:
        remarks.append(Remark("read-uncalculated", {"count": marks.uncalculated}))
    if marks.errors:
        remarks.append(Remark("read-error-cells", {"count": marks.errors}))
    if marks.hidden_rows or marks.hidden_columns:
        remarks.append(Remark("read-hidden", {"rows": marks.hidden_rows, "columns": marks.hidden_columns}))
    if marks.struck:
        remarks.append(Remark("read-struck", {"count": marks.struck}))
    return remarks
