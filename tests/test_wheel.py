"""The wheel: it holds every sub-package and the fonts, and draws the same bytes; commands import no more than they need."""

from __future__ import annotations

import hashlib
import os
import subprocess
import sys
import sysconfig
import zipfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from demo import gallery
from echelle.drawing.fonts.font_files import FACES
from echelle.render import figure_bytes
from echelle.tables.reading.read import read_file

ROOT = Path(__file__).parents[1]
DRAW = """
import hashlib, pathlib, sys
from demo.gallery import figures
from echelle.drawing.fonts.font_files import FACES
from echelle.render import figure_bytes
from echelle.tables.reading.read import read_file
assert all("site" in str(face.path) for face in FACES.values()), "the wheel's own fonts"
table = read_file(pathlib.Path(sys.argv[1])).table
print(*(f"{name} {hashlib.sha256(figure_bytes(r, table, 'pdf')).hexdigest()}" for name, r in figures().items()), sep="\\n")
"""
# What costs much to import, and what of it each command may import.
HEAVY = {
    "PIL", "babel", "cairocffi", "fluent", "fontTools", "lark", "numpy", "openpyxl", "orjson", "pandas", "polars", "pyarrow",
    "pydantic", "rich", "scipy",
    "scipy.fft", "scipy.optimize", "scipy.stats", "uharfbuzz",
}  # fmt: skip
MAY_IMPORT = {
    ("--version",): set[str](),
    ("schema",): {"numpy", "orjson", "polars", "pyarrow", "pydantic"},
    ("describe", "demo/participants.csv", "--measure", "age", "--groups", "chronotype"): {
        "numpy", "orjson", "polars", "pyarrow", "pydantic", "rich",
    },
}  # fmt: skip


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    """A wheel built from the tree."""
    folder = tmp_path_factory.mktemp("wheel")
    words = ["egg_info", "--egg-base", str(folder), "build", "--build-base", str(folder / "build")]
    done = subprocess.run(
        [sys.executable, "setup.py", "-q", *words, "bdist_wheel", "--dist-dir", str(folder)], cwd=ROOT, capture_output=True
    )
    assert done.returncode == 0, done.stderr.decode()
    yield next(folder.glob("*.whl"))


def test_it_holds_every_module_and_every_font_and_says_what_it_needs(wheel: Path) -> None:
    names = set(zipfile.ZipFile(wheel).namelist())
    modules = {str(path.relative_to(ROOT)) for path in (ROOT / "echelle").rglob("*.py")}
    fonts = {f"echelle/drawing/fonts/files/{Path(face.file).name}" for face in FACES.values()}
    assert modules | fonts <= names
    metadata = next(name for name in names if name.endswith("METADATA"))
    needed = zipfile.ZipFile(wheel).read(metadata).decode()
    assert "Requires-Dist: numpy" in needed and "Requires-Dist: uharfbuzz" in needed


def test_it_draws_the_gallery_with_the_same_bytes(wheel: Path, tmp_path: Path) -> None:
    site = tmp_path / "site"
    zipfile.ZipFile(wheel).extractall(site)
    (tmp_path / "demo").symlink_to(ROOT / "demo")
    # Without site, so that the checkout that this environment knows is out of reach.
    path = os.pathsep.join([str(site), str(tmp_path), sysconfig.get_path("purelib")])
    done = subprocess.run(
        [sys.executable, "-S", "-c", DRAW, str(ROOT / "demo/samples.csv")], cwd=tmp_path, capture_output=True,
        env={**os.environ, "PYTHONPATH": path},
    )  # fmt: skip
    assert done.returncode == 0, done.stderr.decode()
    table = read_file(ROOT / "demo/samples.csv").table
    here = {name: hashlib.sha256(figure_bytes(recipe, table, "pdf")).hexdigest() for name, recipe in gallery.figures().items()}
    assert dict(line.split() for line in done.stdout.decode().splitlines()) == here


@pytest.mark.parametrize("words", MAY_IMPORT, ids=lambda words: words[0])
def test_a_command_imports_no_more_than_it_needs(words: tuple[str, ...]) -> None:
    code = "import atexit, sys; atexit.register(lambda: print(*sorted(sys.modules), file=sys.stderr))\n"
    code += "from echelle.command_line.main import main; main()"
    done = subprocess.run([sys.executable, "-c", code, *words], cwd=ROOT, capture_output=True)
    assert done.returncode == 0, done.stderr.decode()
    too_much = set(done.stderr.decode().split()) & HEAVY - MAY_IMPORT[words]
    assert not too_much
