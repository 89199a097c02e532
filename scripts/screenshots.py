"""Refreshes docs/screenshots from the demo: python scripts/screenshots.py ONE-TIME-LINK, while ./run serves."""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

OUT = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def main(link: str) -> None:
    """Sign in and take a picture of each main view at 1280 × 800."""
    OUT.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as play:
        browser = play.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox"], ignore_default_args=["--hide-scrollbars"]
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
        page.goto(link)
        page.get_by_role("button", name="Open Echelle").click()
        page.get_by_text("Waking level by shift").wait_for()
        _take(page, "studies")
        page.get_by_role("link", name="Night work and cortisol").click()
        page.get_by_role("region", name="Comparisons").get_by_role("listitem").first.wait_for()
        page.get_by_label("Choose all 4").check()
        page.wait_for_timeout(1200)
        _take(page, "study")
        page.get_by_role("link", name="Open Waking level by shift").click()
        page.get_by_test_id("method-note").wait_for()
        page.get_by_role("navigation", name="Trail").get_by_role("button", name="begun", exact=True).click()
        page.wait_for_timeout(900)
        _take(page, "compare-box")
        _forms(page)
        _out(page)
        page.get_by_role("link", name="samples.csv").click()
        page.get_by_role("row").nth(5).wait_for()
        _prepare(page)
        page.get_by_role("table", name="Rows").evaluate("element => element.scrollTo(0, 0)")
        _take(page, "table-bench")
        _folio(page)
        _report(page)
        _home(page)
        browser.close()


def _forms(page: Page) -> None:
    """Another form with the card of a row, and one in panels; then back to where it began."""

    def drawn(form: str) -> None:
        page.get_by_role("navigation", name="Forms").locator(f"button[aria-label='{form}'][aria-pressed=true]").wait_for()
        page.wait_for_timeout(1200)

    page.keyboard.press("4")
    drawn("raincloud")
    page.get_by_test_id("figure").locator("g[data-role=outlier] path").last.click()
    page.get_by_role("region", name="Row card").get_by_text("participant").wait_for()
    _take(page, "compare-raincloud")
    page.keyboard.press("Escape")
    _brush(page)
    page.keyboard.press("5")
    drawn("histogram")
    page.get_by_role("button", name="Lane Rotating").focus()
    _take(page, "compare-histogram")
    _find(page, "split haemolysed")
    page.get_by_role("navigation", name="Trail").get_by_role("button", name="begun", exact=True).click()
    drawn("box")
    _find(page, "groups plate")
    page.wait_for_timeout(600)
    page.keyboard.press("7")
    drawn("ridges")
    page.mouse.move(0, 0)
    page.get_by_role("navigation", name="Trail").get_by_role("button", name="begun", exact=True).click()
    drawn("box")
    page.get_by_role("tab", name="Differences").click()
    settings = page.get_by_role("complementary", name="Settings")
    settings.get_by_role("button", name="Differences").click()
    page.get_by_role("region", name="Sizes").get_by_role("listitem").nth(2).wait_for()
    page.mouse.move(0, 0)
    _take(page, "compare-differences")
    _laboratory(page)
    page.get_by_role("navigation", name="Trail").get_by_role("button", name="begun", exact=True).click()
    drawn("box")
    _paired(page)
    page.get_by_role("tab", name="Layers").click()
    page.get_by_role("navigation", name="Trail").get_by_role("button", name="begun", exact=True).click()
    drawn("box")


def _out(page: Page) -> None:
    """A look, and the export dialog with the reader's key under the figure; then back to where it began."""
    page.keyboard.press("4")
    page.wait_for_timeout(1200)
    page.get_by_role("tab", name="Look").click()
    page.get_by_role("combobox", name="Look").select_option("dark slides")
    page.wait_for_timeout(1500)
    _take(page, "compare-look")
    page.get_by_role("combobox", name="Look").select_option("house")
    page.get_by_role("tab", name="Words").click()
    page.get_by_role("radio", name="Below").click()
    page.wait_for_timeout(1200)
    page.get_by_role("button", name="Export", exact=True).click()
    page.get_by_label("Column").select_option("1½ columns, 114 mm")
    page.wait_for_timeout(1500)
    _take(page, "compare-export")
    page.keyboard.press("Escape")
    page.get_by_role("navigation", name="Trail").get_by_role("button", name="begun", exact=True).click()
    page.wait_for_timeout(900)


def _folio(page: Page) -> None:
    """The study's comparisons on one page; taken away after its picture."""
    page.get_by_role("link", name="Echelle: all studies").click()
    page.get_by_role("button", name="+ Folio").first.click()
    figures = page.get_by_role("region", name="Figures")
    figures.get_by_role("heading", name="Figures").wait_for()
    while (more := figures.get_by_role("button", name="Add ")).count():
        more.first.click()
        page.wait_for_timeout(700)
    page.get_by_test_id("page").first.wait_for()
    page.wait_for_timeout(1500)
    _take(page, "folio")
    # The page asks with the token of changes that its cookie holds.
    page.evaluate(
        """() => fetch(location.pathname.replace("/folios/", "/api/folios/"), { method: "DELETE",
            headers: { "X-CSRFToken": document.cookie.match(/csrftoken=([^;]+)/)[1] } })"""
    )


