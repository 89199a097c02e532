"""Reports: HTML and PDF say the same, stand alone, escape what they are given, and other programs can read them."""

from __future__ import annotations

import io
import re
import subprocess
from datetime import UTC, datetime
from html import escape
from html.parser import HTMLParser
from typing import Any

import pypdf
import pytest

from echelle.drawing.fonts.typesetter import set_line
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.guides import Guide
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.style import Axis, Size
from echelle.render import scene_of
from echelle.reports.content import ReportPart, facts_of, ledger_of, sections_of
from echelle.reports.html import report
from echelle.reports.pdf import fit_to_page, report_pdf
from echelle.tables.steps.left_out import LeftOut
from tests.support.tables import lanes_table

LANES = {"wild <type>": [1.0, 2.5, 3.0, 4.0, 9.5], "R&D": [2.0, 3.0, 5.0], "=cmd()": [7.0, 8.0]}
TABLE = lanes_table(LANES)
WHEN = datetime(2026, 3, 4, 5, 6, tzinfo=UTC)


def part(name: str = "First look", form: FormName = "box", printed: bool = False, **update: Any) -> ReportPart:
    recipe = recipe_of_form(form, "level", "group").model_copy(update={"made": WHEN, "prepare": [], **update})
    scene = scene_of(fit_to_page(recipe) if printed else recipe, TABLE)
    return ReportPart(
        name=name,
        scene=scene,
        recipe=recipe,
        file="levels <1>.csv",
        sha256="ab" * 32,
        settled="somebody, 2026-03-04 05:06 UTC",
        locked="somebody: as sent",
    )


def text_of(pdf: bytes) -> str:
    done = subprocess.run(["pdftotext", "-layout", "-", "-"], input=pdf, capture_output=True, check=True)
    return " ".join(done.stdout.decode().split())


class Links(HTMLParser):
    """Everything that would be fetched or run."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        fetched = [value for name, value in attrs if name in ("href", "src", "xlink:href", "onload", "onclick", "style")]
        if tag in ("script", "iframe", "link", "object", "img", "a") or fetched:
            self.found.append(tag)


def test_a_page_of_html_stands_alone_and_shows_what_it_is_given_as_text() -> None:
    page = report("Trial & error", [part()]).decode()
    links = Links()
    links.feed(page)
    assert links.found == []
    assert "wild &lt;type&gt;" in page and "wild <type>" not in page and "levels &lt;1&gt;.csv" in page
    assert page.startswith("<!doctype html>") and "<h1>Trial &amp; error</h1>" in page


def test_html_and_pdf_say_the_same() -> None:
    guides = [Guide(band=(2, 4), label="target"), Guide(at="mean", own=True)]
    left = [LeftOut(row=1, reason="spilt on the bench")]
    first, second = part(guides=guides, left_out=left, printed=True), part("Second look", "violin", printed=True)
    pages = text_of(report_pdf("Trial", [first, second], set_line, WHEN, "Locked by somebody"))
    page = report("Trial", [first, second], "Locked by somebody").decode()
    html = re.sub(r"\s+", " ", re.sub(r"<[^>]*>", " ", page))
    heads, rows = ledger_of(first.scene)
    said = ["1. First look", "2. Second look", "Locked by somebody", *heads, *(cell for row in rows for cell in row[1:])]
    said += [line for section in sections_of(first) for line in section.lines or [section.none]]
    said += [words.split(", SHA")[0] for _, words in facts_of(first)]
    for words in said:
        assert words in pages, words
        assert escape(words) in html, words
    assert "1: spilt on the bench" in pages and "target" in heads


def test_the_pdf_embeds_its_fonts_and_has_its_date() -> None:
    made = report_pdf("Trial", [part(printed=True)], set_line, WHEN)
    listed = subprocess.run(["pdffonts", "-"], input=made, capture_output=True, check=True).stdout.decode().splitlines()[2:]
    assert listed and all(line.split()[-5:-2] == ["yes", "yes", "yes"] for line in listed), listed
    facts = pypdf.PdfReader(io.BytesIO(made))
    assert (
        facts.metadata is not None and facts.metadata.title == "Trial" and "20260304" in str(facts.metadata.creation_date_raw)
    )
    assert made == report_pdf("Trial", [part(printed=True)], set_line, WHEN)


@pytest.mark.parametrize("width", ["85mm", "300mm"])
def test_a_figure_fits_its_page_and_a_high_one_gets_a_higher_page(width: str) -> None:
    usual = part(printed=True, size=Size(width=width))
    assert usual.scene.width <= 595.276 - 84 + 0.01
    pages = pypdf.PdfReader(io.BytesIO(report_pdf("Trial", [usual], set_line))).pages
    assert {float(page.mediabox.height) for page in pages} == {841.89}


def test_a_figure_higher_than_a_page_gets_a_higher_page_and_a_wide_one_keeps_its_proportions() -> None:
    high = part(printed=True, size=Size(width="85mm", height="400mm"))
    pages = pypdf.PdfReader(io.BytesIO(report_pdf("Trial", [high], set_line))).pages
    assert max(float(page.mediabox.height) for page in pages) > 400 * 72 / 25.4
    wide = part(printed=True, size=Size(width="300mm", height="150mm")).scene
    assert wide.height / wide.width == pytest.approx(0.5, abs=1e-3)


def test_long_lists_run_over_pages_and_lose_nothing() -> None:
    many = [LeftOut(row=i, reason=f"reason number {i}") for i in range(1, 200)]
    recipe = part(printed=True).recipe.model_copy(update={"left_out": many})
    long = ReportPart(
        name="Long", scene=part(printed=True).scene, recipe=recipe, file="a.csv", sha256="0" * 64, settled="somebody"
    )
    made = report_pdf("Trial", [long], set_line)
    assert len(pypdf.PdfReader(io.BytesIO(made)).pages) >= 3
    text = text_of(made)
    assert all(f"{i}: reason number {i} " in f"{text} " for i in range(1, 200))


def test_a_heading_never_stands_alone_at_the_foot_of_a_page() -> None:
    made = report_pdf("Trial", [part(f"Figure {i}", printed=True, axis=Axis()) for i in range(6)], set_line)
    for page in pypdf.PdfReader(io.BytesIO(made)).pages:
        lines = [line for line in page.extract_text().splitlines() if line.strip()]
        assert lines[-1].strip() not in {"Method", "Readings", "Preparation", "Remarks", "Where it comes from"}


def test_a_recipe_that_fits_is_left_as_it_is() -> None:
    recipe: Recipe = part().recipe
    assert fit_to_page(recipe) is recipe
