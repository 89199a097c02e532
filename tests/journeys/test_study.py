"""A study found again: all its comparisons, names in place, shelves, people."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from server.accounts.models import Person
from server.comparisons.models import Comparison
from tests.journeys.conftest import enter, eventually


def test_a_study_lists_all_it_holds_and_is_kept_in_order(desk: Page, demo: str) -> None:
    Person.objects.create(username="second")
    enter(desk, demo)
    desk.get_by_role("link", name="Night work and cortisol").click()
    expect(desk.get_by_role("heading", name="Night work and cortisol")).to_be_visible()
    cards = desk.get_by_role("region", name="Comparisons").get_by_role("listitem")
    before = cards.count()
    assert before > 1
    search = desk.get_by_label("Search comparisons")
    search.fill("waking level")
    expect(cards).to_have_count(1)
    search.fill("nothing like it")
    expect(desk.get_by_text("Nothing here has “nothing like it” in it.")).to_be_visible()
    search.fill("")
    # Names are written anew where they stand.
    desk.get_by_role("button", name="Rename Waking level by shift").click()
    desk.get_by_label("Name of the comparison").fill("Waking, as submitted")
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("link", name="Waking, as submitted", exact=True)).to_be_visible()
    assert eventually(desk, lambda: Comparison.objects.filter(name="Waking, as submitted").exists())
    # Put away, and taken back.
    desk.get_by_role("button", name="Archive: Waking, as submitted").click()
    expect(cards).to_have_count(before - 1)
    desk.get_by_role("tab", name="Archive 1").click()
    desk.get_by_role("button", name="Take back: Waking, as submitted").click()
    expect(desk.get_by_text("Nothing is archived")).to_be_visible()
    desk.get_by_role("tab", name="Comparisons").click()
    expect(cards).to_have_count(before)
    # People.
    people = desk.get_by_role("region", name="People")
    people.get_by_label("Name of a person").fill("nobody-here")
    people.get_by_role("button", name="Let in").click()
    expect(desk.get_by_test_id("notice")).to_contain_text("Nobody here is called")
    people.get_by_label("Name of a person").fill("second")
    people.get_by_role("button", name="Let in").click()
    people.get_by_label("Role of second").select_option("editor")
    expect(people.get_by_label("Role of second")).to_have_value("editor")
    people.get_by_role("button", name="Take out second").click()
    expect(people.get_by_label("Role of second")).to_have_count(0)
    desk.get_by_role("link", name="Open Waking, as submitted").click()
    desk.get_by_test_id("method-note").wait_for()
    desk.get_by_role("banner").get_by_role("link", name="Night work and cortisol").click()
    expect(search).to_be_visible()
