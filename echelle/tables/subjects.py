"""Whom an identifier names, by its own name, and what they are called where it repeats."""

from __future__ import annotations

import re
from dataclasses import dataclass

_OF_PEOPLE = "participant|patient|person|proband|volunteer|donor"
_PEOPLE = re.compile(rf"\b({_OF_PEOPLE})s?\b", re.I)
_NAMED = re.compile(r"\b(subject|animal|case|specimen|sample)s?\b", re.I)
_SUBJECTS = re.compile(rf"\b({_OF_PEOPLE}|subject|animal)s?\b", re.I)


@dataclass(frozen=True)
class SubjectNoun:
    """One of them, and several after their number: "59 people", "15 × Barcode"."""

    one: str
    many: str


def words_of_name(name: str) -> str:
    """A name's words apart, as "patient_id" and "patientId" have them."""
    return re.sub(r"_|(?<=[a-z])(?=[A-Z])", " ", name)


def names_subjects(name: str) -> bool:
    """Whether a column's name tells of people, animals or subjects, who come back in several rows."""
    return _SUBJECTS.search(words_of_name(name)) is not None


def subject_noun(identifier: str | None) -> SubjectNoun:
    """By the identifier's own name where it does not name people."""
    name = identifier or "participant"
    words = words_of_name(name)
    if _PEOPLE.search(words):
        return SubjectNoun("person", "people")
    if match := _NAMED.search(words):
        lower = match[1].lower()
        return SubjectNoun(lower, f"{lower}s")
    return SubjectNoun(name, f"× {name}")
