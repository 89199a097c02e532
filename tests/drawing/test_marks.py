"""Marks that no layer draws yet are drawn alike by every surface, and the other faces are there."""

from __future__ import annotations

import io
import subprocess
from typing import get_args

import numpy as np
import pytest
from PIL import Image

from echelle.drawing.cairo import to_png
from echelle.drawing.fonts.faces import chain, open_face
from echelle.drawing.fonts.font_files import FACES
from echelle.drawing.svg import to_svg
from echelle.recipes.style import Style, Typeface
from echelle.render import figure_bytes
from echelle.scene.models import GroupPart, Paint, PathPart, PointsPart, Scene, point_columns
from tests.support.tables import box_recipe, box_scene, lanes_table

LANES = {"day": [1.5, 2.5, 3.5], "night": [2.5, 4.5, 6.5]}


def with_parts(*parts: PathPart | PointsPart) -> Scene:
    return box_scene(LANES).model_copy(update={"parts": [GroupPart(key="g", panel="p1", role="box", parts=list(parts))]})


def test_paths_and_shapes_agree_between_png_and_svg() -> None:
    half = Paint(fill="#02727A", opacity=0.5)
    area = PathPart(key="a", panel="p1", role="box", d="M20 20L120 20C160 60 160 100 120 140L20 140Z", paint=half)
    line = PathPart(key="b", panel="p1", role="box", d="M200 20L300 140", paint=Paint(stroke="#BF4940", stroke_width=4))
    spots = np.array([40.0, 80.0, 200.0])
    shapes = [
        PointsPart(
            key=shape, panel="p1", role="point", shape=shape, size=18,
            paint=Paint(fill="#FFFFFF", stroke="#17222B", stroke_width=2),
            columns=point_columns(spots, spots + 60, np.arange(1, 4)),
        )
        for shape in ("circle", "diamond", "cross")
    ]  # fmt: skip
    scene = with_parts(area, line, *shapes)
    ours = np.asarray(Image.open(io.BytesIO(to_png(scene, 96))).convert("RGB")).astype(int)
    words = ["rsvg-convert", "-d", "96", "-p", "96"]
    drawn = subprocess.run(words, input=to_svg(scene), capture_output=True, check=True).stdout
    theirs = np.asarray(Image.open(io.BytesIO(drawn)).convert("RGB")).astype(int)
    high, wide = (min(a, b) for a, b in zip(ours.shape[:2], theirs.shape[:2], strict=True))
    assert (ours != 255).any(axis=2).mean() > 0.05
    assert np.abs(ours[:high, :wide] - theirs[:high, :wide]).mean() < 1.0


def test_every_face_opens_and_knows_its_letters() -> None:
    for id, face in FACES.items():
        opened = open_face(id)
        assert face.path.is_file() and opened.units > 0 and opened.ascent > opened.descent > 0, id


@pytest.mark.parametrize("typeface", get_args(Typeface))
def test_each_typeface_draws_and_is_named_in_the_svg(typeface: str) -> None:
    svg = figure_bytes(box_recipe(style=Style(typeface=typeface)), lanes_table(LANES), "svg").decode()
    family = FACES[chain(typeface, 400)[0]].family
    assert f"font-family=\"'{family}', sans-serif\"" in svg
