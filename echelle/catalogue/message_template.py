"""A message that is said thousands of times."""

from __future__ import annotations

import re
from collections.abc import Sequence

from echelle.catalogue.catalogue import Catalogue, MessageValue

# Letters that no text has, one for each value that differs.
_FIRST = 0xE000
# A number that no message says by itself.
_OTHER = 987_654_321
_PLACE = re.compile("([\ue000-\ue0ff])")


class MessageTemplate:
    """A message with a count and texts that differ each time it is said. It is put together once for each plural form of the
    count and each choice of its other values; it may tell counts by their plural form alone.
    """

    def __init__(self, words: Catalogue, message: str, texts: Sequence[str], count: str = "count") -> None:
        self._words, self._message, self._texts, self._count = words, message, tuple(texts), count
        self._pieces: dict[tuple[str, ...], list[str]] = {}

    def say(self, count: int, *texts: str, **choices: str) -> str:
        """The message with a count, the texts in their order, and choices. Raises as :meth:`Catalogue.say`."""
        key = ("one" if count == 1 else "other", *choices, *choices.values())
        pieces = self._pieces.get(key)
        if pieces is None:
            pieces = self._pieces[key] = self._pieces_of(1 if count == 1 else _OTHER, choices)
        values = (str(count), *texts)
        return "".join([values[ord(piece) - _FIRST] if place % 2 else piece for place, piece in enumerate(pieces)])

    def _pieces_of(self, count: int, choices: dict[str, str]) -> list[str]:
        """What the message says by itself, and between that the letters of what differs."""
        texts = {name: chr(_FIRST + place) for place, name in enumerate(self._texts, 1)}
        values: dict[str, MessageValue] = {self._count: count, **texts, **choices}
        said = self._words.say(self._message, **values)
        return _PLACE.split(said.replace(str(_OTHER), chr(_FIRST)))
