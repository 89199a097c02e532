"""A person's own sessions and sign-ins."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth import update_session_auth_hash
from django.contrib.sessions.models import Session
from django.db.models import QuerySet
from django.http import HttpRequest
from django.utils import timezone

from server.accounts.models import OpenSession, Person
from server.records.models import RecordLine

MOST_SIGN_INS = 10
_BROWSERS = {"Edg": "Edge", "OPR": "Opera", "Firefox": "Firefox", "Chrome": "Chrome", "Safari": "Safari"}
_SYSTEMS = {"Windows": "Windows", "Android": "Android", "iPhone|iPad": "iOS", "Mac OS": "macOS", "Linux": "Linux"}


@dataclass(frozen=True)
class ShownSession:
    """A session that is open: its number, in which browser, since when, and whether it is the one that asks."""

    number: int
    browser: str
    began: datetime
    here: bool


def browser_of(agent: str) -> str:
    """A browser's own words in a few: "Firefox on Linux"."""
    browser = next((name for mark, name in _BROWSERS.items() if f"{mark}/" in agent), "a browser")
    system = next((name for mark, name in _SYSTEMS.items() if re.search(mark, agent)), "")
    return f"{browser} on {system}" if system else browser


def sessions_of(person: Person, here: str | None) -> list[ShownSession]:
    """The person's open sessions, the newest first."""
    held = OpenSession.objects.filter(person=person)
    valid = set(
        Session.objects.filter(session_key__in=held.values("key"), expire_date__gt=timezone.now()).values_list("pk", flat=True)
    )
    return [
        ShownSession(number=session.pk, browser=session.browser, began=session.began, here=session.key == here)
        for session in held.order_by("-began")
        if session.key in valid
    ]


def end_session(person: Person, number: str) -> None:
    """End one of the person's own sessions; nothing happens for another's."""
    session = OpenSession.objects.filter(person=person, pk=number).first() if number.isdecimal() and len(number) < 12 else None
    if session is not None:
        Session.objects.filter(pk=session.key).delete()
        session.delete()


def end_sessions(held: QuerySet[OpenSession]) -> None:
    """End sessions at once."""
    Session.objects.filter(session_key__in=held.values("key")).delete()
    held.delete()


def end_other_sessions(person: Person, request: HttpRequest) -> None:
    """End all sessions of the person but the one that asks, which goes on under a new key."""
    end_sessions(OpenSession.objects.filter(person=person).exclude(key=request.session.session_key))
    here = OpenSession.objects.filter(key=request.session.session_key).first()
    update_session_auth_hash(request, person)
    if here is not None and request.session.session_key:
        here.key = request.session.session_key
        here.save(update_fields=["key"])


def sign_ins_of(username: str) -> list[RecordLine]:
    """The last sign-ins and failures under a name, newest first."""
    lines = RecordLine.objects.filter(person=username, what__in=["signed in", "sign-in failed", "locked out"])
    return list(lines.order_by("-at")[:MOST_SIGN_INS])
