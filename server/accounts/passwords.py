"""A person's password asked for once more, within a session: guessing at it is slowed."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from echelle.errors import InputError
from server.accounts.models import Person
from server.records.models import count_since, record

MOST_WRONG = 10


def must_be_password(person: Person, password: str) -> None:
    """Raises InputError for a wrong one, and for any once too many were tried."""
    if count_since(person.username, "wrong password", timezone.now() - timedelta(hours=1)) >= MOST_WRONG:
        raise InputError("too many wrong passwords were tried", where="password", remedy="Try again in an hour.")
    if not person.check_password(password):
        record(person.username, "wrong password")
        raise InputError("that is not your password", where="password", remedy="Give it again.")
