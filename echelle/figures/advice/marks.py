"""Advice on marks: points that hide or vanish, lanes and colours beyond what an eye tells apart."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from echelle.figures.advice.question import Question
from echelle.figures.geometry.colours import lightness
from echelle.figures.geometry.lane_bands import colouring, is_overlaid
from echelle.figures.layers.points import MOST_SWARM
from echelle.recipes.forms import in_form
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.density import DensityLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.seal import style_of
from echelle.scene.models import Advice

_MOST_UP = 12
_MOST_CURVES = 6
_ONE_LINE = 40
_LEAST_LIGHTNESS = 0.05


def points_and_boxes(question: Question) -> Iterator[Advice]:
    """Points under an opaque box."""
    layers = question.recipe.layers
    for place, layer in question.shown(PointsLayer):
        boxes = [number for number, box in question.shown(BoxLayer) if box.place == layer.place]
        below = question.remedy("points-below", (["layers", place, "place"], "below"))
        if any(number > place for number in boxes):
            rest = [other for other in layers if other.id != layer.id]
            last = question.with_layers("points-last", [*rest, layer])
            yield question.advice("covered-points", "covered-points", remedies=[last, below])


def points_on_points(question: Question) -> Iterator[Advice]:
    """Points that hide one another."""
    for place, layer in question.shown(PointsLayer):
        most = max((lane.n for lane in question.lanes), default=0)
        if layer.spread != "line" or most <= _ONE_LINE or layer.strength < 0.3:
            continue
        spread = "swarm" if most <= MOST_SWARM else "shaped"
        across = question.remedy("spread", (["layers", place, "spread"], spread))
        yield question.advice(f"{layer.id}/on-points", "points-on-points", remedies=[across], most=str(most))


def outliers_drawn_twice(question: Question) -> Iterator[Advice]:
    """Two layers that both draw every value: outliers stand twice, and look like more."""
    points = list(question.shown(PointsLayer))
    if len(points) > 1:
        place = points[-1][0]
        hide = question.remedy("hide-layer", (["layers", place, "shown"], False))
        yield question.advice("drawn-twice", "drawn-twice", remedies=[hide])


def too_many(question: Question) -> Iterator[Advice]:
    """More lanes than the form can hold apart."""
    slots, parts, recipe = len(question.arrangement.slots), max(len(question.arrangement.parts), 1), question.recipe
    if is_overlaid(recipe) and slots * parts > _MOST_CURVES:
        ridges = question.towards("ridges", in_form(recipe, "ridges"))
        yield question.advice("too-many", "too-many-overlaid", remedies=[ridges], lanes=str(slots * parts))
    elif recipe.axis.runs == "up" and slots > _MOST_UP and not any(layer.even_axis for layer in recipe.layers):
        remedies = [question.remedy("across", (["axis", "runs"], "across"))]
        if question.draws(DensityLayer):
            remedies.append(question.towards("ridges", in_form(recipe, "ridges")))
        yield question.advice("too-many", "too-many-beside", remedies=remedies, lanes=str(slots))


def colours(question: Question) -> Iterator[Advice]:
    """Colours that repeat, or that grey print cannot tell apart, where they alone say which lane is which."""
    parts = max(len(question.arrangement.parts), 1)
    placed = question.recipe.groups is not None and question.recipe.groups.placed == "overlaid"
    count = len(question.arrangement.slots) * parts if placed else parts
    style = style_of(question.recipe)
    carried = style.lane_colours
    if count > len(carried):
        yield question.advice("colours", "shared-colours", lanes=str(count), colours=len(carried))
        return
    colour_of = colouring(question.recipe, question.arrangement, style)
    drawn = {colour_of(lane) for lane in question.arrangement.lanes} if count > 1 else set()
    levels = sorted(map(lightness, drawn))
    if any(b - a < _LEAST_LIGHTNESS for a, b in itertools.pairwise(levels)):
        remedies = [question.remedy("greys", (["style"], "grey print"))] if question.recipe.style != "grey print" else []
        yield question.advice("grey", "one-grey", remedies=remedies)
