"""The whole order of work, from a file to a figure taken out: by mouse, and again by keyboard alone."""

from __future__ import annotations

import json
import re
from pathlib import Path

from playwright.sync_api import Page, expect

from server.comparisons.models import TrailEntry
from tests.journeys.conftest import ROOT, choose, described, enter, full_reading, open_demo, reading

WAKING = {"sample": "Waking"}


def the_same(page: Page, lanes: dict[str, dict]) -> None:
    """The ledger and the command line agree on every lane."""
    for name, lane in lanes.items():
        assert float(full_reading(page, name, "Median")) == lane["median"]
        mean, sd = map(float, full_reading(page, name, "Mean ± SD").split())
        assert (mean, sd) == (lane["mean"], lane["sd"])
        assert reading(page, name, "Beyond") == str(len(lane["outliers"]))


def test_by_mouse(desk: Page, demo: str) -> None:
    enter(desk, demo)
    # Bring the table in and make it ready.
    desk.get_by_role("button", name="Bring a table").first.click()
    desk.locator("input[type=file]").first.set_input_files(ROOT / "demo/samples.csv")
    bring = desk.get_by_role("dialog")
    if bring.get_by_role("button", name="Bring").count():
        bring.get_by_role("button", name="Bring").last.click()
    expect(desk.get_by_test_id("method-note")).to_be_visible()
    desk.get_by_role("link", name="samples.csv").first.click()
    desk.get_by_role("region", name="Remarks").get_by_role("button", name="Join them").click()
    expect(desk.get_by_role("region", name="Preparation")).to_contain_text("rotating joins Rotating")
    desk.get_by_role("button", name="cortisol, measure").click()
    desk.get_by_role("menuitem", name="Compare this").click()
    # One measurement alone.
    desk.get_by_role("button", name="Rows kept").click()
    for level in ("+30 min", "Noon", "Bedtime"):
        desk.get_by_role("checkbox", name=level).click()
    desk.keyboard.press("Escape")
    choose(desk, "Groups", "nothing")
    desk.get_by_role("navigation", name="Forms").get_by_role("button", name="histogram").click()
    expect(desk.get_by_role("region", name="Bins")).to_be_visible()
    # Groups against each other, in several forms.
    choose(desk, "Groups", "shift pattern")
    for form in ("violin", "raincloud"):
        desk.get_by_role("navigation", name="Forms").get_by_role("button", name=form).click()
        expect(desk.get_by_role("navigation", name="Forms").get_by_role("button", name=form)).to_have_attribute(
            "aria-pressed", "true"
        )
    the_same(desk, described("samples.csv", "cortisol", "shift pattern", WAKING))
    # Question it: the odd value is a slip, and goes with a reason.
    point = desk.get_by_test_id("figure").locator("g[data-role=outlier] path").last
    point.click()
    card = desk.get_by_role("region", name="Row card")
    card.get_by_label("Reason").fill("decimal point missing")
    card.get_by_role("button", name="Leave out").click()
    expect(desk.get_by_test_id("account")).to_contain_text("1 left out")
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name="Undo").click()
    expect(desk.get_by_test_id("account")).not_to_contain_text("left out")
    desk.get_by_role("button", name="Redo").click()
    expect(desk.get_by_test_id("account")).to_contain_text("1 left out")
    # Word it and take it out.
    desk.get_by_role("tab", name="Words").click()
    desk.get_by_label("Title", exact=True).fill("Cortisol by shift")
    desk.get_by_label("Title", exact=True).press("Enter")
    with desk.expect_download() as got:
        desk.get_by_role("button", name="Export").click()
        desk.get_by_role("button", name="Save SVG").click()
    svg = Path(got.value.path()).read_text()
    assert "Cortisol by shift" in svg and "<image" not in svg
    with desk.expect_download() as got:
        desk.get_by_role("button", name="Save Recipe").click()
    recipe = json.loads(Path(got.value.path()).read_text())
    assert recipe["left_out"][0]["reason"] == "decimal point missing" and recipe["prepare"][0]["step"] == "join levels"


