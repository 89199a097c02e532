"""Figures to lettered pages."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from echelle.errors import InputError
from echelle.figures.compose import compose, reader_key
from echelle.figures.frame import MarkOf
from echelle.figures.lanes import Arrangement
from echelle.figures.lettering import Lettering
from echelle.figures.markup import marked, plain
from echelle.figures.moving import moved
from echelle.figures.plan import MARGIN
from echelle.figures.scene import Scene, ScenePart, rounded
from echelle.figures.typesetting import Typesetter
from echelle.folios.models import PAGES, FolioPage
from echelle.recipes.looks import ReaderKey, Size
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
    return _flowed(page, [*blocks, *_under(page, drawn, letters, room)], letters, drawn[0].scene, len(drawn))


@dataclass(frozen=True, eq=False)
class _Drawn:
    """A figure in its column, and which part of the measure its axis was told to show."""

    figure: FolioFigure
    scene: Scene
    domain: tuple[float, float] | None


@dataclass(frozen=True, eq=False)
class _Block:
    """Parts that stay together, from the left upper corner of their place, and the faces of their texts."""

    parts: list[ScenePart]
    height: float
    faces: tuple[str, ...] = ()


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


def _row(page: FolioPage, row: Sequence[_Drawn], first: int, cell: float, letters: Lettering) -> _Block:
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
    return _Block(parts, tallest + room, tuple(face for one in row for face in one.scene.faces))


def _letter(page: FolioPage, number: int) -> str:
    return str(number + 1) if page.letters == "none" else chr(ord(page.letters) + number % 26)


def _under(page: FolioPage, drawn: Sequence[_Drawn], letters: Lettering, width: float) -> list[_Block]:
    """The reader's key of the first figure, and one method note for all."""
    blocks: list[_Block] = []
    if page.key:
        recipe = drawn[0].figure.recipe.model_copy(update={"size": Size(width=f"{width:g}pt")})
        key = reader_key(recipe, drawn[0].figure.lanes, letters.typesetter)
        if key is not None:
            blocks.append(_Block(moved(key.parts, 0.0, 0.0, "folio-key"), key.height, tuple(key.faces)))
    if page.note:
        size = letters.style.text_size * 0.85
        words = note_of({_letter(page, number): one.scene.note for number, one in enumerate(drawn)})
        block = letters.block(words, width - 2 * MARGIN, size, 400, _MOST_LINES)
        mark = MarkOf("", "folio", "method-note")
        blocks.append(_Block([*letters.put_block(mark, "", block, MARGIN, 0.0, letters.style.muted)], block.height + 4))
    return blocks


def note_of(notes: dict[str, str]) -> str:
    """One method note from those of the figures, by letter: what several have in common is said once."""
    by_note: dict[str, list[str]] = {}
    for letter, note in notes.items():
        by_note.setdefault(note, []).append(letter)
    if len(by_note) == 1:
        return next(iter(by_note))
    return " ".join(f"{', '.join(who)}: {note}" for note, who in by_note.items())


def _flowed(page: FolioPage, blocks: list[_Block], letters: Lettering, like: Scene, count: int) -> list[Scene]:
    """Blocks one under another, on as many pages as they need; ``like`` lends what a scene says besides."""
    width, tall = PAGES[page.page]
    edge = _EDGE if tall is not None else 0.0
    pages: list[tuple[list[ScenePart], float]] = [([], edge)]
    if page.title:
        title = letters.block(marked(page.title), width - 2 * edge - 2 * MARGIN, letters.style.text_size * 1.5, 700)
        mark = MarkOf("", "folio", "title")
        pages[0] = ([*letters.put_block(mark, "", title, edge + MARGIN, edge, letters.style.ink)], edge + title.height + _GAP)
    for block in blocks:
        parts, top = pages[-1]
        if tall is not None and top + block.height > tall - edge and top > edge:
            pages.append(([], edge))
            parts, top = pages[-1]
        parts += moved(block.parts, edge, top, f"page{len(pages)}")
        pages[-1] = (parts, top + block.height + _GAP)
    faces = sorted({*letters.faces, *(face for block in blocks for face in block.faces)})
    name = plain(page.title) or "Folio"
    return [
        like.model_copy(
            update={
                "form": None, "parts": parts, "panels": [], "lanes": [], "handles": [], "readings": [], "advice": [],
                "width": rounded(width), "height": rounded(tall if tall is not None else top), "title": name, "faces": faces,
                "description": f"{name}: {count} figures, page {number} of {len(pages)}.",
            }
        )
        for number, (parts, top) in enumerate(pages, 1)
    ]  # fmt: skip
