"""Reading: what is recognised, what is remarked, what is refused. Expectations are written by hand."""

from __future__ import annotations

import csv
import io
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from echelle.errors import InputError
from echelle.tables.column_summary import summary_of
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.read import Reading, read_bytes
from echelle.tables.reading.size_limits import ReadingLimits
from echelle.tables.storage.arrow_store import pack_column, unpack_column


def read(text: str, encoding: str = "utf-8", **options: object) -> Reading:
    return read_bytes(text.encode(encoding), ReadingOptions(**options))  # type: ignore[arg-type]


def numbers(reading: Reading, name: str) -> list[float | None]:
    column = reading.table.column(name)
    assert column.kind == "measure" and column.numbers is not None
    return [None if math.isnan(v) else v for v in column.numbers.tolist()]


@pytest.mark.parametrize("delimiter", [",", ";", "\t", "|"])
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_delimiters_and_encodings(delimiter: str, encoding: str) -> None:
    text = "group,Größe (µmol/L)\nmale,1.5\nfemale,2.25\n".replace(",", delimiter)
    reading = read(text, encoding)
    assert reading.delimiter == delimiter
    assert numbers(reading, "Größe") == [1.5, 2.25]
    assert reading.table.column("Größe").unit == "µmol/L"
    assert reading.table.column("Größe (µmol/L)") is reading.table.column("Größe")


SCRIPTS = {
    "Shift JIS": ("cp932", "患者,病棟,コルチゾール", ("北棟", "みなみ")),
    "GB 18030": ("gb18030", "患者,病房,皮质醇", ("北楼", "南楼")),
    "EUC-KR": ("cp949", "환자,병동,값", ("북", "남")),
    "Big5": ("cp950", "患者,病房,皮質醇", ("北樓", "南樓")),
    "KOI8-R": ("koi8_r", "пациент,палата,кортизол", ("Север", "юг")),
    "Windows-1251": ("cp1251", "пациент,палата,кортизол", ("Север", "ЮГ")),
    "Windows-1253": ("cp1253", "ασθενής,θάλαμος,κορτιζόλη", ("Βόρεια", "νότια")),
    "Windows-1250": ("cp1250", "chory,oddział,stężenie", ("północ", "południe")),
}  # fmt: skip


@pytest.mark.parametrize("page", SCRIPTS)
def test_letters_of_a_script_are_read_by_their_page_and_it_is_said(page: str) -> None:
    codec, heading, wards = SCRIPTS[page]
    text = heading + "\n" + "".join(f"{place},{wards[place % 2]},{place + 0.5}\n" for place in range(30))
    reading = read_bytes(text.encode(codec))
    assert [column.name for column in reading.table.columns] == heading.split(",") and reading.encoding == page
    assert set(reading.table.columns[1].levels) == set(wards)
    [said] = [remark for remark in reading.remarks if remark.message == "read-code-page"]
    assert page in said.text and said.remedies


def test_a_long_file_cut_in_a_letter_and_one_broken_byte_change_no_page() -> None:
    text = "病棟,備考,値\n" + "".join(f"{'北南'[place % 2]}棟,{'検体' * 700},{place + 0.5}\n" for place in range(900))
    data = text.encode("cp932")
    for broken in (data, data.replace("検".encode("cp932"), b"\x81\xff", 1)):
        assert read_bytes(broken).encoding == "Shift JIS"


@pytest.mark.parametrize(
    ("cells", "values"),
    [
        (["1,5", "2,25", "0,998"], [1.5, 2.25, 0.998]),
        (["1,234", "0,998", "2,500"], [1.234, 0.998, 2.5]),
        (["1.234,5", "2,5", "10,0"], [1234.5, 2.5, 10.0]),
        (["1,234.5", "2.5", "10.0"], [1234.5, 2.5, 10.0]),
        (["1,234", "56", "7,890"], [1234.0, 56.0, 7890.0]),
        (["1 234.5", "2.5", "\u22123.5"], [1234.5, 2.5, -3.5]),
        (["1e3", "2.5E-2", "+4.5"], [1000.0, 0.025, 4.5]),
        (["12.5%", "8%", "3.25 %"], [12.5, 8.0, 3.25]),
    ],
)
def test_written_numbers(cells: list[str], values: list[float]) -> None:
    reading = read("g\tvalue (x)\n" + "".join(f"a\t{cell}\n" for cell in cells))
    assert numbers(reading, "value (x)") == values


