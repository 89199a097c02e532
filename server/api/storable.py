"""What the database can keep: every text, number and nesting that comes in passes here, and is refused by its path."""

from __future__ import annotations

import re
from typing import Any

from echelle.errors import InputError

MOST_DEPTH = 60
_LARGEST = 2**63
# PostgreSQL keeps no NUL, UTF-8 no half of a surrogate pair.
_UNSTORABLE = re.compile("[\x00\ud800-\udfff]")


class Unstorable(InputError):
    """A request that holds what cannot be kept."""


def must_be_storable(value: Any) -> None:
    """Raises Unstorable with the JSON path of the first text, key or number that cannot be kept."""
    waiting: list[tuple[str, int, Any]] = [("$", 0, value)]
    while waiting:
        path, depth, part = waiting.pop()
        if depth > MOST_DEPTH:
            raise Unstorable("the request is nested too deeply", where=path[:80], remedy=f"Nest at most {MOST_DEPTH} deep.")
        if isinstance(part, dict):
            for key, held in part.items():
                must_be_text(key, path)
                waiting.append((f"{path}.{key}", depth + 1, held))
        elif isinstance(part, list):
            waiting += [(f"{path}[{place}]", depth + 1, held) for place, held in enumerate(part)]
        elif isinstance(part, str):
            must_be_text(part, path)
        elif isinstance(part, int) and not -_LARGEST <= part < _LARGEST:
            raise Unstorable("a whole number has more digits than can be kept", where=path[:80], remedy="Give a smaller one.")


def must_be_text(text: str, where: str) -> None:
    """Raises Unstorable for a text with a character that no text can hold."""
    if (found := _UNSTORABLE.search(text)) is not None:
        what = f"the text holds the character U+{ord(found[0]):04X}, which cannot be kept"
        raise Unstorable(what, where=where[:80], remedy="Take it out.")