def _report(page: Page) -> None:
    """The report as whoever gets the file sees it."""
    page.get_by_role("link", name="Echelle: all studies").click()
    page.get_by_role("link", name="Waking level by shift").first.click()
    page.get_by_test_id("method-note").wait_for()
    told = page.request.get(page.url.replace("/comparisons/", "/api/comparisons/") + "/export/report")
    # On a page of its own: the bench's policy would not let the report's style in.
    browser = page.context.browser
    assert browser is not None
    alone = browser.new_page(viewport={"width": 1280, "height": 800})
    alone.set_content(told.text())
    _take(alone, "report")


def _home(page: Page) -> None:
    """Search over everything, and a study's people and activity."""
    page.get_by_role("link", name="Echelle: all studies").click()
    page.get_by_label("Search everything").fill("shfit waking")
    page.get_by_role("region", name="Found").get_by_role("listitem").first.wait_for()
    page.wait_for_timeout(1500)
    _take(page, "search")
    page.get_by_label("Search everything").fill("")
    page.get_by_role("link", name="Night work and cortisol", exact=True).click()
    page.get_by_role("tab", name="People").click()
    invite = page.get_by_role("region", name="Invite")
    invite.get_by_label("Whom the link is for").fill("the night shift’s reader")
    invite.get_by_role("button", name="Make the link").click()
    invite.get_by_label("Address of the invitation").wait_for()
    _take(page, "study-people")
    invite.get_by_role("button", name="Take back").click()
    page.get_by_role("tab", name="What happened").click()
    page.get_by_role("region", name="What happened").wait_for()
    _take(page, "study-activity")


def _laboratory(page: Page) -> None:
    """Reference limits as a guide, and control lines of all rows."""
    page.get_by_label("Ref. limits").select_option("robust")
    limits = page.get_by_role("region", name="Reference limits")
    limits.get_by_role("button", name="Guide from the limits of Day").click()
    page.wait_for_timeout(900)
    limits.scroll_into_view_if_needed()
    _take(page, "compare-reference-limits")
    page.get_by_role("navigation", name="Trail").get_by_role("button", name="begun", exact=True).click()
    _find(page, "groups ward")
    page.get_by_label("Control", exact=True).select_option("a stretch")
    page.wait_for_timeout(900)
    page.get_by_role("button", name="Control lines").click()
    page.get_by_role("region", name="Control rules").scroll_into_view_if_needed()
    page.wait_for_timeout(1500)
    _take(page, "compare-control-lines")


def _paired(page: Page) -> None:
    """Samples of one person set against one another, as lanes of their own; and two factors."""
    page.get_by_role("button", name="Rows kept: Waking").click()
    for sample in ("+30 min", "Noon", "Bedtime"):
        page.get_by_role("checkbox", name=sample).check()
    page.keyboard.press("Escape")
    _find(page, "groups sample")
    page.get_by_label("Paired by").select_option("participant")
    page.get_by_role("button", name="Paired lanes").click()
    page.get_by_role("region", name="Sizes").get_by_text("pairs by participant").first.wait_for()
    page.wait_for_timeout(1500)
    _take(page, "compare-paired")
    page.get_by_role("button", name="Paired lanes").click()
    page.get_by_label("Paired by").select_option("")


def _find(page: Page, words: str) -> None:
    """Do something by the find box."""
    page.keyboard.press("Control+k")
    page.get_by_role("combobox", name="Find").fill(words)
    page.keyboard.press("Enter")
    page.wait_for_timeout(900)


def _brush(page: Page) -> None:
    """Rows brushed over two lanes."""
    box = page.get_by_test_id("figure").bounding_box()
    assert box
    page.mouse.move(box["x"] + 0.45 * box["width"], box["y"] + 0.55 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + 0.99 * box["width"], box["y"] + 0.95 * box["height"], steps=5)
    page.mouse.up()
    page.get_by_role("region", name="Rows").wait_for()
    _take(page, "compare-rows")
    page.get_by_role("button", name="Clear the selection").click()


def _prepare(page: Page) -> None:
    """Steps on the samples, two of them pictured before they are taken."""
    if page.get_by_role("region", name="Preparation").get_by_role("listitem").count() > 1:
        return

    def take() -> None:
        page.get_by_role("button", name="Take this step").click()
        page.get_by_role("form").wait_for(state="detached")

    page.get_by_role("button", name="Join them").click()
    page.get_by_text("rotating joins Rotating").wait_for()
    page.get_by_role("button", name="cortisol, measure").click()
    page.get_by_role("menuitem", name="Stand-ins for limits").click()
    take()
    page.get_by_role("button", name="haemolysed, yes/no").click()
    page.get_by_role("menuitem", name="Keep rows").click()
    take()
    page.get_by_role("button", name="+ Next step").click()
    page.get_by_role("button", name="Derive by a formula").click()
    page.get_by_label("New column").fill("log cortisol")
    page.get_by_test_id("step-effect").get_by_text("→").wait_for()
    _take(page, "table-step")
    page.get_by_role("button", name="Cancel").click()


def _take(page: Page, name: str) -> None:
    page.wait_for_load_state("networkidle")
    page.evaluate("document.fonts.ready")
    page.wait_for_timeout(600)
    page.screenshot(path=OUT / f"{name}.png")


if __name__ == "__main__":
    main(sys.argv[1])
