"""Sign-ins and failures, as they go into the record of access."""

from __future__ import annotations

from typing import Any

from axes.signals import user_locked_out
from django.contrib.auth.signals import user_logged_in, user_logged_out, user_login_failed
from django.dispatch import receiver
from django.http import HttpRequest

from server.accounts.models import OpenSession, Person
from server.accounts.sessions import browser_of
from server.records.models import record


@receiver(user_logged_in)
def signed_in(user: Person, request: HttpRequest, **_: Any) -> None:
    """Somebody came in."""
    browser = browser_of(request.META.get("HTTP_USER_AGENT", ""))
    record(user.username, "signed in", browser=browser)
    if request.session.session_key:
        OpenSession.objects.update_or_create(key=request.session.session_key, defaults={"person": user, "browser": browser})


@receiver(user_logged_out)
def signed_out(user: Person | None, **_: Any) -> None:
    """Somebody left."""
    if user is not None:
        record(user.username, "signed out")


@receiver(user_login_failed)
def sign_in_failed(credentials: dict[str, Any], **_: Any) -> None:
    """Somebody tried with a wrong name or password."""
    record(str(credentials.get("username", "")), "sign-in failed")


@receiver(user_locked_out)
def locked_out(username: str | None, **_: Any) -> None:
    """A name from one address is locked out for a while."""
    record(str(username or ""), "locked out")
