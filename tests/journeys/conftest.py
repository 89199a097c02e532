"""A browser at a real server. A message of the security policy or an error in the page fails the journey."""

from __future__ import annotations

import json
import re
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from tempfile import NamedTemporaryFile
from typing import Any

import pytest
from django.conf import settings
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore
from django.core.management import call_command
from django.core.signals import request_finished, request_started
from playwright.sync_api import Page, expect

from server.accounts.models import OneTimeLink, Person
from server.comparisons.models import Comparison, TrailEntry
from tests.support.command import run
from tests.support.read_once import read_once  # noqa: F401

ROOT = Path(__file__).resolve().parents[2]
# Machines that run tests may be slow for a while; a journey is about what happens, not how fast.
expect.set_options(timeout=30_000)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, object]:
    """Debian's Chromium, with the scroll bars that people have."""
    flags = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync"]
    return {"executable_path": "/usr/bin/chromium", "args": flags, "ignore_default_args": ["--hide-scrollbars"]}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, object]:
    """The size that screens are designed at."""
    return {"viewport": {"width": 1280, "height": 800}, "reduced_motion": "reduce", "accept_downloads": True}


@pytest.fixture(autouse=True)
def no_request_left(live_server) -> Iterator[None]:
    """The database is emptied after a journey: not while an answer that nobody waits for any more still reads it."""
    changed = threading.Condition()
    underway = 0

    def count(by: int) -> None:
        nonlocal underway
        with changed:
            underway += by
            changed.notify_all()

    def begin(**_: object) -> None:
        count(1)

    def end(**_: object) -> None:
        count(-1)

    request_started.connect(begin)
    request_finished.connect(end)
    yield
    with changed:
        changed.wait_for(lambda: underway <= 0, timeout=20)
    request_started.disconnect(begin)
    request_finished.disconnect(end)


@pytest.fixture
def desk(page: Page) -> Iterator[Page]:
    """A page that must stay free of errors; refused requests (4xx) are the journey's own business."""
    troubles: list[str] = []
    page.on("pageerror", lambda error: troubles.append(str(error)))
    page.on("console", lambda said: said.type == "error" and "status of 4" not in said.text and troubles.append(said.text))
    page.set_default_timeout(45_000)
    yield page
    assert not troubles, troubles


@pytest.fixture
def address(live_server) -> str:
    """Where the server answers."""
    return str(live_server.url)


@pytest.fixture
def demo(db, address: str) -> str:
    """The demo, and a one-time link of the demo analyst."""
    call_command("load_demo")
    return link_of("demo", address)


def link_of(username: str, address: str) -> str:
    """A one-time link that signs a person in."""
    return f"{address}/enter/{OneTimeLink.make(Person.objects.get(username=username), OneTimeLink.Purpose.ENTER)}"


PASSWORD = "correct horse battery"


def sign(page: Page) -> None:
    """Give the demo analyst's signature in the open dialog; without a password there is none."""
    person = Person.objects.get(username="demo")
    person.set_password(PASSWORD)
    person.save()
    # The password ends the session: it is opened again over the page.
    page.get_by_role("dialog").get_by_label("Your password").fill(PASSWORD)
    page.get_by_role("button", name="Sign and lock").click()
    again = page.get_by_role("dialog", name="Sign in to go on")
    again.get_by_label("Password").fill(PASSWORD)
    again.get_by_role("button", name="Sign in").click()
    again.wait_for(state="detached")
    page.get_by_role("button", name="Sign and lock").click()


def enter(page: Page, link: str) -> None:
    """Sign in by the link."""
    page.goto(link)
    page.get_by_role("button", name="Open Echelle").click()
    page.get_by_role("heading", name="Studies").wait_for()


def begin_session(page: Page, link: str) -> str:
    """Sign in whom the link is for, without a page, and say where the server is: how one signs in has journeys of its own."""
    address, _, secret = link.partition("/enter/")
    given, session = OneTimeLink.find(secret), SessionStore()
    assert given is not None
    person = given.person
    session[SESSION_KEY], session[BACKEND_SESSION_KEY] = str(person.pk), "django.contrib.auth.backends.ModelBackend"
    session[HASH_SESSION_KEY] = person.get_session_auth_hash()
    session.save()
    page.context.add_cookies([{"name": settings.SESSION_COOKIE_NAME, "value": str(session.session_key), "url": address}])
    return address


def open_demo(page: Page, link: str) -> None:
    """Open the comparison that the demo begins with, signed in."""
    address = begin_session(page, link)
    page.goto(f"{address}/comparisons/{Comparison.objects.get(name='Waking level by shift').pk}")
    page.get_by_test_id("method-note").wait_for()
    # A new server works out its forms once; until they stand there, no key chooses one.
    page.get_by_role("navigation", name="Forms").wait_for()


def eventually(page: Page, holds: Callable[[], bool]) -> bool:
    """Whether something comes to hold: what is shown is kept a moment later."""
    for _ in range(150):
        if holds():
            return True
        page.wait_for_timeout(200)
    return holds()


def last_recipe() -> dict[str, Any]:
    """The recipe that was kept last."""
    return dict(TrailEntry.objects.order_by("-id")[0].recipe)


def reading(page: Page, lane: str, name: str) -> str:
    """A number of the ledger beside the lanes."""
    return page.get_by_role("row", name=lane, exact=True).locator(f"[data-reading='{name}']").inner_text()


def full_reading(page: Page, lane: str, name: str) -> str:
    """The same number in full digits."""
    cell = page.get_by_role("row", name=lane, exact=True).locator(f"[data-reading='{name}']")
    return str(cell.get_attribute("title"))


def choose(page: Page, word: str, column: str) -> None:
    """Change a word of the sentence by mouse."""
    page.get_by_role("button", name=re.compile(f"^{word}:")).click()
    page.get_by_role("listbox", name=word).get_by_role("option").filter(has_text=column).first.click()


def described(table: str | Path, measure: str, groups: str, keep: dict[str, str] | None = None) -> dict[str, dict]:
    """The lanes of ``echelle describe``, by group: of a demo table by name, or of any file; ``keep`` one level a column."""
    words = ["describe", str(ROOT / "demo" / table), "--measure", measure, "--groups", groups, "--json", "--all-readings"]
    with NamedTemporaryFile("w", suffix=".json") as steps:
        json.dump([{"step": "keep", "where": {"column": c, "is": [level]}} for c, level in (keep or {}).items()], steps)
        steps.flush()
        words += ["--preparation", steps.name]
        done = run(*words, check=True)
    return {lane["group"]: lane for lane in json.loads(done.stdout)["lanes"]}


def paste(page: Page, text: str) -> None:
    """Paste cells as the clipboard gives them."""
    page.evaluate(
        """(text) => {
            const data = new DataTransfer();
            data.setData("text/plain", text);
            document.body.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true }));
        }""",
        text,
    )
