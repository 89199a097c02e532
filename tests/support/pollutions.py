"""A clean table, and a hundred single ways in which files of laboratories are not clean."""

from __future__ import annotations

import bz2
import csv
import gzip
import io
import lzma
import zipfile
from collections.abc import Callable
from dataclasses import dataclass

HEADING = ["code", "arm", "taken", "level (mg/L)", "cells"]
ARMS = ["low, slow", 'the "first"', "placebo", "Öl"]
ROWS = [
    [f"S-{i:03d}", ARMS[i % 4], f"2026-03-{1 + i % 28:02d}", f"{0.75 + i * 1.25:.2f}", str((i * 37) % 211)] for i in range(40)
]
Rows = list[list[str]]


@dataclass(frozen=True)
class Pollution:
    """A file that holds the clean table, and the words of the remark where it is not read as the clean table without one."""

    name: str
    data: bytes
    said: str = ""
    rows: int = len(ROWS)
    columns: int = len(HEADING)


def text(rows: Rows, delimiter: str = ",", heading: list[str] | None = HEADING, end: str = "\n", **options: object) -> str:
    """Rows as delimited text."""
    out = io.StringIO(newline="")
    settings: dict[str, object] = {"delimiter": delimiter, "lineterminator": end, **options}
    writer = csv.writer(out, **settings)  # type: ignore[arg-type]
    if heading is not None:
        writer.writerow(heading)
    writer.writerows(rows)
    return out.getvalue()


def changed(change: Callable[[Rows], None]) -> bytes:
    """The clean table with its rows changed."""
    rows = [list(row) for row in ROWS]
    change(rows)
    return text(rows).encode()


def _put(rows: Rows, row: int, column: int, cell: str) -> None:
    rows[row][column] = cell


def _zip(*names: str) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name in names:
            archive.writestr(name, CLEAN)
    return out.getvalue()


def _fixed(gap: int) -> str:
    rows = [
        [cell.replace(" ", "_").replace('"', "") for cell in row] for row in [["code", "arm", "taken", "level", "cells"], *ROWS]
    ]
    widths = [max(len(row[i]) for row in rows) + gap for i in range(len(HEADING))]
    return (
        "\n".join("".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip() for row in rows) + "\n"
    )


def _commas(rows: Rows) -> Rows:
    return [[*row[:3], row[3].replace(".", ","), row[4]] for row in rows]


CLEAN = text(ROWS)
_LINES = CLEAN.splitlines()
_BODY = "\n".join(_LINES[1:]) + "\n"


def _lines(*above: str, below: tuple[str, ...] = (), middle: tuple[int, str] | None = None) -> bytes:
    lines = list(_LINES)
    if middle is not None:
        lines.insert(middle[0], middle[1])
    return ("\n".join([*above, *lines, *below]) + "\n").encode()


