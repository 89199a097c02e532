"""What a file is, by its content and never by its name."""

from __future__ import annotations

import bz2
import gzip
import io
import lzma
import re
import zipfile
import zlib
from collections.abc import Callable
from typing import BinaryIO, Literal, cast

from echelle.errors import InputError
from echelle.tables.reading.size_limits import ReadingLimits

Container = Literal["xlsx", "ods", "xls", "parquet", "arrow", "text"]

_PACKED: dict[bytes, tuple[str, Callable[[BinaryIO], BinaryIO]]] = {
    b"\x1f\x8b": ("gzip", lambda data: cast(BinaryIO, gzip.GzipFile(fileobj=data))),
    b"BZh": ("bzip2", lambda data: cast(BinaryIO, bz2.BZ2File(data))),
    b"\xfd7zXZ\x00": ("xz", lambda data: cast(BinaryIO, lzma.LZMAFile(data))),  # noqa: SIM115 (closed by _unpacked)
}
_TABLE_ENDS = (
    ".csv",
    ".tsv",
    ".txt",
    ".dat",
    ".data",
    ".tab",
    ".xlsx",
    ".xls",
    ".ods",
    ".parquet",
    ".arrow",
    ".feather",
    ".json",
    ".jsonl",
    ".gz",
)
_LISTED = 8
_WORKBOOK_FILES = frozenset(["xl/workbook.xml", "xl/workbook.bin", "content.xml", "[Content_Types].xml"])
_HL7 = re.compile(r"^(?:MSH|FHS|BHS)[|^~\\&]")
_SEGMENT = re.compile(r"^(?:MSH|PID|PV1|ORC|OBR|OBX|NTE|SPM|MSA|EVN|ZX\w)\|")
_ASTM = re.compile(r"^\d?H\|\\\^&")


def unpack(data: bytes, limits: ReadingLimits) -> bytes:
    """The bytes inside gzip, bzip2 or xz, or in a zip archive of one file; or the bytes themselves.

    Raises InputError for a stream that is cut off or unpacks to more than the limit, and for an archive of several tables.
    """
    for start, (name, opened) in _PACKED.items():
        if data.startswith(start):
            return _unpacked(data, name, opened, limits)
    if data.startswith(b"PK\x03\x04"):
        return _only_file(data, limits)
    return data


def _unpacked(data: bytes, name: str, opened: Callable[[BinaryIO], BinaryIO], limits: ReadingLimits) -> bytes:
    most = int(limits.unpacked_megabytes * 1e6)
    try:
        with opened(io.BytesIO(data)) as stream:
            inner = stream.read(most + 1)
    except (EOFError, OSError, zlib.error, lzma.LZMAError):
        raise InputError(f"the {name} file is damaged or cut off", remedy="Pack or download it again.") from None
    if len(inner) > most:
        raise InputError(
            f"the {name} file unpacks to more than the {limits.unpacked_megabytes:g} MB allowed",
            remedy="Keep the rows and columns you need.",
        )
    return inner


def _only_file(data: bytes, limits: ReadingLimits) -> bytes:
    """The one table in a zip archive, or the archive itself where it is a workbook."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = archive.namelist()
            if (
                "xl/workbook.xml" in names
                or "content.xml" in names
                or "[Content_Types].xml" in names
                or "xl/workbook.bin" in names
            ):
                return data
            files = [entry for entry in archive.infolist() if _may_be_table(entry)]
            if len(files) == 1:
                if files[0].flag_bits & 1:
                    raise InputError("the zip archive is protected by a password", remedy="Unpack it and bring the table.")
                if files[0].file_size > limits.unpacked_megabytes * 1e6:
                    raise InputError(
                        f"the zip archive unpacks to more than the {limits.unpacked_megabytes:g} MB allowed",
                        remedy="Keep the rows and columns you need.",
                    )
                return archive.read(files[0])
    except (zipfile.BadZipFile, zlib.error, NotImplementedError, EOFError, OSError, ValueError):
        raise InputError("the workbook is damaged or cut off", remedy="Save or download it again and bring that.") from None
    if not files:
        raise InputError("the zip archive holds no table", remedy="Unpack it and bring the table inside.")
    listed = ", ".join(f"“{entry.filename}”" for entry in files[:_LISTED]) + (" …" if len(files) > _LISTED else "")
    raise InputError(f"the zip archive holds {len(files)} tables: {listed}", remedy="Unpack it and bring one of them.")


def _may_be_table(entry: zipfile.ZipInfo) -> bool:
    name = entry.filename.rsplit("/", 1)[-1]
    hidden = name.startswith(".") or entry.filename.startswith("__MACOSX/")
    return bool(name) and not hidden and not name.lower().startswith(("readme", "licen")) and name.lower().endswith(_TABLE_ENDS)


def check_text(start: str) -> None:
    """Raises InputError for known text that is no table: messages of analysers, XML, a web page, rich text."""
    bare = start.lstrip("\ufeff \t\r\n\x0b\x1c")
    lines = bare[:20_000].split("\n")
    if _HL7.match(bare) or (
        sum(bool(_SEGMENT.match(line)) for line in lines[:12]) >= min(3, len(lines)) and _SEGMENT.match(bare)
    ):
        raise InputError(
            "the file is a message of an analyser (pipe-separated records) and no table",
            remedy="Export the results as a table (CSV or a workbook).",
        )
    if _ASTM.match(bare) and sum(bool(re.match(r"^\d?[HPORCQLM]\|", line)) for line in lines[:10]) >= 2:
        raise InputError(
            "the file is a message of an analyser (pipe-separated records) and no table",
            remedy="Export the results as a table (CSV or a workbook).",
        )
    if bare[:15].lower().startswith(("<!doctype html", "<html")):
        raise InputError("the file is a web page", remedy="Save the table as CSV or a workbook and bring that.")
    if bare.startswith("<?xml") or re.match(r"^<[A-Za-z][\w:.-]*(?:\s[^<>]*)?>\s*<", bare):
        raise InputError("the file is XML and no table", remedy="Export the results as a table (CSV or a workbook).")
    if bare.startswith("{\\rtf"):
        raise InputError("the file is formatted text and holds no table", remedy="Save the table as CSV or a workbook.")


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
    return "text"


def _in_zip(data: bytes) -> Container:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = set(archive.namelist())
    except (zipfile.BadZipFile, ValueError, OSError):
        raise InputError("the workbook is damaged or cut off", remedy="Save or download it again and bring that.") from None
    if "xl/workbook.xml" in names:
        return "xlsx"
    if "content.xml" in names:
        return "ods"
    if "xl/workbook.bin" in names:
        raise InputError("the workbook is in a binary form (XLSB)", remedy="Save it as XLSX and bring that.")
    raise InputError("the file is a zip archive, not a table", remedy="Unpack it and bring the table inside.")
