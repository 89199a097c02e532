"""The right side: layers, axis and words; the figure, the note and the trail follow each."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from server.accounts.models import Person
from server.comparisons.models import TrailEntry
from tests.journeys.conftest import open_demo, reading


def words() -> list[str]:
    return list(TrailEntry.objects.filter(comparison__name="Waking level by shift").values_list("words", flat=True))


def settled(page: Page, count: int) -> None:
    expect(page.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(count)


def test_layers(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    figure, note = desk.get_by_test_id("figure"), desk.get_by_test_id("method-note")
    expect(figure.locator("g[data-role=outlier] path")).to_have_count(10)
    box = desk.get_by_role("region", name="Box")
    box.get_by_label("Fence", exact=True).last.fill("3")
    box.get_by_label("Fence", exact=True).last.press("Enter")
    expect(note).to_contain_text("within 3 ×")
    settled(desk, 2)
    box.get_by_label("Quantile type").select_option("6")
    expect(note).to_contain_text("quartiles (type 6)")
    desk.get_by_role("button", name="+ Points", exact=True).click()
    points = desk.get_by_role("region", name="Points")
    expect(figure.locator("circle")).not_to_have_count(0)
    expect(note).to_contain_text("open diamonds")
    drawn = figure.locator("circle").count() + figure.locator("g[data-role=outlier] path").count()
    assert drawn == 356
    points.get_by_role("slider", name="Size").focus()
    desk.keyboard.press("ArrowRight")
    settled(desk, 5)
    expect(figure.locator("circle").first).to_have_attribute("r", "1.75")
    desk.wait_for_load_state("networkidle")
    box.get_by_role("button", name="Remove").click()
    expect(figure.locator("rect[data-role=box]")).to_have_count(0)
    settled(desk, 6)
    assert words() == ["begun", "fence 1.5 → 3", "quantile type 7 → 6", "+ points", "size 3 → 3.5", "− box"]


def test_whiskers_reach_elsewhere_than_the_fence(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    box = desk.get_by_role("region", name="Box")
    expect(box.get_by_label("Whiskers", exact=True)).to_have_count(0)
    box.get_by_label("Whiskers by").select_option("percentiles")
    expect(desk.get_by_test_id("method-note")).to_contain_text("5")
    settled(desk, 2)
    assert TrailEntry.objects.order_by("-id")[0].recipe["layers"][0]["whiskers"] == {
        "rule": "percentiles",
        "k": 0.05,
        "of": "values",
    }
    expect(box.get_by_label("Whiskers", exact=True).last).to_be_visible()
    box.get_by_label("Whiskers by").select_option("automatic")
    settled(desk, 3)
    assert TrailEntry.objects.order_by("-id")[0].recipe["layers"][0]["whiskers"] is None


def test_a_field_that_is_refused_goes_back(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    fence = desk.get_by_role("region", name="Box").get_by_label("Fence", exact=True).last
    fence.fill("-4")
    fence.press("Enter")
    expect(desk.get_by_test_id("notice")).to_contain_text("greater than or equal to 0")
    expect(desk.get_by_test_id("method-note")).to_contain_text("within 1.5 ×")
    assert words() == ["begun"]


def test_axis_and_words(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("tab", name="Axis").click()
    desk.get_by_label("Axis to").fill("30")
    desk.get_by_label("Axis to").press("Enter")
    settled(desk, 2)
    desk.get_by_role("radio", name="Up").click()
    settled(desk, 3)
    expect(desk.get_by_role("row", name="Day", exact=True).locator("[data-reading=Median]")).to_have_text("14.1")
    night = desk.get_by_role("slider", name="upper fence of Night")
    expect(night).to_have_attribute("aria-orientation", "vertical")
    desk.get_by_role("tab", name="Layers").click()
    expect(desk.get_by_role("complementary", name="Settings")).to_contain_text("3 values out of view")
    desk.get_by_role("tab", name="Words").click()
    desk.get_by_label("Title", exact=True).fill("Cortisol <b>µg</b> & co")
    desk.get_by_label("Title", exact=True).press("Enter")
    settled(desk, 4)
    expect(desk.get_by_test_id("figure").locator("[data-role=title]")).to_have_text("Cortisol <b>µg</b> & co")


def test_going_back_along_the_trail(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    before = reading(desk, "Night", "Beyond")
    desk.get_by_role("slider", name="upper fence of Night").press("PageUp")
    settled(desk, 2)
    expect(desk.get_by_role("row", name="Night", exact=True).locator("[data-reading=Beyond]")).not_to_have_text(before)
    trail = desk.get_by_role("navigation", name="Trail")
    trail.get_by_role("button", name="begun", exact=True).click()
    expect(desk.get_by_role("row", name="Night", exact=True).locator("[data-reading=Beyond]")).to_have_text(before)
    expect(trail.get_by_role("button", name="begun", exact=True)).to_have_attribute("aria-current", "step")
    assert len(words()) == 2
    expect(trail.locator("svg").first).to_be_visible()


def test_sign_in_by_password_and_out(desk: Page, demo: str, address: str) -> None:
    person = Person.objects.get(username="demo")
    person.set_password("harbour-ridge-valley")
    person.save()
    desk.goto(f"{address}/studies")
    expect(desk.get_by_role("heading", name="Sign in")).to_be_visible()
    desk.get_by_label("Name").fill("demo")
    desk.get_by_label("Password").fill("wrong")
    desk.get_by_role("button", name="Sign in").click()
    expect(desk.get_by_role("alert")).to_contain_text("do not go together")
    desk.get_by_label("Password").fill("harbour-ridge-valley")
    desk.get_by_role("button", name="Sign in").click()
    expect(desk.get_by_role("heading", name="Studies")).to_be_visible()
    desk.get_by_role("button", name="Sign out").click()
    expect(desk.get_by_role("heading", name="Sign in")).to_be_visible()
    desk.goto(f"{address}/")
    expect(desk.get_by_role("heading", name="Sign in")).to_be_visible()


def test_remarks_of_the_reader_are_at_hand(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_text("5 remarks on reading samples.csv").click()
    expect(desk.get_by_text("Read as 1.", exact=False)).to_be_visible()
