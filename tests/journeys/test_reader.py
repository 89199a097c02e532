"""Out to the reader: words, reader's key, every format of the export dialog, what goes with it, a lock and its new version."""

from __future__ import annotations

import io
import json
import re
import zipfile
from pathlib import Path

import pypdf
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from server.comparisons.models import Comparison
from server.studies.models import Study
from tests.journeys.conftest import choose, eventually, last_recipe, open_demo, sign
from tests.journeys.test_accessible import nothing_serious
from tests.support.worker import work


def export(page: Page) -> None:
    page.get_by_role("button", name="Export", exact=True).click()
    page.get_by_role("dialog", name="Export").wait_for()


def saved(page: Page, name: str) -> bytes:
    with page.expect_download() as got:
        page.get_by_role("button", name=name, exact=True).click()
    return Path(got.value.path()).read_bytes()


def test_words_note_and_key_stand_on_the_figure(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("tab", name="Words").click()
    desk.get_by_label("Caption").fill("{n} samples; Night {median:Night}")
    desk.get_by_label("Caption").press("Enter")
    figure = desk.get_by_test_id("figure")
    expect(figure).to_contain_text("356 samples; Night 7.65")
    desk.get_by_role("radio", name="Short").click()
    desk.get_by_label("Drawn under the figure").check()
    expect(figure).to_contain_text("n = 356; 6 set aside")
    desk.get_by_role("radio", name="Below").click()
    expect(figure).to_contain_text("How to read this figure")
    expect(figure).to_contain_text("It is not the mean")
    nothing_serious(desk)
    assert eventually(desk, lambda: last_recipe()["words"]["key"] == {"placed": "below", "lane": None})
    assert last_recipe()["words"]["note"]["under"]


def test_words_are_edited_where_they_stand(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    figure = desk.get_by_test_id("figure")

    def write(name: str, text: str) -> None:
        figure.get_by_role("button", name=re.compile(f"^{name}: ")).press("Enter")
        field = figure.get_by_role("textbox", name=name, exact=True)
        field.fill(text)
        field.press("Enter")

    write("Title", "*CYP11B1* and {n} values, 10^{3}")
    title = figure.locator("text[data-role=title]")
    expect(title).to_have_text("CYP11B1 and 356 values, 103")
    expect(title.locator("tspan").first).to_have_css("font-family", '"Echelle lato-700i"')
    write("Axis label", "cortisol at waking")
    expect(figure.locator("text[data-role=axis-title]")).to_have_text("cortisol at waking")
    figure.get_by_role("button", name=re.compile("^Title: ")).click()
    desk.keyboard.press("Escape")
    expect(title).to_have_text("CYP11B1 and 356 values, 103")
    write("Title", "")
    expect(title).to_have_count(0)
    figure.get_by_role("button", name="+ Title").press("Enter")
    figure.get_by_role("textbox", name="Title").fill("Morning")
    desk.keyboard.press("Enter")
    expect(title).to_have_text("Morning")
    assert eventually(desk, lambda: last_recipe()["words"]["title"] == "Morning")
    write("Axis label", "")
    assert eventually(desk, lambda: last_recipe()["words"]["measure"] == "")
    choose(desk, "Panels", "ward")
    write("Panel Harbour", "*Harbour*, north")
    expect(figure.locator("text[data-role=panel-title]").filter(has_text="Harbour, north")).to_have_count(1)
    assert eventually(desk, lambda: last_recipe()["panels"]["wrapped"]["labels"] == {"Harbour": "*Harbour*, north"})


@pytest.mark.parametrize("kind", ["SVG", "PDF", "PNG", "TIFF"])
def test_every_format_comes_out_at_the_size_that_was_asked_for(desk: Page, demo: str, kind: str) -> None:
    open_demo(desk, demo)
    export(desk)
    desk.get_by_role("radio", name=kind).click()
    desk.get_by_label("Column").select_option("1 column, 85 mm")
    picture = desk.get_by_role("region", name="The figure at its true size").get_by_role("img")
    expect(picture).to_be_visible()
    # A millimetre on screen is 96 / 25.4 CSS pixels.
    width = "document.querySelector('[role=dialog] img')?.getBoundingClientRect().width"
    desk.wait_for_function(f"() => Math.abs({width} - 85 * 96 / 25.4) < 1")
    if kind in ("PNG", "TIFF"):
        desk.get_by_label("Dots an inch").select_option("600")
        expect(desk.get_by_role("dialog")).to_contain_text("2 008 dots wide")
    data = saved(desk, f"Save {kind}")
    if kind == "SVG":
        assert b'width="240.945pt"' in data
    elif kind == "PDF":
        assert float(pypdf.PdfReader(io.BytesIO(data)).pages[0].mediabox.width) == pytest.approx(240.9, abs=0.1)
    else:
        with Image.open(io.BytesIO(data)) as image:
            assert image.size[0] == 2008 and image.info["dpi"] == pytest.approx((600, 600), abs=0.1)


def test_a_sheet_that_is_too_small_is_said_and_the_key_is_a_page(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    export(desk)
    desk.get_by_label("Width, mm").fill("20")
    desk.get_by_label("Width, mm").press("Enter")
    expect(desk.get_by_role("dialog")).to_contain_text("too small for this figure")
    desk.get_by_label("Width, mm").fill("120")
    desk.get_by_label("Width, mm").press("Enter")
    desk.get_by_label("Shows").select_option("the reader’s key")
    assert b"How to read this figure" in saved(desk, "Save SVG")
    nothing_serious(desk)


def test_what_goes_with_the_figure(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    export(desk)
    assert saved(desk, "Readings as CSV").decode("utf-8-sig").startswith("row,group,")
    assert [lane["group"] for lane in json.loads(saved(desk, "Readings as JSON"))] == ["Day", "Evening", "Rotating", "Night"]
    assert saved(desk, "Save Method note").decode().startswith("Boxes: median")
    report = saved(desk, "Report as HTML").decode()
    assert "<svg" in report and "Night work and cortisol" in report
    desk.get_by_label("Bundle with running codes").check()
    with zipfile.ZipFile(io.BytesIO(saved(desk, "Save Bundle"))) as archive:
        assert b"P-0101" not in archive.read("rows.csv") and b"ID-0001" in archive.read("rows.csv")


def test_the_report_is_accessible(desk: Page, demo: str, tmp_path: Path) -> None:
    open_demo(desk, demo)
    export(desk)
    (tmp_path / "report.html").write_bytes(saved(desk, "Report as HTML"))
    other = desk.context.new_page()
    other.goto((tmp_path / "report.html").as_uri())
    expect(other.get_by_role("heading", level=1)).to_have_text("Night work and cortisol")
    expect(other.get_by_role("rowheader", name="Night")).to_be_visible()
    nothing_serious(other)


def test_a_locked_comparison_goes_on_as_a_new_version(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    export(desk)
    desk.get_by_role("button", name="Lock this comparison…").click()
    dialog = desk.get_by_role("dialog", name="Lock this comparison")
    dialog.get_by_label("Reason").fill("as submitted")
    dialog.get_by_label("Reason").press("Enter")
    sign(desk)
    bar = desk.get_by_role("region", name="Locked")
    expect(bar).to_contain_text("as submitted")
    expect(desk.get_by_role("button", name="Undo", exact=True)).to_be_disabled()
    # Its rows are looked at as before; nothing about them is changed.
    desk.get_by_role("button", name="8 values beyond").click()
    desk.get_by_role("menuitem").first.click()
    card = desk.get_by_role("region", name="Row card")
    expect(card).to_contain_text("SD from the mean")
    expect(card.get_by_role("button", name="Leave out")).to_have_count(0)
    card.get_by_role("button", name="Close").click()
    bar.get_by_role("button", name="Make version 2").click()
    expect(bar).to_have_count(0)
    expect(desk.get_by_test_id("method-note")).to_be_visible()
    assert sorted(Comparison.objects.filter(name="Waking level by shift").values_list("version", flat=True)) == [1, 2]
    # What changed in it is said, and both stand side by side.
    choose(desk, "Groups", "ward")
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    assert eventually(desk, lambda: last_recipe()["groups"]["column"] == "ward")
    desk.get_by_role("button", name="More", exact=True).click()
    desk.get_by_role("menuitem", name="Notes, tags").click()
    versions = desk.get_by_role("region", name="Versions")
    expect(versions.get_by_role("listitem").nth(1)).to_contain_text("groups: ward")
    versions.get_by_role("button", name=re.compile("^Side by side")).click()
    expect(desk.get_by_role("dialog", name="Versions side by side")).to_contain_text("B · Version 2")
    expect(desk.get_by_role("table", name="Differences")).to_be_visible()


def test_a_look_is_chosen_deviated_from_and_made_the_house_style(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("tab", name="Look").click()
    desk.get_by_role("combobox", name="Look").select_option("dark slides")
    figure = desk.get_by_test_id("figure")
    expect(figure.locator("text[fill='#F2F4F1']").first).to_be_visible()
    desk.get_by_role("combobox", name="Look").select_option("house")
    expect(figure.locator("text[fill='#17222B']").first).to_be_visible()
    desk.get_by_label("Rulings", exact=True).select_option("none")
    expect(figure.locator("[data-role='ruling']")).to_have_count(0)
    desk.get_by_role("button", name="Rulings: follow the look again").click()
    expect(figure.locator("[data-role='ruling']").first).to_be_attached()
    expect(desk.get_by_role("button", name="Follow it again")).to_have_count(0)
    desk.get_by_label("Rulings", exact=True).select_option("none")
    expect(figure.locator("[data-role='ruling']")).to_have_count(0)
    desk.get_by_label("Seen", exact=True).select_option("no red cones")
    expect(desk.locator("[data-sight='no red cones']")).to_have_css("filter", 'url("#sight")')
    desk.get_by_role("button", name="Make it this figure’s").click()
    expect(desk.get_by_role("button", name="Follow it again")).to_have_count(0)
    expect(figure.locator("[data-role='ruling']")).to_have_count(0)
    comparison = Comparison.objects.filter(name="Waking level by shift").order_by("-made")[0]
    assert eventually(desk, lambda: last_recipe()["own_look"]["rulings"] is None)
    assert comparison.study.house["rulings"] is False
    with desk.expect_download() as got:
        desk.get_by_role("button", name="Take out").click()
    assert json.loads(Path(got.value.path()).read_text())["rulings"] is False
    nothing_serious(desk)


def test_a_colour_belongs_to_its_level_and_a_newer_house_style_is_offered(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("tab", name="Look").click()
    figure = desk.get_by_test_id("figure")
    desk.get_by_role("textbox", name="Night", exact=True).fill("#aa1166")
    expect(figure.locator("[fill='#aa1166']").first).to_be_attached()
    desk.get_by_label("Rulings", exact=True).select_option("none")
    expect(figure.locator("[data-role='ruling']")).to_have_count(0)
    column = {"shift pattern": {"Night": "#aa1166"}}
    assert eventually(desk, lambda: last_recipe()["own_look"]["level_colours"] == column)
    desk.get_by_role("button", name="Make it this figure’s").click()
    expect(desk.get_by_role("button", name="Follow it again")).to_have_count(0)
    assert Study.objects.get(name="Night work and cortisol").house["level_colours"] == column

    # Another figure of the same groups keeps its look until it takes the new one.
    desk.get_by_role("link", name="Echelle: all studies").click()
    desk.get_by_role("link", name="Cortisol through the day").click()
    desk.get_by_test_id("method-note").wait_for()
    expect(figure.locator("[data-role='ruling']").first).to_be_attached()
    desk.get_by_role("button", name="Old and new side by side").click()
    dialog = desk.get_by_role("dialog")
    expect(dialog.get_by_role("figure")).to_have_count(2)
    expect(dialog.get_by_role("figure").nth(1).locator("text").first).to_be_attached()
    assert [dialog.get_by_role("figure").nth(i).locator("[data-role='ruling']").count() > 0 for i in (0, 1)] == [True, False]
    dialog.get_by_role("button", name="Take the newest house style").click()
    expect(figure.locator("[data-role='ruling']")).to_have_count(0)
    expect(desk.get_by_role("button", name="Old and new side by side")).to_have_count(0)


def test_a_bundle_comes_into_another_study_with_its_trail(desk: Page, demo: str, tmp_path: Path) -> None:
    open_demo(desk, demo)
    desk.keyboard.press("4")
    expect(desk.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(2)
    export(desk)
    (tmp_path / "waking.zip").write_bytes(saved(desk, "Save Bundle"))
    (tmp_path / "broken.zip").write_bytes(b"PK no")
    desk.goto(demo.rsplit("/enter/", 1)[0] + "/")
    studies = Study.objects.count()
    desk.get_by_label("Table file").set_input_files(tmp_path / "broken.zip")
    expect(desk.get_by_test_id("notice").get_by_text("is no bundle")).to_be_visible()
    expect(desk.get_by_role("heading", name="broken")).to_have_count(0)
    assert Study.objects.count() == studies
    desk.get_by_label("Table file").set_input_files(tmp_path / "waking.zip")
    desk.wait_for_url("**/comparisons/**")
    expect(desk.get_by_test_id("method-note")).to_contain_text("Points: every value")
    expect(desk.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(2)
    assert Study.objects.filter(name="waking").exists()


def test_a_batch_is_made_while_its_progress_shows_and_can_be_stopped(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    export(desk)
    many = desk.get_by_role("region", name="Many figures")
    many.get_by_label("For each").select_option("ward (3)")
    many.get_by_label("As", exact=True).select_option("SVG each, in a zip")
    many.get_by_role("button", name="Save 3 figures").click()
    many.get_by_role("button", name="Stop").click()
    expect(many.get_by_role("button", name="Save 3 figures")).to_be_visible()
    with desk.expect_download() as got:
        many.get_by_role("button", name="Save 3 figures").click()
        expect(many.get_by_role("status")).to_contain_text("waits its turn")
        work("file-jobs")
    with zipfile.ZipFile(got.value.path()) as archive:
        assert archive.namelist() == ["Harbour.svg", "Ridge.svg", "Valley.svg"]
        assert b"<title>Waking cortisol falls with night work: Ridge</title>" in archive.read("Ridge.svg")
