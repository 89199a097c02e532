"""What goes wrong is said in one sentence, and nothing is lost or half kept."""

from __future__ import annotations

import re
from datetime import timedelta
from pathlib import Path

import pytest
from django.contrib.sessions.models import Session
from playwright.sync_api import Browser, Page, expect

from echelle.recipes.forms import form_of
from echelle.recipes.parse import recipe_from
from server.accounts.models import Person
from server.comparisons.models import Comparison, Drawing, TrailEntry
from server.comparisons.services import drawings, scenes
from server.file_jobs.models import FileJob
from server.file_jobs.services import run_file_job
from server.studies.models import Membership, Study
from tests.journeys.conftest import choose, enter, eventually, last_recipe, link_of, open_demo, paste


def groups_kept() -> str | None:
    """The groups of the state that was kept last, whichever comparison it is of."""
    return (last_recipe()["groups"] or {}).get("column")


@pytest.mark.parametrize(
    ("cells", "says"),
    [
        ("a\tb\n", "No rows below the header"),
        ("\t".join(f"c{i}" for i in range(20_000)), "20,000 columns"),
        ("x" * 70_000, "larger than the 0.05 MB"),
    ],
)
def test_a_bad_table_is_one_sentence(cells: str, says: str, desk: Page, demo: str, settings) -> None:
    settings.UPLOAD_MEGABYTES = 0.05 if len(cells) < 80_000 else 1.0
    enter(desk, demo)
    before = (Study.objects.count(), Comparison.objects.count())
    paste(desk, cells)
    notice = desk.get_by_test_id("notice")
    expect(notice).to_contain_text(says, ignore_case=True)
    assert (Study.objects.count(), Comparison.objects.count()) == before
    desk.get_by_role("button", name="Close this notice").click()
    expect(notice).to_have_count(0)


def test_a_binary_file_named_csv(desk: Page, demo: str) -> None:
    enter(desk, demo)
    file = {"name": "picture.csv", "mimeType": "text/csv", "buffer": b"\x89PNG\r\n\x1a\n\x00\x00\x00\x01"}
    desk.get_by_label("Table file").set_input_files(file)
    expect(desk.get_by_test_id("notice")).to_contain_text("picture.csv")
    expect(desk.get_by_test_id("notice")).to_contain_text("picture")


def test_columns_that_do_not_fit_are_shown_with_the_reason(desk: Page, demo: str) -> None:
    enter(desk, demo)
    rows = "".join(f"note {chr(97 + i % 26)}{i} of a sample\t{'ab'[i % 2]}\t{i}.5\n" for i in range(1_001))
    paste(desk, "note\tarm\tlevel\n" + rows)
    desk.get_by_test_id("method-note").wait_for()
    desk.get_by_role("button", name="Measure:").click()
    expect(desk.get_by_role("option").filter(has_text="arm")).to_contain_text("holds no numbers")
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name=re.compile("^Groups:")).click()
    unfit = desk.get_by_role("option").filter(has_text="note")
    expect(unfit).to_contain_text("1001 levels")
    expect(unfit).to_have_attribute("aria-disabled", "true")


