"""What they are called whom an identifier names, where it repeats."""

from __future__ import annotations

import re
from dataclasses import dataclass

from echelle.tables.kinds import words_of_name

_PEOPLE = re.compile(r"\b(participant|patient|person|people|proband|volunteer|donor)s?\b", re.I)
_NAMED = re.compile(r"\b(subject|animal|case|specimen|sample)s?\b", re.I)


@dataclass(frozen=True)
class Called:
    """One of them, and several after their number: "59 people", "15 × Barcode"."""

    one: str
    many: str


def called(identifier: str | None) -> Called:
    """By the identifier's own name where it does not name people."""
    name = identifier or "participant"
    words = words_of_name(name)
    if _PEOPLE.search(words):
        return Called("person", "people")
    if found := _NAMED.search(words):
        one = found[1].lower()
        return Called(one, f"{one}s")
    return Called(name, f"× {name}")
