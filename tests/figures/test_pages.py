"""A figure of many lanes on pages: nothing of it is lost, all pages have one axis, what explains it stands once."""

from __future__ import annotations

import base64
import io
import re
import zipfile

import numpy as np
import pypdf
import pytest

from echelle.bundles.models import Contents, RawData
from echelle.bundles.writer import bundle
from echelle.drawing import formats
from echelle.drawing.formats import Output, scene_bytes
from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.figures.pages import PAGE_HEIGHT
from echelle.recipes.differences import Differences
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.guides import Guide
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.density import DensityLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.recipe import Panels, Recipe
from echelle.recipes.roles import Levels
from echelle.recipes.style import MethodNote, ReaderKey, Size, Words
from echelle.render import pages_of_lanes, scene_of, scene_of_lanes
from echelle.scene.models import LinePart, PathPart, PointsPart, RectPart, Scene, SceneLane, TextPart
from echelle.tables.reading.read import read_bytes
from echelle.tables.table import Table


def table(lanes: int) -> tuple[bytes, Table]:
    cells = "who,arm,level (nmol/L)\n" + "".join(f"P-{i:04d},{'xy'[i % 2]},{(i * 37 % 991) / 7:.2f}\n" for i in range(lanes))
    return cells.encode(), read_bytes(cells.encode()).table


def recipe(form: str = "strip", **more: object) -> Recipe:
    words = Words(title="Levels of {n}", caption="Of one morning.", note=MethodNote(under=True))
    return recipe_of_form(form, "level", "who").model_copy(update={"words": words, **more})  # type: ignore[arg-type]


def said(scene: Scene, role: str) -> str:
    parts = [part for part in scene.walk() if isinstance(part, TextPart) and part.role == role]
    return " ".join(part.text for part in parts)


@pytest.mark.parametrize("form", ["strip", "box", "means"])
def test_all_lanes_stand_on_pages_over_one_axis(form: str) -> None:
    rows, told = table(150)[1], recipe(form)
    pages, whole = pages_of_lanes(told, arrange(told, rows)), scene_of(told, rows)
    assert len(pages) > 1 and whole.height > PAGE_HEIGHT >= max(page.height for page in pages)
    assert [lane.name for page in pages for lane in page.lanes] == [lane.name for lane in whole.lanes]
    assert {page.panels[0].scale.domain for page in pages} == {whole.panels[0].scale.domain}
    assert max(len(page.lanes) for page in pages) - len(pages[-1].lanes) <= len(pages)
    assert [r.model_dump() for page in pages for r in page.readings] == [r.model_dump() for r in whole.readings]
    assert all(said(page, "title") == "Levels of 150" for page in pages)
    captions = [said(page, "caption") for page in pages]
    assert not any(captions[:-1]) and "Of one morning." in captions[-1] and "150 lanes" in captions[-1].replace("\n", " ")


def marks(scene: Scene, lane: SceneLane) -> list[float]:
    """The numbers of what is drawn of a lane, as if it began at 0."""
    result: list[float] = []
    for part in scene.walk():
        if part.lane != lane.key:
            continue
        if isinstance(part, LinePart):
            result += [part.x1, part.x2, part.y1 - lane.start, part.y2 - lane.start]
        elif isinstance(part, RectPart):
            result += [part.x, part.width, part.y - lane.start, part.height]
        elif isinstance(part, PathPart):
            path = [float(number) for number in re.findall(r"-?\d+(?:\.\d+)?", part.d)]
            result += [number - lane.start * (place % 2) for place, number in enumerate(path)]
        elif isinstance(part, PointsPart):
            result += [part.size, *(np.frombuffer(base64.b64decode(part.columns.y or ""), np.float32) - lane.start).tolist()]
    return result


def test_a_lane_is_drawn_on_its_page_as_in_the_whole() -> None:
    """Also what is computed over all lanes: guides, sizes by the fullest lane, heights against the densest one."""
    sizes = [3_000 if i == 3 else 12 for i in range(150)]
    cells = "who,level (nmol/L)\n" + "".join(
        f"P-{i:04d},{i + j % 12 * (1 + i / 9) / 7:.2f}\n" for i, n in enumerate(sizes) for j in range(n)
    )
    rows = read_bytes(cells.encode()).table
    layers = [BoxLayer(id="b"), PointsLayer(id="p", spread="shaped"), DensityLayer(id="d")]
    guide = Guide(at="mean")
    told = recipe("box", layers=layers, guides=[guide], words=Words(key=ReaderKey(placed="below", lane="P-0003")))
    pages, whole = pages_of_lanes(told, arrange(told, rows)), scene_of(told, rows)
    assert len(pages) > 2
    drawn = {lane.name: marks(page, lane) for page in pages for lane in page.lanes}
    for lane in whole.lanes:
        assert drawn[lane.name] == pytest.approx(marks(whole, lane), abs=0.06) and len(drawn[lane.name]) > 20
    at = [
        {part.x1 for part in scene.walk() if isinstance(part, LinePart) and part.role == "guide"} for scene in [*pages, whole]
    ]
    assert at[0] and all(one == at[0] for one in at)
    assert ["How to read" in " ".join(p.text for p in page.walk() if isinstance(p, TextPart)) for page in pages] == [
        page is pages[-1] for page in pages
    ]
    assert {page.note for page in pages} == {whole.note}


def test_a_miniature_of_many_lanes_draws_some_of_them() -> None:
    rows, told = table(600)[1], recipe("box")
    small = scene_of_lanes(told, arrange(told, rows), miniature=True)
    assert 60 < len(small.lanes) <= 120 and small.lanes[0].name == "P-0000"
    assert small.lanes[-1].end <= small.height


def test_what_fits_is_one_page_and_what_cannot_be_cut_is_refused() -> None:
    short = table(8)[1]
    assert pages_of_lanes(recipe(), arrange(recipe(), short)) == [scene_of(recipe(), short)]
    # The sheet's own height is that of one page.
    one = recipe("box", groups=None, size=Size(width="120mm", height="400mm"))
    assert [page.height < PAGE_HEIGHT for page in pages_of_lanes(one, arrange(one, short))] == [True]
    rows = table(150)[1]
    for told in (recipe(panels=Panels(down=Levels(column="arm"))), recipe(differences=Differences())):
        with pytest.raises(InputError, match="not cut into pages"):
            pages_of_lanes(told, arrange(told, rows))


def test_a_page_longer_than_a_pdf_can_hold_is_refused_and_a_bundle_holds_pages(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(formats, "_LONGEST", 1_000)
    raw, rows = table(150)
    told = recipe("strip", words=Words())
    scene = scene_of(told, rows)
    with pytest.raises(InputError, match="1,000 points") as refused:
        scene_bytes(scene, Output("pdf"))
    assert "on pages" in refused.value.remedy and scene_bytes(scene, Output("svg")).startswith(b"<?xml")
    with zipfile.ZipFile(io.BytesIO(bundle(Contents(told, RawData("levels.csv", raw), [], rows, [])))) as archive:
        assert len(pypdf.PdfReader(io.BytesIO(archive.read("figure.pdf"))).pages) > 1
