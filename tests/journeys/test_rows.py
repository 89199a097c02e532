"""From an odd point to its row, and out of the comparison with a reason: by mouse, and by the ledger with the keyboard."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.journeys.conftest import open_demo, reading


def test_an_odd_point_is_looked_at_left_out_and_taken_back(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    beyond = int(reading(desk, "Night", "Beyond"))
    assert beyond > 1
    point = desk.get_by_test_id("figure").locator("g[data-key='p1/g4/b1/outlier'] path").last
    point.click()
    card = desk.get_by_role("region", name="Row card")
    expect(card).to_contain_text("IQR from the median")
    expect(desk.get_by_test_id("lit")).to_be_visible()
    expect(card).to_contain_text("Night")
    expect(card.get_by_text("participant")).to_be_visible()
    card.get_by_label("Reason").fill("sample clotted")
    card.get_by_role("button", name="Leave out").click()
    expect(desk.get_by_test_id("account")).to_contain_text("1 left out")
    expect(desk.get_by_test_id("method-note")).to_contain_text("sample clotted")
    expect(card).to_contain_text("Left out: sample clotted")
    card.get_by_role("button", name="Take it back").click()
    expect(desk.get_by_test_id("account")).not_to_contain_text("left out")
    desk.keyboard.press("Escape")
    expect(card).to_have_count(0)


def test_the_end_of_a_drag_opens_no_card(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("button", name="+ Points", exact=True).click()
    expect(desk.get_by_role("region", name="Points")).to_be_visible()
    handle = desk.get_by_role("slider", name="upper fence of Night").bounding_box()
    point = desk.get_by_test_id("figure").locator("g[data-key='p1/g4/p1/outlier'] path").last.bounding_box()
    assert handle and point
    desk.mouse.move(handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2)
    desk.mouse.down()
    desk.mouse.move(point["x"] + point["width"] / 2, point["y"] + point["height"] / 2, steps=5)
    desk.mouse.up()
    expect(desk.get_by_test_id("method-note")).not_to_contain_text("within 1.5 ×")
    expect(desk.get_by_role("region", name="Row card")).to_have_count(0)


def test_the_count_of_values_beyond_leads_to_their_rows_by_keyboard(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    count = reading(desk, "Night", "Beyond")
    desk.get_by_role("row", name="Night", exact=True).get_by_role("button", name=f"{count} values beyond").focus()
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("menuitem")).to_have_count(int(count))
    desk.keyboard.press("ArrowDown")
    desk.keyboard.press("Enter")
    card = desk.get_by_role("region", name="Row card")
    expect(card).to_contain_text("SD from the mean")
    desk.keyboard.press("Escape")
    expect(card).to_have_count(0)
