"""Where the words over brackets stand, so that none runs over another."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from echelle.figures.geometry.frame import Frame, MarkOf
from echelle.figures.geometry.label_places import LabelPlaces
from echelle.figures.geometry.lettering import LEADING, SMALLEST, Box, Lettering
from echelle.scene.models import TextPart

FOOT = 4.0
_OVER_LINE = 2.5
_APART = 1.5
# How far letters reach over and under their baseline, as shares of their size.
_OVER, _UNDER = 0.95, 0.24


@dataclass(frozen=True)
class BracketPlace:
    """A bracket in its panel: the place of its line along the axis, its ends across, and what it says."""

    at: float
    start: float
    end: float
    words: str


@dataclass(frozen=True)
class BracketWords:
    """Lines of words at one size, each with its middle at ``middle``, a place across."""

    lines: tuple[str, ...]
    size: float
    middle: float


def word_room(size: float) -> float:
    """From a bracket to the one over it, where a line of words stands between them, in points."""
    return _OVER_LINE + size * _OVER + FOOT + 1.0


def place_words(standing: Sequence[BracketPlace], frame: Frame, letters: Lettering, size: float) -> list[BracketWords | None]:
    """The words of each bracket: all in one size and on as many lines, the largest at which none touches another; where none
    is small enough, that which leaves the fewest out, with None for those.
    """
    best: list[BracketWords | None] = [None] * len(standing)
    for smaller in _sizes(size):
        for two in (False, True):
            result = _try_size(standing, frame, letters, smaller, two)
            if None not in result:
                return result
            best = min(best, result, key=lambda words: words.count(None))
    return best


def _sizes(size: float) -> Iterator[float]:
    while size > SMALLEST:
        yield size
        size *= 0.92
    yield min(size, SMALLEST)


def _try_size(
    standing: Sequence[BracketPlace], frame: Frame, letters: Lettering, size: float, two: bool
) -> list[BracketWords | None]:
    out, edge = (1.0, frame.left + frame.width) if frame.runs == "across" else (-1.0, frame.top)
    start, room = (frame.top, frame.height) if frame.runs == "across" else (frame.left, frame.width)
    taken = LabelPlaces(_box(bracket.at - out * FOOT, bracket.at, bracket.start, bracket.end) for bracket in standing)
    words: list[BracketWords | None] = []
    for item in standing:
        lines = _two_lines(item.words) if two else (item.words,)
        half = max(letters.width(line, size) for line in lines) / 2
        middle = min(max((item.start + item.end) / 2, start + half), start + room - half)
        near = 0.0 if frame.runs == "across" else _OVER_LINE - _UNDER * size
        far = near + size * (_OVER + _UNDER + LEADING * (len(lines) - 1))
        box = _box(item.at + out * near, item.at + out * far, middle - half - _APART, middle + half + _APART)
        inside = out * (edge - item.at) >= far - 1.0 and 2 * half <= room
        words.append(BracketWords(lines, size, middle) if inside and taken.claim(box) else None)
    return words


def _box(near: float, far: float, start: float, end: float) -> Box:
    return min(near, far), start, max(near, far), end


def _two_lines(words: str) -> tuple[str, ...]:
    """The p-value, or else the interval, on a line of its own."""
    parts = re.split(r", (?=p |no p)", words)
    return tuple(parts if len(parts) > 1 else re.split(r" (?=\()", words))


def draw_words(
    placed: BracketWords, bracket: BracketPlace, frame: Frame, letters: Lettering, mark: MarkOf, ink: str
) -> list[TextPart]:  # fmt: skip
    """The lines as text parts; turned where the axis runs across."""
    parts = []
    turned = frame.runs == "across"
    for i, line in enumerate(placed.lines):
        numbered = MarkOf(mark.lane, mark.layer, mark.role, f"{mark.number}/{i}" if i else mark.number)
        if turned:
            x, y = bracket.at + placed.size * (_OVER + LEADING * i), placed.middle
        else:
            x, y = placed.middle, bracket.at - _OVER_LINE - placed.size * LEADING * (len(placed.lines) - 1 - i)
        parts.append(letters.put(numbered, frame.key, line, x, y, placed.size, ink, anchor=0.5, turned=turned))
    return parts
