"""Ugly files, each with what a careful person reads in it. The expectations came before the reader."""

from __future__ import annotations

import gzip
import io
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import openpyxl
import orjson
import polars as pl
import pyarrow as pa


@dataclass(frozen=True)
class Ugly:
    """A file and its reading: rows, and for each named column what must hold; or the words of its refusal.

    ``columns`` maps a name to a dictionary with any of kind, unit, missing, censored, first, min, max.
    """

    name: str
    data: bytes | Callable[[], bytes]
    rows: int = 0
    columns: dict[str, dict[str, Any]] = field(default_factory=dict)
    header_row: int | None = None
    format: str | None = None
    remark: str | None = None
    refused: str | None = None
    options: dict[str, Any] = field(default_factory=dict)

    def bytes(self) -> bytes:
        """The file."""
        return self.data if isinstance(self.data, bytes) else self.data()


def number(*first: str, **more: Any) -> dict[str, Any]:
    """A measure that begins with these values."""
    return {"kind": "number", "first": list(first), **more}


def category(*first: str, **more: Any) -> dict[str, Any]:
    """A category that begins with these levels."""
    return {"kind": "category", "first": list(first), **more}


def xlsx(fill: Callable[[openpyxl.Workbook], None]) -> Callable[[], bytes]:
    """A workbook written by another program than ours."""

    def made() -> bytes:
        book = openpyxl.Workbook()
        fill(book)
        out = io.BytesIO()
        book.save(out)
        return out.getvalue()

    return made


def rows_into(*rows: list[Any]) -> Callable[[openpyxl.Workbook], None]:
    """Rows on the first sheet."""

    def fill(book: openpyxl.Workbook) -> None:
        for row in rows:
            book.active.append(row)

    return fill


def _merged(book: openpyxl.Workbook) -> None:
    rows_into(
        ["", "Day 0", "", "Day 7", ""],
        ["sample", "Cortisol", "CRP", "Cortisol", "CRP"],
        ["a", 1.5, 2, 3.5, 4],
        ["b", 2.5, 3, 4.5, 5],
    )(book)
    book.active.merge_cells("B1:C1")
    book.active.merge_cells("D1:E1")


def _marked(book: openpyxl.Workbook) -> None:
    sheet = book.active
    rows_into(["arm", "level", "n"], ["a", 1.5, "#DIV/0!"], [None, 2.5, 3], ["b", 2.5, "#N/A"], ["b", 4.5, 5], ["c", 4.5, 5])(
        book
    )
    sheet["C2"].data_type = sheet["C4"].data_type = "e"
    sheet.merge_cells("A2:A3")
    sheet.row_dimensions[5].hidden = True


def _blank_first(book: openpyxl.Workbook) -> None:
    book.active.title = "cover"
    book.create_sheet("levels").append(["arm", "level"])
    book["levels"].append(["a", 1.5])
    book["levels"].append(["b", 2.5])


def _sheets(book: openpyxl.Workbook) -> None:
    book.active.title = "notes"
    book.active.sheet_state = "hidden"
    book.create_sheet("levels").append(["arm", "level"])
    book["levels"].append(["a", 1.5])
    book["levels"].append(["b", 2.5])
    book.create_sheet("more").append(["x"])


def _groups(book: openpyxl.Workbook) -> None:
    rows_into(["who", "level (g/L)"], ["x", 1.5], ["y", 2.5])(book)
    book.active.title = "Lot A"
    for row in (["who", "level (g/L)"], ["z", 3.5]):
        (book["Lot B"] if "Lot B" in book.sheetnames else book.create_sheet("Lot B")).append(row)


def _formulas(book: openpyxl.Workbook) -> None:
    rows_into(["arm", "level", "double"], ["a", 1.5, "=B2*2"], ["b", 2.5, "=B3*2"])(book)


def _titled(book: openpyxl.Workbook) -> None:
    rows_into(["Report of the week"], [], ["arm", "level", "n"], ["a", 1.5, 3], ["b", 2.5, 4], ["Total", 4.0, 7])(book)


