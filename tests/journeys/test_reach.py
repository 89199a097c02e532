"""What an analyst of other tables would want of the page: a few presses each, seen in the figure and in the recipe."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.journeys.conftest import choose, enter, eventually, last_recipe, open_demo, paste

LANES = 4


def form(desk: Page, name: str) -> None:
    button = desk.get_by_role("navigation", name="Forms").get_by_role("button", name=name, exact=True)
    button.click()
    expect(button).to_have_attribute("aria-pressed", "true")


def stand(desk: Page, role: str, how: str) -> None:
    """Place groups or subgroups by the word of the sentence."""
    desk.get_by_role("button", name=f"{role} stand").click()
    desk.get_by_role("menuitemradio", name=how, exact=True).click()
    expect(desk.get_by_role("button", name=f"{role} stand: {how}")).to_be_visible()


def marks(desk: Page, role: str) -> int:
    return desk.get_by_test_id("figure").locator(f"[data-role={role}]").count()


def test_histograms_laid_over_one_another_say_whose_they_are(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    form(desk, "histogram")
    stand(desk, "Groups", "on one axis")
    figure = desk.get_by_test_id("figure")
    expect(figure.locator("text[data-role=key-title]")).to_have_text("shift pattern")
    expect(figure.locator("text[data-role=key-label]")).to_have_count(LANES)
    assert eventually(desk, lambda: last_recipe()["groups"]["placed"] == "overlaid")
    # One key goes on to the next placement.
    desk.get_by_role("heading", name="Bins").click()
    desk.keyboard.press("p")
    expect(desk.get_by_role("button", name="Groups stand: a lane each")).to_be_visible()


def test_halves_back_to_back_and_panels_both_ways_with_scales_of_their_own(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    choose(desk, "Subgroups", "day")
    stand(desk, "Subgroups", "in halves")
    assert eventually(desk, lambda: (last_recipe()["subgroups"] or {}).get("placed") == "back-to-back")
    expect(desk.get_by_test_id("figure").locator("rect[data-role=box]")).to_have_count(2 * LANES)
    choose(desk, "Subgroups", "nothing")
    choose(desk, "Panels", "ward")
    desk.get_by_role("button", name="Panels run: wrapped").click()
    desk.get_by_role("menuitemradio", name="across").click()
    choose(desk, "Panels down", "day")
    expect(desk.get_by_test_id("figure").locator("text[data-role=panel-title]")).to_have_count(6)
    desk.get_by_role("button", name="Panels: ward", exact=True).click()
    desk.get_by_label("Scales").select_option("each-its-own")
    desk.keyboard.press("Escape")
    assert eventually(desk, lambda: last_recipe()["panels"]["scales"] == "each-its-own")
    assert last_recipe()["panels"]["down"]["column"] == "day"


def test_classes_typed_with_any_separator_are_named(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    choose(desk, "Groups", "nights in a row")
    desk.get_by_role("button", name="Groups: nights in a row", exact=True).click()
    desk.get_by_label("Classes at").fill("1, 3 5")
    desk.get_by_label("Classes at").press("Enter")
    expect(desk.get_by_role("alert")).to_contain_text("not understood")
    desk.get_by_label("Classes at").fill("1 | 3 | 5")
    desk.get_by_label("Classes at").press("Enter")
    desk.get_by_label("Names").fill("none; few; some; many")
    desk.get_by_label("Names").press("Enter")
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("button", name="Lane none")).to_be_visible()
    assert eventually(desk, lambda: (last_recipe()["groups"]["cut"] or {}).get("edges") == [1, 3, 5])
    # The highest class can be left away.
    desk.get_by_role("button", name="Groups: nights in a row", exact=True).click()
    desk.get_by_role("checkbox", name="many").click()
    assert eventually(desk, lambda: last_recipe()["groups"]["dropped"] == ["many"])


def test_a_box_under_points_is_pale_and_a_violin_takes_a_narrow_one(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("button", name="+ Points", exact=True).click()
    points = desk.get_by_role("region", name="Points")
    points.get_by_role("radio", name="on", exact=True).click()
    box = desk.get_by_test_id("figure").locator("rect[data-role=box]")
    expect(box).to_have_count(2 * LANES)
    form(desk, "violin")
    desk.get_by_role("button", name="+ Box", exact=True).click()
    assert eventually(desk, lambda: [layer.get("width") for layer in last_recipe()["layers"]] == [0.9, 0.1])


def test_mean_and_median_of_a_density_are_told_apart(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    form(desk, "density")
    desk.get_by_role("tab", name="Axis").click()
    for number in (1, 2):
        desk.get_by_role("button", name="+ Guide", exact=True).click()
        expect(desk.get_by_label(f"Guide {number} kind")).to_be_visible()
    desk.get_by_label("Guide 2 kind").select_option("mean")
    desk.get_by_text("How it is drawn").last.click()
    desk.get_by_label("Dash", exact=True).last.select_option("solid")
    labels = desk.get_by_test_id("figure").locator("text[data-role=guide-label]")
    expect(labels).to_have_count(2)
    assert eventually(desk, lambda: [guide["dash"] for guide in last_recipe()["guides"]] == ["dashed", "solid"])
    said = sorted(labels.all_text_contents())
    assert said[0].startswith("mean of all ") and said[1].startswith("median of all ") and said[0][-1].isdigit()


def test_a_setting_is_found_by_a_plain_word_and_ready_to_be_changed(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.keyboard.press("Control+k")
    desk.get_by_role("combobox", name="Find").fill("logarithm")
    desk.get_by_role("option", name="Axis: Scale").click()
    expect(desk.get_by_role("tab", name="Axis")).to_have_attribute("aria-selected", "true")
    expect(desk.get_by_label("Scale", exact=True)).to_be_focused()
    desk.keyboard.press("Control+k")
    desk.get_by_role("combobox", name="Find").fill("on the figure")
    expect(desk.get_by_role("option").first).to_be_visible()


def test_numbers_stand_on_the_figure_and_no_more_beside_it(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    expect(desk.get_by_role("table", name="Readings")).to_be_visible()
    desk.get_by_role("button", name="Readings").click()
    desk.get_by_label("On the figure too").click()
    desk.keyboard.press("Escape")
    expect(desk.get_by_test_id("figure").locator("text[data-role=ledger]")).to_have_count(4 * LANES)
    expect(desk.get_by_role("table", name="Readings")).to_have_count(0)
    assert eventually(desk, lambda: last_recipe()["size"]["width"] == "174mm")


def test_stacked_bars_in_per_cent_with_their_numbers(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    form(desk, "counts")
    choose(desk, "Subgroups", "day")
    counts = desk.get_by_role("region", name="Counts")
    counts.get_by_role("radiogroup", name="Bars show").get_by_role("radio", name="percent").click()
    counts.get_by_role("radiogroup", name="Labels").get_by_role("radio", name="percent").click()
    labels = desk.get_by_test_id("figure").locator("text[data-role=count-label]")
    expect(labels).to_have_count(2 * LANES)
    expect(labels.first).to_contain_text("%")


def test_one_lane_and_ninety_four_years(desk: Page, demo: str) -> None:
    enter(desk, demo)
    rows = [f"{1900 + i % 94}\t{(i * 37) % 101 + i / 7:.2f}" for i in range(94 * 12)]
    paste(desk, "year\tlevel\n" + "\n".join(rows))
    expect(desk.get_by_test_id("method-note")).to_be_visible()
    choose(desk, "Groups", "year")
    form(desk, "ridges")
    curves = desk.get_by_test_id("figure").locator("path[data-role=density]")
    expect(curves).not_to_have_count(0)
    colours = (
        desk.get_by_test_id("figure")
        .locator("path[data-role=density]")
        .evaluate_all("paths => new Set(paths.map(path => path.getAttribute('fill'))).size")
    )
    assert colours > 60, "years take one hue from light to dark"
    choose(desk, "Groups", "nothing")
    form(desk, "histogram")
    expect(desk.get_by_test_id("figure").locator("rect[data-role=bin]")).not_to_have_count(0)
    expect(desk.get_by_role("table", name="Readings")).to_be_visible()
