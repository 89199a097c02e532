"""A person's password asked for once more, within a session: guessing at it is slowed."""

from __future__ import annotations

from echelle.errors import InputError
from server.accounts.models import Person
from server.records.models import must_be_few, record


def must_be_password(person: Person, password: str) -> None:
    """Raises InputError for a wrong one, and for any once too many were tried."""
    must_be_few(person.username, "wrong password", "too many wrong passwords were tried")
    if not person.check_password(password):
        record(person.username, "wrong password")
        raise InputError("that is not your password", where="password", remedy="Give it again.")
