"""Words as they are searched: lower case, without accents, blanks closed up."""

from __future__ import annotations

import re
import unicodedata

_WORD = re.compile(r"[^\W\d_]{4,40}")


def folded(text: str) -> str:
    """The text as search compares it; as long as a database row takes."""
    if text.isascii():
        return " ".join(text.lower().split())
    apart = unicodedata.normalize("NFKD", text.casefold())
    return " ".join("".join(letter for letter in apart if not unicodedata.combining(letter)).split())


def words_of(text: str) -> set[str]:
    """The words of a folded text that may be mistyped: numbers and short words are meant as they are written."""
    return set(_WORD.findall(text))


def may_be_mistyped(word: str) -> bool:
    """Whether a word looked for is such a one."""
    return _WORD.fullmatch(word) is not None
