"""Whom an identifier names, by its own name, and what they are called where it repeats."""

from __future__ import annotations

import re
from dataclasses import dataclass

from echelle.tables.name_words import words_of

_OF_PEOPLE = "participant|patient|person|proband|volunteer|donor"
_PEOPLE = re.compile(rf"\b({_OF_PEOPLE})s?\b", re.I)
_NAMED = re.compile(r"\b(subject|animal|case|specimen|sample)s?\b", re.I)


@dataclass(frozen=True)
class SubjectNoun:
    """One of them, and several after their number: "59 people", "15 × Barcode"."""

    one: str
    many: str


def subject_noun(identifier: str | None) -> SubjectNoun:
    """By the identifier's own name where it does not name people."""
    name = identifier or "participant"
    words = " ".join(words_of(name))
    if _PEOPLE.search(words):
        return SubjectNoun("person", "people")
    if match := _NAMED.search(words):
        lower = match[1].lower()
        return SubjectNoun(lower, f"{lower}s")
    return SubjectNoun(name, f"× {name}")