def test_one_foreign_decimal_mark_is_read_and_remarked_with_its_line() -> None:
    reading = read('site,level\na,1.5\nb,"1,9"\nc,2.5\n')
    assert numbers(reading, "level") == [1.5, 1.9, 2.5]
    [remark] = reading.remarks
    assert (remark.line, remark.column) == (3, "level") and "1,9" in remark.text and "1.9" in remark.text


def test_missing_marks_are_counted_by_name_and_words_are_remarked() -> None:
    reading = read("who,level\na,1.5\nb,QNS\nc,NA\nd,\ne,haemolysed\nf,2.5\ng,QNS\nh,3.5\ni,4.5\n")
    column = reading.table.column("level")
    assert column.absent == {"": 1, "QNS": 2, "NA": 1, "haemolysed": 1} and column.missing == 5
    assert any("haemolysed" in r.text and r.line == 6 for r in reading.remarks)


def test_limits_are_censored_and_not_missing() -> None:
    column = read("who,level\na,<0.4\nb,> 200\nc,≤1\nd,3.5\n").table.column("level")
    assert column.censored == 3 and column.missing == 0
    assert column.numbers is not None and column.numbers.tolist() == [0.4, 200.0, 1.0, 3.5]
    assert column.marks is not None and column.marks.tolist() == [2, 3, 2, 0]


def test_kinds() -> None:
    head = "sample,code,shift,day,done,nights in a row,note,taken,plate,level\n"
    rows = "".join(
        f"S-{i:03d},0{i:03d},{'Day' if i % 2 else 'Night'},{1 + i % 2},{'yes' if i % 3 else 'no'},{i % 5},"
        f"{'words ' * 12}{i},2026-01-{1 + i % 28:02d},{1 + i % 9},{i * 1.5}\n"
        for i in range(40)
    )
    kinds = {c.name: c.kind for c in read(head + rows).table.columns}
    assert kinds == {
        "sample": "identifier", "code": "identifier", "shift": "category", "day": "category", "done": "yes/no",
        "nights in a row": "measure", "note": "text", "taken": "date", "plate": "category", "level": "measure",
    }  # fmt: skip


def test_levels_that_differ_only_in_case_stay_apart_with_a_remark() -> None:
    reading = read("shift,level\nRotating,1.5\nrotating,2.5\nRotating,3.5\nDay,4.5\n")
    assert reading.table.column("shift").levels == ("Rotating", "rotating", "Day")
    [remark] = reading.remarks
    assert remark.line == 3 and "kept apart" in remark.text


def test_ragged_blank_and_quoted_lines() -> None:
    reading = read('name,level\n\n"a, b",1.5\n\n"two\nlines",2.5\nc\nd,4.5,9\n')
    assert reading.table.rows == 4
    assert reading.table.column("name").texts.to_list() == ["a, b", "two\nlines", "c", "d"]
    assert numbers(reading, "level") == [1.5, 2.5, None, 4.5]
    assert {r.line for r in reading.remarks} == {1, 7, 8}


def test_cells_without_a_heading_are_called_value() -> None:
    reading = read("1.5\n2.5\n3.5\n")
    assert reading.header_row == 0 and numbers(reading, "value") == [1.5, 2.5, 3.5]
    assert [c.name for c in read("1.5\t2\n2.5\t3\n").table.columns] == ["value 1", "value 2"]


