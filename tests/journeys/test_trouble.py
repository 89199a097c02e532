"""What goes wrong is said in one sentence, and nothing is lost or half kept."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from server.accounts.models import Person
from server.comparisons.models import Comparison, TrailEntry
from server.studies.models import Membership, Study
from tests.journeys.conftest import choose, enter, link_of, open_demo, paste


@pytest.mark.parametrize(
    ("cells", "says"),
    [
        ("a\tb\n", "No rows below the header"),
        ("\t".join(f"c{i}" for i in range(20_000)), "20,000 columns"),
        ("x" * 70_000, "larger than the 0.05 MB"),
    ],
)
def test_a_bad_table_is_one_sentence(cells: str, says: str, desk: Page, demo: str, settings) -> None:
    settings.UPLOAD_MEGABYTES = 0.05 if len(cells) < 80_000 else 1.0
    enter(desk, demo)
    before = (Study.objects.count(), Comparison.objects.count())
    paste(desk, cells)
    notice = desk.get_by_test_id("notice")
    expect(notice).to_contain_text(says, ignore_case=True)
    assert (Study.objects.count(), Comparison.objects.count()) == before
    desk.get_by_role("button", name="Close this notice").click()
    expect(notice).to_have_count(0)


def test_a_binary_file_named_csv(desk: Page, demo: str) -> None:
    enter(desk, demo)
    file = {"name": "picture.csv", "mimeType": "text/csv", "buffer": b"\x89PNG\r\n\x1a\n\x00\x00\x00\x01"}
    desk.get_by_label("Table file").set_input_files(file)
    expect(desk.get_by_test_id("notice")).to_contain_text("picture.csv")
    expect(desk.get_by_test_id("notice")).to_contain_text("picture")


def test_columns_that_do_not_fit_are_shown_with_the_reason(desk: Page, demo: str) -> None:
    enter(desk, demo)
    rows = "".join(f"note {chr(97 + i % 26)}{i} of a sample\t{'ab'[i % 2]}\t{i}.5\n" for i in range(401))
    paste(desk, "note\tarm\tlevel\n" + rows)
    desk.get_by_test_id("method-note").wait_for()
    desk.get_by_role("button", name="Measure:").click()
    expect(desk.get_by_role("option").filter(has_text="arm")).to_contain_text("holds no numbers")
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name=re.compile("^Groups:")).click()
    unfit = desk.get_by_role("option").filter(has_text="note")
    expect(unfit).to_contain_text("401 levels")
    expect(unfit).to_have_attribute("aria-disabled", "true")


def test_a_stale_save_loses_neither_version(desk: Page, demo: str, address: str, browser: Browser) -> None:
    open_demo(desk, demo)
    colleague = Person.objects.create(username="colleague")
    Membership.objects.create(study=Study.objects.get(), person=colleague, role="editor")
    other = browser.new_page(viewport={"width": 1280, "height": 800})
    open_demo(other, link_of("colleague", address))
    choose(other, "Groups", "ward")
    expect(other.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    expect(other.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(2)
    choose(desk, "Groups", "plate")
    expect(desk.get_by_test_id("notice")).to_contain_text("changed this comparison since you opened it")
    desk.get_by_role("button", name="Show theirs").click()
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    expect(desk.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(3)
    kept = TrailEntry.objects.filter(comparison__name="Waking level by shift").order_by("number")
    assert [(e.words, e.refused) for e in kept] == [("begun", False), ("groups: ward", False), ("groups: plate", True)]
    other.close()


def test_a_viewer_may_try_but_not_keep(desk: Page, demo: str, address: str) -> None:
    viewer = Person.objects.create(username="viewer")
    Membership.objects.create(study=Study.objects.get(), person=viewer, role="viewer")
    open_demo(desk, link_of("viewer", address))
    choose(desk, "Groups", "ward")
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    expect(desk.get_by_role("button", name="Bring a table")).to_have_count(0)
    assert TrailEntry.objects.filter(comparison__name="Waking level by shift").count() == 1
    desk.reload()
    expect(desk.get_by_role("row", name="Rotating", exact=True)).to_be_visible()


def test_a_click_counts_while_miniatures_come_in(desk: Page, demo: str) -> None:
    desk.add_init_script("""
        const whole = window.fetch;
        window.held = new Promise((resolve) => { window.release = resolve; });
        window.fetch = async (...asked) => {
            if (String(asked[0]).endsWith("/scene")) await window.held;
            return whole(...asked);
        };
    """)
    enter(desk, demo)
    card = desk.get_by_role("link", name="Waking level by shift")
    card.hover()
    desk.mouse.down()
    desk.evaluate("window.release()")
    card.locator("svg").wait_for()
    desk.mouse.up()
    desk.get_by_test_id("method-note").wait_for()
