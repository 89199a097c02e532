"""Formats: everything that lists them derives from one entry each; a made-up one is written everywhere."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from io import BytesIO
from pathlib import Path

import pytest
from pydantic import TypeAdapter, ValidationError
from pypdf import PdfReader

from echelle.drawing.formats import FORMATS, PICTURES, Output, PictureFormat, format_of_ending, pages_bytes, scene_bytes
from echelle.errors import InputError
from tests.support.tables import box_scene

ROOT = Path(__file__).parents[2]
SCENE = box_scene({"a": [1.0, 2.0, 5.0], "b": [3.0, 4.0, 9.0]})
BEGINNINGS = {"svg": b"<?xml", "pdf": b"%PDF", "png": b"\x89PNG", "tiff": b"II*\x00", "json": b"{"}
# A format of one line: how wide and high the sheet is.
MADE_UP = """
def _size(scene: Scene, output: Output) -> bytes:
    return f"{scene.width:g} x {scene.height:g}".encode()


FORMATS["size"] = Format(
    title="Size", use="the sheet's size alone", media_type="text/plain", write=_size, settings=(), endings=("dim",)
)
# What a person chooses from."""


@pytest.mark.parametrize("name", FORMATS)
def test_each_is_written_by_its_name_and_every_ending(name: str) -> None:
    assert scene_bytes(SCENE, Output(name, dpi=72)).startswith(BEGINNINGS[name])
    assert [format_of_ending(f".{ending.upper()}") for ending in (name, *FORMATS[name].endings)] == [name] * (
        1 + len(FORMATS[name].endings)
    )


def test_pages_are_for_formats_that_have_them() -> None:
    assert len(PdfReader(BytesIO(pages_bytes([SCENE, SCENE], Output("pdf"), "Two"))).pages) == 2
    with pytest.raises(InputError, match="that format"):
        pages_bytes([SCENE], Output("png"), "Two")


def test_requests_take_what_a_person_chooses_from() -> None:
    formats = TypeAdapter(PictureFormat)
    assert [formats.validate_python(name) for name in PICTURES] == list(PICTURES)
    assert formats.json_schema()["enum"] == list(PICTURES) and "json" not in PICTURES
    with pytest.raises(ValidationError, match="choose one of"):
        formats.validate_python("json")


def test_one_entry_makes_a_format_known_everywhere(tmp_path: Path) -> None:
    shutil.copytree(ROOT / "echelle", tmp_path / "echelle", ignore=shutil.ignore_patterns("__pycache__"))
    path = tmp_path / "echelle/drawing/formats.py"
    path.write_text(path.read_text().replace("# What a person chooses from.", MADE_UP, 1))

    def run(*words: str) -> str:
        done = subprocess.run(
            [sys.executable, "-m", "echelle.command_line", *words], cwd=tmp_path, capture_output=True, text=True,
            env={**os.environ, "PYTHONPATH": str(tmp_path)},
        )  # fmt: skip
        assert done.returncode == 0, done.stderr
        return done.stdout

    assert ".size" in run("draw", "--help")
    drawn = ["--form", "box", "--measure", "cortisol", "--table", str(ROOT / "demo/samples.csv"), "--size", "100mmx50mm"]
    run("draw", *drawn, "--out", "figure.dim")
    assert (tmp_path / "figure.dim").read_text() == "283.465 x 141.732"
    listed = run("draw", *drawn, "--each", "ward", "--kind", "size", "--out", "wards").split()
    assert listed == [f"wards/{ward}.size" for ward in ("Valley", "Harbour", "Ridge")]
