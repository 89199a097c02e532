"""A study as a home: everything found again, many figures at once, next month's file, people who come and go, remarks."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from scripts.year_store import fill
from server.accounts.models import Person
from server.comparisons.models import Comparison, Remark
from server.file_jobs.models import FileJob
from server.file_jobs.services import run_file_job
from server.studies.models import Invitation, Membership, Study
from tests.journeys.conftest import enter, eventually, link_of, open_demo, paste
from tests.journeys.test_accessible import nothing_serious

DEMO = "Night work and cortisol"


def test_a_study_lists_all_it_holds_and_is_kept_in_order(desk: Page, demo: str) -> None:
    enter(desk, demo)
    desk.get_by_role("link", name=DEMO).click()
    expect(desk.get_by_role("heading", name=DEMO)).to_be_visible()
    cards = desk.get_by_role("region", name="Comparisons").get_by_role("listitem")
    expect(cards).to_have_count(4)
    search = desk.get_by_label("Search comparisons")
    search.fill("waking level")
    expect(cards).to_have_count(1)
    search.fill("nothing like it")
    expect(desk.get_by_text("Nothing here has “nothing like it” in it.")).to_be_visible()
    search.fill("")
    desk.get_by_label("Only of one table").select_option("samples.csv")
    expect(cards).to_have_count(2)
    desk.get_by_role("button", name="Show all again").click()
    # Names are written anew where they stand, notes too.
    desk.get_by_role("button", name="Rename Waking level by shift").click()
    desk.get_by_label("Name of the comparison").fill("Waking, as submitted")
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("link", name="Waking, as submitted", exact=True)).to_be_visible()
    desk.get_by_role("button", name="Write notes of the study").click()
    desk.get_by_label("Notes of the study").fill("Ask **Harbour** <b>again</b>")
    desk.keyboard.press("Control+Enter")
    expect(desk.locator("strong", has_text="Harbour")).to_be_visible()
    expect(desk.get_by_text("<b>again</b>")).to_be_visible()
    # Put away, and taken back.
    desk.get_by_role("button", name="Archive: Waking, as submitted").click()
    expect(cards).to_have_count(3)
    desk.get_by_role("button", name="Archive 1").click()
    desk.get_by_role("button", name="Take back: Waking, as submitted").click()
    expect(desk.get_by_text("Nothing is archived")).to_be_visible()
    desk.get_by_role("button", name="In work 4").click()
    desk.get_by_role("button", name="As a list").click()
    expect(cards).to_have_count(4)
    desk.get_by_role("link", name="Waking, as submitted", exact=True).click()
    desk.get_by_test_id("method-note").wait_for()
    desk.get_by_role("banner").get_by_role("link", name=DEMO).click()
    expect(search).to_be_visible()


def test_a_years_store_is_searched_and_twenty_figures_restyled_and_exported(desk: Page, demo: str, tmp_path: Path) -> None:
    owner = Person.objects.get(username="demo")
    [study, *_] = fill(owner, studies=2, comparisons=120, states=120)
    enter(desk, demo)
    desk.keyboard.press("/")
    desk.keyboard.type("recalibratoin")
    finds = desk.get_by_role("region", name="Found")
    expect(finds.get_by_role("listitem").first).to_contain_text("after recalibration")
    desk.get_by_label("Search everything").fill(study.name)
    finds.get_by_role("link", name=study.name, exact=True).click()
    region = desk.get_by_role("region", name="Comparisons")
    expect(desk.get_by_text("Choose all 60")).to_be_visible()
    # Of a long list only what is in sight stands on the page.
    assert 0 < region.get_by_role("listitem").count() < 45
    # Twenty of them and a few more: those of one table.
    desk.get_by_label("Only of one table").select_option(index=1)
    choice = desk.get_by_label(re.compile(r"^Choose all \d+$"))
    choice.check()
    of = int(desk.get_by_text(re.compile(r"^\d+ of \d+ chosen$")).inner_text().split()[0])
    assert 20 <= of < 60
    Study.objects.filter(pk=study.pk).update(house={"typeface": "Inter"})
    Comparison.objects.filter(study=study).update(kept_style={})
    desk.get_by_role("button", name="Take the newest style").click()
    expect(desk.get_by_text(f"Drawn in the newest style: {of} of {of}")).to_be_visible()
    assert Comparison.objects.filter(study=study, kept_style__isnull=True).count() == of
    with desk.expect_download(timeout=120_000) as saved:
        desk.get_by_role("button", name="Export").click()
        desk.get_by_role("menuitem", name=re.compile("^SVG")).click()
        assert eventually(desk, FileJob.objects.exists)
        run_file_job(FileJob.objects.get())
    path = tmp_path / "figures.zip"
    saved.value.save_as(path)
    with zipfile.ZipFile(io.BytesIO(path.read_bytes())) as made:
        assert len(made.namelist()) == of and all(name.endswith(".svg") for name in made.namelist())


NEXT = "Participant\tShift pattern\tCortisol (nmol/L)\n" + "".join(
    f"N-{i:03d}\t{['Day', 'Evening', 'Night'][i % 3]}\t{6 + (i * 7) % 23 / 2}\n" for i in range(60)
)


def test_next_months_file_is_asked_last_months_question(desk: Page, demo: str) -> None:
    enter(desk, demo)
    desk.get_by_role("link", name=DEMO).click()
    desk.get_by_role("heading", name=DEMO).wait_for()
    paste(desk, NEXT)
    desk.get_by_test_id("method-note").wait_for()
    desk.get_by_role("link", name="Echelle: all studies").click()
    desk.get_by_role("link", name="Waking level by shift").first.click()
    desk.get_by_test_id("method-note").wait_for()
    desk.get_by_role("button", name="More", exact=True).click()
    desk.get_by_role("menuitem", name="The same question of another table").click()
    desk.get_by_role("dialog").get_by_role("button", name=re.compile("^pasted cells")).first.click()
    said = desk.get_by_role("list", name="What did not fit as it was")
    expect(said).to_contain_text("“cortisol” is “Cortisol” there.")
    expect(said).to_contain_text("All rows are kept whatever “sample” was")
    desk.get_by_role("button", name="Open it").click()
    expect(desk.get_by_role("heading", name="Waking level by shift, pasted cells")).to_be_visible()
    expect(desk.get_by_role("button", name="Measure: Cortisol")).to_be_visible()
    # Each table says what is drawn from it.
    desk.get_by_role("banner").get_by_role("link", name=DEMO).click()
    desk.get_by_role("tab", name="Tables").click()
    table = desk.get_by_role("rowgroup").filter(has_text="pasted cells").last
    table.get_by_role("button", name="Drawn from it").click()
    table.get_by_role("link", name="Waking level by shift, pasted cells").click()
    expect(desk.get_by_role("button", name="Measure: Cortisol")).to_be_visible()


def test_a_person_is_invited_made_signer_and_removed(desk: Page, demo: str, browser: Browser, address: str) -> None:
    enter(desk, demo)
    desk.get_by_role("link", name=DEMO).click()
    desk.get_by_role("tab", name="People").click()
    invite = desk.get_by_role("region", name="Invite")
    invite.get_by_label("Whom the link is for").fill("Mira of the night shift")
    invite.get_by_label("Role of whoever comes").select_option("reader")
    invite.get_by_role("button", name="Make the link").click()
    link = invite.get_by_label("Address of the invitation").input_value()
    expect(invite.get_by_role("list", name="Open invitations")).to_contain_text("Mira of the night shift as reader")
    other = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    other.goto(link)
    expect(other.get_by_text("Demo Analyst invites you to this study as reader")).to_be_visible()
    for label, text in {"Name to sign in with": "mira", "First name": "Mira", "Last name": "Vale"}.items():
        other.get_by_label(label).fill(text)
    for field in ("Password", "Password confirmation"):
        other.get_by_label(field, exact=True).fill("harbour-ridge-valley")
    other.get_by_role("button", name="Make the account and come in").click()
    expect(other.get_by_role("heading", name=DEMO)).to_be_visible()
    # A reader sees rows, and finds nothing to change.
    expect(other.get_by_role("button", name=re.compile("^Archive: "))).to_have_count(0)
    other.get_by_role("link", name="Open Waking level by shift").click()
    other.get_by_test_id("method-note").wait_for()
    expect(other.get_by_role("button", name="Undo")).to_be_disabled()
    other.get_by_role("button", name=re.compile("^Remarks")).click()
    other.get_by_label("A remark").fill("Is Night complete?")
    other.get_by_label("What the remark is on").select_option("Night")
    other.get_by_role("button", name="Say it").click()
    expect(other.get_by_text("Is Night complete?")).to_be_visible()
    assert not Invitation.objects.exists()
    # Its owner answers, sees who is there, makes a signer of them, takes them out.
    desk.reload()
    people = desk.get_by_role("region", name="People")
    people.get_by_role("listitem").filter(has_text="Mira Vale").get_by_label("may sign off").click()
    assert eventually(desk, lambda: Membership.objects.get(person__username="mira").may_sign)
    desk.get_by_role("tab", name="Comparisons").click()
    expect(desk.get_by_text("1 open remark", exact=True)).to_be_visible()
    desk.get_by_role("link", name="Open Waking level by shift").click()
    expect(desk.get_by_text("Mira Vale too")).to_be_visible()
    desk.get_by_role("button", name="Remarks 1").click()
    desk.get_by_label(re.compile("^Answer to")).fill("Yes, since Monday")
    desk.get_by_role("button", name="Answer", exact=True).click()
    desk.get_by_role("button", name="Settled").click()
    expect(desk.get_by_text("settled by Demo Analyst")).to_be_visible()
    assert Remark.objects.count() == 2
    desk.keyboard.press("Escape")
    desk.get_by_role("banner").get_by_role("link", name=DEMO).click()
    desk.get_by_role("tab", name="Remarks").click()
    desk.get_by_text("Settled: 1").click()
    expect(desk.get_by_role("list", name="Settled remarks")).to_contain_text("Is Night complete?")
    nothing_serious(desk)
    desk.get_by_role("tab", name="People").click()
    desk.get_by_role("button", name="Take out mira").click()
    expect(desk.get_by_text("Mira Vale")).to_have_count(0)
    # With a team they come back, and go with it.
    desk.get_by_role("button", name="Let a team in, or make one").click()
    teams = desk.get_by_role("dialog", name="Your teams")
    teams.get_by_label("Name of a new team").fill("Night shift")
    teams.get_by_role("button", name="Make it").click()
    teams.get_by_label("Another person of Night shift").fill("mira")
    teams.get_by_role("button", name="Add", exact=True).click()
    expect(teams.get_by_role("button", name="Take mira out of Night shift")).to_be_visible()
    nothing_serious(desk)
    teams.get_by_role("button", name="Let in as viewers").click()
    expect(teams.get_by_text("in this study")).to_be_visible()
    desk.keyboard.press("Escape")
    desk.get_by_label("Role of the team Night shift").select_option("reader")
    expect(desk.get_by_text("reader: sees figures and rows · with the team Night shift")).to_be_visible()
    other.goto(address)
    expect(other.get_by_role("link", name=DEMO).first).to_be_visible()
    desk.get_by_role("button", name="Take out the team Night shift").click()
    expect(desk.get_by_text("Mira Vale")).to_have_count(0)
    other.goto(address)
    expect(other.get_by_text("No study yet")).to_be_visible()
    other.context.close()


def test_a_new_person_is_led_and_helped(desk: Page, demo: str) -> None:
    enter(desk, demo)
    desk.get_by_role("button", name="Show me").click()
    desk.get_by_test_id("method-note").wait_for()
    steps = desk.get_by_role("status", name="A short way in")
    expect(steps).to_contain_text("1 of 5")
    desk.get_by_role("navigation", name="Forms").get_by_role("button", name="strip").click()
    expect(steps).to_contain_text("2 of 5")
    for _ in range(4):
        steps.get_by_role("button", name="Next").click()
    expect(steps).to_contain_text("That was the way")
    steps.get_by_role("button", name="Close").click()
    assert eventually(desk, lambda: not Person.objects.get(username="demo").first_steps)
    desk.keyboard.press("Shift+?")
    help_page = desk.get_by_role("dialog", name="Help: comparing")
    expect(help_page).to_contain_text("the part of the figure that belongs to one group")
    expect(help_page.get_by_role("img").first).to_be_visible()
    desk.keyboard.press("Escape")
    desk.get_by_role("link", name="Echelle: all studies").click()
    expect(desk.get_by_role("button", name="Show me")).to_have_count(0)
    expect(desk.get_by_role("region", name="Open last").get_by_role("link")).to_have_count(1)
    desk.keyboard.press("Shift+?")
    expect(desk.get_by_role("dialog", name="Help: studies")).to_contain_text("A typing error is forgiven")


def test_a_comparison_is_pinned_tagged_binned_and_a_study_erased_by_its_name(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("button", name="More", exact=True).click()
    desk.get_by_role("menuitem", name=re.compile("^Pin it")).click()
    desk.get_by_role("button", name="More", exact=True).click()
    desk.get_by_role("menuitem", name=re.compile("^Notes, tags")).click()
    desk.get_by_label("Another tag").fill("audit")
    desk.get_by_role("button", name="Tag it").click()
    expect(desk.get_by_role("button", name="Take off the tag audit")).to_be_visible()
    desk.keyboard.press("Escape")
    desk.get_by_role("banner").get_by_role("link", name=DEMO).click()
    desk.get_by_role("button", name="To the bin: Waking level by shift").click()
    desk.get_by_role("button", name="Bin 1").click()
    expect(desk.get_by_text("What lies here for 30 days is erased for good.")).to_be_visible()
    desk.get_by_role("link", name="Open Waking level by shift").click()
    expect(desk.get_by_text("lies in the bin")).to_be_visible()
    expect(desk.get_by_role("button", name="Undo")).to_be_disabled()
    desk.get_by_role("button", name="Take it back").click()
    expect(desk.get_by_text("lies in the bin")).to_have_count(0)
    desk.get_by_role("banner").get_by_role("link", name=DEMO).click()
    desk.get_by_role("tab", name="People").click()
    desk.get_by_role("button", name="Erase the study for good").click()
    dialog = desk.get_by_role("dialog")
    expect(dialog).to_contain_text("4 comparisons, 3 tables")
    erase = dialog.get_by_role("button", name="Erase it for good")
    expect(erase).to_be_disabled()
    dialog.get_by_label("The study’s name").fill(DEMO)
    erase.click()
    expect(desk.get_by_text("No study yet")).to_be_visible()
    assert not Study.objects.exists()


def test_a_stranger_is_told_nothing_of_a_study_by_its_address(desk: Page, demo: str, address: str) -> None:
    Person.objects.create(username="other")
    enter(desk, link_of("other", address))
    desk.goto(f"{address}/studies/{Study.objects.get().pk}")
    expect(desk.get_by_text("There is nothing here for you")).to_be_visible()