def test_by_keyboard(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    keys = desk.keyboard

    def find(words: str) -> None:
        keys.press("Control+k")
        desk.get_by_role("combobox", name="Find").wait_for()
        keys.type(words)
        keys.press("Enter")

    the_same(desk, described("samples.csv", "cortisol", "shift pattern", WAKING))
    desk.get_by_role("button", name="Groups: shift pattern").focus()
    keys.press("Enter")
    keys.type("ward")
    keys.press("Enter")
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    the_same(desk, described("samples.csv", "cortisol", "ward", WAKING))
    find("form strip")
    expect(desk.get_by_role("region", name="Points")).to_be_visible()
    keys.press("4")
    expect(desk.get_by_role("region", name="Density")).to_be_visible()
    # A lane is moved up by one, and renamed.
    desk.get_by_role("button", name="Lane Ridge", exact=True).focus()
    lanes = desk.get_by_test_id("figure").get_by_role("button", name=re.compile("^Lane "))
    before = [lanes.nth(i).get_attribute("aria-label") for i in range(3)]
    for key in ("Space", "ArrowUp", "Space"):
        keys.press(key)
        desk.wait_for_timeout(300)
    place = before.index("Lane Ridge")
    expect(lanes.nth(max(place - 1, 0))).to_have_attribute("aria-label", "Lane Ridge")
    lanes.nth(max(place - 1, 0)).focus()
    keys.press("Enter")
    keys.type("The Ridge")
    keys.press("Enter")
    expect(desk.get_by_role("row", name="The Ridge", exact=True)).to_be_visible()
    # From the count to the rows, to one row, out with a reason, and back.
    count = reading(desk, "The Ridge", "Beyond")
    desk.get_by_role("button", name=f"{count} values beyond").first.focus()
    keys.press("Enter")
    desk.get_by_role("menuitem").first.wait_for()
    keys.press("ArrowDown")
    keys.press("Enter")
    card = desk.get_by_role("region", name="Row card")
    card.get_by_label("Reason").focus()
    keys.type("unclear")
    keys.press("Enter")
    expect(desk.get_by_test_id("account")).to_contain_text("1 left out")
    keys.press("Escape")
    expect(card).to_have_count(0)
    keys.press("Control+z")
    expect(desk.get_by_test_id("account")).not_to_contain_text("left out")
    # Two states side by side.
    for place in (0, 2):
        desk.get_by_role("navigation", name="Trail").get_by_role("button", name="More of").nth(place).focus()
        keys.press("Enter")
        desk.get_by_role("menuitem", name="Pin for side by side").wait_for()
        keys.press("Enter")
        expect(desk.get_by_role("menu")).to_have_count(0)
    desk.get_by_role("button", name="2 side by side").focus()
    keys.press("Enter")
    expect(desk.get_by_role("dialog", name="States side by side").get_by_role("figure")).to_have_count(2)
    keys.press("Escape")
    words = [entry.words for entry in TrailEntry.objects.filter(comparison__name="Waking level by shift")]
    assert words[:4] == ["begun", "groups: ward", "strip", "raincloud"] and "Ridge named The Ridge" in words
    desk.get_by_role("button", name="Export").focus()
    keys.press("Enter")
    desk.get_by_role("button", name="Save SVG").focus()
    with desk.expect_download() as got:
        keys.press("Enter")
    assert got.value.suggested_filename.endswith(".svg")


def test_marks_move_to_their_new_place_unless_less_motion_is_wanted(desk: Page, demo: str) -> None:
    desk.emulate_media(reduced_motion="no-preference")
    open_demo(desk, demo)
    desk.evaluate(
        """() => {
            window.moves = [];
            const was = Element.prototype.animate;
            Element.prototype.animate = function (frames, options) {
              window.moves.push([this.getAttribute("data-lane"), JSON.stringify(frames), options.duration]);
              return was.call(this, frames, options);
            };
        }"""
    )
    desk.get_by_role("button", name="Median", exact=True).click()
    lanes = desk.get_by_test_id("figure").get_by_role("button", name=re.compile("^Lane "))
    expect(lanes.first).to_have_attribute("aria-label", "Lane Night")
    moves = desk.evaluate("window.moves")
    assert len(moves) >= 4 and all(long == 200 for _, _, long in moves)
    assert any("translate" in frames and not frames.startswith('[{"translate":"0px 0px"') for _, frames, _ in moves)
    desk.evaluate("window.moves = []")
    desk.get_by_role("slider", name="upper fence of Night").press("ArrowRight")
    expect(desk.get_by_test_id("method-note")).to_contain_text("within 1.55 ×")
    assert desk.evaluate("window.moves") == []
    desk.emulate_media(reduced_motion="reduce")
    desk.keyboard.press("2")
    expect(desk.get_by_role("region", name="Density")).to_be_visible()
    assert desk.evaluate("window.moves") == []
