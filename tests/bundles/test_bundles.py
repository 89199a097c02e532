"""Bundles: byte for byte the same figure anywhere, every change noticed, identifiers replaced on the way out."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import time
import zipfile
from datetime import UTC, datetime
from pathlib import Path

import openpyxl
import pytest
from click.testing import CliRunner

from echelle.bundles.models import Bundle, Contents, RawData, TrailPart
from echelle.bundles.pseudonyms import with_pseudonyms
from echelle.bundles.reader import open_bundle, rows_of
from echelle.bundles.writer import bundle
from echelle.command_line.main import app
from echelle.errors import InputError
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import seal
from echelle.recipes.style import Style
from echelle.render import figure_bytes, scene_of
from echelle.tables.reading.read import read_bytes
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.prepare import all_steps

MADE = datetime(2026, 3, 4, 12, 30, tzinfo=UTC)
LINES = ["participant;ward;level (nmol/L)", *(f"P-{i:03d};{'AB'[i % 2]};{i * 1.5:.1f}".replace(".", ",") for i in range(1, 41))]
RAW = "\n".join([*LINES, "P-001;B;QNS", "P-002;A;=1+1", "P-007;A;3,5"]).encode()
STEPS = steps_from([{"step": "keep", "where": {"column": "level", "above": 2}}])


def sealed(form: str = "raincloud", **words: str) -> Recipe:
    recipe = recipe_of_form(form, "level", "ward")  # type: ignore[arg-type]
    return seal(recipe.model_copy(update={"words": recipe.words.model_copy(update=words)}), MADE, STEPS)


def contents(recipe: Recipe | None = None) -> Contents:
    recipe = recipe or sealed()
    rows = all_steps(read_bytes(RAW).table, recipe.prepare or [])
    state = TrailPart(number=1, parent=None, words="begun", by="Analyst", at=MADE, recipe=recipe)
    return Contents(recipe, RawData("levels of March.csv", RAW), [], rows, [state])


def files_of(data: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def zipped(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


def test_what_comes_out_redraws_the_figure_byte_for_byte() -> None:
    data = bundle(contents())
    # Workbooks hold the second they were written in: another second changes nothing.
    time.sleep(1.1)
    assert data == bundle(contents())
    result, files = open_bundle(data), files_of(data)
    for kind in ("svg", "pdf", "png"):
        assert figure_bytes(result.recipe, rows_of(result), kind) == files[f"figure.{kind}"]  # type: ignore[arg-type]
    assert result.raw == RawData("levels of March.csv", RAW) and [part.by for part in result.trail] == ["Analyst"]


def test_every_file_has_its_checksum_and_the_readme_names_it() -> None:
    files = files_of(bundle(contents()))
    sums = dict(line.split("  ")[::-1] for line in files["checksums.sha256"].decode().splitlines())
    assert sums == {name: hashlib.sha256(data).hexdigest() for name, data in files.items() if name != "checksums.sha256"}
    readme = files["README.txt"].decode()
    assert all(name in readme for name in files if name not in ("checksums.sha256", "README.txt"))
    assert "echelle draw THIS-FILE.zip" in readme and "2026-03-04 12:30 UTC" in readme


def test_readings_are_those_of_the_figure_and_rows_are_harmless() -> None:
    held = contents()
    files, scene = files_of(bundle(held)), scene_of(held.recipe, held.rows)
    readings = list(csv.DictReader(io.StringIO(files["readings.csv"].decode("utf-8-sig"))))
    assert [row["group"] for row in readings] == [reading.group for reading in scene.readings]
    assert [float(row["median"]) for row in readings] == [reading.median for reading in scene.readings]
    assert [row["n"] for row in readings] == [str(reading.n) for reading in scene.readings]
    assert [row["median"] for row in json.loads(files["readings.json"])] == [reading.median for reading in scene.readings]
    sheet = openpyxl.load_workbook(io.BytesIO(files["readings.xlsx"])).active
    assert sheet is not None and sheet.max_row == 1 + len(scene.readings)
    assert files["method-note.txt"].decode().strip() == scene.note
    cells = files["rows.csv"].decode("utf-8-sig")
    assert ",=1+1" not in cells


@pytest.mark.parametrize("changed", ["recipe.json", "data/0/levels of March.csv", "figure.svg", "trail.json"])
def test_a_file_that_changed_is_named(changed: str) -> None:
    files = files_of(bundle(contents()))
    with pytest.raises(InputError, match="is not as it was") as fault:
        open_bundle(zipped({**files, changed: files[changed] + b" "}), "b.zip")
    assert fault.value.where == f"b.zip, {changed}"


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"not a zip", "this is no bundle"),
        (zipped({"a.txt": b"x"}), "lacks checksums.sha256"),
        (zipped({"checksums.sha256": b""}), "lacks recipe.json"),
        (zipped({"checksums.sha256": b"", "recipe.json": b"{}"}), "is not as it was"),
        (zipped({f"{i}": b"" for i in range(300)}), "larger than any"),
    ],
)
def test_what_is_no_bundle_is_refused(data: bytes, says: str) -> None:
    with pytest.raises(InputError, match=says):
        open_bundle(data)


def test_running_codes_replace_identifiers_everywhere() -> None:
    recipe = sealed(title="Without P-007", source="as P-0071 said")
    recipe = Recipe.model_validate(
        recipe.model_dump(mode="json", by_alias=True) | {"keep": [{"column": "participant", "is_not": ["P-007"]}]}
    )
    plain, out = contents(recipe), with_pseudonyms(contents(recipe))
    text = b"".join(files_of(bundle(out)).values()).decode("utf-8", "replace")
    assert not [code for code in (f"P-{i:03d}" for i in range(1, 41)) if f"{code}," in text or f"{code}\n" in text]
    assert out.recipe.words.title == "Without ID-0007" and out.recipe.words.source == "as P-0071 said"
    assert out.trail == [] and out.recipe.read is None
    # The figure is the same: every value in its lane.
    before, after = scene_of(plain.recipe, plain.rows), scene_of(out.recipe, out.rows)
    sizes = [[(r.group, r.n, r.median, r.missing) for r in scene.readings] for scene in (before, after)]
    assert sizes[0] == sizes[1]
    again = open_bundle(bundle(out))
    assert figure_bytes(again.recipe, rows_of(again), "svg") == figure_bytes(out.recipe, out.rows, "svg")


def test_running_codes_replace_what_is_kept_by_the_name_of_a_level() -> None:
    dumped = sealed().model_dump(mode="json", by_alias=True)
    groups = {"column": "participant", "labels": {"P-003": "the third"}}
    colours = {"participant": {"P-003": "#112233"}, "ward": {"A": "#445566"}}
    recipe = Recipe.model_validate(dumped | {"groups": groups, "style": dumped["style"] | {"level_colours": colours}})
    told = with_pseudonyms(contents(recipe)).recipe
    assert told.groups is not None and told.groups.labels == {"ID-0003": "the third"}
    assert isinstance(told.style, Style) and told.style.level_colours["participant"] == {"ID-0003": "#112233"}
    # Sealing leaves the colours of columns that are not shown at home.
    kept = seal(recipe, MADE).style
    assert isinstance(kept, Style) and list(kept.level_colours) == ["participant"]


def test_codes_are_refused_where_other_tables_are_joined() -> None:
    joined = Contents(sealed(), RawData("a.csv", RAW), [RawData("b.csv", RAW)], contents().rows)
    with pytest.raises(InputError, match="joins other tables"):
        with_pseudonyms(joined)


def test_the_command_makes_and_draws_a_bundle(tmp_path: Path) -> None:
    (tmp_path / "levels.csv").write_bytes(RAW)
    (tmp_path / "recipe.json").write_text(sealed().model_dump_json(by_alias=True))
    words = ["bundle", str(tmp_path / "recipe.json"), "--table", str(tmp_path / "levels.csv"), "--out", str(tmp_path / "b.zip")]
    made = CliRunner().invoke(app, words)
    assert made.exit_code == 0, made.output
    drawn = CliRunner().invoke(app, ["draw", str(tmp_path / "b.zip"), "--out", str(tmp_path / "f.svg")])
    assert drawn.exit_code == 0, drawn.output
    assert (tmp_path / "f.svg").read_bytes() == files_of((tmp_path / "b.zip").read_bytes())["figure.svg"]
    result: Bundle = open_bundle((tmp_path / "b.zip").read_bytes())
    assert result.recipe.made == MADE
    assert CliRunner().invoke(app, [*words, "--coded"]).exit_code == 0
    assert b"P-001" not in (tmp_path / "b.zip").read_bytes()


def test_joined_tables_travel_along(tmp_path: Path) -> None:
    other = b"ward,name\nA,Valley\nB,Ridge\n"
    (tmp_path / "wards.csv").write_bytes(other)
    (tmp_path / "levels.csv").write_bytes(RAW)
    ref = {"name": "wards.csv", "sha256": hashlib.sha256(other).hexdigest()}
    steps = [{"step": "join", "table": ref, "keys": [{"here": "ward", "there": "ward"}]}]
    recipe = recipe_of_form("box", "level", "name").model_dump(mode="json", by_alias=True) | {"prepare": steps}
    (tmp_path / "recipe.json").write_text(json.dumps(recipe))
    words = ["bundle", str(tmp_path / "recipe.json"), "--table", str(tmp_path / "levels.csv"), "--out", str(tmp_path / "b.zip")]
    assert CliRunner().invoke(app, words, catch_exceptions=False).exit_code == 0
    result = open_bundle((tmp_path / "b.zip").read_bytes())
    assert [raw.name for raw in result.others] == ["wards.csv"]
    assert {reading.group for reading in scene_of(result.recipe, rows_of(result)).readings} == {"Valley", "Ridge"}


def test_codes_for_nobody_are_refused() -> None:
    table = read_bytes(b"ward,level\nA,1\nA,2\nB,3\nB,4\n").table
    recipe = seal(recipe_of_form("box", "level", "ward"), MADE)
    with pytest.raises(InputError, match="no column holds identifiers"):
        with_pseudonyms(Contents(recipe, RawData("a.csv", b"ward,level\nA,1\nA,2\nB,3\nB,4\n"), [], table))
