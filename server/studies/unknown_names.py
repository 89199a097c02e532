"""People by the name of their account; guessing at names is slowed."""

from __future__ import annotations

import uuid

from echelle.errors import InputError
from server.accounts.models import Person
from server.records.models import must_be_few, record


def person_called(username: str, asked_by: Person, study: uuid.UUID | None = None) -> Person:
    """The person of an account. Raises InputError for a name that nobody has, and for any once too many were tried."""
    must_be_few(asked_by.username, "unknown name", "too many names were tried that nobody has")
    person = Person.objects.filter(username=username.strip(), is_active=True).first()
    if person is None:
        record(asked_by.username, "unknown name", study)
        raise InputError(f"nobody here is called “{username.strip()}”", remedy="Ask for an account for them first.")
    return person
