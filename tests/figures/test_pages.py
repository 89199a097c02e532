"""A figure of many lanes on pages: nothing of it is lost, all pages have one axis, what explains it stands once."""

from __future__ import annotations

import io
import zipfile

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
from echelle.recipes.recipe import Panels, Recipe
from echelle.recipes.roles import Levels
from echelle.recipes.style import MethodNote, Size, Words
from echelle.render import pages_of_lanes, scene_of, scene_of_lanes
from echelle.scene.models import Scene, TextPart
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
