"""Files: well-formed, escaped, true in size, the same bytes each time."""

from __future__ import annotations

import io
import subprocess
from datetime import UTC, datetime
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from echelle.drawing.svg import to_svg
from echelle.errors import InputError
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.seal import seal
from echelle.recipes.style import Size, Words
from echelle.render import figure_bytes, scene_of
from echelle.scene.models import Scene
from tests.support.tables import box_recipe, lanes_table, many_values
from tests.support.texts import RECIPE, TABLE

SVG = "{http://www.w3.org/2000/svg}"
LANES = {"day": [1.5, 2.5, 3.5, 9.5, 30.5], "night": [2.5, 4.5, 6.5]}


def pixels(png: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGB")).astype(int)


def test_svg_is_well_formed_named_and_told() -> None:
    root = ElementTree.fromstring(figure_bytes(RECIPE, TABLE, "svg"))
    assert root.find(f"{SVG}title").text == RECIPE.words.title
    assert "Medians from the highest" in root.find(f"{SVG}desc").text
    ids = [node.get("id") for node in root.iter() if node.get("id")]
    assert len(ids) == len(set(ids)) and "p1/b1" in ids
    assert {node.get("class") for node in root.iter(f"{SVG}rect")} >= {"box", "median"}


def test_svg_text_is_escaped_or_outlined() -> None:
    words = Words(title='<script>alert("x")</script> & co \x07', source="]]> '\"")
    recipe = box_recipe(words=words)
    live = figure_bytes(recipe, lanes_table(LANES), "svg")
    root = ElementTree.fromstring(live)
    assert not list(root.iter(f"{SVG}script")) and not list(root.iter("script"))
    assert "<script>" in "".join(root.itertext())
    outlined = ElementTree.fromstring(figure_bytes(recipe, lanes_table(LANES), "svg", svg_text="outlines"))
    assert not list(outlined.iter(f"{SVG}text"))


@pytest.mark.parametrize("text", ["live", "outlines"])
def test_svg_drawn_by_another_program_looks_like_the_png(text: str, tmp_path: Path) -> None:
    recipe = RECIPE.model_copy(update={"layers": [BoxLayer(id="b1", cap=0.4), PointsLayer(id="p1")]})
    source = tmp_path / "f.svg"
    source.write_bytes(figure_bytes(recipe, TABLE, "svg", svg_text=text))
    drawn = subprocess.run(["rsvg-convert", "-d", "96", "-p", "96", source], capture_output=True, check=True).stdout
    ours, theirs = pixels(figure_bytes(recipe, TABLE, "png", dpi=96)), pixels(drawn)
    high, wide = min(ours.shape[0], theirs.shape[0]), min(ours.shape[1], theirs.shape[1])
    assert abs(ours.shape[0] - theirs.shape[0]) <= 1 and abs(ours.shape[1] - theirs.shape[1]) <= 1
    assert np.abs(ours[:high, :wide] - theirs[:high, :wide]).mean() < 2.0


def test_png_has_its_size_and_dpi() -> None:
    recipe = box_recipe(size=Size(width="85mm", height="60mm"))
    picture = Image.open(io.BytesIO(figure_bytes(recipe, lanes_table(LANES), "png", dpi=600)))
    assert picture.size == (2008, 1418)
    assert picture.info["dpi"] == pytest.approx((600, 600), abs=0.1)


def test_a_picture_over_the_limit_is_refused() -> None:
    recipe = box_recipe(size=Size(width="2000mm", height="100mm"))
    with pytest.raises(InputError, match="32,767"):
        figure_bytes(recipe, lanes_table(LANES), "png", dpi=600)
    with pytest.raises(InputError, match="no resolution"):
        figure_bytes(recipe, lanes_table(LANES), "png", dpi=-1)


def test_points_above_twenty_thousand_become_one_image() -> None:
    recipe = box_recipe(layers=[BoxLayer(id="b1"), PointsLayer(id="p1")])
    svg = figure_bytes(recipe, many_values(45_000, 2), "svg", dpi=72)
    assert svg.count(b"<image ") == 2 and svg.count(b"<circle") == 0 and b'class="box"' in svg
    pdf = figure_bytes(recipe, many_values(45_000, 2), "pdf", dpi=72)
    assert len(pdf) < 600_000


@pytest.mark.parametrize("file_format", ["svg", "pdf", "png", "json"])
def test_the_same_recipe_and_table_give_the_same_bytes(file_format: str) -> None:
    sealed = seal(RECIPE, datetime(2026, 3, 4, 5, 6, 7, tzinfo=UTC))
    assert figure_bytes(sealed, TABLE, file_format) == figure_bytes(sealed, TABLE, file_format)


def test_the_date_in_a_pdf_is_the_state_s_own() -> None:
    pdf = figure_bytes(seal(RECIPE, datetime(2026, 3, 4, 5, 6, 7, tzinfo=UTC)), TABLE, "pdf")
    info = PdfReader(io.BytesIO(pdf)).metadata
    assert info is not None and info.title == RECIPE.words.title
    assert info.creation_date == info.modification_date == datetime(2026, 3, 4, 5, 6, 7, tzinfo=UTC)


def test_a_scene_survives_json() -> None:
    scene = scene_of(RECIPE, TABLE)
    back = Scene.model_validate_json(figure_bytes(RECIPE, TABLE, "json"))
    assert to_svg(back) == to_svg(scene)
