"""Figures to lettered pages."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from echelle.errors import InputError
from echelle.figures.compose import compose, reader_key
from echelle.figures.frame import MarkOf
from echelle.figures.lanes import Arrangement
from echelle.figures.lettering import Lettering
from echelle.figures.moving import moved
from echelle.figures.pages import PageBlock, PageSize, flowed, page_scene
from echelle.figures.plan import MARGIN
from echelle.figures.scene import Scene, ScenePart
from echelle.figures.typesetting import Typesetter
from echelle.folios.models import PAGES, FolioPage
from echelle.recipes.looks import ReaderKey, Size
from echelle.recipes.markup import marked, plain
from echelle.recipes.models import Recipe
from echelle.recipes.seal import style_of

MOST_FIGURES = 24
_EDGE = 28.0
_GAP = 12.0
_LETTER = 11.0
_MOST_LINES = 60


@dataclass(frozen=True, eq=False)
class FolioFigure:
    """A figure of a folio: its recipe with the look resolved, and its lanes."""

    recipe: Recipe
    lanes: Arrangement


def compose_folio(page: FolioPage, figures: Sequence[FolioFigure], typesetter: Typesetter) -> list[Scene]:
    """The folio's pages. Raises InputError for none or too many figures, and where a figure finds no room in its column."""
    if not figures:
        raise InputError("the folio holds no figure", remedy="Add a comparison of the study.")
    if len(figures) > MOST_FIGURES:
        raise InputError(f"a folio holds {MOST_FIGURES} figures at most", remedy="Make another folio.")
    width, tall = PAGES[page.page]
    room = width - 2 * (_EDGE if tall is not None else 0.0)
    cell = (room - (page.columns - 1) * _GAP) / page.columns
    drawn = [_drawn(figure, cell, typesetter) for figure in figures]
    if page.one_axis:
        drawn = [_drawn(one.figure, cell, typesetter, domain=domain) for one, domain in zip(drawn, _shared(drawn), strict=True)]
    letters = Lettering(typesetter, style_of(figures[0].recipe))
    starts = range(0, len(drawn), page.columns)
    blocks = [_row(page, drawn[start : start + page.columns], start, cell, letters) for start in starts]
    return _pages(page, [*blocks, *_under(page, drawn, letters, room)], letters, drawn[0].scene.ground, len(drawn))


@dataclass(frozen=True, eq=False)
class _Drawn:
    """A figure in its column, and which part of the measure its axis was told to show."""

    figure: FolioFigure
    scene: Scene
    domain: tuple[float, float] | None


def _drawn(
    figure: FolioFigure, cell: float, setter: Typesetter, height: float | None = None,
    domain: tuple[float, float] | None = None,
) -> _Drawn:  # fmt: skip
    """Without a note and a key of its own: the folio has one for all."""
    recipe = figure.recipe
    note = recipe.words.note.model_copy(update={"under": False})
    words = recipe.words.model_copy(update={"note": note, "key": ReaderKey()})
    size = Size(width=f"{cell:g}pt", height=None if height is None else f"{height:g}pt")
    axis = recipe.axis if domain is None else recipe.axis.model_copy(update={"start": domain[0], "end": domain[1]})
    told = recipe.model_copy(update={"words": words, "size": size, "axis": axis})
    return _Drawn(figure, compose(told, figure.lanes, setter), domain)


def _shared(drawn: Sequence[_Drawn]) -> list[tuple[float, float]]:
    """The axis of each figure: one for all of a measure and a scale."""
    found: dict[str, tuple[float, float]] = {}
    for one in drawn:
        for panel in one.scene.panels:
            low, high = panel.scale.domain
            known = found.get(_measured(one), (low, high))
            found[_measured(one)] = (min(low, known[0]), max(high, known[1]))
    return [found[_measured(one)] for one in drawn]


def _measured(one: _Drawn) -> str:
    lanes, recipe = one.figure.lanes, one.figure.recipe
    within = recipe.differences.paired_by if recipe.differences and recipe.differences.drawn else ""
    return f"{lanes.heading} {recipe.axis.scale} {within}"


def _row(page: FolioPage, row: Sequence[_Drawn], first: int, cell: float, letters: Lettering) -> PageBlock:
    """Figures side by side, as high as the highest, each under its letter."""
    tallest = max(one.scene.height for one in row)
    room = 0.0 if page.letters == "none" else _LETTER + 4
    parts: list[ScenePart] = []
    for place, one in enumerate(row):
        low = one.scene.height < tallest - 0.5
        scene = _drawn(one.figure, cell, letters.typesetter, tallest, one.domain).scene if low else one.scene
        left, number = place * (cell + _GAP), first + place
        parts += moved(scene.parts, left, room, f"f{number}")
        if room:
            mark = MarkOf("", "folio", "title", str(number))
            letter, ink = _letter(page, number), letters.style.ink
            parts.append(letters.put(mark, "", letter, left, _LETTER, _LETTER, ink, 700))
    return PageBlock(parts, tallest + room, _GAP, tuple(face for one in row for face in one.scene.faces))


def _letter(page: FolioPage, number: int) -> str:
    return str(number + 1) if page.letters == "none" else chr(ord(page.letters) + number % 26)


def _under(page: FolioPage, drawn: Sequence[_Drawn], letters: Lettering, width: float) -> list[PageBlock]:
    """The reader's key of the first figure, and one method note for all."""
    blocks: list[PageBlock] = []
    if page.key:
        recipe = drawn[0].figure.recipe.model_copy(update={"size": Size(width=f"{width:g}pt")})
        key = reader_key(recipe, drawn[0].figure.lanes, letters.typesetter)
        if key is not None:
            blocks.append(PageBlock(moved(key.parts, 0.0, 0.0, "folio-key"), key.height, _GAP, tuple(key.faces)))
    if page.note:
        size = letters.style.text_size * 0.85
        words = note_of({_letter(page, number): one.scene.note for number, one in enumerate(drawn)})
        block = letters.block(words, width - 2 * MARGIN, size, 400, _MOST_LINES)
        mark = MarkOf("", "folio", "method-note")
        blocks.append(PageBlock([*letters.put_block(mark, "", block, MARGIN, 0.0, letters.style.muted)], block.height, _GAP))
    return blocks


def note_of(notes: dict[str, str]) -> str:
    """One method note from those of the figures, by letter: what several have in common is said once."""
    by_note: dict[str, list[str]] = {}
    for letter, note in notes.items():
        by_note.setdefault(note, []).append(letter)
    if len(by_note) == 1:
        return next(iter(by_note))
    return " ".join(f"{', '.join(who)}: {note}" for note, who in by_note.items())


def _pages(page: FolioPage, blocks: list[PageBlock], letters: Lettering, ground: str | None, count: int) -> list[Scene]:
    """Blocks under the title, on as many pages as they need."""
    width, tall = PAGES[page.page]
    size = PageSize(width, tall, _EDGE if tall is not None else 0.0)
    if page.title:
        room = width - 2 * size.edge - 2 * MARGIN
        title = letters.block(marked(page.title), room, letters.style.text_size * 1.5, 700)
        parts = letters.put_block(MarkOf("", "folio", "title"), "", title, MARGIN, 0.0, letters.style.ink)
        blocks = [PageBlock([*parts], title.height, _GAP), *blocks]
    faces = {*letters.faces, *(face for block in blocks for face in block.faces)}
    name = plain(page.title) or "Folio"
    flow = flowed(blocks, size)
    return [
        page_scene(parts, width, height, ground, name, f"{name}: {count} figures, page {number} of {len(flow)}.", faces)
        for number, (parts, height) in enumerate(flow, 1)
    ]
