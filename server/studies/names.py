"""Names that people give."""

from __future__ import annotations

from echelle.errors import InputError

MOST_LETTERS = 200


def named(text: str, what: str) -> str:
    """A name as it is kept: blanks closed up, cut to its room. Raises InputError for none."""
    name = " ".join(text.split())[:MOST_LETTERS]
    if not name:
        raise InputError(f"a {what} needs a name", remedy="Give it one.")
    return name
