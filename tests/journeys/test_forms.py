"""The same rows in every form: by key, split, panelled, and with any layer added."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.journeys.conftest import choose, full_reading, open_demo


def test_forms_by_key_keep_what_they_have_in_common(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    forms, note = desk.get_by_role("navigation", name="Forms"), desk.get_by_test_id("method-note")
    median = full_reading(desk, "Night", "Median")
    desk.keyboard.press("4")
    expect(forms.get_by_role("button", name="raincloud")).to_have_attribute("aria-pressed", "true")
    expect(note).to_contain_text("kernel density")
    assert full_reading(desk, "Night", "Median") == median
    density = desk.get_by_role("region", name="Density")
    density.get_by_label("Bandwidth by").select_option("scott")
    expect(note).to_contain_text("bandwidth by Scott")
    desk.keyboard.press("2")
    expect(note).to_contain_text("bandwidth by Scott")
    expect(forms.get_by_role("button", name="violin")).to_have_attribute("aria-pressed", "true")
    desk.get_by_role("button", name="Undo").click()
    expect(forms.get_by_role("button", name="raincloud")).to_have_attribute("aria-pressed", "true")
    expect(desk.get_by_test_id("figure").locator("path[data-role=density]")).to_have_count(4)


def test_split_and_panelled_lanes_stand_in_one_list(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    choose(desk, "Subgroups", "haemolysed")
    figure = desk.get_by_test_id("figure")
    expect(figure.locator("text[data-role=key-label]")).to_have_text(["no", "yes"])
    choose(desk, "Panels", "ward")
    expect(figure.locator("text[data-role=panel-title]")).to_have_count(3)
    rows = desk.get_by_role("table", name="Readings").get_by_role("row")
    expect(rows.filter(has_text="Harbour · Night · no")).to_have_count(1)
    desk.get_by_role("button", name="+ Ticks", exact=True).click()
    expect(desk.get_by_role("region", name="Ticks")).to_be_visible()
    expect(figure.locator("path[data-role=tick]").first).to_be_attached()
    choose(desk, "Panels", "nothing")
    expect(figure.locator("text[data-role=panel-title]")).to_have_count(0)


def test_a_bent_axis_refuses_what_it_cannot_show_and_loses_nothing(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("tab", name="Axis").click()
    desk.get_by_label("Scale", exact=True).select_option("log10")
    expect(desk.get_by_test_id("figure").locator("text[data-role=axis-label]").first).to_be_visible()
    desk.get_by_label("Axis from").fill("-3")
    desk.get_by_label("Axis from").press("Enter")
    expect(desk.get_by_test_id("notice")).to_contain_text("cannot begin at -3")
    desk.get_by_role("button", name="Undo").click()
    expect(desk.get_by_label("Scale", exact=True)).to_have_value("linear")


def test_counted_rows_have_an_axis_of_their_own(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    forms, figure = desk.get_by_role("navigation", name="Forms"), desk.get_by_test_id("figure")
    title = figure.locator("text[data-role=axis-title]").first
    desk.get_by_role("tab", name="Axis").click()
    desk.get_by_label("Scale", exact=True).select_option("log10")
    measure = str(title.text_content())
    forms.get_by_role("button", name="counts").click()
    expect(title).to_have_text("number of rows")
    expect(desk.get_by_label("Scale", exact=True)).to_have_count(0)
    expect(desk.get_by_role("button", name="+ Guide", exact=True)).to_have_count(0)
    desk.get_by_label("Heights to").fill("200")
    desk.get_by_label("Heights to").press("Enter")
    expect(figure.locator("text[data-role=axis-label]").last).to_have_text("200")
    desk.get_by_role("tab", name="Words").click()
    desk.get_by_label("Axis label", exact=True).fill("samples drawn")
    desk.get_by_label("Axis label", exact=True).press("Enter")
    expect(title).to_have_text("samples drawn")
    desk.get_by_role("tab", name="Layers").click()
    expect(desk.get_by_role("region", name="Counts")).to_be_visible()
    expect(desk.get_by_role("button", name="+ Box", exact=True)).to_have_count(0)
    forms.get_by_role("button", name="box").click()
    expect(title).to_have_text(measure)
    expect(desk.get_by_role("button", name="+ Counts", exact=True)).to_have_count(0)
    desk.get_by_role("tab", name="Axis").click()
    expect(desk.get_by_label("Scale", exact=True)).to_have_value("log10")
    expect(desk.get_by_role("textbox", name="Axis to")).to_have_value("")


def test_guides_are_set_by_number_band_and_word(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    figure = desk.get_by_test_id("figure")
    desk.get_by_role("tab", name="Axis").click()
    desk.get_by_role("button", name="+ Guide", exact=True).click()
    expect(figure.locator("text[data-role=guide-label]")).to_have_text([re.compile(r"^median of all \d")])
    desk.get_by_label("Guide 1 kind").select_option("Band from, to")
    place = desk.get_by_label("Guide 1 at")
    place.fill("7; 20")
    place.press("Enter")
    label = desk.get_by_label("Guide 1 label")
    label.fill("reference interval")
    label.press("Enter")
    expect(figure.locator("rect[data-role=guide]")).to_have_count(1)
    expect(figure.locator("text[data-role=guide-label]")).to_have_text(["reference interval"])
    place.fill("about ten")
    place.press("Enter")
    expect(place).to_have_value("about ten")
    expect(desk.get_by_role("alert")).to_contain_text("not understood")
    place.press("Escape")
    expect(place).to_have_value("7; 20")
    ledger = desk.get_by_role("table", name="Readings")
    expect(ledger.get_by_role("columnheader", name="reference interval")).to_be_visible()
    desk.get_by_label("Guide 1 for").select_option("for Day")
    expect(ledger.locator("[data-reading='reference interval']").filter(has_text="%")).to_have_count(1)
    desk.get_by_role("button", name="Keep this figure’s guides").click()
    desk.get_by_label("Name in the study’s list").fill("day shift")
    desk.get_by_label("Name in the study’s list").press("Enter")
    desk.get_by_role("button", name="Remove guide 1").click()
    expect(figure.locator("[data-role=guide]")).to_have_count(0)
    desk.get_by_role("button", name="day shift", exact=True).click()
    expect(figure.locator("rect[data-role=guide]")).to_have_count(1)
    desk.get_by_label("Guide 1 kind").select_option("Mean ± SD times")
    desk.get_by_label("Each lane at its own").check()
    desk.get_by_label("Guide 1 for").select_option("for all lanes")
    expect(figure.locator("rect[data-role=guide]")).to_have_count(4)
    expect(desk.get_by_test_id("method-note")).to_contain_text("mean − 2 SD to mean + 2 SD of each lane’s values")


def test_numbers_are_copied_with_full_digits(desk: Page, demo: str) -> None:
    desk.context.grant_permissions(["clipboard-read", "clipboard-write"])
    open_demo(desk, demo)
    median = full_reading(desk, "Night", "Median")
    desk.get_by_role("button", name="Copy numbers").click()
    desk.get_by_role("button", name="Copied").wait_for()
    cells = [line.split("\t") for line in str(desk.evaluate("navigator.clipboard.readText()")).splitlines()]
    assert cells[0][:3] == ["lane", "n", "missing"] and len(cells) == 5
    night = dict(zip(cells[0], next(line for line in cells if line[0] == "Night"), strict=True))
    assert night["median"] == median and int(night["n"]) > 50


def test_a_layer_is_hidden_shown_and_brought_back_to_the_usual(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    figure, box = desk.get_by_test_id("figure"), desk.get_by_role("region", name="Box")
    desk.get_by_role("button", name="+ Points", exact=True).click()
    expect(figure.locator("g[data-key$='/p1/point']")).to_have_count(4)
    box.get_by_label("Outliers by").select_option("median and MAD")
    expect(desk.get_by_test_id("method-note")).to_contain_text("median ± 3.5 × 1.4826 × MAD")
    box.get_by_role("button", name="Reset").click()
    expect(desk.get_by_test_id("method-note")).to_contain_text("1.5 × the interquartile range")
    box.get_by_role("button", name="Hide").click()
    expect(figure.locator("rect[data-role=box]")).to_have_count(0)
    box.get_by_role("button", name="Show").click()
    expect(figure.locator("rect[data-role=box]")).to_have_count(4)