def _text_numbers(book: openpyxl.Workbook) -> None:
    rows_into(["id", "level"], ["007", "1.5"], ["008", "2.5"], ["009", "n/a"])(book)


def _bomb() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/workbook.xml", "<workbook/>")
        archive.writestr("xl/worksheets/sheet1.xml", b"0" * 1_200_000_000)
    return out.getvalue()


def _arrow(stream: bool) -> Callable[[], bytes]:
    def made() -> bytes:
        table = pa.table({"arm": ["a", "b", None], "level": [1.5, float("nan"), 2.5]})
        sink = pa.BufferOutputStream()
        opened = pa.ipc.new_stream(sink, table.schema) if stream else pa.ipc.new_file(sink, table.schema)
        with opened as writer:
            writer.write_table(table)
        return bytes(sink.getvalue())

    return made


def _parquet() -> bytes:
    out = io.BytesIO()
    pl.DataFrame(
        {
            "arm": ["a", "b"],
            "level": [1.5, 2.5],
            "ok": [True, False],
            "when": pl.Series(["2026-01-02", "2026-01-03"]).str.to_date(),
        }
    ).write_parquet(out)
    return out.getvalue()


_WORD = '<table:table-cell office:value-type="string"><text:p>{0}</text:p></table:table-cell>'
_NUMBER = '<table:table-cell office:value-type="float" office:value="{0}"><text:p>{0}</text:p></table:table-cell>'
LAUGHS = (
    b"<!DOCTYPE x [<!ENTITY l0 'ha'>"
    + b"".join(b"<!ENTITY l%d '%s'>" % (i, b"&l%d;" % (i - 1) * 10) for i in range(1, 10))
    + b"]>"
)


def _ods(doctype: bytes = b"", first: bytes = b"a") -> bytes:
    """An open document sheet, written by hand."""
    rows = [["arm", "level"], ["FIRST", "1.5"], ["b", "2.5"]]
    cells = "".join(
        "<table:table-row>"
        + "".join((_NUMBER if cell[0].isdigit() else _WORD).format(cell) for cell in row)
        + "</table:table-row>"
        for row in rows
    )
    names = "".join(f' xmlns:{name}="urn:oasis:names:tc:opendocument:xmlns:{name}:1.0"' for name in ("office", "table", "text"))
    content = (
        b'<?xml version="1.0" encoding="UTF-8"?>' + doctype + f"<office:document-content{names}><office:body>".encode()
        + b'<office:spreadsheet><table:table table:name="s">' + cells.encode().replace(b"FIRST", first)
        + b"</table:table></office:spreadsheet></office:body></office:document-content>"
    )  # fmt: skip
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("META-INF/manifest.xml", "<manifest/>")
        archive.writestr("content.xml", content)
    return out.getvalue()


ARMS = "a,1.5\nb,2.5\na,3.5\n"
LEVEL = {"arm": category("a", "b", "a"), "level": number("1.5", "2.5", "3.5", missing=0)}
TWO = {"arm": category("a", "b"), "level": number("1.5", "2.5")}

