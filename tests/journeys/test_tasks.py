"""Tables of other trades: courses over time, single values with names, shares of a value, tallies; and the sheet's own size."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.journeys.conftest import choose, enter, eventually, last_recipe, open_demo, paste
from tests.journeys.test_reach import form
from tests.journeys.test_table_bench import next_step

ARMS = ("placebo", "verum")


def pasted(desk: Page, link: str, rows: list[str]) -> None:
    """A table of one's own, from the clipboard to its first figure."""
    enter(desk, link)
    paste(desk, "\n".join(rows))
    desk.get_by_test_id("method-note").wait_for()
    desk.get_by_role("navigation", name="Forms").wait_for()


def test_a_course_over_visits_has_a_fitted_line_with_its_slope_in_the_ledger(desk: Page, demo: str) -> None:
    rows = [
        f"P{p:02d}\t{ARMS[p % 2]}\t{visit}\t{round(6 + (p % 5) * 0.3 - visit * (0.05 if p % 2 else 0.01), 2)}"
        for p in range(12)
        for visit in (0, 4, 8, 12)
    ]
    pasted(desk, demo, ["participant\tarm\tvisit week\tglucose (mmol/L)", *rows])
    form(desk, "series")
    assert eventually(desk, lambda: last_recipe()["layers"][0].get("against") == "visit week")
    lines = desk.get_by_test_id("figure").locator("path[data-role=series]")
    expect(lines).to_have_count(2)
    series = desk.get_by_role("region", name="Series")
    series.get_by_label("Through").select_option("least squares")
    series.get_by_label("Band").select_option("interval")
    expect(desk.get_by_test_id("figure").locator("path[data-role=series-band]")).to_have_count(2)
    expect(desk.get_by_role("columnheader", name="Slope per visit week (95 %)")).to_be_visible()
    expect(desk.get_by_test_id("method-note")).to_contain_text("straight, by least squares")
    # A line for each subject, behind the means.
    series.get_by_label("Through").select_option("values")
    series.get_by_label("A line each").select_option("participant")
    expect(lines).to_have_count(12)


def test_single_values_stand_in_their_order_with_their_names(desk: Page, demo: str) -> None:
    rows = [f"Site {i:02d}\t{('north', 'south')[i % 2]}\t{(i * 37) % 23 + 0.5}" for i in range(20)]
    pasted(desk, demo, ["site code\tregion\tdose rate", *rows])
    questions = desk.get_by_role("region", name="Other questions")
    questions.get_by_role("button").filter(has_text="site code").first.click()
    names = desk.get_by_test_id("figure").locator("text[data-role=lane-label]")
    expect(names).to_have_count(20)
    assert eventually(desk, lambda: last_recipe()["groups"]["sorted"] == "by median")
    values = {row.split("\t")[0]: float(row.split("\t")[2]) for row in rows}
    assert names.all_text_contents() == sorted(values, key=lambda site: -values[site])


def test_the_share_of_a_value_is_a_bar_with_its_interval_and_a_reading(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    form(desk, "counts")
    choose(desk, "Measure", "haemolysed")
    counts = desk.get_by_role("region", name="Counts")
    counts.get_by_label("Of the value").fill("yes")
    counts.get_by_label("Of the value").press("Enter")
    expect(counts.get_by_label("Of the value")).to_have_value("yes")
    percent = counts.get_by_role("radiogroup", name="Bars show").get_by_role("radio", name="percent")
    percent.click()
    expect(percent).to_be_checked()
    counts.get_by_role("checkbox", name="Interval").click()
    expect(desk.get_by_test_id("figure").locator("line[data-role=interval]")).to_have_count(4)
    expect(desk.get_by_test_id("method-note")).to_contain_text("share of rows whose value is yes")
    desk.get_by_role("button", name="Readings").click()
    desk.get_by_role("textbox", name="Shares of").fill("yes; no")
    desk.get_by_role("textbox", name="Shares of").press("Enter")
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("columnheader", name="Share of no (95 %)")).to_be_visible()