def test_a_stale_save_loses_neither_version(desk: Page, demo: str, address: str, browser: Browser) -> None:
    open_demo(desk, demo)
    colleague = Person.objects.create(username="colleague")
    Membership.objects.create(study=Study.objects.get(), person=colleague, role="editor")
    other = browser.new_page(viewport={"width": 1280, "height": 800})
    open_demo(other, link_of("colleague", address))
    # Neither looks for what the other does until both have done it.
    desk.route("**/mark", lambda route: route.fulfill(status=404, json={"what": "", "where": "", "remedy": ""}))
    choose(other, "Groups", "ward")
    expect(other.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    expect(other.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(2)
    choose(desk, "Groups", "plate")
    expect(desk.get_by_test_id("notice")).to_contain_text("changed this comparison since you opened it")
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    expect(desk.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(3)
    kept = TrailEntry.objects.filter(comparison__name="Waking level by shift").order_by("number")
    assert [(e.words, e.refused) for e in kept] == [("begun", False), ("groups: ward", False), ("groups: plate", True)]
    # Mine is one press away, and the next change of mine is no conflict.
    desk.get_by_role("button", name="Show mine").click()
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_have_count(0)
    choose(desk, "Groups", "sample")
    assert eventually(desk, lambda: groups_kept() == "sample")
    assert not TrailEntry.objects.order_by("-id")[0].refused
    # And the other sees it without doing anything.
    expect(other.get_by_role("row", name="Waking", exact=True)).to_be_visible(timeout=10_000)
    other.close()


def test_a_viewer_may_try_but_not_keep(desk: Page, demo: str, address: str) -> None:
    viewer = Person.objects.create(username="viewer")
    Membership.objects.create(study=Study.objects.get(), person=viewer, role="viewer")
    open_demo(desk, link_of("viewer", address))
    choose(desk, "Groups", "ward")
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    expect(desk.get_by_role("button", name="Bring a table")).to_have_count(0)
    assert TrailEntry.objects.filter(comparison__name="Waking level by shift").count() == 1
    desk.reload()
    expect(desk.get_by_role("row", name="Rotating", exact=True)).to_be_visible()


def test_a_click_counts_while_miniatures_come_in(desk: Page, demo: str) -> None:
    desk.add_init_script("""
        const whole = window.fetch;
        window.held = new Promise((resolve) => { window.release = resolve; });
        window.fetch = async (...asked) => {
            if (String(asked[0]).endsWith("/scene")) await window.held;
            return whole(...asked);
        };
    """)
    enter(desk, demo)
    card = desk.get_by_role("link", name="Waking level by shift")
    card.hover()
    desk.mouse.down()
    desk.evaluate("window.release()")
    card.locator("svg").wait_for()
    desk.mouse.up()
    desk.get_by_test_id("method-note").wait_for()


def test_an_edit_is_kept_when_the_network_is_back_or_the_page_is_opened_again(page: Page, demo: str) -> None:
    desk = page
    open_demo(desk, demo)
    desk.route("**/trail", lambda route: route.abort())
    choose(desk, "Groups", "ward")
    expect(desk.get_by_text("Not kept yet")).to_be_visible()
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    assert TrailEntry.objects.filter(comparison__name="Waking level by shift").count() == 1
    desk.reload()
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    desk.unroute("**/trail")
    desk.evaluate("window.dispatchEvent(new Event('online'))")
    expect(desk.get_by_text("Not kept yet")).to_have_count(0)
    assert eventually(desk, lambda: groups_kept() == "ward")


def test_an_expired_session_is_opened_again_over_the_page(desk: Page, demo: str) -> None:
    person = Person.objects.get(username="demo")
    open_demo(desk, demo)
    person.set_password("correct horse battery")
    person.save()
    Session.objects.all().delete()
    choose(desk, "Groups", "ward")
    dialog = desk.get_by_role("dialog", name="Sign in to go on")
    dialog.get_by_label("Password").fill("wrong")
    dialog.get_by_role("button", name="Sign in").click()
    expect(desk.get_by_test_id("notice")).to_contain_text("do not go together")
    dialog.get_by_label("Password").fill("correct horse battery")
    dialog.get_by_role("button", name="Sign in").click()
    expect(dialog).to_have_count(0)
    assert eventually(desk, lambda: groups_kept() == "ward")
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_be_visible()


def test_what_is_saved_is_the_form_that_was_just_chosen(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    # Answers come late, in no order.
    desk.evaluate("""
        const whole = window.fetch;
        window.fetch = async (...asked) => {
            await new Promise((done) => setTimeout(done, Math.random() * 600));
            return whole(...asked);
        };
    """)
    for key, form in (("2", "violin"), ("4", "raincloud"), ("1", "box")):
        desk.keyboard.press(key)
        desk.get_by_role("button", name="Export", exact=True).click()
        with desk.expect_download() as saved:
            desk.get_by_role("button", name="Recipe").last.click()
        assert form_of(recipe_from(Path(saved.value.path()).read_bytes())) == form
        desk.keyboard.press("Escape")


def test_a_figure_that_takes_long_is_drawn_in_sight_and_can_be_stopped(
    desk: Page, demo: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    open_demo(desk, demo)
    desk.get_by_role("navigation", name="Forms").get_by_role("button", name="means").click()
    note = desk.get_by_test_id("method-note")
    expect(note).to_contain_text("confidence interval")
    monkeypatch.setattr(scenes, "AT_ONCE", 0.0)
    monkeypatch.setattr(drawings, "_PATIENCE", 0.0)
    monkeypatch.setattr(drawings, "_FORGOTTEN", timedelta(hours=1))
    desk.get_by_label("Line is").select_option(label="bootstrap percentile")
    status = desk.get_by_role("status").filter(has_text="about 1 s")
    expect(status).to_contain_text("takes about 1 s to draw")
    status.get_by_role("button", name="Stop").click()
    expect(status).to_contain_text("Stopped")
    expect(note).to_contain_text("confidence interval")
    status.get_by_role("button", name="Go on").click()
    expect(status.get_by_role("button", name="Stop")).to_be_visible()
    # A worker in the server's own process would take its queue away.
    for drawing in Drawing.objects.filter(state="waiting"):
        drawings.run_drawing(drawing)
    expect(note).to_contain_text("bootstrap interval")
    expect(status).to_have_count(0)
    # Its small picture in the trail came with it.
    expect(desk.get_by_text("not drawn yet")).to_have_count(0)
    desk.reload()
    expect(note).to_contain_text("bootstrap interval")
    # What leaves is made by the worker too, in sight, and can be stopped.
    desk.get_by_role("button", name="Export", exact=True).click()
    dialog = desk.get_by_role("dialog")
    drawn = dialog.get_by_role("region", name="The figure at its true size")
    expect(drawn.get_by_role("status")).to_contain_text("waits its turn")
    _make_files()
    expect(drawn.get_by_role("img")).to_be_visible()
    dialog.get_by_role("button", name="Save SVG").click()
    waits = dialog.get_by_role("status").filter(has_text="waits its turn")
    waits.get_by_role("button", name="Stop").click()
    expect(waits).to_have_count(0)
    with desk.expect_download() as saved:
        dialog.get_by_role("button", name="Save SVG").click()
        expect(waits).to_be_visible()
        _make_files()
    assert saved.value.suggested_filename.endswith(".svg") and "Salivary cortisol" in saved.value.path().read_text()


def _make_files() -> None:
    """What the worker does: one in the server's own process would take its queue away."""
    for job in FileJob.objects.filter(state="waiting"):
        run_file_job(job)
