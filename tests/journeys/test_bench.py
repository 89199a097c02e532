"""The figure answers the hand: lanes dragged and renamed, points brushed, marks and numbers asked what they are."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.journeys.conftest import described, full_reading, open_demo, reading


def lane_names(page: Page) -> list[str]:
    """The lanes in the order shown."""
    return [name.removeprefix("Lane ") for name in labels(page) if name.startswith("Lane ")]


def labels(page: Page) -> list[str]:
    buttons = page.get_by_test_id("figure").get_by_role("button")
    return [str(buttons.nth(i).get_attribute("aria-label")) for i in range(buttons.count())]


def middle(page: Page, name: str) -> tuple[float, float]:
    box = page.get_by_role("button", name=name, exact=True).bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def brush(page: Page, start: tuple[float, float], end: tuple[float, float]) -> None:
    """Draw a rectangle over shares of the figure."""
    box = page.get_by_test_id("figure").bounding_box()
    assert box
    spots = [(box["x"] + x * box["width"], box["y"] + y * box["height"]) for x, y in (start, end)]
    page.mouse.move(*spots[0])
    page.mouse.down()
    page.mouse.move(*spots[1], steps=6)
    page.mouse.up()


def test_lanes_are_dragged_and_renamed_and_undone(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    assert lane_names(desk) == ["Day", "Evening", "Rotating", "Night"]
    x, y = middle(desk, "Lane Night")
    desk.mouse.move(x, y)
    desk.mouse.down()
    desk.mouse.move(x, y - 30, steps=4)
    desk.mouse.move(*middle(desk, "Lane Day"), steps=8)
    desk.mouse.up()
    expect(desk.get_by_role("navigation", name="Trail")).to_contain_text("order")
    expect(desk.locator("[data-testid=figure] [aria-label^='Lane ']").first).to_have_attribute("aria-label", "Lane Night")
    assert lane_names(desk) == ["Night", "Day", "Evening", "Rotating"]
    desk.get_by_role("button", name="Lane Night", exact=True).dblclick()
    field = desk.get_by_role("textbox", name="New name of Night")
    field.fill("Nights only")
    field.press("Enter")
    expect(desk.get_by_role("row", name="Nights only", exact=True)).to_be_visible()
    expect(desk.get_by_role("navigation", name="Trail")).to_contain_text("Night named Nights only")
    for _ in range(2):
        desk.get_by_role("button", name="Undo").click()
    expect(desk.locator("[data-testid=figure] [aria-label^='Lane ']").first).to_have_attribute("aria-label", "Lane Day")
    assert lane_names(desk) == ["Day", "Evening", "Rotating", "Night"]


def test_brushed_rows_stay_selected_in_every_form(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.keyboard.press("4")
    expect(desk.get_by_role("region", name="Points")).to_be_visible()
    brush(desk, (0.3, 0.3), (0.999, 0.999))
    rows = desk.get_by_role("region", name="Rows")
    said = str(rows.get_by_role("heading").text_content())
    count = int(re.match(r"(\d+) rows selected", said)[1])  # type: ignore[index]
    assert 3 < count < 356
    rings = desk.get_by_test_id("selected").locator("circle")
    expect(rings).to_have_count(count)
    desk.keyboard.press("5")
    expect(desk.get_by_role("region", name="Bins")).to_be_visible()
    expect(rings).to_have_count(count)
    rows.get_by_role("button", name="Clear the selection").click()
    expect(rows).to_have_count(0)
    # Without points the brush takes the part of the lanes that it covers.
    brush(desk, (0.75, 0.1), (0.999, 0.95))
    expect(rows).to_contain_text("selected")
    rows.get_by_role("cell").get_by_role("button").first.click()
    card = desk.get_by_role("region", name="Row card")
    expect(card).to_contain_text("SD from the mean")
    desk.keyboard.press("Escape")


def test_counts_in_the_sentence_lead_to_their_rows(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_test_id("account").get_by_role("button", name="6 without a value").click()
    rows = desk.get_by_role("region", name="Rows")
    expect(rows.get_by_role("heading")).to_have_text("6 rows without a value")
    expect(rows.get_by_text("QNS")).to_have_count(4)
    rows.get_by_role("button", name="Close").press("ArrowDown")
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("region", name="Row card")).to_contain_text("QNS")
    desk.keyboard.press("Escape")


def test_lanes_points_and_marks_say_what_they_are(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    lane = described("samples.csv", "cortisol", "shift pattern", {"sample": "Waking"})["Rotating"]
    desk.get_by_role("button", name="Lane Rotating", exact=True).focus()
    readout = desk.get_by_test_id("readout")
    for name in ("min", "q1", "median", "q3", "max"):
        expect(readout).to_contain_text(f"{lane[name]:.1f}")
    desk.get_by_test_id("figure").locator("[data-key='p1/g4/b1/outlier'] path").last.hover()
    tip = desk.get_by_test_id("point-tip")
    expect(tip).to_contain_text("participant: P-")
    expect(readout).to_have_count(0)
    box = desk.get_by_test_id("figure").locator("rect[data-key='p1/g2/b1/box']")
    box.click(position={"x": 4, "y": 4})
    expect(desk.get_by_role("region", name="Box")).to_have_attribute("aria-current", "true")
    expect(desk.get_by_test_id("figure").locator("g.lit").first).to_have_attribute("data-layer", "b1")
    desk.keyboard.press("Escape")
    expect(desk.get_by_test_id("figure").locator("g.lit")).to_have_count(0)


def test_the_ledger_shows_what_is_chosen(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("button", name="Readings").click()
    desk.get_by_label("Skewness").check()
    desk.get_by_label("Difference to").select_option("Day")
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("columnheader", name="Δ median")).to_be_visible()
    lanes = described("samples.csv", "cortisol", "shift pattern", {"sample": "Waking"})
    assert reading(desk, "Night", "Skewness") == f"{lanes['Night']['skewness']:.2f}"
    apart = float(full_reading(desk, "Night", "Δ median").rsplit(" ", 1)[1])
    assert abs(apart - (lanes["Night"]["median"] - lanes["Day"]["median"])) < 1e-12
    assert reading(desk, "Day", "Δ median") == "ref."
    # Highest first is how they stand already, so the first press turns them round.
    desk.get_by_role("button", name="Mean ± SD").click()
    expect(desk.locator("[data-testid=figure] [aria-label^='Lane ']").first).to_have_attribute("aria-label", "Lane Night")
    assert lane_names(desk) == sorted(lane_names(desk), key=lambda name: lanes[name]["mean"])


def test_what_can_be_dragged_moves_by_keys_too(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.keyboard.press("2")
    smoothing = desk.get_by_role("slider", name="smoothing of Day")
    smoothing.press("ArrowRight")
    expect(smoothing).to_have_attribute("aria-valuetext", "1.05 × smoothing")
    desk.keyboard.press("5")
    width = desk.get_by_role("slider", name="width of the bins")
    before = float(str(width.get_attribute("aria-valuenow")))
    width.press("PageUp")
    expect(width).not_to_have_attribute("aria-valuenow", str(before))
    expect(desk.get_by_test_id("method-note")).to_contain_text("Bins:")
    end = desk.get_by_role("slider", name="end of the axis")
    end.press("PageDown")
    expect(desk.get_by_role("navigation", name="Trail")).to_contain_text("axis to")
    lanes = desk.get_by_role("slider", name="width of lanes")
    lanes.press("ArrowUp")
    expect(desk.get_by_role("navigation", name="Trail")).to_contain_text("lane width")
    assert len(desk.get_by_role("navigation", name="Trail").get_by_role("listitem").all()) == 7


def test_a_guide_is_dragged(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("tab", name="Axis").click()
    desk.get_by_role("button", name="+ Guide", exact=True).click()
    desk.get_by_label("Guide 1 kind").select_option("Line at")
    desk.get_by_label("Guide 1 at").fill("20")
    desk.get_by_label("Guide 1 at").press("Enter")
    grip = desk.get_by_role("slider", name="guide 1")
    expect(grip).to_have_attribute("aria-valuenow", "20")
    box = grip.bounding_box()
    assert box
    x, y = box["x"] + 6, box["y"] + 40
    desk.mouse.move(x, y)
    desk.mouse.down()
    desk.mouse.move(x + 60, y, steps=6)
    desk.mouse.up()
    expect(desk.get_by_label("Guide 1 at")).not_to_have_value("20")
    assert 20 < float(desk.get_by_label("Guide 1 at").input_value()) < 40


def test_sizes_and_the_full_window(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    figure = desk.get_by_test_id("figure")
    desk.get_by_role("button", name="As printed").click()
    box = figure.bounding_box()
    assert box and abs(box["width"] - 120 / 25.4 * 96) < 1
    desk.get_by_role("button", name="Larger").click()
    larger = figure.bounding_box()
    assert larger and abs(larger["width"] / box["width"] - 1.25) < 0.01
    desk.get_by_role("button", name="Fitted").click()
    desk.get_by_role("heading", name="Waking level by shift").click()
    desk.keyboard.press("f")
    expect(desk.get_by_role("complementary", name="Settings")).to_have_count(0)
    full = figure.bounding_box()
    assert full and full["width"] > box["width"]
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("complementary", name="Settings")).to_be_visible()


def test_settings_say_what_they_mean_and_absent_ones_do_not_matter(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.keyboard.press("5")
    bins = desk.get_by_role("region", name="Bins")
    expect(bins.get_by_role("textbox", name="Gap")).to_be_visible()
    expect(bins.get_by_label("Shares of")).to_have_count(0)
    bins.get_by_label("Heights are").select_option("share")
    expect(bins.get_by_label("Shares of")).to_be_visible()
    bins.get_by_role("textbox", name="How many").focus()
    help_ = desk.get_by_test_id("setting-help")
    expect(help_).to_contain_text("How many bins, instead of a rule.")
    expect(help_.get_by_role("img")).to_have_count(2)