def test_the_sheet_is_sized_by_its_edges(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("button", name="Width of the sheet").focus()
    desk.keyboard.press("ArrowRight")
    assert eventually(desk, lambda: last_recipe()["size"] == {"width": "125mm", "height": None})
    edge = desk.get_by_role("button", name="Height of the sheet")
    edge.hover()
    box = edge.bounding_box()
    assert box
    desk.mouse.move(box["x"] + 80, box["y"] + 2)
    desk.mouse.down()
    desk.mouse.move(box["x"] + 80, box["y"] + 60, steps=4)
    expect(desk.get_by_text("125 ×")).to_be_visible()
    desk.mouse.up()
    assert eventually(desk, lambda: last_recipe()["size"]["height"] is not None)
    assert last_recipe()["size"]["width"] == "125mm"


def test_a_tallied_table_is_made_whole(desk: Page, demo: str) -> None:
    pasted(desk, demo, ["arm\tscore\tcount", "verum\t1.5\t3", "verum\t2.5\t2", "placebo\t1.5\t4", "placebo\t3.5\t1"])
    desk.get_by_role("link", name="Pasted cells").last.click()
    next_step(desk, "Repeat rows")
    desk.get_by_label("As often as").select_option("count")
    expect(desk.get_by_test_id("step-effect")).to_contain_text("4 → 10 rows")
    desk.get_by_role("button", name="Take this step").click()
    expect(desk.get_by_role("region", name="Preparation")).to_contain_text("as often as count")


def test_two_files_with_one_identifier_are_joined(desk: Page, demo: str) -> None:
    enter(desk, demo)
    people = "participant,age (years)\n" + "".join(f"P{i:02d},{30 + i}\n" for i in range(20))
    samples = "participant,level (nmol/L)\n" + "".join(f"P{i % 18:02d},{i}.5\n" for i in range(40)) + "P99,3.5\n"
    files = {"people.csv": people, "samples.csv": samples}
    desk.get_by_label("Table file").set_input_files(
        [{"name": name, "mimeType": "text/csv", "buffer": text.encode()} for name, text in files.items()]
    )
    expect(desk.get_by_test_id("notice")).to_contain_text("40 rows find theirs in people.csv by participant, 1 do not")
    desk.get_by_role("button", name="Join them").click()
    expect(desk.get_by_role("region", name="Preparation")).to_contain_text("join people")
    expect(desk.get_by_role("button", name="age, measure")).to_be_visible()


def test_five_of_many_columns_become_one(desk: Page, demo: str) -> None:
    names = [f"gene {i:03d}" for i in range(60)]
    lines = ["\t".join(str(round(1 + (i * 7 + r) % 13 * 0.5, 1)) for i in range(60)) for r in range(4)]
    pasted(desk, demo, ["\t".join(names), *lines])
    desk.get_by_role("link", name="Pasted cells").last.click()
    next_step(desk, "Wide to long")
    wide = desk.get_by_role("form", name="Wide to long")
    wide.get_by_role("button", name="None", exact=True).click()
    wide.get_by_label("Search names").fill("gene 01")
    wide.get_by_role("button", name="All 10 found").click()
    desk.get_by_role("button", name="Take this step").click()
    expect(desk.get_by_role("region", name="Preparation")).to_contain_text("10 columns to group and value")


def test_clinical_classes_are_named_columns_that_tell_their_share(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    form(desk, "histogram")
    bins = desk.get_by_role("region", name="Bins")
    bins.get_by_label("Edges", exact=True).fill("0; 10; 25; 60")
    bins.get_by_label("Edges", exact=True).press("Enter")
    bins.get_by_label("Names", exact=True).fill("low; usual; raised")
    bins.get_by_label("Names", exact=True).press("Enter")
    columns = desk.get_by_test_id("figure").locator("rect[data-role=bin]")
    expect(columns.first).to_have_attribute("data-says", re.compile("^low: 0 to 10 · "))
    columns.nth(1).hover()
    expect(desk.get_by_test_id("column-tip")).to_contain_text("usual: 10 to 25")
    assert eventually(desk, lambda: last_recipe()["layers"][0]["names"] == ["low", "usual", "raised"])
