"""Nothing serious for those who hear or tab through the page: axe on every view, in the state that a person meets it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from playwright.sync_api import Page, expect

from tests.journeys.conftest import enter, open_demo

AXE = (Path(__file__).resolve().parents[2] / "web/node_modules/axe-core/axe.min.js").read_text()


def nothing_serious(page: Page) -> None:
    """No finding of axe that is serious or critical."""
    page.evaluate(AXE)
    # The one rule left out wants names to repeat small print: the key of a form, a column's unit and missing count.
    options = "{ resultTypes: ['violations'], rules: { 'label-content-name-mismatch': { enabled: false } } }"
    result = page.evaluate(f"axe.run(document, {options})")
    assert result["passes"]
    serious = [
        (entry["id"], [(node["html"][:160], _message(node)) for node in entry["nodes"]][:6])
        for entry in result["violations"]
        if entry["impact"] in ("serious", "critical")
    ]
    assert not serious, "\n".join(map(str, serious))


def _message(node: dict[str, Any]) -> str:
    return str((node["any"] + node["all"] + node["none"])[0]["message"])


def test_signing_in_and_studies(desk: Page, demo: str) -> None:
    desk.goto(demo)
    nothing_serious(desk)
    enter(desk, demo)
    desk.get_by_role("link", name="Waking level by shift").wait_for()
    nothing_serious(desk)
    desk.get_by_label("Search everything").fill("cortisol")
    desk.get_by_role("region", name="Found").get_by_role("listitem").first.wait_for()
    nothing_serious(desk)
    desk.get_by_role("button", name="Bring a table").first.click()
    nothing_serious(desk)


def test_a_study_s_own_page(desk: Page, demo: str) -> None:
    enter(desk, demo)
    desk.get_by_role("link", name="Night work and cortisol").click()
    desk.get_by_role("region", name="Comparisons").get_by_role("listitem").first.wait_for()
    nothing_serious(desk)
    desk.get_by_role("button", name="As a list").click()
    desk.get_by_label("Choose all 4").check()
    nothing_serious(desk)
    for part, region in {
        "Tables": "Tables", "Folios and links": "Links", "People": "Invite", "What happened": "What happened",
    }.items():  # fmt: skip
        desk.get_by_role("tab", name=part).click()
        desk.get_by_role("region", name=region).first.wait_for()
        nothing_serious(desk)
    desk.keyboard.press("Shift+?")
    desk.get_by_role("dialog", name="Help").get_by_role("img").wait_for()
    nothing_serious(desk)
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name="Rename Night work and cortisol").click()
    nothing_serious(desk)


def test_the_compare_bench_and_what_opens_on_it(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    expect(desk.get_by_role("region", name="Advice")).to_contain_text("two peaks")
    for form in ("1", "4", "5", "8"):
        desk.keyboard.press(form)
        expect(desk.get_by_role("navigation", name="Forms").get_by_role("button").nth(int(form) - 1)).to_have_attribute(
            "aria-pressed", "true"
        )
        nothing_serious(desk)
    for tab in ("Axis", "Words"):
        desk.get_by_role("tab", name=tab).click()
        nothing_serious(desk)
    desk.get_by_test_id("account").get_by_role("button", name="6 without a value").click()
    desk.get_by_role("region", name="Rows").get_by_role("cell").get_by_role("button").first.click()
    desk.get_by_role("region", name="Row card").get_by_text("participant").wait_for()
    nothing_serious(desk)
    desk.keyboard.press("Escape")
    desk.keyboard.press("Control+k")
    nothing_serious(desk)
    desk.keyboard.press("Escape")
    desk.keyboard.press("m")
    desk.get_by_role("dialog").get_by_role("listitem").first.wait_for()
    nothing_serious(desk)
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name="Remarks", exact=True).click()
    nothing_serious(desk)
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name="More", exact=True).click()
    desk.get_by_role("menuitem", name="Notes, tags").click()
    desk.get_by_role("dialog").get_by_text("On no folio").wait_for()
    nothing_serious(desk)


def test_the_table_bench(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("link", name="samples.csv").click()
    desk.get_by_role("grid").or_(desk.get_by_role("table")).first.wait_for()
    nothing_serious(desk)


def test_the_figure_is_told_in_words(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    figure = desk.get_by_test_id("figure").get_by_role("img")
    words = str(figure.get_attribute("aria-label"))
    assert "Medians from the highest: Day" in words and "Skewed upward: Day, Night." in words
    assert "Most spread: Rotating" in words and "Night 8" in words
    expect(figure).to_have_attribute("aria-label", words + " Rotating has two peaks, near 5.3 and 13.1.")
