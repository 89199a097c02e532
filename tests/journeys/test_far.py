"""A far table is compared like any other: brought by name, counted in sight, stopped and gone on with, exported whole."""

from __future__ import annotations

import json
from pathlib import Path

from django.core.management import call_command
from playwright.sync_api import Page, expect

from demo.network import write_network
from server.sources.services import read_source
from server.tables.models import Counting, ReadingJob
from server.tables.services.cache import table_of
from server.tables.services.counting import run_counting
from tests.journeys.conftest import begin_session, choose, full_reading
from tests.support.command import run


def work() -> None:
    """What the worker does with what waits for it, here: a worker in the server's own process would take its queue away."""
    for job in ReadingJob.objects.filter(state="waiting"):
        read_source(job)
    for counting in Counting.objects.filter(state="waiting"):
        run_counting(counting, table_of(counting.table))


def test_a_network_of_analysers_is_compared_where_its_files_lie(desk: Page, demo: str, tmp_path: Path) -> None:
    write_network(tmp_path, 40_000)
    call_command("source", "open", "Analyser network", str(tmp_path), person=["demo"])
    desk.goto(begin_session(desk, demo))
    desk.get_by_role("button", name="Bring a table").click()
    desk.get_by_role("button", name="Analyser network").click()
    expect(desk.get_by_text("is being read")).to_be_visible()
    work()
    note, status = desk.get_by_test_id("method-note"), desk.get_by_role("status").filter(has_text="of 40 files")
    # The page asks once the files are listed; the worker that listed them may be there still.
    expect(note.or_(status)).to_be_visible()
    if status.is_visible():
        work()
    expect(note).to_contain_text("40000 rows in 40 files")
    expect(status).to_have_count(0)
    # Another question is counted in sight; the figure waits for its files.
    choose(desk, "Groups", "site")
    expect(status).to_contain_text("0 of 40 files are counted")
    status.get_by_role("button", name="Stop").click()
    expect(status).to_contain_text("Stopped")
    status.get_by_role("button", name="Go on").click()
    expect(status.get_by_role("button", name="Stop")).to_be_visible()
    work()
    expect(note).to_contain_text("Meadow")
    expect(status).to_have_count(0)
    desk.keyboard.press("4")
    expect(note).to_contain_text("some of the values")
    told = run("describe", tmp_path, "--measure", "glucose", "--groups", "site", "--json", check=True)
    for lane in json.loads(told.stdout)["lanes"]:
        assert float(full_reading(desk, lane["group"], "Median")) == lane["median"]
    desk.get_by_role("button", name="Export").click()
    dialog = desk.get_by_role("dialog")
    with desk.expect_download() as saved:
        dialog.get_by_role("button", name="SVG").first.click()
    assert b"Meadow" in saved.value.path().read_bytes()
    desk.keyboard.press("Escape")
    # The table bench shows a sample and says so; a step's rows are an estimate of all.
    desk.get_by_role("link", name="Analyser network").last.click()
    expect(desk.get_by_text("Here stands a sample of")).to_be_visible()
    with desk.expect_response(lambda response: "look-again" in response.url):
        desk.get_by_role("button", name="Look for new files").click()
    work()
    expect(desk.get_by_test_id("notice")).to_contain_text("No file came since")
