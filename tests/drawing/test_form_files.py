"""Every form in every file: labels readable in the PDF, fonts embedded, PNG and SVG alike."""

from __future__ import annotations

import io
import subprocess
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
from PIL import Image

from echelle.drawing.cairo import to_png
from echelle.drawing.formats import Output, scene_bytes
from echelle.drawing.svg import to_svg
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.guides import Guide
from echelle.recipes.recipe import FormName
from echelle.recipes.style import Words
from echelle.render import scene_of
from echelle.scene.models import Scene
from tests.figures.test_sheets import TABLE
from tests.support.texts import texts


def scene(form: FormName) -> Scene:
    made = recipe_of_form(form, "level", "group", "day", None, "site")
    words = Words(title="Ferritin in µg/L – 90 % ≤ σ", source="Made-up")
    return scene_of(made.model_copy(update={"words": words, "guides": [Guide(at=6.0, label="limit")]}), TABLE)


@pytest.mark.parametrize("form", FORMS)
def test_every_label_can_be_read_in_the_pdf(form: FormName, tmp_path: Path) -> None:
    drawn = scene(form)
    file = tmp_path / "figure.pdf"
    file.write_bytes(scene_bytes(drawn, Output("pdf")))
    words = ["pdftotext", "-layout", str(file), "-"]
    read = "".join(subprocess.run(words, capture_output=True, check=True, text=True).stdout.split())
    labels = {part.text for part in texts(drawn) if not part.turn}
    assert labels and not [label for label in labels if "".join(label.split()) not in read]
    fonts = subprocess.run(["pdffonts", file], capture_output=True, check=True, text=True).stdout.splitlines()[2:]
    assert fonts and all(line.split()[-5:-2] == ["yes", "yes", "yes"] for line in fonts)


@pytest.mark.parametrize("form", FORMS)
def test_png_and_svg_agree(form: FormName) -> None:
    drawn = scene(form)
    # As outlines, so that another program's way of hinting live text does not count.
    svg = to_svg(drawn, "outlines")
    ids = [node.get("id") for node in ElementTree.fromstring(svg).iter() if node.get("id")]
    assert len(ids) == len(set(ids))
    ours = np.asarray(Image.open(io.BytesIO(to_png(drawn, 240))).convert("RGB")).astype(int)
    made = subprocess.run(["rsvg-convert", "-d", "240", "-p", "240"], input=svg, capture_output=True, check=True).stdout
    theirs = np.asarray(Image.open(io.BytesIO(made)).convert("RGB")).astype(int)
    high, wide = (min(a, b) for a, b in zip(ours.shape[:2], theirs.shape[:2], strict=True))
    assert (ours != 255).any(axis=2).mean() > 0.01
    assert np.abs(ours[:high, :wide] - theirs[:high, :wide]).mean() < 1.5
