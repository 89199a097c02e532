"""Links: made on the bench, opened by someone without an account, taken back."""

from __future__ import annotations

from playwright.sync_api import Browser, Page, expect

from tests.journeys.conftest import open_demo
from tests.journeys.test_accessible import nothing_serious


def test_a_signed_link_is_allowed_made_opened_and_taken_back(desk: Page, demo: str, browser: Browser) -> None:
    open_demo(desk, demo)
    desk.get_by_role("button", name="Share", exact=True).click()
    dialog = desk.get_by_role("dialog", name="Share Waking level by shift")
    outside = dialog.get_by_role("region", name="For people without an account")
    expect(outside).to_contain_text("Off in this study")
    outside.get_by_role("button", name="Allow such links in this study").click()
    outside.get_by_role("button", name="Make a signed link").click()
    address = outside.get_by_label("Address of the link").input_value()
    nothing_serious(desk)

    context = browser.new_context()
    reader = context.new_page()
    reader.goto(address)
    expect(reader.get_by_role("heading", name="Waking level by shift")).to_be_visible()
    expect(reader.get_by_role("table")).to_contain_text("Rotating")
    assert reader.locator("svg").count() == 1 and reader.locator("script").count() == 0
    with reader.expect_download() as got:
        reader.get_by_role("link", name="PDF").click()
    assert got.value.suggested_filename.endswith(".pdf")

    outside.get_by_role("button", name="Take back").click()
    expect(outside.get_by_label("Address of the link")).to_have_count(0)
    reader.reload()
    expect(reader.get_by_role("heading", name="This link is closed")).to_be_visible()
    expect(reader.locator("body")).not_to_contain_text("Rotating")
    context.close()
