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
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
        page.goto(link)
        page.get_by_role("button", name="Open Echelle").click()
        page.get_by_text("Waking level by shift").wait_for()
        _take(page, "studies")
        page.get_by_text("Waking level by shift").click()
        page.get_by_test_id("method-note").wait_for()
        page.get_by_role("navigation", name="Trail").get_by_role("button").first.click()
        page.wait_for_timeout(500)
        _take(page, "compare-box")
        page.get_by_role("tab", name="Axis").click()
        page.get_by_role("radio", name="Up").click()
        page.get_by_role("tab", name="Layers").click()
        page.get_by_role("button", name="+ Points", exact=True).click()
        page.get_by_role("region", name="Points").wait_for()
        _take(page, "compare-up")
        for _ in range(2):
            page.get_by_role("button", name="Undo", exact=True).click()
            page.wait_for_timeout(400)
        browser.close()


def _take(page: Page, name: str) -> None:
    page.wait_for_load_state("networkidle")
    page.evaluate("document.fonts.ready")
    page.wait_for_timeout(600)
    page.screenshot(path=OUT / f"{name}.png")


if __name__ == "__main__":
    main(sys.argv[1])
