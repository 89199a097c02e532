"""A figure of many lanes on pages, as many lanes on each as it holds: all over one axis."""

from __future__ import annotations

import math

from echelle.errors import InputError
from echelle.figures.compose import compose, words_of
from echelle.figures.geometry.count_axis import only_counts
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.lanes.lane_pairs import lanes_shown
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import ReaderKey, Words
from echelle.scene.models import Scene
from echelle.scene.typesetting import Typesetter

# A4 upright, in points.
PAGE_HEIGHT = 841.89


def figure_pages(recipe: Recipe, arrangement: Arrangement, typesetter: Typesetter, height: float = PAGE_HEIGHT) -> list[Scene]:
    """The scenes of a figure, as high as its lanes ask for, on pages ``height`` points high at most; title and axis stand on
    each, what explains them on the last. Raises InputError for a figure that is higher and cannot be cut between its lanes.
    """
    recipe = recipe.model_copy(update={"size": recipe.size.model_copy(update={"height": None})})
    whole = compose(recipe, arrangement, typesetter)
    if whole.height <= height:
        return [whole]
    shown = lanes_shown(recipe, arrangement)
    if len(whole.panels) > 1 or whole.panels[0].scale.direction != "x" or recipe.differences is not None:
        what = "a figure with panels, upright lanes or differences is not cut into pages"
        raise InputError(what, where="page", remedy="Save it as one page.")
    panel, slots = whole.panels[0].box[3], len(shown.slots)
    most = math.floor((height - (whole.height - panel)) / (panel / slots))
    if most < 1:
        raise InputError("a page has no room for a lane", where="page", remedy="Shorten the words around the figure.")
    ends = dict(zip(("start", "end"), whole.panels[0].scale.domain, strict=True))
    axis = "second_axis" if only_counts(recipe) else "axis"
    told = recipe.model_copy(update={axis: getattr(recipe, axis).model_copy(update=ends)})
    each = math.ceil(slots / math.ceil(slots / most))
    starts = range(0, slots, each)
    words = words_of(recipe, arrangement)
    pages = []
    for start in starts:
        page = _words_of_page(words, whole.note, last=start == starts[-1])
        of_page = told.model_copy(update={"words": told.words.model_copy(update={"note": page.note, "key": page.key})})
        pages.append(compose(of_page, shown.of_slots(range(start, min(start + each, slots))), typesetter, words=page))
    return pages


def _words_of_page(words: Words, note: str, last: bool) -> Words:
    """The words that stand on a page: the note is of the whole figure."""
    under = words.note.model_copy(update={"under": False})
    if not last:
        return words.model_copy(update={"caption": "", "source": "", "credit": "", "note": under, "key": ReaderKey()})
    caption = "\n".join(part for part in (words.caption, note if words.note.under else "") if part)
    return words.model_copy(update={"caption": caption, "note": under})
