"""What a file is, by its content and never by its name."""

from __future__ import annotations

import gzip
import io
import zipfile
import zlib
from typing import Literal

from echelle.errors import InputError
from echelle.tables.reading.size_limits import ReadingLimits

Container = Literal["xlsx", "ods", "xls", "parquet", "arrow", "text"]


def unzip(data: bytes, limits: ReadingLimits) -> bytes:
    """The bytes inside gzip, or the bytes themselves.

    Raises InputError for a stream that is cut off, or that unpacks to more than the limit.
    """
    if not data.startswith(b"\x1f\x8b"):
        return data
    most = int(limits.unpacked_megabytes * 1e6)
    try:
        with gzip.open(io.BytesIO(data)) as stream:
            inner = stream.read(most + 1)
    except (EOFError, zlib.error, gzip.BadGzipFile):
        raise InputError("the gzip file is damaged or cut off", remedy="Pack or download it again.") from None
    if len(inner) > most:
        raise InputError(
            f"the gzip file unpacks to more than the {limits.unpacked_megabytes:g} MB allowed",
            remedy="Keep the rows and columns you need.",
        )
    return inner


def container_of(data: bytes) -> Container:
    """What the bytes hold. Raises InputError for known files that hold no table."""
    if data.startswith(b"PK\x03\x04"):
        return _in_zip(data)
    if data.startswith(b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"):
        return "xls"
    if data.startswith(b"PAR1"):
        return "parquet"
    if data.startswith((b"ARROW1", b"\xff\xff\xff\xff")):
        return "arrow"
    known = {b"%PDF": "a PDF", b"\x89PNG": "a picture", b"\xff\xd8\xff": "a picture", b"PK\x05\x06": "an empty zip"}
    for start, what in known.items():
        if data.startswith(start):
            raise InputError(f"the file is {what} and holds no table", remedy="Save the table as CSV or a workbook.")
    if data[:512].lstrip().lower().startswith((b"<!doctype html", b"<html")):
        raise InputError("the file is a web page", remedy="Save the table as CSV or a workbook and bring that.")
    return "text"


def _in_zip(data: bytes) -> Container:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = set(archive.namelist())
    except zipfile.BadZipFile:
        raise InputError("the workbook is damaged or cut off", remedy="Save or download it again and bring that.") from None
    if "xl/workbook.xml" in names:
        return "xlsx"
    if "content.xml" in names:
        return "ods"
    raise InputError("the file is a zip archive, not a table", remedy="Unpack it and bring the table inside.")
