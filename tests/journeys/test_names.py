"""Names that clash with programs come in by paste and are shown as they stand."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.journeys.conftest import enter, paste

LEVELS = ["<b>bold</b>", "=1+1", "{rows}"]
CELLS = "who\t{median}\tcount\n" + "".join(f"w{i:02d}\t{LEVELS[i % 3]}\t{i * 1.25 + 0.5}\n" for i in range(24))


def test_names_that_clash_are_shown_as_they_stand(desk: Page, demo: str) -> None:
    enter(desk, demo)
    paste(desk, CELLS)
    # Eight values a group open as points; boxes have a row of numbers beside each lane.
    desk.get_by_role("navigation", name="Forms").get_by_role("button", name="box").click()
    for level in LEVELS:
        expect(desk.get_by_role("row", name=level, exact=True)).to_be_visible()
    expect(desk.get_by_role("button", name="Measure: count")).to_be_visible()
    expect(desk.get_by_role("button", name="Groups: {median}")).to_be_visible()
    assert desk.locator("b", has_text="bold").count() == 0, "markup in a name is text"
    desk.get_by_role("link", name="pasted cells", exact=True).first.click()
    expect(desk.get_by_role("button", name="{median}, category")).to_be_visible()
