"""No try is lost: states named, pinned, set side by side, copied; the same figure for every measure; anything found."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from server.comparisons.models import Comparison
from tests.journeys.conftest import choose, open_demo, reading


def of_state(page: Page, place: int, what: str) -> None:
    """Choose something from the menu of a state."""
    page.get_by_role("navigation", name="Trail").get_by_role("button", name="More of").nth(place).press("Enter")
    page.get_by_role("menuitem", name=what).click()


def test_states_are_named_pinned_and_set_side_by_side(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    first = {lane: reading(desk, lane, "Median") for lane in ("Day", "Night")}
    beyond = reading(desk, "Night", "Beyond")
    desk.get_by_role("slider", name="upper fence of Night").press("PageUp")
    desk.keyboard.press("2")
    expect(desk.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(3)
    of_state(desk, 1, "Name this state")
    field = desk.get_by_role("textbox", name="Name of the state")
    field.fill("for the paper")
    field.press("Enter")
    expect(desk.get_by_role("button", name="for the paper", exact=True)).to_be_visible()
    for place in (0, 1):
        of_state(desk, place, "Pin for side by side")
    desk.get_by_role("button", name="2 side by side").click()
    dialog = desk.get_by_role("dialog", name="States side by side")
    expect(dialog).to_contain_text("One axis for all.")
    expect(dialog.get_by_role("figure")).to_have_count(2)
    expect(dialog.get_by_role("img")).to_have_count(2)
    night = dialog.get_by_role("table", name="Differences").get_by_role("row").filter(has_text="Night")
    cells = night.get_by_role("cell").all_inner_texts()
    assert cells[2] == cells[3] == first["Night"] and cells[-2] == beyond and int(cells[-1]) < int(beyond)
    desk.keyboard.press("Escape")
    desk.reload()
    expect(desk.get_by_role("button", name="for the paper", exact=True)).to_be_visible()
    of_state(desk, 1, "Copy as a new comparison")
    expect(desk.get_by_role("heading", name="Waking level by shift (copy)")).to_be_visible()
    expect(desk.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(1)


def test_every_measure_in_this_figure(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("button", name="More", exact=True).click()
    desk.get_by_role("menuitem", name="All measures").click()
    dialog = desk.get_by_role("dialog", name="Every measure, in this figure")
    expect(dialog.get_by_role("listitem")).to_have_count(2)
    dialog.get_by_role("button", name="nights in a row").click()
    expect(desk.get_by_role("heading", name="nights in a row by shift pattern")).to_be_visible()
    expect(desk.get_by_role("button", name="Measure: nights in a row", exact=True)).to_be_visible()
    assert Comparison.objects.filter(name="nights in a row by shift pattern").count() == 1


def test_anything_is_found_by_typing(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.keyboard.press("Control+k")
    desk.keyboard.type("split ward")
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("button", name="Subgroups: ward")).to_be_visible()
    desk.keyboard.press("Control+k")
    desk.keyboard.type("form rain")
    desk.keyboard.press("Enter")
    rail = desk.get_by_role("navigation", name="Forms")
    expect(rail.get_by_role("button", name="raincloud")).to_have_attribute("aria-pressed", "true")
    desk.keyboard.press("Shift+?")
    keys = desk.get_by_role("dialog", name="Help: comparing")
    expect(keys).to_contain_text("Ctrl K")
    desk.keyboard.press("Escape")
    expect(keys).to_have_count(0)


def test_advice_is_taken_dismissed_and_stays_so(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    advice = desk.get_by_role("region", name="Advice")
    expect(advice).to_contain_text("Rotating has two peaks")
    expect(advice).to_contain_text("“nights in a row”")
    advice.get_by_role("button", name="more piece").click()
    people = advice.locator("[data-advice='repeated-people']")
    people.get_by_role("button", name="Dismiss").click()
    expect(people.get_by_role("button", name="Show again")).to_be_visible()
    desk.reload()
    expect(advice).to_contain_text("1 dismissed")
    expect(people).to_have_count(0)
    advice.get_by_role("button", name="Split by nights in a row").click()
    expect(desk.get_by_role("button", name="Subgroups: nights in a row")).to_be_visible()
    expect(advice).not_to_contain_text("two peaks")


def test_a_remedy_in_the_table_is_a_step_that_can_be_undone(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    advice = desk.get_by_role("region", name="Advice")
    advice.get_by_role("button", name="more piece").click()
    advice.get_by_role("button", name="One mean value per person, in the table").click()
    expect(desk.get_by_test_id("account")).to_contain_text("181 of 7")
    expect(desk.get_by_role("navigation", name="Trail")).to_contain_text("preparation 0 → 1")
    desk.get_by_role("button", name="Undo").click()
    expect(desk.get_by_test_id("account")).to_contain_text("356 of 1 448 rows")


def test_a_row_is_left_out_of_the_whole_table_and_seen_with_and_without(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    n = 88
    point = desk.get_by_test_id("figure").locator("g[data-key='p1/g4/b1/outlier'] path").last
    point.click()
    card = desk.get_by_role("region", name="Row card")
    card.get_by_label("Reason").fill("slip of the decimal mark")
    card.get_by_role("button", name="Leave out").click()
    card.get_by_role("button", name="With and without it").click()
    dialog = desk.get_by_role("dialog", name="With and without what is left out")
    night = dialog.get_by_role("table", name="Differences").get_by_role("row").filter(has_text="Night")
    expect(night.get_by_role("cell").nth(0)).to_have_text(str(n))
    expect(night.get_by_role("cell").nth(1)).to_have_text(str(n - 1))
    desk.keyboard.press("Escape")
    card.get_by_role("button", name="Take it back").click()
    expect(desk.get_by_test_id("account")).not_to_contain_text("left out")
    card.get_by_role("radio", name="Whole table").click()
    card.get_by_label("Reason").fill("slip of the decimal mark")
    card.get_by_role("button", name="Leave out").click()
    expect(card).to_have_count(0)
    expect(desk.get_by_test_id("account")).to_contain_text("355 of 1 447 rows")
    desk.goto(desk.url.split("/comparisons")[0])
    desk.get_by_role("link", name="Cortisol through the day").click()
    expect(desk.get_by_role("status").filter(has_text="preparation")).to_be_visible()
    choose(desk, "Groups", "ward")
    expect(desk.get_by_test_id("account")).to_contain_text("of 1 448 rows")
