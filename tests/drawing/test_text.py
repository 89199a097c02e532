"""Text on paper: shaping, PDF and PNG agree with the layout. (The browser and SVG are held to it in a journey.)"""

from __future__ import annotations

import io
import re
import subprocess
import unicodedata
from pathlib import Path
from typing import get_args

import numpy as np
import pytest
from PIL import Image

from echelle.drawing.cairo import to_png
from echelle.drawing.fonts.faces import open_face
from echelle.drawing.fonts.font_files import FACES
from echelle.drawing.fonts.runs import levels_of, runs_of
from echelle.drawing.fonts.typesetter import set_line, shape
from echelle.drawing.formats import Output, scene_bytes
from echelle.recipes.style import Style, Typeface
from echelle.render import scene_of
from echelle.scene.models import Scene, TextPart
from tests.support.texts import NAMES, RECIPE, TABLE, texts

DPI = 288


@pytest.fixture(scope="module", params=get_args(Typeface))
def scene(request: pytest.FixtureRequest) -> Scene:
    return scene_of(RECIPE.model_copy(update={"style": Style(typeface=request.param)}), TABLE)


def ink(part: TextPart) -> tuple[float, float]:
    """Left and right end of a line's ink on the sheet, from the glyphs' own outlines."""
    ends = []
    for run in part.runs:
        opened, at = open_face(run.face), run.at
        for glyph in shape(run.text, run.face, run.backwards):
            extents = opened.font.get_glyph_extents(glyph.id)
            if extents and extents.width:
                left = at + glyph.dx * part.size + extents.x_bearing / opened.units * part.size
                ends += [left, left + extents.width / opened.units * part.size]
            at += glyph.advance * part.size
    return part.x + min(ends), part.x + max(ends)


def test_three_weights_and_four_scripts_without_a_missing_glyph(scene: Scene) -> None:
    families = {face.split("-")[0] for face in scene.faces}
    (chosen,) = families - {"arabic", "hebrew", "dejavu"}
    weights = {"400", "600", "700"} if f"{chosen}-600" in FACES else {"400", "700"}
    assert {face.split("-")[1] for face in scene.faces if face.startswith(chosen)} == weights
    assert "arabic" in families and ("hebrew" in families or chosen == "libertine")
    for part in texts(scene):
        for run in part.runs:
            assert all(glyph.id for glyph in shape(run.text, run.face, run.backwards)), part.text
    assert not [advice for advice in scene.advice if advice.key == "unwritable"]


def test_runs_fill_their_line(scene: Scene) -> None:
    for part in texts(scene):
        assert "".join(sorted("".join(run.text for run in part.runs))) == "".join(sorted(part.text))
        at = 0.0
        for run in part.runs:
            assert run.at == pytest.approx(at, abs=0.003)
            at += run.width


def test_bidirectional_order() -> None:
    assert levels_of("abc") == [0, 0, 0]
    assert levels_of("אב 12") == [1, 1, 1, 2, 2]
    runs, unwritable = runs_of("ab שלום (x)", {False: ("lato-400", "hebrew-400")})
    assert [(text, backwards) for text, _, backwards, _ in runs if text.strip()] == [
        ("ab ", False),
        ("שלום", True),
        ("(x)", False),
    ]
    assert unwritable == ""
    assert runs_of("日", {False: ("lato-400",)})[1] == "日"


def test_widths_add_up_and_scale() -> None:
    first, second = set_line("Cortisol (nmol/L)", "Lato", 400, 8.0), set_line("Cortisol (nmol/L)", "Lato", 400, 16.0)
    assert second.width == pytest.approx(2 * first.width)
    assert set_line("", "Lato", 400, 8.0).width == 0
    assert set_line("AVAV", "Lato", 400, 10).width < 4 * set_line("A", "Lato", 400, 10).width


def test_pdf_reads_back_every_label_in_its_place(scene: Scene, tmp_path: Path) -> None:
    path = tmp_path / "f.pdf"
    path.write_bytes(scene_bytes(scene, Output("pdf")))
    boxes = subprocess.run(["pdftotext", "-bbox", path, "-"], capture_output=True, text=True, check=True).stdout
    words = re.findall(r'<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">(.*?)</word>', boxes)
    assert words
    marks = dict.fromkeys([0x202A, 0x202B, 0x202C, 0x200E, 0x200F])
    for part in texts(scene):
        left, _, right, _ = part.box
        inside = [
            (float(x0), float(x1), text)
            for x0, y0, x1, y1, text in words
            if left - 1 < (float(x0) + float(x1)) / 2 < right + 1
            and abs((float(y0) + float(y1)) / 2 - (part.y - 0.3 * part.size)) < 0.6 * part.size
        ]
        assert inside, part.text
        assert min(x0 for x0, _, _ in inside) == pytest.approx(left, abs=0.5), part.text
        assert max(x1 for _, x1, _ in inside) == pytest.approx(right, abs=0.5), part.text
        letters = "".join(text for *_, text in inside).replace("&lt;", "<").replace("&amp;", "&").translate(marks)
        same = unicodedata.normalize("NFKC", part.text).replace(" ", "")
        assert sorted(unicodedata.normalize("NFKC", letters)) == sorted(same), part.text


def test_pdf_embeds_every_font(scene: Scene, tmp_path: Path) -> None:
    path = tmp_path / "f.pdf"
    path.write_bytes(scene_bytes(scene, Output("pdf")))
    rows = subprocess.run(["pdffonts", path], capture_output=True, text=True, check=True).stdout.splitlines()[2:]
    assert rows and all(re.search(r"\s(yes) (yes) (yes)\s", row) for row in rows), rows


def test_png_puts_ink_where_the_layout_says(scene: Scene) -> None:
    picture = Image.open(io.BytesIO(to_png(scene.model_copy(update={"parts": list(texts(scene))}), DPI))).convert("L")
    assert picture.info["dpi"] == pytest.approx((DPI, DPI), abs=0.1)
    dark = np.asarray(picture) < 200
    scale = DPI / 72
    for part in texts(scene):
        left, top, right, bottom = (round(edge * scale) for edge in part.box)
        columns = np.flatnonzero(dark[max(top, 0) : bottom, max(left - 4, 0) : right + 4].any(axis=0)) + max(left - 4, 0)
        result = (columns[0] / scale, (columns[-1] + 1) / scale)
        assert result == pytest.approx(ink(part), abs=0.5), part.text


def test_the_names_are_what_was_asked(scene: Scene) -> None:
    assert {part.text for part in texts(scene) if part.role == "lane-label"} == set(NAMES.values())
