"""A folio: begun from a study, figures added, moved by keys, set on another page, taken out."""

from __future__ import annotations

import io
from pathlib import Path

import pypdf
from playwright.sync_api import Page, expect

from server.folios.models import Folio
from tests.journeys.conftest import enter, eventually, sign
from tests.journeys.test_accessible import nothing_serious
from tests.support.worker import work


def test_comparisons_become_a_lettered_page(desk: Page, demo: str) -> None:
    enter(desk, demo)
    desk.get_by_role("button", name="+ Folio").first.click()
    expect(desk.get_by_role("main", name="Pages")).to_contain_text("Nothing on the page yet")
    figures = desk.get_by_role("region", name="Figures")
    names = [figures.get_by_role("button", name="Add ").nth(i).get_attribute("aria-label") for i in range(2)]
    for name in names:
        figures.get_by_role("button", name=str(name), exact=True).click()
        expect(figures.get_by_role("button", name=str(name), exact=True)).to_have_count(0)
    expect(desk.get_by_test_id("page")).to_have_count(1)
    expect(desk.get_by_test_id("page").locator("text").filter(has_text="B").first).to_be_attached()
    first, second = (str(name).removeprefix("Add ") for name in names)
    expect(figures.get_by_role("listitem").first).to_contain_text(first)
    figures.get_by_role("button", name=f"Figure A, {first}: move").focus()
    for key in ("Space", "ArrowDown", "Space"):
        desk.keyboard.press(key)
        desk.wait_for_timeout(300)
    expect(figures.get_by_role("listitem").first).to_contain_text(second)
    desk.get_by_label("Page", exact=True).select_option("A4")
    desk.get_by_label("Title", exact=True).fill("Both lots")
    desk.get_by_label("Title", exact=True).press("Enter")
    desk.get_by_label("Name", exact=True).fill("Figure 2")
    desk.get_by_label("Name", exact=True).press("Enter")
    expect(desk.get_by_role("heading", name="Figure 2", level=1)).to_be_visible()
    desk.get_by_role("checkbox", name="One reader’s key for all").check()
    expect(desk.get_by_role("main", name="Pages")).to_contain_text("How to read these figures")
    nothing_serious(desk)
    with desk.expect_download() as got:
        desk.get_by_role("button", name="Export").click()
        desk.get_by_role("menuitem", name="PDF all pages").click()
    assert "Both lots" in pypdf.PdfReader(io.BytesIO(Path(got.value.path()).read_bytes())).pages[0].extract_text()
    assert eventually(desk, lambda: Folio.objects.get(name="Figure 2").page["page"] == "A4")
    assert len(Folio.objects.get(name="Figure 2").figures) == 2
    desk.get_by_role("link", name="Echelle: all studies").click()
    expect(desk.get_by_role("list", name="Folios").get_by_role("link", name="Figure 2")).to_be_visible()
    desk.get_by_role("link", name="Figure 2").click()
    desk.get_by_role("button", name="Take this folio away").click()
    desk.get_by_role("button", name="Press again to take it away for good").click()
    expect(desk.get_by_role("heading", name="Studies")).to_be_visible()
    expect(desk.get_by_role("link", name="Figure 2")).to_have_count(0)
    assert not Folio.objects.filter(name="Figure 2").exists()


def test_a_folio_gives_a_report_and_is_signed_off(desk: Page, demo: str) -> None:
    enter(desk, demo)
    desk.get_by_role("button", name="+ Folio").first.click()
    figures = desk.get_by_role("region", name="Figures")
    for letter in "AB":
        figures.get_by_role("button", name="Add ").first.click()
        expect(figures.get_by_role("button", name=f"Figure {letter}, ")).to_be_visible()
    desk.get_by_label("Name", exact=True).fill("For the auditor")
    desk.get_by_label("Name", exact=True).press("Enter")
    assert eventually(desk, lambda: len(Folio.objects.get().figures) == 2 and Folio.objects.get().name == "For the auditor")
    with desk.expect_download() as got:
        desk.get_by_role("button", name="Export").click()
        desk.get_by_role("menuitem", name="the same as PDF").click()
        expect(desk.get_by_role("status").filter(has_text="waits its turn")).to_be_visible()
        work("file-jobs")
    pages = pypdf.PdfReader(io.BytesIO(Path(got.value.path()).read_bytes())).pages
    text = "".join(page.extract_text() for page in pages)
    assert "For the auditor" in text and "SHA-256" in text and "2. " in text

    desk.get_by_role("button", name="Lock this folio and its report…").click()
    desk.get_by_label("Reason").fill("as submitted")
    desk.get_by_label("Reason").press("Enter")
    sign(desk)
    bar = desk.get_by_role("region", name="Locked")
    expect(bar).to_contain_text("as submitted")
    expect(desk.get_by_label("Name", exact=True)).to_be_disabled()
    nothing_serious(desk)
    bar.get_by_role("button", name="Make version 2").click()
    expect(bar).to_have_count(0)
    expect(desk.get_by_label("Name", exact=True)).to_be_enabled()
    assert [folio.version for folio in Folio.objects.order_by("version")] == [1, 2]
