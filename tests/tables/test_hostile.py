"""Names that clash and bytes that are no table: a figure or one clear error, never a traceback."""

from __future__ import annotations

import csv
import io
import random
from pathlib import Path

import orjson
import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from echelle.bundles.models import Contents, RawData
from echelle.bundles.reader import open_bundle, rows_of
from echelle.bundles.writer import bundle
from echelle.command_line.main import app
from echelle.drawing.formats import FORMATS
from echelle.errors import InputError
from echelle.recipes.default_recipe import default_recipe
from echelle.recipes.forms import in_form, recipe_of_form
from echelle.render import figure_bytes, scene_of
from echelle.tables.column_summary import summary_of
from echelle.tables.reading.read import read_bytes
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.joining import TableRef
from echelle.tables.steps.prepare import prepare
from echelle.tables.table import Table
from tests.support.corpus import FILES
from tests.support.pollutions import CLEAN, POLLUTIONS

NAMES = [
    "count", "value", "index", "row", "n", "group", "literal", "len", "level_0", "__index_level_0__", "", "   ", "x" * 300,
    "🧪 lot", "[/b]", "מדידה", "two\nlines", 'the "first"', "{rows}", "$(reboot)", "$measure", "<b>bold</b>",
    "<script>alert(1)</script>", "=1+1", "@SUM(A1)", "Level", "LEVEL", "e\u0301tat", "\u00e9tat", "5", "5.0", "a,b", "a;b",
    "a'b", "a\\b", "%s", "NULL", "NaN", "None", "true",
]  # fmt: skip
WORST = ["count", "{rows}", "<b>bold</b>", "=1+1", "מדידה", "two\nlines", "x" * 300, "🧪 lot"]


def no_others(ref: TableRef) -> Table:
    raise AssertionError(ref)


def table_of(measure: str, groups: str, levels: list[str]) -> bytes:
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\n", quoting=csv.QUOTE_ALL)
    writer.writerow(["who", measure, groups])
    writer.writerows([f"w{i:02d}", f"{i * 1.25 + 0.5:.2f}", levels[i % len(levels)]] for i in range(24))
    return out.getvalue().encode()


@pytest.mark.parametrize("name", NAMES, ids=[repr(name[:20]) for name in NAMES])
def test_a_column_and_a_level_of_any_name_go_all_the_way(name: str, tmp_path: Path) -> None:
    for measure, groups, levels in (
        (name, "arm", ["a", "b"]),
        ("reading", name, ["a", "b"]),
        ("reading", "arm", [name or "x", "b", "c"]),
    ):
        data = table_of(measure, groups, levels)
        table = read_bytes(data).table
        assert len(table.columns) == 3 and table.rows == 24
        recipe = default_recipe([summary_of(column) for column in table.columns])
        assert recipe.measure.columns == [table.columns[1].name]
        recipe = recipe_of_form("box", table.columns[1].name, table.columns[2].name)
        for form in ("box", "raincloud", "counts"):
            scene_of(in_form(recipe, form), table)
        steps = [
            {"step": "rename", "column": table.columns[2].name, "to": "renamed"},
            {"step": "order", "column": "renamed", "ordered": True},
            {"step": "kind", "column": table.columns[1].name, "kind": "measure"},
        ]
        done = prepare(table, steps_from(steps), no_others)
        assert done.stopped is None and done.table.rows == 24


@pytest.mark.parametrize(
    "name", ["count", "{rows}", "<b>bold</b>", "=1+1", "מדידה", "two\nlines", "x" * 300, "🧪 lot"], ids=repr
)
def test_a_name_in_every_format_in_a_bundle_and_on_the_command_line(name: str, tmp_path: Path) -> None:
    data = table_of(name, "arm", [name, "b"])
    table = read_bytes(data).table
    recipe = recipe_of_form("raincloud", table.columns[1].name, "arm")
    for file_format in FORMATS:
        assert figure_bytes(recipe, table, file_format, dpi=40)
    svg = figure_bytes(recipe, table, "svg").decode()
    assert "<b>" not in svg and "<script" not in svg
    opened = open_bundle(bundle(Contents(recipe, RawData("levels.csv", data), [], table)))
    assert rows_of(opened).columns[1].name == table.columns[1].name
    file = tmp_path / "levels.csv"
    file.write_bytes(data)
    measured = ["--measure", table.columns[1].name, "--groups", "arm"]
    for words in (
        ["read", str(file), "--json"],
        ["describe", str(file), *measured, "--json"],
        ["compare", str(file), *measured, "--json"],
    ):
        done = CliRunner().invoke(app, [*words, "--json"])
        assert done.exit_code == 0 and orjson.loads(done.stdout), done.output


@given(data=st.binary(min_size=1, max_size=400))
def test_random_bytes_are_a_table_or_one_sentence(data: bytes) -> None:
    read_or_refuse(data)


@pytest.mark.parametrize("seed", range(2))
def test_cut_and_changed_files_are_a_table_or_one_sentence(seed: int) -> None:
    rng = random.Random(seed)
    files = [ugly.bytes() for ugly in FILES if ugly.name != "workbook that unpacks to gigabytes"]
    files += [pollution.data for pollution in POLLUTIONS]
    for data in filter(None, files):
        read_or_refuse(data[: rng.randrange(1, len(data) + 1)])
        changed = bytearray(data)
        for _ in range(rng.randrange(1, 12)):
            changed[rng.randrange(len(changed))] = rng.randrange(256)
        read_or_refuse(bytes(changed))


def read_or_refuse(data: bytes) -> None:
    """Raises whatever is neither a table nor an error of the input in one sentence."""
    try:
        reading = read_bytes(data)
    except InputError as error:
        assert "\n" not in error.sentence()
        return
    assert reading.table.columns and reading.table.rows > 0
    assert not [remark for remark in reading.remarks if remark.message == "read-unaccounted"]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"MSH|^~\\&|LAB|X|EHR|Y|20260101||ORU^R01|1|P|2.5\rPID|1||123\rOBX|1|NM|GLU||5.1|mmol/L\r", "message of an analyser"),
        (b"H|\\^&|||X\rP|1\rO|1|S1||^^^GLU\rR|1|^^^GLU|5.1|mmol/L\rL|1\r", "message of an analyser"),
        (b"<?xml version='1.0'?>\n<results><r>1</r></results>", "XML"),
        (CLEAN.encode("utf-32"), "UTF-32"),
        (CLEAN.encode("utf-32-le"), "UTF-32"),
        (b"{\\rtf1\\ansi levels}", "formatted text"),
    ],
)
def test_what_is_no_table_is_refused_by_name(data: bytes, says: str) -> None:
    with pytest.raises(InputError) as caught:
        read_bytes(data)
    assert says in caught.value.sentence() and caught.value.remedy
