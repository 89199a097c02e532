"""A report as PDF: the same figures, readings and words as the HTML, on A4 pages."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import datetime

from echelle import RELEASE
from echelle.drawing.cairo import pages_pdf
from echelle.figures.geometry.frame import MarkOf
from echelle.figures.geometry.lettering import Lettering
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import Size, Style, points
from echelle.reports.content import ReportPart, facts_of, ledger_of, sections_of
from echelle.scene.models import Paint, RectPart, Scene, ScenePart
from echelle.scene.pages import PageBlock, PageSize, flow, page_scene
from echelle.scene.typesetting import Typesetter, Weight

_PAGE = PageSize(595.276, 841.89, 42.0)
_ROOM = _PAGE.width - 2 * _PAGE.edge
_LANE = 120.0
# The least and most room that a column of numbers gets.
_LEAST, _MOST = 34.0, 72.0
_TEXT = 8.5
_MOST_LINES = 400


def fit_to_page(recipe: Recipe) -> Recipe:
    """The recipe on a sheet no wider than a page of the report, in its own proportions."""
    width, height = points(recipe.size.width), recipe.size.height
    if width <= _ROOM:
        return recipe
    low = None if height is None else f"{points(height) * _ROOM / width:.3f}pt"
    return recipe.model_copy(update={"size": Size(width=f"{_ROOM:.3f}pt", height=low)})


def report_pdf(
    title: str, parts: Sequence[ReportPart], typesetter: Typesetter, made: datetime | None = None, signed: str = ""
) -> bytes:
    """The report's bytes; figures are drawn by :func:`fit_to_page` recipes, ``signed`` says who locked it. A figure higher
    than a page gets a higher page.
    """
    setter = _Setter(Lettering(typesetter, Style()))
    blocks = [*setter.words(title, 16.0, 700, after=14.0)]
    blocks += setter.words(signed, 9.0, 600, after=10.0) if signed else []
    for number, part in enumerate(parts, 1):
        blocks += setter.part(part, number)
    blocks += setter.words(f"Echelle, release {RELEASE}", 7.0, quiet=True)
    faces = {*setter.letters.faces, *(face for block in blocks for face in block.faces)}
    laid_out = flow(blocks, _PAGE)
    pages = [
        page_scene(parts, _PAGE.width, height, "#FFFFFF", title, f"{title}, page {number} of {len(laid_out)}", faces)
        for number, (parts, height) in enumerate(laid_out, 1)
    ]
    return pages_pdf(pages, title, made=made)


class _Setter:
    """Sets words, figures and tables as blocks; each line is a block, so that a page may end between any two."""

    def __init__(self, letters: Lettering) -> None:
        self.letters = letters

    def part(self, part: ReportPart, number: int) -> Iterator[PageBlock]:
        """A figure and all that is said of it."""
        yield from self.heading(f"{number}. {part.name}", 12.0)
        yield self.figure(part.scene)
        yield from self.heading("Method")
        yield from self.words(part.scene.note, after=6.0)
        yield from self.heading("Readings")
        yield from self.ledger(part.scene)
        for section in sections_of(part):
            if section.lines or section.none:
                yield from self.heading(section.title)
                for place, line in enumerate(section.lines, 1):
                    yield from self.words(f"{place}. {line}")
                if not section.lines:
                    yield from self.words(section.none, quiet=True)
        yield from self.heading("Where it comes from")
        for name, words in facts_of(part):
            yield from self.words(f"{name}: {words}")
        yield PageBlock([], 0.0, 18.0)

    def heading(self, words: str, size: float = 9.5) -> Iterator[PageBlock]:
        """A heading stands on the page of what it heads."""
        yield PageBlock([], 5.0, 0.0, leads=True)
        yield from self.words(words, size, 700, after=2.0, leads=True)

    def words(
        self, text: str, size: float = _TEXT, weight: Weight = 400, after: float = 0.0, quiet: bool = False, leads: bool = False
    ) -> Iterator[PageBlock]:
        """Lines as wide as the page allows."""
        block = self.letters.block(text, _ROOM, size, weight, _MOST_LINES)
        colour = self.letters.style.muted if quiet else self.letters.style.ink
        for place, line in enumerate(block.lines):
            mark = MarkOf("", "report", "caption")
            text_part = self.letters.put(mark, "", line, 0.0, block.size * 0.96, block.size, colour, weight)
            last = place == len(block.lines) - 1
            yield PageBlock([text_part], block.size * 1.3, after if last else 0.0, leads=leads or (not last and place == 0))

    def figure(self, scene: Scene) -> PageBlock:
        """The figure as it is, on its own ground."""
        ground: list[ScenePart] = []
        if scene.ground:
            fields = MarkOf("", "report", "box").fields("")
            ground.append(
                RectPart(**fields, x=0.0, y=0.0, width=scene.width, height=scene.height, paint=Paint(fill=scene.ground))
            )
        return PageBlock([*ground, *scene.parts], scene.height, 4.0, tuple(scene.faces))

    def ledger(self, scene: Scene) -> Iterator[PageBlock]:
        """A line for each lane; more columns than fit go under them, with the lanes again."""
        heads, rows = ledger_of(scene)
        each = int((_ROOM - _LANE) // _LEAST)
        for first in range(1, len(heads), each):
            chosen = slice(first, first + each)
            wide = min((_ROOM - _LANE) / len(heads[chosen]), _MOST)
            yield self.row([heads[0], *heads[chosen]], wide, 600, leads=True)
            for row in rows:
                yield self.row([row[0], *row[chosen]], wide, 400)

    def row(self, cells: Sequence[str], wide: float, weight: Weight, leads: bool = False) -> PageBlock:
        """The lane at the left, numbers at the right ends of their columns."""
        parts: list[ScenePart] = []
        lane, *others = (
            self.letters.block(cell, (wide if place else _LANE) - 4, _TEXT * 0.94, weight, 3)
            for place, cell in enumerate(cells)
        )
        tall = max(block.height for block in (lane, *others))
        ink = self.letters.style.ink
        parts += self.letters.put_block(MarkOf("", "report", "caption", "lane"), "", lane, 0.0, 0.0, ink)
        for place, block in enumerate(others, 1):
            mark = MarkOf("", "report", "caption", str(place))
            parts += self.letters.put_block(mark, "", block, _LANE + place * wide, tall - block.height, ink, 1.0)
        return PageBlock(parts, tall + 1.5, 0.0, leads=leads)
