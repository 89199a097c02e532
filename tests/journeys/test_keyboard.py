"""The same without a mouse, and at the narrowest width."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from server.comparisons.models import TrailEntry
from tests.journeys.conftest import open_demo


def tab_to(page: Page, name: str) -> None:
    """Press Tab until the control of that name has the focus."""
    for _ in range(140):
        page.keyboard.press("Tab")
        focused = page.evaluate("document.activeElement.getAttribute('aria-label') || document.activeElement.textContent")
        if focused and re.match(name, focused):
            return
    raise AssertionError(f"no way to {name} by Tab")


def test_by_keyboard_alone(desk: Page, demo: str) -> None:
    desk.goto(demo)
    expect(desk.get_by_role("button", name="Open Echelle")).to_be_focused()
    desk.keyboard.press("Enter")
    desk.get_by_role("heading", name="Studies").wait_for()
    desk.get_by_role("link", name="Waking level by shift").wait_for()
    tab_to(desk, "Waking level by shift|.*Waking level by shift")
    desk.keyboard.press("Enter")
    desk.get_by_test_id("method-note").wait_for()

    tab_to(desk, "Groups: shift pattern")
    desk.keyboard.press("Enter")
    desk.keyboard.type("war")
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("row", name="Ridge", exact=True)).to_be_visible()

    tab_to(desk, "upper fence of Ridge")
    desk.keyboard.press("ArrowRight")
    expect(desk.get_by_role("slider", name="upper fence of Ridge")).to_have_attribute("aria-valuenow", "1.55")
    expect(desk.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(3)

    desk.keyboard.press("Control+z")
    expect(desk.get_by_role("slider", name="upper fence of Ridge")).to_have_attribute("aria-valuenow", "1.5")

    tab_to(desk, "Export")
    desk.keyboard.press("Enter")
    desk.get_by_role("dialog", name="Export").wait_for()
    tab_to(desk, "Save SVG")
    with desk.expect_download() as got:
        desk.keyboard.press("Enter")
    assert got.value.suggested_filename.startswith("Waking level by shift.")
    assert [entry.words for entry in TrailEntry.objects.filter(comparison__name="Waking level by shift")] == [
        "begun", "groups: ward", "fence 1.5 → 1.55",
    ]  # fmt: skip


def test_nothing_is_cut_off_at_1024(desk: Page, demo: str) -> None:
    desk.set_viewport_size({"width": 1024, "height": 700})
    open_demo(desk, demo)
    assert desk.evaluate("document.documentElement.scrollWidth") <= 1024
    for name in ("Export", "Undo"):
        box = desk.get_by_role("button", name=name, exact=True).bounding_box()
        assert box and box["x"] + box["width"] <= 1024
    figure = desk.get_by_test_id("figure").bounding_box()
    ledger = desk.get_by_role("table", name="Readings").bounding_box()
    aside = desk.get_by_role("complementary", name="Settings").bounding_box()
    assert figure and ledger and aside
    assert figure["x"] + figure["width"] <= ledger["x"] and ledger["x"] + ledger["width"] <= aside["x"]


def test_ledger_rows_stand_level_with_their_lanes(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    for lane in ("Day", "Evening", "Rotating", "Night"):
        row = desk.get_by_role("row", name=lane, exact=True).bounding_box()
        handle = desk.get_by_role("slider", name=f"upper fence of {lane}").bounding_box()
        assert row and handle
        assert abs((row["y"] + row["height"] / 2) - (handle["y"] + handle["height"] / 2)) < 1.5
