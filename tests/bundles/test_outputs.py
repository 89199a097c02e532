"""Files of figures: TIFF, clear grounds, batches into a folder or one PDF, the reader's key alone."""

from __future__ import annotations

import unicodedata
from pathlib import Path

import pypdf
import pytest
from click.testing import CliRunner
from PIL import Image

from echelle.batch import file_names
from echelle.command_line.main import app
from echelle.errors import InputError
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.style import Axis

WORDS = ["draw", "--table", "demo/samples.csv", "--form", "box", "--measure", "cortisol", "--groups", "shift pattern"]


def run(*words: str, fails: bool = False) -> str:
    done = CliRunner().invoke(app, [*WORDS, *words])
    assert (done.exit_code != 0) == fails, done.output
    return done.output


@pytest.mark.parametrize(("dpi", "width"), [(72, 341), (300, 1418), (1200, 5670)])
def test_a_tiff_has_its_size_dpi_and_compression(tmp_path: Path, dpi: int, width: int) -> None:
    out = tmp_path / "f.tiff"
    run("--out", str(out), "--dpi", str(dpi), "--size", "120mm")
    with Image.open(out) as picture:
        assert picture.size[0] == width and picture.mode == "RGB"
        assert picture.info["compression"] == "tiff_lzw" and picture.info["dpi"] == pytest.approx((dpi, dpi))


@pytest.mark.parametrize("ending", ["png", "tif"])
def test_a_clear_ground_lets_the_page_through(tmp_path: Path, ending: str) -> None:
    out = tmp_path / f"f.{ending}"
    run("--out", str(out), "--dpi", "72", "--clear")
    with Image.open(out) as picture:
        assert picture.mode == "RGBA" and picture.getpixel((1, 1)) == (0, 0, 0, 0)
        assert picture.getextrema()[3] == (0, 255)
    run("--out", str(tmp_path / "f.svg"), "--clear")
    run("--out", str(tmp_path / "g.svg"))
    ground = 'fill="#FFFFFF"/>\n'
    assert (tmp_path / "g.svg").read_text().count(ground) == (tmp_path / "f.svg").read_text().count(ground) + 1


def test_each_level_becomes_a_file_or_a_page(tmp_path: Path) -> None:
    said = run("--each", "ward", "--out", str(tmp_path / "wards"), "--kind", "svg")
    names = sorted(path.name for path in (tmp_path / "wards").iterdir())
    assert names == ["Harbour.svg", "Ridge.svg", "Valley.svg"] and len(said.splitlines()) == 3
    assert ">Ridge<" in (tmp_path / "wards" / "Ridge.svg").read_text()
    assert len({path.read_bytes() for path in (tmp_path / "wards").iterdir()}) == 3
    run("--each", "ward", "--out", str(tmp_path / "wards.pdf"))
    pages = pypdf.PdfReader(tmp_path / "wards.pdf").pages
    assert [next(word for word in ("Valley", "Harbour", "Ridge") if word in page.extract_text()) for page in pages] == [
        "Valley", "Harbour", "Ridge",
    ]  # fmt: skip


@pytest.mark.parametrize(("out", "left"), [("wards", ["A.svg", "C.svg"]), ("wards.pdf", None)])
def test_what_cannot_be_drawn_is_said_once_the_rest_is_written(tmp_path: Path, out: str, left: list[str] | None) -> None:
    (tmp_path / "t.csv").write_text("ward,level\n" + "A,2.5\nB,0\nC,3.5\n" * 6)
    recipe = recipe_of_form("box", "level").model_copy(update={"axis": Axis(scale="log10")})
    (tmp_path / "r.json").write_text(recipe.model_dump_json())
    files = ["--table", str(tmp_path / "t.csv"), "--each", "ward", "--out", str(tmp_path / out)]
    asked = ["draw", str(tmp_path / "r.json"), *files]
    done = CliRunner().invoke(app, asked)
    assert isinstance(done.exception, InputError) and done.exception.what == "1 of 3 figures could not be drawn"
    assert done.exception.remedy.startswith("B: ") and "log" in done.exception.remedy
    if left is None:
        assert len(pypdf.PdfReader(tmp_path / out).pages) == 2
    else:
        assert sorted(path.name for path in (tmp_path / out).iterdir()) == left


def test_many_measures_and_what_is_none(tmp_path: Path) -> None:
    run("--measures", "all", "--out", str(tmp_path / "m"), "--kind", "json")
    assert {"cortisol.json", "nights in a row.json"} <= {path.name for path in (tmp_path / "m").iterdir()}
    done = CliRunner().invoke(app, [*WORDS, "--measures", "cortisol,ward", "--out", str(tmp_path / "n")])
    assert isinstance(done.exception, InputError) and "“ward” is no measure" in done.exception.what
    done = CliRunner().invoke(app, [*WORDS, "--each", "wing", "--out", str(tmp_path / "n")])
    assert isinstance(done.exception, InputError) and not (tmp_path / "n").exists()


def test_names_of_files_are_safe_and_never_twice() -> None:
    assert list(file_names(["a/b", "a:b", "A_b", "..", "x" * 200], "svg")) == [
        "a_b.svg", "a_b 2.svg", "A_b 3.svg", "figure.svg", "x" * 80 + ".svg",
    ]  # fmt: skip


def test_the_readers_key_is_a_page_of_its_own(tmp_path: Path) -> None:
    run("--reader-key", "--out", str(tmp_path / "key.pdf"))
    # Extracted text may hold ligatures.
    text = unicodedata.normalize("NFKC", pypdf.PdfReader(tmp_path / "key.pdf").pages[0].extract_text())
    assert "How to read this figure" in text and "It is not the mean" in text.replace("\n", " ")


def test_without_a_table_the_remedy_is_named(tmp_path: Path) -> None:
    done = CliRunner().invoke(app, ["draw", "--form", "box", "--measure", "x", "--out", str(tmp_path / "f.svg")])
    assert isinstance(done.exception, InputError) and done.exception.where == "--table"
