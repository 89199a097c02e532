"""Words as they are searched: lower case, without accents, blanks closed up."""

from __future__ import annotations

import unicodedata


def folded(text: str) -> str:
    """The text as search compares it; as long as a database row takes."""
    apart = unicodedata.normalize("NFKD", text.casefold())
    return " ".join("".join(letter for letter in apart if not unicodedata.combining(letter)).split())
