"""What the layout asks of whoever knows the fonts."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, Protocol

from echelle.recipes.style import Typeface

Weight = Literal[400, 600, 700]


@dataclass(frozen=True, kw_only=True)
class SetRun:
    """A piece of a line in one face and direction; ``at`` and ``width`` in points. ``scale`` is times the line's size,
    ``rise`` how far it stands above the baseline, in points.
    """

    text: str
    face: str
    at: float
    width: float
    backwards: bool
    scale: float = 1.0
    rise: float = 0.0


@dataclass(frozen=True)
class SetLine:
    """A line of text in visual order: total width, height above and depth below the baseline, in points.

    ``unwritable`` holds the characters that no face can write.
    """

    runs: tuple[SetRun, ...]
    width: float
    ascent: float
    descent: float
    unwritable: str


class Typesetter(Protocol):
    """Sets one line of text in a typeface, weight and size; signs of :mod:`echelle.recipes.markup` slant, raise and lower."""

    def __call__(self, text: str, typeface: Typeface, weight: Weight, size: float) -> SetLine:
        """The line with its measures."""
        ...