def test_doubled_names_are_told_apart() -> None:
    reading = read("level,level\n1.5,2.5\n3.5,4.5\n")
    assert [c.name for c in reading.table.columns] == ["level", "level (2)"]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b"\xef\xbb\xbf\n\n", "empty"),
        (b"a,b,c\n", "no rows below the header"),
        (b"PK\x03\x04\x00\x00binary", "damaged"),
        (b"GIF89a\x00\x00binary", "NUL"),
        (b"%PDF-1.7 ...", "a PDF"),
        (b"<!DOCTYPE html><table>", "web page"),
        (bytes(range(1, 32)) * 40, "not text"),
        (("c," * 3000 + "c\n" + "1," * 3000 + "1\n").encode(), "3,001 columns"),
        (b"\xff\xfea\x00,", "UTF-16"),
    ],
)
def test_refusals_name_what_is_wrong(data: bytes, says: str) -> None:
    with pytest.raises(InputError) as caught:
        read_bytes(data)
    assert says in caught.value.sentence() and caught.value.remedy and "\n" not in caught.value.sentence()


def test_limits_of_size_and_rows() -> None:
    data = b"a,b\n" + b"x,1\n" * 100
    for limits in (ReadingLimits(megabytes=0.0001), ReadingLimits(rows=50)):
        with pytest.raises(InputError, match="more than the"):
            read_bytes(data, limits=limits)


def test_a_missing_column_names_the_nearest() -> None:
    with pytest.raises(InputError) as caught:
        read("cortisol,ward\n1.5,a\n").table.column("cortisl")
    assert "“cortisol”" in caught.value.remedy


names = st.text(st.characters(codec="cp1252", exclude_categories=["Cc", "Cs", "Zs", "Zl", "Zp"]), min_size=1, max_size=8)
values = st.one_of(
    st.floats(-1e9, 1e9, allow_nan=False).map(lambda v: v + 0.5),
    st.integers(-(10**6), 10**6).map(lambda v: v / 8),
)


@st.composite
def dialects(draw: st.DrawFn) -> dict[str, Any]:
    """A way to write a table down that leaves no doubt how to read it."""
    decimal = draw(st.sampled_from(["point", "comma"]))
    delimiter = draw(st.sampled_from([";", "\t", "|"] + ([","] if decimal == "point" else [])))
    return {
        "delimiter": delimiter,
        "decimal": decimal,
        "encoding": draw(st.sampled_from(["utf-8", "utf-8-sig", "utf-16", "cp1252"])),
        "ends": draw(st.sampled_from(["\n", "\r\n", "\r"])),
        "quoting": draw(st.sampled_from([csv.QUOTE_MINIMAL, csv.QUOTE_ALL, csv.QUOTE_NONNUMERIC])),
        "blank lines": draw(st.integers(0, 2)),
    }


@given(rows=st.lists(st.tuples(names.map(lambda t: f"L{t}"), values), min_size=3, max_size=30), dialect=dialects())
def test_a_table_reads_back_from_any_dialect(rows: list[tuple[str, float]], dialect: dict[str, Any]) -> None:
    assume(len({name for name, _ in rows}) > 2)
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=dialect["delimiter"], lineterminator=dialect["ends"], quoting=dialect["quoting"])
    out.write(dialect["ends"] * dialect["blank lines"])
    writer.writerow(["name", "level (nmol/L)"])
    for name, value in rows:
        text = repr(value)
        writer.writerow([name, text if dialect["decimal"] == "point" else text.replace(".", ",")])
    told = "windows-1252" if dialect["encoding"] == "cp1252" else None
    options = ReadingOptions(delimiter=dialect["delimiter"], decimal=dialect["decimal"], encoding=told)
    reading = read_bytes(out.getvalue().encode(dialect["encoding"]), options)
    assert reading.table.column("name").texts.to_list() == [name for name, _ in rows]
    assert numbers(reading, "level") == [value for _, value in rows]
    assert reading.table.column("level").unit == "nmol/L"


