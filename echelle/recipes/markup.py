"""Simple marks in written words: *italics* (within a word *{i}talics), ^{raised}, _{lowered}; a backslash before a
mark keeps it as it is written.

Inside the layout a mark is a private sign before and after each word, so that lines can break between words.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

_ITALIC, _RAISED, _LOWERED, _END = "\uf8e0", "\uf8e1", "\uf8e2", "\uf8e3"
_SIGNS = str.maketrans("", "", _ITALIC + _RAISED + _LOWERED + _END)
_OF_MARK = {"*": _ITALIC, "^": _RAISED, "_": _LOWERED}
_KEPT = {"*": "\uf8e4", "^": "\uf8e5", "_": "\uf8e6", "\\": "\uf8e7"}
_SLANTED = re.compile(r"(?<![^\W_])(?<!\*)\*(?=[^\s*])([^*]+?)(?<=[^\s*])\*(?![^\W_]|\*)")
_BRACED = re.compile(r"([\^_*])\{([^{}]*)\}")


@dataclass(frozen=True)
class TextStyle:
    """How a piece of text stands: slanted or not, on the baseline (0), raised (1) or lowered (−1)."""

    italic: bool = False
    level: int = 0


PLAIN = TextStyle()


def has_marks(written: str) -> str:
    """Written words with their marks as signs."""
    text = re.sub(r"\\([*^_\\])", lambda match: _KEPT[match[1]], written)
    text = _SLANTED.sub(lambda match: _each_word(match[1], _ITALIC), text)
    text = _BRACED.sub(lambda match: _each_word(match[2], _OF_MARK[match[1]]), text)
    for character, kept in _KEPT.items():
        text = text.replace(kept, character)
    return text


def without_marks(text: str) -> str:
    """Text without signs: what a reader reads."""
    return text.translate(_SIGNS)


def plain(written: str) -> str:
    """Written words without their marks."""
    return without_marks(has_marks(written))


def text_styles(text: str) -> tuple[str, list[TextStyle]]:
    """Text without signs, and the manner of each of its characters."""
    if not any(sign in text for sign in (_ITALIC, _RAISED, _LOWERED)):
        return without_marks(text), []
    kept, result, open_signs = "", list[TextStyle](), list[str]()
    for character in text:
        if character in (_ITALIC, _RAISED, _LOWERED):
            open_signs.append(character)
        elif character == _END:
            del open_signs[-1:]
        else:
            moved = next((sign for sign in reversed(open_signs) if sign != _ITALIC), "")
            result.append(TextStyle(_ITALIC in open_signs, {_RAISED: 1, _LOWERED: -1}.get(moved, 0)))
            kept += character
    return kept, result


def _each_word(text: str, sign: str) -> str:
    return " ".join(f"{sign}{word}{_END}" if word else "" for word in text.split(" "))
