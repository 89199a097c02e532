"""Figures to lettered pages."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from echelle.errors import InputError
from echelle.figures.compose import method_note_clauses
from echelle.figures.geometry.count_axis import only_counts
from echelle.figures.geometry.frame import MarkOf
from echelle.figures.geometry.lettering import Lettering
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.layout.layout_model import MARGIN
from echelle.folios.folio_figure import DrawnFigure, draw_folio_figure, level
from echelle.folios.models import PAGES, FolioPage
from echelle.folios.notes import note_of
from echelle.folios.reader_keys import keys_of
from echelle.recipes.markup import has_marks, plain
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import style_of
from echelle.scene.models import Scene, ScenePart
from echelle.scene.pages import PageBlock, PageSize, flow, page_scene
from echelle.scene.translate import translate
from echelle.scene.typesetting import Typesetter

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
        raise InputError("the folio holds no figure", remedy="Add a comparison of the context.")
    if len(figures) > MOST_FIGURES:
        raise InputError(f"a folio holds {MOST_FIGURES} figures at most", remedy="Make another folio.")
    width, tall = PAGES[page.page]
    room = width - 2 * (_EDGE if tall is not None else 0.0)
    cell = (room - (page.columns - 1) * _GAP) / page.columns
    most = math.inf if tall is None else tall - 2 * _EDGE - _letter_room(page)
    drawn = [draw_folio_figure(figure.recipe, figure.lanes, cell, most, typesetter) for figure in figures]
    if page.one_axis:
        drawn = [one.along(domain, typesetter) for one, domain in zip(drawn, _shared_domains(drawn), strict=True)]
    letters = Lettering(typesetter, style_of(figures[0].recipe))
    starts = range(0, len(drawn), page.columns)
    blocks = [_row(page, drawn[start : start + page.columns], start, cell, letters) for start in starts]
    return _pages(page, [*blocks, *_words_under(page, drawn, letters, room)], letters, drawn[0].scene.ground, len(drawn))


def _shared_domains(drawn: Sequence[DrawnFigure]) -> list[tuple[float, float]]:
    """The axis of each figure: one for all of a measure and a scale, and one for all counts."""
    result: dict[str, tuple[float, float]] = {}
    for item in drawn:
        for panel in item.scene.panels:
            low, high = panel.scale.domain
            known = result.get(_axis_key(item), (low, high))
            result[_axis_key(item)] = (min(low, known[0]), max(high, known[1]))
    return [result[_axis_key(one)] for one in drawn]


def _axis_key(figure: DrawnFigure) -> str:
    lanes, recipe = figure.lanes, figure.recipe
    if only_counts(recipe):
        return "counts"
    within = recipe.differences.paired_by if recipe.differences and recipe.differences.drawn else ""
    return f"{lanes.heading} {recipe.axis.scale} {within}"


def _letter_room(page: FolioPage) -> float:
    """What a letter takes over its figure."""
    return 0.0 if page.letters == "none" else _LETTER + 4


def _letter(page: FolioPage, number: int) -> str:
    return str(number + 1) if page.letters == "none" else chr(ord(page.letters) + number % 26)


def _row(page: FolioPage, row: Sequence[DrawnFigure], first: int, cell: float, letters: Lettering) -> PageBlock:
    """Figures side by side on one level, each under its letter."""
    scenes = level(row, letters.typesetter)
    room = _letter_room(page)
    parts: list[ScenePart] = []
    for place, scene in enumerate(scenes):
        left, number = place * (cell + _GAP), first + place
        parts += translate(scene.parts, left, room, f"f{number}")
        if room:
            mark = MarkOf("", "folio", "title", str(number))
            letter, ink = _letter(page, number), letters.style.ink
            parts.append(letters.put(mark, "", letter, left + MARGIN, _LETTER, _LETTER, ink, 700))
    faces = tuple(face for one in row for face in one.scene.faces)
    return PageBlock(parts, max(scene.height for scene in scenes) + room, _GAP, faces)


def _words_under(page: FolioPage, drawn: Sequence[DrawnFigure], letters: Lettering, width: float) -> list[PageBlock]:
    """One reader's key and one method note for all figures."""
    by_letter = {_letter(page, number): one for number, one in enumerate(drawn)}
    blocks: list[PageBlock] = []
    for number, key in enumerate(keys_of(by_letter, width, letters.typesetter) if page.key else []):
        blocks.append(PageBlock(translate(key.parts, 0.0, 0.0, f"folio-key{number}"), key.height, _GAP, tuple(key.faces)))
    if page.note:
        size = letters.style.text_size * 0.85
        words = note_of({letter: method_note_clauses(one.recipe, one.lanes) for letter, one in by_letter.items()})
        block = letters.block(words, width - 2 * MARGIN, size, 400, _MOST_LINES)
        mark = MarkOf("", "folio", "method-note")
        blocks.append(PageBlock([*letters.put_block(mark, "", block, MARGIN, 0.0, letters.style.muted)], block.height, _GAP))
    return blocks


def _pages(page: FolioPage, blocks: list[PageBlock], letters: Lettering, ground: str | None, count: int) -> list[Scene]:
    """Blocks under the title, on as many pages as they need."""
    width, tall = PAGES[page.page]
    size = PageSize(width, tall, _EDGE if tall is not None else 0.0)
    if page.title:
        room = width - 2 * size.edge - 2 * MARGIN
        title = letters.block(has_marks(page.title), room, letters.style.text_size * 1.5, 700)
        parts = letters.put_block(MarkOf("", "folio", "title"), "", title, MARGIN, 0.0, letters.style.ink)
        blocks = [PageBlock([*parts], title.height, _GAP), *blocks]
    if tall is None:
        # A page cut to its figures still keeps words off its edges.
        blocks = [PageBlock([], 0.0, MARGIN), *blocks, PageBlock([], 0.0, 0.0)]
    faces = {*letters.faces, *(face for block in blocks for face in block.faces)}
    name = plain(page.title) or "Folio"
    pages = flow(blocks, size)
    return [
        page_scene(parts, width, height, ground, name, f"{name}: {count} figures, page {number} of {len(pages)}.", faces)
        for number, (parts, height) in enumerate(pages, 1)
    ]