_SEPARATORS = [
    Pollution(f"separated by {name}", text(ROWS, mark).encode())
    for name, mark in (
        ("tabs", "\t"), ("semicolons", ";"), ("pipes", "|"), ("carets", "^"), ("tildes", "~"), ("broken bars", "¦"), ("section signs", "§"),
    )
]  # fmt: skip
_CONTAINERS = [
    Pollution("gzip", gzip.compress(CLEAN.encode())),
    Pollution("bzip2", bz2.compress(CLEAN.encode())),
    Pollution("xz", lzma.compress(CLEAN.encode())),
    Pollution("a zip of one table", _zip("levels.csv")),
    Pollution("a zip of one table and a read-me", _zip("levels.csv", "README.txt", "__MACOSX/._levels.csv")),
]
_ENCODINGS = [
    Pollution("utf-8 with its mark", b"\xef\xbb\xbf" + CLEAN.encode()),
    Pollution("utf-16 little with its mark", b"\xff\xfe" + CLEAN.encode("utf-16-le")),
    Pollution("utf-16 big with its mark", b"\xfe\xff" + CLEAN.encode("utf-16-be")),
    Pollution("utf-16 little without its mark", CLEAN.encode("utf-16-le"), "says nowhere that it is UTF-16"),
    Pollution("utf-16 big without its mark", CLEAN.encode("utf-16-be"), "says nowhere that it is UTF-16"),
    Pollution("windows-1252", CLEAN.encode("cp1252"), "no Unicode; read as Windows-1252"),
    Pollution("mac roman", CLEAN.replace("Öl", "für").replace("placebo", "Äther süß").encode("mac_roman"), "read as Mac Roman", -1),
    Pollution("dos 850", CLEAN.replace("Öl", "für").replace("placebo", "Äther süß").encode("cp850"), "read as DOS 850", -1),
]  # fmt: skip
_QUOTES = [
    Pollution("every cell quoted", text(ROWS, quoting=csv.QUOTE_ALL).encode()),
    Pollution("words quoted", text(ROWS, quoting=csv.QUOTE_NONNUMERIC).encode()),
    Pollution("single quotes", text(ROWS, quotechar="'", quoting=csv.QUOTE_ALL).encode()),
    Pollution("backticks", text(ROWS, quotechar="`", quoting=csv.QUOTE_ALL).encode()),
    Pollution("backslashes before quotes", text(ROWS, doublequote=False, escapechar="\\", quoting=csv.QUOTE_ALL).encode()),
    Pollution("a quote that never closes", CLEAN.replace("S-007,", '"S-007,', 1).encode(), "never closed", columns=-1),
    Pollution("a quote inside a cell", CLEAN.replace("S-007,", 'S-0"07,', 1).encode(), rows=-1),
    Pollution("a blank after the comma", CLEAN.replace(",2026", ", 2026").encode(), rows=40),
    Pollution("a line break in a cell", changed(lambda rows: _put(rows, 3, 1, "two\nlines")), rows=-1),
    Pollution("a carriage return in a cell", CLEAN.replace(_LINES[4], _LINES[4].replace("Öl", '"two\rlines"')).encode(), rows=-1),
]  # fmt: skip
_ENDS = [
    Pollution("windows line ends", text(ROWS, end="\r\n").encode()),
    Pollution("old mac line ends", text(ROWS, end="\r").encode()),
    Pollution("mixed line ends", ("\r\n".join(_LINES[:20]) + "\n" + "\n".join(_LINES[20:]) + "\r\n").encode()),
    Pollution("no last line end", CLEAN.rstrip("\n").encode()),
    Pollution("many last line ends", (CLEAN + "\n\n\n\n").encode()),
    Pollution("blank lines between", CLEAN.replace("\nS-0", "\n\nS-0").encode()),
    Pollution("a blank line in the middle", CLEAN.replace("\nS-020", "\n\nS-020").encode()),
    Pollution("ctrl-z at the end", CLEAN.encode() + b"\x1a", "control character"),
    Pollution("zeros at the end", CLEAN.encode() + b"\x00" * 40, "40 control characters"),
    Pollution("a zero inside", CLEAN.replace("S-011", "S-0\x0011").encode(), "control character"),
    Pollution("a form feed inside", CLEAN.replace("\nS-020", "\n\x0cS-020").encode(), "control character"),
    Pollution("delimiters at the ends of lines", "\n".join(line + ",," for line in _LINES).encode()),
    Pollution("lines of delimiters alone", (CLEAN + ",,,,\n,,,,\n").encode()),
]
_HEADINGS = [
    Pollution("no heading", _BODY.encode(), "No heading"),
    Pollution("the heading twice", _lines(_LINES[0]), "heading stands again"),
    Pollution("the heading again in the middle", _lines(middle=(20, _LINES[0])), "heading stands again"),
    Pollution("the heading again after a blank line", _lines(middle=(20, "\n" + _LINES[0])), "heading stands again"),
    Pollution("the heading below", _lines(below=(_LINES[0],)), "heading stands again"),
    Pollution("a comment sign before the heading", ("# " + CLEAN).encode()),
    Pollution("a separator hint", ("sep=;\n" + text(ROWS, ";")).encode()),
    Pollution("names in capitals", ("CODE,ARM,TAKEN,LEVEL (mg/L),CELLS\n" + _BODY).encode(), rows=-1),
    Pollution("a name twice", ("code,arm,taken,level,level\n" + _BODY).encode(), "stand twice", -1),
    Pollution("a name missing", ("code,,taken,level,cells\n" + _BODY).encode(), "Without a name", -1),
    Pollution("the first name missing", (",arm,taken,level,cells\n" + _BODY).encode(), "Without a name", -1),
    Pollution("a heading one name short", ("arm,taken,level,cells\n" + _BODY).encode(), "one name short", -1),
    Pollution("units in a row", ("code,arm,taken,level,cells\n,,,mg/L,\n" + _BODY).encode(), "Units stand apart"),
    Pollution("units in a row, most cells blank", ("code,arm,taken,level,cells\n,,,(mg/L),\n" + _BODY).encode(), "Units stand apart"),
]  # fmt: skip
_ABOVE = [
    Pollution("a title above", _lines("Levels of March"), "Above the heading"),
    Pollution("a title and a blank line above", _lines("Levels of March", ""), "Above the heading"),
    Pollution("a quoted title above", _lines('"Levels, of March"'), "Above the heading"),
    Pollution("settings above", _lines("Instrument,XY 1", "Operator,A. N.", "Date,2026-03-01", ""), "Above the heading"),
    Pollution("many settings above", _lines(*(f"Setting {i},{i}" for i in range(60)), ""), "Above the heading"),
    Pollution("comments above", _lines("# made by the reader", "# on 2026-03-01, at noon"), "Above the heading"),
    Pollution("sections above", _lines("[Header]", "Version=1", "[Data]"), "Above the heading"),
    Pollution("blank lines above", _lines("", "", "")),
    Pollution("lines of delimiters above", _lines(",,,,", ",,,,")),
]
_BELOW = [
    Pollution(f"“{word}” below", _lines(below=(f"{word},,,25.1,104",)), "a total")
    for word in (
        "Total", "Mean", "SD", "Summe", "Mittelwert", "Moyenne", "Écart-type", "Media", "Totale", "Média", "Gemiddelde", "Średnia",
        "Medelvärde", "Среднее", "合计", "Average:", "Grand total",
    )
] + [
    Pollution("a total with one number below", _lines(below=("Total,,,,4160",)), "a total"),
    Pollution("a note below", _lines(below=("* measured twice,,,,",)), "a note"),
    Pollution("a blank line and a note below", _lines(below=("", "printed on Monday",)), "a note"),
    Pollution("a blank line, a total and notes below", _lines(below=("", "Total,,,,4160", "", "Source: the ward", "n.d. = not done")), "a note"),
    Pollution("a second table below", _lines(below=("", "machine,place,made,price,weight", "X,north,2020-01-01,12,3", "Y,south,2021-01-01,14,4")), "Another table begins"),
    Pollution("a second table of two columns below", _lines(below=("", "Summary", "arm,mean", "placebo,12.5", "Öl,13.5")), "Another table begins"),
    Pollution("a subtotal between", _lines(middle=(21, "Subtotal,,,20.1,90")), "between the records"),
    Pollution("means between groups", _lines(middle=(21, "Mean of the first,,,20.1,90")), "between the records"),
    Pollution("a note between", _lines(middle=(21, "The reader was cleaned here at noon,,,,")), "between the records"),
]  # fmt: skip
_CELLS = [
    Pollution("a row too short", CLEAN.replace(_LINES[9], "S-008,placebo").encode(), "short row", rows=-1),
    Pollution("a row too long", CLEAN.replace(_LINES[9], _LINES[9] + ",odd").encode(), "more cells", columns=-1),
    Pollution("blanks around cells", "\n".join(line.replace(",2026", " ,  2026") for line in _LINES).encode()),
    Pollution("no-break spaces around cells", "\n".join(line.replace(",2026", "\u00a0,\u00a02026") for line in _LINES).encode()),
    Pollution("decimal commas", text(_commas(ROWS), ";").encode()),
    Pollution("decimal commas between tabs", text(_commas(ROWS), "\t").encode()),
    Pollution("decimal commas in quotes", text(_commas(ROWS)).encode()),
    Pollution("one decimal comma", changed(lambda rows: _put(rows, 5, 3, "7,00")), "“7,00”"),
    Pollution("a true minus", changed(lambda rows: _put(rows, 5, 3, "\u22127.00")), rows=-1),
    Pollution("a dash as minus", changed(lambda rows: _put(rows, 5, 3, "–7.00")), "a dash as minus", rows=-1),
    Pollution("arabic digits", changed(lambda rows: _put(rows, 5, 3, "٧٫٠٠")), "another script’s digits"),
    Pollution("full-width digits", changed(lambda rows: _put(rows, 5, 3, "７.００")), "another script’s digits"),
    Pollution("an apostrophe for thousands", changed(lambda rows: _put(rows, 5, 3, "7'000.00")), "apostrophes", rows=-1),
    Pollution("a limit in words", changed(lambda rows: _put(rows, 5, 3, "less than 0.4")), "a limit in words", rows=-1),
    Pollution("a limit in brackets", changed(lambda rows: _put(rows, 5, 3, "ND(<0.1)")), "a limit in words", rows=-1),
    Pollution("a flag", changed(lambda rows: _put(rows, 5, 3, "7.00 H")), "a flag"),
    Pollution("a unit in a cell", changed(lambda rows: _put(rows, 5, 3, "7.00 mg/L")), "a unit beside"),
    Pollution("a spread in a cell", changed(lambda rows: _put(rows, 5, 3, "7.00±0.3")), "a spread"),
    Pollution("a power of ten in a cell", changed(lambda rows: _put(rows, 5, 3, "7.00×10⁰")), "a power of ten"),
    Pollution("a range in a cell", changed(lambda rows: _put(rows, 5, 3, "3-5")), "“3-5” stands among the numbers", rows=-1),
    Pollution("a word among numbers", changed(lambda rows: _put(rows, 5, 3, "clotted")), "“clotted” stands among", rows=-1),
    Pollution("an infinite value", changed(lambda rows: _put(rows, 5, 3, "inf")), "“inf” stands among", rows=-1),
    Pollution("an error of a spreadsheet", changed(lambda rows: _put(rows, 5, 3, "#DIV/0!")), "#DIV/0!", rows=-1),
    Pollution("a mark of missing", changed(lambda rows: _put(rows, 5, 3, "n.d.")), "n.d. stands for 1 missing cell", rows=-1),
    Pollution("a code of missing", changed(lambda rows: _put(rows, 5, 3, "9999")), "does it mean missing", rows=-1),
    Pollution("a letter among codes", changed(lambda rows: _put(rows, 5, 4, "15A")), rows=-1),
]  # fmt: skip
_WIDTHS = [
    Pollution("blanks between words", _fixed(1).encode(), rows=-1),
    Pollution("fixed widths", _fixed(4).encode(), rows=-1),
]

POLLUTIONS = [*_SEPARATORS, *_CONTAINERS, *_ENCODINGS, *_QUOTES, *_ENDS, *_HEADINGS, *_ABOVE, *_BELOW, *_CELLS, *_WIDTHS]