@given(rows=st.lists(st.tuples(st.sampled_from(["a", "b"]), st.integers(0, 99_999)), min_size=5, max_size=40))
def test_the_quick_and_the_careful_way_agree(rows: list[tuple[str, int]]) -> None:
    plain = "arm,level,note\n" + "".join(f"{arm},{value / 100:.2f},{'' if value % 3 else 'odd'}\n" for arm, value in rows)
    quoted = plain.replace("a,", '"a",')
    first, second = read(plain), read(quoted)
    for left, right in zip(first.table.columns, second.table.columns, strict=True):
        assert (left.name, left.kind, left.absent, left.texts.to_list()) == (
            right.name,
            right.kind,
            right.absent,
            right.texts.to_list(),
        )
    assert numbers(first, "level") == numbers(second, "level") == [value / 100 for _, value in rows]


def test_a_column_survives_its_buffer() -> None:
    reading = read("who,level (g/L)\na,<0.4\nb,1.5\nc,\nd,QNS\n")
    for column in reading.table.columns:
        back = unpack_column(pack_column(column))
        assert (back.name, back.kind, back.unit, back.absent) == (column.name, column.kind, column.unit, column.absent)
        assert back.texts.to_list() == column.texts.to_list()
        assert back.levels == column.levels and np.array_equal(back.codes, column.codes)
        if column.numbers is not None and column.marks is not None:
            assert np.array_equal(back.numbers, column.numbers, equal_nan=True) and np.array_equal(back.marks, column.marks)


def test_a_summary_counts_every_number() -> None:
    reading = read("who,level\n" + "".join(f"a,{i + 0.5}\n" for i in range(100)) + "b,<2\nb,\n")
    level = summary_of(reading.table.column("level"))
    assert (sum(level.bars), level.min, level.max, level.missing, level.censored) == (100, 0.5, 99.5, 1, 1)
    who = summary_of(reading.table.column("who"))
    assert [(entry.level, entry.count) for entry in who.levels] == [("a", 100), ("b", 2)]


@pytest.mark.parametrize("name", ["patient_id", "patientId", "Patient ID", "subject-no", "donor", "volunteer"])
def test_names_tell_identifiers_however_their_words_are_joined(name: str) -> None:
    rows = [f"{'P' if i % 2 else 'Q'}-{i % 9:02d},{i}.5" for i in range(40)]
    table = read_bytes((f"{name},level\n" + "\n".join(rows) + "\n").encode()).table
    assert table.column(name).kind == "identifier"


def test_amounts_are_told_by_name_too() -> None:
    rows = "".join(f"{30 + i % 9},{i % 5}\n" for i in range(60))
    table = read_bytes(f"ageYears,site_code\n{rows}".encode()).table
    assert (table.column("ageYears").kind, table.column("site_code").kind) == ("measure", "category")


@pytest.mark.parametrize("separator", [";", "\t", "|"])
def test_decimal_commas_cut_no_cells_however_uneven_the_lines(separator: str) -> None:
    """A separator that stands unquoted in some remarks leaves lines uneven; the commas in the numbers are even and no cut."""
    lines = [separator.join(["Labor", "", ""]), separator.join(["Probe", "Arm", "Ferritin (µg/l)", "Anmerkung"])]
    for row in range(60):
        said = f"trüb{separator}wdh." if row % 3 == 0 else "ok"
        lines.append(separator.join([f"P-{row:03d}", "AB"[row % 2], f"{20 + row},{row % 10}", said]))
    result = read_bytes("\n".join(lines).encode())
    level = result.table.column("Ferritin")
    assert result.delimiter == separator and level.kind == "measure" and level.numbers is not None
    assert level.numbers.tolist() == [20 + row + row % 10 / 10 for row in range(60)]
    assert any(remark.message == "read-long-rows" for remark in result.remarks)
    # Where commas separate, digits on both sides make them no decimal marks.
    plain = read_bytes(b"a,b,c\n" + b"1,2,3\n4,5,6\n" * 20)
    assert plain.delimiter == "," and len(plain.table.columns) == 3
