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
from echelle.figures.plan import MARGIN
from echelle.figures.scene import Scene, ScenePart, rounded
from echelle.figures.typesetting import Typesetter
from echelle.folios.models import PAGES, FolioPage
from echelle.recipes.looks import MethodNote, ReaderKey, Size
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
    edge = _EDGE if tall is not None else 0.0
    cell = (width - 2 * edge - (page.columns - 1) * _GAP) / page.columns
    domains = _shared(page, figures, typesetter, cell)
    letters = Lettering(typesetter, style_of(figures[0].recipe))
    blocks = [_row(page, row, number, cell, domains, typesetter, letters) for number, row in _rows(page, figures)]
    blocks += _under(page, figures, typesetter, letters, width - 2 * edge)
    return _flowed(page, blocks, letters, figures)


@dataclass(frozen=True, eq=False)
class _Block:
    """Parts that stay together, from the left upper corner of their place; ``note`` and ``faces`` of what is in them."""

    parts: list[ScenePart]
    height: float
    faces: tuple[str, ...] = ()


def _rows(page: FolioPage, figures: Sequence[FolioFigure]) -> list[tuple[int, Sequence[FolioFigure]]]:
    return [(start, figures[start : start + page.columns]) for start in range(0, len(figures), page.columns)]


def _drawn(
    figure: FolioFigure, cell: float, height: float | None, domain: tuple[float, float] | None, setter: Typesetter
) -> Scene:
    recipe = figure.recipe
    words = recipe.words.model_copy(update={"note": MethodNote(), "key": ReaderKey()})
    size = Size(width=f"{cell:g}pt", height=None if height is None else f"{height:g}pt")
    axis = recipe.axis if domain is None else recipe.axis.model_copy(update={"start": domain[0], "end": domain[1]})
    return compose(recipe.model_copy(update={"words": words, "size": size, "axis": axis}), figure.lanes, setter)


def _shared(page: FolioPage, figures: Sequence[FolioFigure], setter: Typesetter, cell: float) -> dict[str, tuple[float, float]]:
    """One axis for all figures of a measure and a scale; by what the axis is called."""
    found: dict[str, tuple[float, float]] = {}
    for figure in figures if page.one_axis else ():
        scene = _drawn(figure, cell, None, None, setter)
        for panel in scene.panels:
            low, high = panel.scale.domain
            known = found.get(_measured(figure), (low, high))
            found[_measured(figure)] = (min(low, known[0]), max(high, known[1]))
    return found


def _measured(figure: FolioFigure) -> str:
    return f"{figure.lanes.heading}{figure.lanes.differs} {figure.recipe.axis.scale}"


def _row(
    page: FolioPage, row: Sequence[FolioFigure], first: int, cell: float, domains: dict[str, tuple[float, float]],
    setter: Typesetter, letters: Lettering,
) -> _Block:  # fmt: skip
    """Figures side by side, as high as the highest, each under its letter."""
    own = [_drawn(figure, cell, None, domains.get(_measured(figure)), setter) for figure in row]
    tallest = max(scene.height for scene in own)
    room = 0.0 if page.letters == "none" else _LETTER + 4
    parts: list[ScenePart] = []
    for place, (figure, scene) in enumerate(zip(row, own, strict=True)):
        if scene.height < tallest - 0.5:
            scene = _drawn(figure, cell, tallest, domains.get(_measured(figure)), setter)
        left, number = place * (cell + _GAP), first + place
        parts += moved(scene.parts, left, room, f"f{number}")
        if room:
            letter = chr(ord(page.letters) + number % 26)
            mark = MarkOf("", "folio", "title", str(number))
            parts.append(letters.put(mark, "", letter, left, _LETTER, _LETTER, letters.style.ink, 700))
    return _Block(parts, tallest + room, tuple(face for scene in own for face in scene.faces))


def _under(
    page: FolioPage, figures: Sequence[FolioFigure], setter: Typesetter, letters: Lettering, width: float
) -> list[_Block]:
    """The reader's key of the first figure, and one method note for all."""
    blocks: list[_Block] = []
    key = reader_key(_wide(figures[0].recipe, width), figures[0].lanes, setter) if page.key else None
    if key is not None:
        blocks.append(_Block(moved(key.parts, 0.0, 0.0, "folio-key"), key.height, tuple(key.faces)))
    if page.note:
        size = letters.style.text_size * 0.85
        block = letters.block(note_of(page, figures, setter), width - 2 * MARGIN, size, 400, _MOST_LINES)
        mark = MarkOf("", "folio", "method-note")
        blocks.append(_Block([*letters.put_block(mark, "", block, MARGIN, 0.0, letters.style.muted)], block.height + 4))
    return blocks


def note_of(page: FolioPage, figures: Sequence[FolioFigure], setter: Typesetter) -> str:
    """One method note: what several figures have in common is said once, with their letters."""
    by_note: dict[str, list[str]] = {}
    for number, figure in enumerate(figures):
        letter = str(number + 1) if page.letters == "none" else chr(ord(page.letters) + number % 26)
        note = compose(figure.recipe, figure.lanes, setter, miniature=True).note
        by_note.setdefault(note, []).append(letter)
    if len(by_note) == 1:
        return next(iter(by_note))
    return " ".join(f"{', '.join(who)}: {note}" for note, who in by_note.items())


def _wide(recipe: Recipe, width: float) -> Recipe:
    return recipe.model_copy(update={"size": Size(width=f"{width:g}pt")})


def _flowed(page: FolioPage, blocks: list[_Block], letters: Lettering, figures: Sequence[FolioFigure]) -> list[Scene]:
    """Blocks one under another, on as many pages as they need."""
    width, tall = PAGES[page.page]
    edge = _EDGE if tall is not None else 0.0
    pages: list[tuple[list[ScenePart], float]] = [([], edge)]
    if page.title:
        title = letters.block(page.title, width - 2 * edge - 2 * MARGIN, letters.style.text_size * 1.5, 700)
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
    first = compose(figures[0].recipe, figures[0].lanes, letters.typesetter, miniature=True)
    name = page.title or "Folio"
    return [
        first.model_copy(
            update={
                "form": None, "parts": parts, "panels": [], "lanes": [], "handles": [], "readings": [], "advice": [],
                "width": rounded(width), "height": rounded(tall if tall is not None else top), "title": name, "faces": faces,
                "description": f"{name}: {len(figures)} figures, page {number} of {len(pages)}.",
            }
        )
        for number, (parts, top) in enumerate(pages, 1)
    ]  # fmt: skip
