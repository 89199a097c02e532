"""Words to lines that fit, and lines to text parts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from echelle.figures.geometry.frame import MarkOf
from echelle.recipes.markup import without_marks
from echelle.recipes.style import Style
from echelle.scene.models import TextPart, TextRun, round_coordinate
from echelle.scene.typesetting import SetLine, Typesetter, Weight

LEADING = 1.22
# Left, top, right, bottom of a text on the sheet.
Box = tuple[float, float, float, float]
SMALLEST = 5.0


@dataclass(frozen=True)
class Block:
    """Lines of one size and weight, one under another; ``cut`` where not all of the text found room, ``broken`` where a word
    had to be split between lines.
    """

    lines: tuple[str, ...]
    size: float
    weight: Weight
    width: float
    cut: bool = False
    broken: bool = False

    @property
    def height(self) -> float:
        """From the top of the first line to the bottom of the last, in points."""
        return len(self.lines) * self.size * LEADING


class Lettering:
    """Sets a figure's texts in its style, and remembers what no face could write."""

    def __init__(self, typesetter: Typesetter, style: Style) -> None:
        self.typesetter = typesetter
        self.style = style
        self.unwritable: dict[str, None] = {}
        self.faces: dict[str, None] = {}

    def line(self, text: str, size: float, weight: Weight = 400) -> SetLine:
        """One line, set."""
        return self.typesetter(text, self.style.typeface, weight, size)

    def width(self, text: str, size: float, weight: Weight = 400) -> float:
        """The width of one line in points."""
        return self.line(text, size, weight).width

    def _fitting(self, room: float, size: float, weight: Weight) -> Callable[[str], bool]:
        return lambda part: self.width(part, size, weight) <= room

    def block(self, text: str, room: float, size: float, weight: Weight = 400, most: int = 3) -> Block:
        """Wrap ``text`` to ``room`` points; shrink down to 5 pt for at most ``most`` lines, then cut with an ellipsis."""
        while True:
            lines, broken = _wrap(text, self._fitting(room, size, weight))
            if (len(lines) <= most and not broken) or size <= SMALLEST:
                break
            size = max(SMALLEST, size * 0.92)
        cut = len(lines) > most
        if cut:
            lines = lines[:most]
            while lines[-1] and self.width(lines[-1] + "…", size, weight) > room:
                lines[-1] = lines[-1][:-1].rstrip()
            lines[-1] += "…"
        width = max((self.width(line, size, weight) for line in lines), default=0.0)
        return Block(tuple(lines), size, weight, width, cut, broken)

    def put(
        self, mark: MarkOf, panel: str, text: str, x: float, y: float, size: float, fill: str,
        weight: Weight = 400, anchor: float = 0.0, turned: bool = False,
    ) -> TextPart:  # fmt: skip
        """A text part whose baseline passes through (x, y); ``anchor`` is the share of the width before x."""
        set_line = self.line(text, size, weight)
        self.unwritable |= dict.fromkeys(set_line.unwritable)
        self.faces |= dict.fromkeys(run.face for run in set_line.runs)
        back = anchor * set_line.width
        if turned:
            y += back
            box = (x - set_line.ascent, y - set_line.width, x + set_line.descent, y)
        else:
            x -= back
            box = (x, y - set_line.ascent, x + set_line.width, y + set_line.descent)
        runs = [
            TextRun(
                text=r.text,
                face=r.face,
                at=round_coordinate(r.at),
                width=round_coordinate(r.width),
                backwards=r.backwards,
                scale=r.scale,
                rise=round_coordinate(r.rise),
            )
            for r in set_line.runs
        ]
        left, top, right, bottom = map(round_coordinate, box)
        return TextPart(
            **mark.fields(panel), text=without_marks(text), x=round_coordinate(x), y=round_coordinate(y), size=size, fill=fill,
            turn=-90 if turned else 0, runs=runs, box=(left, top, right, bottom),
        )  # fmt: skip

    def put_block(
        self, mark: MarkOf, panel: str, block: Block, x: float, top: float, fill: str, anchor: float = 0.0
    ) -> list[TextPart]:
        """A block's lines as text parts, the first one's top at ``top``."""
        parts = []
        for place, line in enumerate(block.lines):
            baseline = top + block.size * (0.96 + LEADING * place)
            numbered = MarkOf(mark.lane, mark.layer, mark.role, "/".join(p for p in (mark.number, str(place or "")) if p))
            parts.append(self.put(numbered, panel, line, x, baseline, block.size, fill, block.weight, anchor))
        return parts


def _wrap(text: str, fits: Callable[[str], bool]) -> tuple[list[str], bool]:
    """Greedy lines; a word wider than the room is broken between characters. And whether one was."""
    lines: list[str] = []
    broken = False
    line = ""
    for word in text.split():
        joined = f"{line} {word}" if line else word
        if fits(joined):
            line = joined
            continue
        if line:
            lines.append(line)
        while not fits(word) and len(word) > 1:
            size = next((n for n in range(len(word) - 1, 0, -1) if fits(word[:n])), 1)
            broken = True
            lines.append(word[:size])
            word = word[size:]
        line = word
    return ([*lines, line] if line or not lines else lines), broken
