"""What a sheet of a workbook (XLSX) says beside its values: errors, hidden rows and columns, struck-through cells."""

from __future__ import annotations

import io
import re
import zipfile
import zlib
from dataclasses import dataclass

_UNCALCULATED = re.compile(rb"<c\b[^>]*>\s*<f\b(?:[^>]*/>|[^>]*>[^<]*</f>)\s*(?:<v\s*/>|<v>\s*</v>)?\s*</c>")
_ERROR = re.compile(rb'<c\b[^>]*\bt="e"[^>]*>')
_HIDDEN_ROW = re.compile(rb'<row\b[^>]*\bhidden="(?:1|true)"[^>]*>(?=\s*<c\b)')
_HIDDEN_COLUMNS = re.compile(rb'<col\b[^>]*\bhidden="(?:1|true)"[^>]*>')
_ENDS = re.compile(rb'\b(min|max)="(\d+)"')
_FONT = re.compile(rb"<font\b[^>]*?(?:/>|>(.*?)</font>)", re.S)
_STRUCK = re.compile(rb'<strike(?:\s*/>|\s+val="(?:1|true)"\s*/>)')
_FORMATS = re.compile(rb"<cellXfs\b[^>]*>(.*?)</cellXfs>", re.S)
_FONT_ID = re.compile(rb'<xf\b[^>]*?\bfontId="(\d+)"')
_STYLE = re.compile(rb'<c\b[^>]*?\bs="(\d+)"[^>]*>(?=\s*<(?:v|is)\b)')
_MOST_COLUMNS = 2_000


@dataclass(frozen=True)
class SheetMarks:
    """How many formulas were never calculated, cells hold an error or are struck through, rows and columns are hidden."""

    uncalculated: int = 0
    errors: int = 0
    hidden_rows: int = 0
    hidden_columns: int = 0
    struck: int = 0


def marks_of_sheet(data: bytes, place: int) -> SheetMarks:
    """The marks of the sheet at ``place``; none for a file that is no XLSX."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = archive.namelist()
            sheets = sorted(
                (name for name in names if re.fullmatch(r"xl/worksheets/sheet\d+\.xml", name)),
                key=lambda name: int(re.sub(r"\D", "", name)),
            )
            if place >= len(sheets):
                return SheetMarks()
            sheet = archive.read(sheets[place])
            styles = archive.read("xl/styles.xml") if "xl/styles.xml" in names else b""
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, OSError, ValueError):
        return SheetMarks()  # its values could be read: what is damaged is beside them
    hidden = 0
    for column in _HIDDEN_COLUMNS.findall(sheet):
        ends = {end: int(number) for end, number in _ENDS.findall(column)}
        hidden += max(0, min(ends.get(b"max", 0), _MOST_COLUMNS) - ends.get(b"min", 1) + 1)
    struck = _struck_styles(styles)
    return SheetMarks(
        uncalculated=len(_UNCALCULATED.findall(sheet)),
        errors=len(_ERROR.findall(sheet)),
        hidden_rows=len(_HIDDEN_ROW.findall(sheet)),
        hidden_columns=hidden,
        struck=sum(style in struck for style in _STYLE.findall(sheet)) if struck else 0,
    )


def _struck_styles(styles: bytes) -> set[bytes]:
    """The numbers of the cell formats whose font is struck through."""
    fonts = [bool(_STRUCK.search(match[1] or b"")) for match in _FONT.finditer(styles)]
    formats = _FORMATS.search(styles)
    if not any(fonts) or formats is None:
        return set()
    ids = [int(number) for number in _FONT_ID.findall(formats[1])]
    return {str(place).encode() for place, font in enumerate(ids) if font < len(fonts) and fonts[font]}
