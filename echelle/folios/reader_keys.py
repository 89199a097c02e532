"""The reader's key of a folio: as few lanes as it takes to explain the marks of every figure."""

from __future__ import annotations

from collections.abc import Mapping

from echelle.catalogue.catalogue import catalogue
from echelle.figures.compose import reader_key
from echelle.figures.layers.base import NoteContext
from echelle.figures.layers.measure import measure_figure
from echelle.figures.layers.registry import layer_of
from echelle.figures.layers.row_marks import explain_aside
from echelle.folios.folio_figure import DrawnFigure
from echelle.recipes.style import Size
from echelle.scene.models import Scene
from echelle.scene.typesetting import Typesetter

_MOST_WIDE = 400.0


def keys_of(figures: Mapping[str, DrawnFigure], width: float, typesetter: Typesetter) -> list[Scene]:
    """The key of the figure that explains most, then of those that explain what is still open; ``figures`` by letter."""
    chosen = _covering(figures)
    wide = Size(width=f"{min(width, _MOST_WIDE):g}pt")
    result = []
    for letter in chosen:
        item = figures[letter]
        which = "one" if len(figures) == 1 else "all" if letter == chosen[0] else "more"
        heading = catalogue(item.recipe.words.note.english).say("key-title", figures=which, letter=letter)
        result.append(reader_key(item.recipe.model_copy(update={"size": wide}), item.lanes, typesetter, heading))
    return [scene for scene in result if scene is not None]


def _covering(figures: Mapping[str, DrawnFigure]) -> list[str]:
    """Letters of figures whose keys together say all that any of them says."""
    said = {letter: _explanations(figure) for letter, figure in figures.items()}
    left = set().union(*said.values())
    chosen: list[str] = []
    while left:
        best = max(said, key=lambda letter: len(said[letter] & left))
        chosen.append(best)
        left -= said[best]
    return chosen


def _explanations(figure: DrawnFigure) -> set[str]:
    """What is explained of a figure's layers, but for what only some lanes hold."""
    context, measured = measure_figure(figure.recipe, figure.lanes, 0)
    return {
        words
        for layer, measurement in measured
        for role, words in layer_of(layer).explain(layer, NoteContext(context, measurement, catalogue()))
        if (role, words) not in explain_aside(catalogue())
    }
