"""A figure of many lanes on pages, as many lanes on each as it holds: all over one axis."""

from __future__ import annotations

import math
from dataclasses import replace

from echelle.errors import InputError
from echelle.figures.compose import MeasuredFigure, draw, measure, with_key_of
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.lanes.lane_pairs import lanes_shown
from echelle.recipes.recipe import Recipe
from echelle.scene.models import Scene
from echelle.scene.typesetting import Typesetter

# A4 upright, in points.
PAGE_HEIGHT = 841.89


def figure_pages(recipe: Recipe, arrangement: Arrangement, typesetter: Typesetter, height: float = PAGE_HEIGHT) -> list[Scene]:
    """The scenes of a figure, as high as its lanes ask for, on pages ``height`` points high at most; title and axis stand on
    each, what explains them on the last. Raises InputError for a figure that is higher and cannot be cut between its lanes.
    """
    recipe = recipe.model_copy(update={"size": recipe.size.model_copy(update={"height": None})})
    shown = lanes_shown(recipe, arrangement)
    figure = measure(recipe, shown)
    whole = with_key_of(draw(figure, typesetter), recipe, shown, typesetter)
    if whole.height <= height:
        return [whole]
    if len(whole.panels) > 1 or whole.panels[0].scale.direction != "x" or recipe.differences is not None:
        what = "a figure with panels, upright lanes or differences is not cut into pages"
        raise InputError(what, where="page", remedy="Save it as one page.")
    panel, slots = whole.panels[0].box[3], len(shown.slots)
    most = math.floor((height - (whole.height - panel)) / (panel / slots))
    if most < 1:
        raise InputError("a page has no room for a lane", where="page", remedy="Shorten the words around the figure.")
    each = math.ceil(slots / math.ceil(slots / most))
    starts = range(0, slots, each)
    pages = [
        draw(_part(figure, range(start, min(start + each, slots)), whole, start == starts[-1]), typesetter) for start in starts
    ]
    pages[-1] = with_key_of(pages[-1], recipe, shown, typesetter)
    return [page.model_copy(update={"note": whole.note}) for page in pages]


def _part(figure: MeasuredFigure, slots: range, whole: Scene, last: bool) -> MeasuredFigure:
    """Some groups of a figure over the axis of the whole; what explains it stands under the last."""
    context = figure.context
    words, arrangement = context.recipe.words, context.arrangement.of_slots(slots)
    under = words.note.model_copy(update={"under": False})
    caption = "\n".join(part for part in (words.caption, whole.note if words.note.under else "") if part)
    said = {"caption": caption} if last else {"caption": "", "source": "", "credit": ""}
    ends = dict(zip(("start", "end"), whole.panels[0].scale.domain, strict=True))
    changed = {"words": words.model_copy(update=said | {"note": under}), "axis": context.recipe.axis.model_copy(update=ends)}
    readings = {lane.key: context.readings[lane.key] for lane in arrangement.lanes}
    told = replace(context, recipe=context.recipe.model_copy(update=changed), arrangement=arrangement, readings=readings)
    return replace(figure, context=told)