FILES = [
    Ugly("plain", b"arm,level\n" + ARMS.encode(), 3, LEVEL, header_row=1, format="csv"),
    Ugly("tabs", b"arm\tlevel\na\t1.5\nb\t2.5\n", 2, TWO, format="tsv"),
    Ugly("semicolons and decimal commas", b"arm;level\na;1,5\nb;2,5\n", 2, TWO, format="csv"),
    Ugly("pipes", b"arm|level\na|1.5\nb|2.5\n", 2, TWO),
    Ugly("byte order mark", b"\xef\xbb\xbfarm,level\na,1.5\nb,2.5\n", 2, TWO),
    Ugly("utf-16 little", "arm,level\na,1.5\nb,2.5\n".encode("utf-16"), 2, TWO),
    Ugly("utf-16 big", b"\xfe\xff" + "arm,level\na,1.5\nb,2.5\n".encode("utf-16-be"), 2, TWO),
    Ugly("windows-1252", "arm,Größe (µg/L)\nä,1.5\nö,2.5\n".encode("cp1252"), 2,
         {"arm": category("ä", "ö"), "Größe": number("1.5", "2.5", unit="µg/L")}),
    Ugly("carriage returns alone", b"arm,level\ra,1.5\rb,2.5\r", 2, TWO),
    Ugly("separator hint", b"sep=;\narm;level\na;1.5\nb;2.5\n", 2, TWO, header_row=2),
    Ugly("title and notes above", b"Cortisol study\nInstrument;XY 1\n\narm;level;n\na;1.5;3\nb;2.5;4\n", 2,
         {**TWO, "n": number("3", "4")}, header_row=4, remark="Cortisol study"),
    Ugly("units row", b"sample,ferritin,time\n,ug/L,h\na,1.5,2\nb,2.5,4\n", 2,
         {"sample": category("a", "b"), "ferritin": number("1.5", "2.5", unit="ug/L"), "time": number("2", "4", unit="h")}),
    Ugly("units in brackets row", "sample,ferritin,time\n,(µg/L),[h]\na,1.5,2\nb,2.5,4\n".encode(), 2,
         {"sample": category("a", "b"), "ferritin": number("1.5", "2.5", unit="µg/L"), "time": number("2", "4", unit="h")}),
    Ugly("units in headings", "sample,HIV RNA (copies/mL),CD4 (/µl),T (°C),share (%),age (self-reported)\na,1.5,2,37.1,3,4\nb,2.5,3,36.5,4,5\n".encode(), 2,
         {"sample": category("a", "b"), "HIV RNA": number("1.5", "2.5", unit="copies/mL"), "CD4": number("2", "3", unit="/µl"),
          "T": number("37.1", "36.5", unit="°C"), "share": number("3", "4", unit="%"), "age (self-reported)": number("4", "5", unit=None)}),
    Ugly("two heading rows", b",Day 0,,Day 7,\nsample,Cortisol,CRP,Cortisol,CRP\na,1.5,2,3.5,4\nb,2.5,3,4.5,5\n", 2,
         {"sample": category("a", "b"), "Day 0 · Cortisol": number("1.5", "2.5"), "Day 0 · CRP": number("2", "3"),
          "Day 7 · Cortisol": number("3.5", "4.5"), "Day 7 · CRP": number("4", "5")}),
    Ugly("total below", b"arm,level,n\na,1.5,3\nb,2.5,4\nTotal,4.0,7\n", 2, {**TWO, "n": number("3", "4", max=4.0)}, remark="Total"),
    Ugly("footnotes below", b"arm,level,n\na,1.5,3\nb,2.5,4\n\n* measured twice,,\nSource: the made-up registry of 2026,,\n", 2,
         {**TWO, "n": number("3", "4")}, remark="measured twice"),
    Ugly("a level named mean stays", b"arm,level\nmean,1.5\nother,2.5\nmean,3.5\n", 3,
         {"arm": category("mean", "other", "mean"), "level": number("1.5", "2.5", "3.5")}),
    Ugly("blank lines", b"\n\narm,level\n\na,1.5\n\n\nb,2.5\n\n", 2, TWO, header_row=3),
    Ugly("delimiters only", b"arm,level,,\na,1.5,,\n,,,\nb,2.5,,\n", 2, TWO),
    Ugly("short rows", b"arm,level,n\na,1.5,3\nb\nc,2.5,4\n", 3,
         {"arm": category("a", "b", "c"), "level": number("1.5", "2.5", missing=1), "n": number("3", "4", missing=1)}, remark="short row"),
    Ugly("an extra cell", b"arm,level\na,1.5\nb,2.5,odd\nc,3.5\n", 3,
         {"arm": category("a", "b", "c"), "level": number("1.5", "2.5", "3.5"), "column 3": {"missing": 2}}, remark="more cells"),
    Ugly("doubled names", b"level,level\n1.5,2.5\n3.5,4.5\n", 2, {"level": number("1.5", "3.5"), "level (2)": number("2.5", "4.5")}),
    Ugly("an empty name", b",level\na,1.5\nb,2.5\n", 2, {"column 1": category("a", "b"), "level": number("1.5", "2.5")}),
    Ugly("quoted delimiters and line breaks", b'arm,level\n"a, b",1.5\n"two\nlines",2.5\n', 2,
         {"arm": category("a, b", "two\nlines"), "level": number("1.5", "2.5")}),
    Ugly("doubled quotes", b'arm,level\n"the ""first""",1.5\nb,2.5\n', 2, {"arm": category('the "first"', "b"), "level": number("1.5", "2.5")}),
    Ugly("spaces around cells", b"arm, level\n a , 1.5\nb , 2.5\na, 3.5\n", 3, LEVEL, remark="Spaces"),
    Ugly("true minus", "arm,level\na,\u22121.5\nb,2.5\n".encode(), 2, {"arm": category("a", "b"), "level": number("-1.5", "2.5")}),
    Ugly("exponents", b"arm,level\na,1.5e3\nb,2.5E-2\n", 2, {"arm": category("a", "b"), "level": number("1500", "0.025")}),
    Ugly("thousands with commas", b'arm,level\na,"1,234.5"\nb,"12,345.0"\n', 2, {"arm": category("a", "b"), "level": number("1234.5", "12345")}),
    Ugly("thousands with points", b"arm;level\na;1.234,5\nb;12.345,0\n", 2, {"arm": category("a", "b"), "level": number("1234.5", "12345")}),
    Ugly("thousands with spaces", "arm;level\na;1 234,5\nb;12\u202f345,0\nc;1\u00a0000,5\n".encode(), 3,
         {"arm": category("a", "b", "c"), "level": number("1234.5", "12345", "1000.5")}),
    Ugly("a decimal comma settled by a neighbour", b"arm;level;other\na;1,234;0,998\nb;2,500;1,002\n", 2,
         {"arm": category("a", "b"), "level": number("1.234", "2.5"), "other": number("0.998", "1.002")}),
    Ugly("thousands where nothing settles", b'arm;level\na;1,234\nb;2,500\n', 2,
         {"arm": category("a", "b"), "level": number("1234", "2500")}, remark="Nothing settles"),
    Ugly("one decimal comma among points", b'arm,level\na,1.5\nb,"1,9"\nc,2.5\n', 3,
         {"arm": category("a", "b", "c"), "level": number("1.5", "1.9", "2.5")}, remark="1,9"),
    Ugly("percent signs", b"arm,share\na,12.5%\nb,8%\n", 2, {"arm": category("a", "b"), "share": number("12.5", "8", unit="%")}),
    Ugly("missing marks", b"arm,level\na,1.5\nb,NA\nc,n/a\nd,ND\ne,QNS\nf,-\ng,.\nh,#N/A\ni,\nj,2.5\n", 10,
         {"arm": {"kind": "category"}, "level": number("1.5", "2.5", missing=8)}),
    Ugly("a word among numbers", b"arm,level\na,1.5\nb,haemolysed\nc,2.5\nd,3.5\n", 4,
         {"arm": category("a", "b", "c"), "level": number("1.5", "2.5", "3.5", missing=1)}, remark="haemolysed"),
    Ugly("limits", "arm,level\na,<0.5\nb,> 200\nc,≤1\nd,3.5\n".encode(), 4,
         {"arm": {"kind": "category"}, "level": number("<0.5", ">200", "<1", censored=3, missing=0, min=3.5, max=3.5)}),
    Ugly("limits with decimal commas", b"arm;level\na;<0,5\nb;1,5\n", 2, {"arm": category("a", "b"), "level": number("<0.5", "1.5", censored=1)}),
    Ugly("leading zeros", b"code,level\n007,1.5\n008,2.5\n010,3.5\n", 3, {"code": {"kind": "identifier", "first": ["007", "008", "010"]}, "level": number("1.5", "2.5", "3.5")}),
    Ugly("codes that are all distinct", b"sample,level\nS-1,1.5\nS-2,2.5\nS-3,3.5\n", 3, {"sample": {"kind": "identifier"}, "level": number("1.5", "2.5", "3.5")}),
    Ugly("few whole numbers are codes", b"plate,level\n" + b"".join(f"{1 + i % 3},{i}.5\n".encode() for i in range(30)), 30,
         {"plate": category("1", "2", "3"), "level": number("0.5", "1.5", "2.5")}),
    Ugly("an amount is no code", b"age,dose (mg),level\n" + b"".join(f"{20 + i % 3},{5 * (i % 2)},{i}.5\n".encode() for i in range(30)), 30,
         {"age": number("20", "21", "22"), "dose": number("0", "5", "0", unit="mg"), "level": number("0.5", "1.5", "2.5")}),
    Ugly("few rows of whole numbers are numbers", b"plate,level\n1,1.5\n2,2.5\n", 2, {"plate": number("1", "2"), "level": number("1.5", "2.5")}),
    Ugly("yes and no", b"done,level\nyes,1.5\nno,2.5\n", 2, {"done": {"kind": "boolean"}, "level": number("1.5", "2.5")}),
    Ugly("none is a level", b"therapy,level\nnone,1.5\nlow,2.5\nnone,3.5\n", 3, {"therapy": category("none", "low", "none", missing=0), "level": number("1.5", "2.5", "3.5")}),
    Ugly("iso dates", b"taken,level\n2026-01-31,1.5\n2026-02-01,2.5\n", 2, {"taken": {"kind": "date", "first": ["2026-01-31", "2026-02-01"]}, "level": number("1.5", "2.5")}),
    Ugly("day first", b"taken,level\n01/02/2026,1.5\n31/01/2026,2.5\n", 2, {"taken": {"kind": "date", "first": ["2026-02-01", "2026-01-31"]}, "level": number("1.5", "2.5")}),
    Ugly("month first", b"taken,level\n01/02/2026,1.5\n01/31/2026,2.5\n", 2, {"taken": {"kind": "date", "first": ["2026-01-02", "2026-01-31"]}, "level": number("1.5", "2.5")}),
    Ugly("dates with points", b"taken;level\n1.2.2026;1,5\n28.2.2026;2,5\n", 2, {"taken": {"kind": "date", "first": ["2026-02-01", "2026-02-28"]}, "level": number("1.5", "2.5")}),
    Ugly("named months", b"taken,level\n1 Feb 2026,1.5\n28-Mar-2026,2.5\n", 2, {"taken": {"kind": "date", "first": ["2026-02-01", "2026-03-28"]}, "level": number("1.5", "2.5")}),
    Ugly("dates that nothing settles", b"taken,level\n01/02/2026,1.5\n03/04/2026,2.5\n", 2, {"taken": {"kind": "text", "first": ["01/02/2026", "03/04/2026"]}, "level": number("1.5", "2.5")}, remark="day or month"),
    Ugly("wide, unequal lengths", b"Lot A,Lot B\n1.5,2.5\n3.5,4.5\n,5.5\n", 3, {"Lot A": number("1.5", "3.5", missing=0), "Lot B": number("2.5", "4.5", "5.5")}),
    Ugly("a hole in a wide table is missing", b"Lot A,Lot B\n1.5,2.5\n,4.5\n3.5,\n", 3, {"Lot A": number("1.5", "3.5", missing=1), "Lot B": number("2.5", "4.5", missing=0)}),
    Ugly("pasted numbers", b"1.5\n2.5\n3.5\n", 3, {"value": number("1.5", "2.5", "3.5")}, header_row=0),
    Ugly("pasted numbers in columns", b"1.5\t2\n2.5\t3\n", 2, {"value 1": number("1.5", "2.5"), "value 2": number("2", "3")}, header_row=0),
    Ugly("tab text named as a workbook", b"arm\tlevel\na\t1.5\nb\t2.5\n", 2, TWO, format="tsv"),
    Ugly("gzip", gzip.compress(b"arm,level\na,1.5\nb,2.5\n"), 2, TWO, format="csv"),
    Ugly("the heading by hand", b"one,two,three\narm,level,n\na,1.5,3\nb,2.5,4\n", 2, {**TWO, "n": number("3", "4")}, options={"header_row": 2}),
    Ugly("the decimal by hand", b"arm;level\na;1,234\nb;2,500\n", 2, {"arm": category("a", "b"), "level": number("1.234", "2.5")}, options={"decimal": "comma"}),
    Ugly("workbook", xlsx(rows_into(["arm", "level (g/L)"], ["a", 1.5], ["b", 2.5])), 2, {"arm": category("a", "b"), "level": number("1.5", "2.5", unit="g/L")}, format="xlsx"),
    Ugly("workbook with merged headings", xlsx(_merged), 2, {"sample": category("a", "b"), "Day 0 · Cortisol": number("1.5", "2.5"), "Day 0 · CRP": number("2", "3"),
         "Day 7 · Cortisol": number("3.5", "4.5"), "Day 7 · CRP": number("4", "5")}),
    Ugly("workbook with a hidden sheet first", xlsx(_sheets), 2, TWO, remark="“notes” (hidden)"),
    Ugly("workbook with a sheet per group", xlsx(_groups), 2, {"who": {}, "level": number("1.5", "2.5", unit="g/L")}, remark="“Lot B”"),
    Ugly("workbook, another sheet", xlsx(_sheets), refused="no rows below the header", options={"sheet": "more"}),
    Ugly("workbook, unknown sheet", xlsx(_sheets), refused="“levels”", options={"sheet": "levls"}),
    Ugly("workbook with formulas never calculated", xlsx(_formulas), 2, {**TWO, "double": {"missing": 2}}, remark="2 formulas were never calculated"),
    Ugly("workbook with title and total", xlsx(_titled), 2, {**TWO, "n": number("3", "4")}, header_row=3, remark="Report of the week"),
    Ugly("workbook with numbers as text", xlsx(_text_numbers), 3, {"id": {"kind": "identifier", "first": ["007", "008", "009"]}, "level": number("1.5", "2.5", missing=1)}),
    Ugly("workbook cut off", lambda: xlsx(_titled)()[:2000], refused="cut off"),
    Ugly("workbook that unpacks to gigabytes", _bomb, refused="unpacks to"),
    Ugly("a zip of something else", lambda: _zip("a.doc"), refused="zip archive holds no table"),
    Ugly("parquet", _parquet, 2, {**TWO, "ok": {"kind": "boolean"}, "when": {"kind": "date", "first": ["2026-01-02", "2026-01-03"]}}, format="parquet"),
    Ugly("parquet cut off", lambda: _parquet()[:-40], refused="Parquet"),
    Ugly("arrow file", _arrow(False), 3, {"arm": category("a", "b", missing=1), "level": number("1.5", "2.5", missing=1)}, format="arrow"),
    Ugly("arrow stream", _arrow(True), 3, {"arm": category("a", "b", missing=1), "level": number("1.5", "2.5", missing=1)}, format="arrow"),
    Ugly("arrow cut off", lambda: _arrow(False)()[:300], refused="Arrow"),
    Ugly("json records", orjson.dumps([{"arm": "a", "level": 1.5}, {"arm": "b", "level": 2.5, "n": 3}]), 2, {**TWO, "n": number("3", missing=1)}, format="json"),
    Ugly("json columns", orjson.dumps({"arm": ["a", "b"], "level": [1.5, 2.5]}), 2, TWO, format="json"),
    Ugly("json lines", b'{"arm": "a", "level": 1.5}\n{"arm": "b", "level": 2.5}\n', 2, TWO, format="json"),
    Ugly("json with a nested cell", b'[{"arm": "a", "level": [1, 2]}]', refused="record 1"),
    Ugly("json far too deep", b"[" * 100_000 + b"]" * 100_000, refused="JSON"),
    Ugly("json cut off", b'[{"arm": "a", "level": 1.5}, {"arm"', refused="no JSON"),
    Ugly("gzip cut off", gzip.compress(b"arm,level\n" + b"a,1.5\n" * 5000)[:-20], refused="cut off"),
    Ugly("groups in rows without a heading", b"Lot A,1.5,2.5,3.5\nLot B,4.5,5.5,6.5\n", 2,
         {"group": category("Lot A", "Lot B"), "value 1": number("1.5", "4.5"), "value 2": number("2.5", "5.5"),
          "value 3": number("3.5", "6.5")}, header_row=0, remark="side by side"),
    Ugly("years as headings are headings", b"ward,2024,2025\nNorth,1.5,2.5\nSouth,3.5,4.5\n", 2,
         {"ward": category("North", "South"), "2024": number("1.5", "3.5"), "2025": number("2.5", "4.5")}, header_row=1),
    Ugly("a table of summaries", b"arm,mean,SD,n\na,1.5,0.5,12\nb,2.5,0.7,14\n", 2,
         {"arm": category("a", "b"), "mean": number("1.5", "2.5"), "SD": number("0.5", "0.7"), "n": number("12", "14")},
         remark="These are summaries (mean, SD, n per arm), not rows"),
    Ugly("levels in an order", b"grade,level\nmoderate,1.5\nmild,2.5\nsevere,3.5\nmild,4.5\n", 4,
         {"grade": category("moderate", "mild", "severe", ordered=True), "level": number("1.5", "2.5", "3.5")}, remark="mild, moderate, severe"),
    Ugly("numbered days in an order", b"visit,level\nDay 14,1.5\nDay 0,2.5\nDay 7,3.5\nDay 0,4.5\n", 4,
         {"visit": category("Day 14", "Day 0", "Day 7", ordered=True), "level": number("1.5", "2.5", "3.5")}, remark="Day 0, Day 7, Day 14"),
    Ugly("lots have no order", b"lot,level\nLot 3,1.5\nLot 1,2.5\nLot 2,3.5\nLot 1,4.5\n", 4,
         {"lot": category("Lot 3", "Lot 1", "Lot 2", ordered=False), "level": number("1.5", "2.5", "3.5")}),
    Ugly("open document sheet", _ods, 2, TWO, format="ods"),
    Ugly("a workbook with an entity", lambda: _ods(b"<!DOCTYPE x [<!ENTITY e SYSTEM 'file:///etc/hostname'>]>", b"&e;"), refused="cannot be read"),
    Ugly("a workbook with entities in entities", lambda: _ods(LAUGHS, b"&l9;"), refused="cannot be read"),
    Ugly("kept tail", b"arm,level,n\na,1.5,3\nb,2.5,4\nTotal,4.0,7\n", 3,
         {"arm": category("a", "b", "Total"), "level": number("1.5", "2.5", "4"), "n": number("3", "4", "7")}, options={"tail": "keep"}),
    Ugly("no heading, as told", b"1,2.5\n2,3.5\n", 2, {"value 1": number("1", "2"), "value 2": number("2.5", "3.5")}, options={"header_row": 0}),
    Ugly("windows-1252, as told", "arm,Größe\nä,1.5\nö,2.5\n".encode("cp1252"), 2,
         {"arm": category("ä", "ö"), "Größe": number("1.5", "2.5")}, options={"encoding": "windows-1252"}),
    Ugly("not in the encoding told", b"arm,level\n\xff\xfe,1.5\n", refused="is not UTF-8", options={"encoding": "utf-8"}),
    Ugly("the label of totals without its numbers", b"Probe;Arm;Wert\nP-1;x;1,5\nP-2;y;2,5\nP-3;x;3,5\nSumme;;\n", 3,
         {"Probe": {"kind": "identifier"}, "Arm": category("x", "y", "x"), "Wert": number("1.5", "2.5", "3.5", max=3.5)}, remark="Summe"),
    Ugly("a total in another language", b"Probe;Wert\na;1,5\nb;2,5\nMittelwert;2,0\n", 2,
         {"Probe": category("a", "b"), "Wert": number("1.5", "2.5")}, remark="Mittelwert"),
    Ugly("nothing", b"", refused="empty"),
    Ugly("a heading alone", b"arm,level\n", refused="no rows below the header"),
    Ugly("plates under one another", b"Plate 1\n,1,2,3\nA,0.1,0.2,0.3\nB,0.4,0.5,0.6\n\nPlate 2\n,1,2,3\nA,1.1,1.2,1.3\nB,1.4,1.5,1.6\n", 4,
         {"column 1": category("A", "B", "A"), "1": number("0.1", "0.4", "1.1"), "2": number("0.2", "0.5", "1.2"), "3": number("0.3", "0.6", "1.3")}, remark="with the titles above it: Plate 2"),
    Ugly("means between groups, full rows", b"g,v\nx,1.5\nx,2.5\nMean,2.0\ny,3.5\ny,4.5\nMean,4.0\n", 4, {"g": category("x", "x", "y"), "v": number("1.5", "2.5", "3.5")}, remark="2 rows of totals or means"),
    Ugly("one pasted column of decimal commas", b"1,5\n2,5\n3,5\n", 3, {"value": number("1.5", "2.5", "3.5")}, header_row=0, remark="one column of decimal commas"),
    Ugly("pasted groups and values", b"a\t1,5\nb\t2,5\na\t3,5\n", 3, {"group": category("a", "b", "a"), "value": number("1.5", "2.5", "3.5")}, header_row=0),
    Ugly("percents beside shares", b"share,g\n12%,a\n0.15,b\n14%,a\n", 3, {"share": number("12", "0.15", "14", unit="%"), "g": category("a", "b", "a")}, remark="percents beside 1 plain number"),
    Ugly("several units in a column", b"sample;result;unit\nS1;1,5;mg/L\nS2;2,5;mg/L\nS3;0,004;g/L\n", 3,
         {"sample": {"kind": "identifier"}, "result": number("1.5", "2.5", "0.004"), "unit": category("mg/L", "mg/L", "g/L")}, remark="several units"),
    Ugly("serial numbers of days", b"date,level\n44927,1.5\n44928,2.5\n44930,3.5\n", 3, {"date": {"kind": "date", "first": ["2023-01-01", "2023-01-02", "2023-01-04"]}, "level": number("1.5", "2.5", "3.5")}, remark="serial numbers of days"),
    Ugly("settings above a narrow table", b"Run name\tX1\nOperator\tAN\n\nWell\tSample\tCt\nA1\tS1\t21.5\nA2\tS2\tUndetermined\nA3\tS3\t23.1\nA4\tS4\t24.1\n", 4,
         {"Well": {"kind": "identifier"}, "Sample": {"kind": "identifier"}, "Ct": number("21.5", "23.1", "24.1", missing=1)}, remark="“Undetermined”"),
    Ugly("two kinds of quotes and a bracket", b"arm;level\n'a;b';1.5\n'c';2.5\n'a;b';3.5\n", 3, {"arm": category("a;b", "c", "a;b"), "level": number("1.5", "2.5", "3.5")}),
    Ugly("names of rows without a heading", b"x y\na 1.5 2\nb 2.5 3\nc 3.5 4\n", 3, {"column 1": {"first": ["a", "b", "c"]}, "x": number("1.5", "2.5", "3.5"), "y": number("2", "3", "4")}, remark="one name short"),
    Ugly("workbook with errors, hidden and merged cells", xlsx(_marked), 5, {"arm": category("a", "a", "b", missing=0), "level": number("1.5", "2.5", "2.5"), "n": number("3", "5", "5", missing=2)}, remark="2 cells hold a spreadsheet’s error"),
    Ugly("workbook with a blank sheet first", xlsx(_blank_first), 2, TWO, remark="Sheet “cover” is blank"),
    Ugly("a first line that counts rows and columns", b"3,2,low,high\n1.5,2.5,0\n3.5,4.5,1\n5.5,6.5,0\n", 3, {"value 1": number("1.5", "3.5", "5.5"), "value 2": number("2.5", "4.5", "6.5"), "value 3": number("0", "1", "0")}, remark="3 · 2 · low · high"),
    Ugly("nul bytes", b"arm,level\na,1.5\x00\nb,2.5\n", 2, TWO, remark="1 control character"),
    Ugly("too many columns", ",".join(f"c{i}" for i in range(2500)).encode() + b"\n" + b"1," * 2499 + b"1\n", refused="2,500 columns"),
]  # fmt: skip


def _zip(name: str) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr(name, "x")
    return out.getvalue()
