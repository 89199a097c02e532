"""Advice on marks: points that hide or vanish, lanes and colours beyond what an eye tells apart."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from echelle.figures.advice.colours import lightness
from echelle.figures.advice.question import Question, remedy, towards, with_layers
from echelle.figures.geometry.lane_bands import colouring, is_overlaid
from echelle.figures.layers.points import MOST_SWARM
from echelle.plurals import plural
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


def points_and_boxes(asked: Question) -> Iterator[Advice]:
    """Points under an opaque box, or on one in its own colour."""
    layers = asked.recipe.layers
    for place, layer in asked.shown(PointsLayer):
        boxes = [number for number, box in asked.shown(BoxLayer) if box.place == layer.place]
        below = remedy("Move the points below the line", (["layers", place, "place"], "below"))
        if any(number > place for number in boxes):
            rest = [one for one in layers if one.id != layer.id]
            yield Advice(
                key="covered-points", text="Boxes cover points.", why="A value that nobody sees was not shown.",
                remedies=[with_layers("Draw the points last", [*rest, layer]), below],
            )  # fmt: skip
        elif boxes and layer.coloured is None and not layer.outline:
            yield Advice(
                key="fading-points", text="Points fade into their box.", why="Both have the lane's colour.",
                remedies=[remedy("Outline the points", (["layers", place, "outline"], 0.6)), below],
            )  # fmt: skip


def points_on_points(asked: Question) -> Iterator[Advice]:
    """Points that hide one another."""
    for place, layer in asked.shown(PointsLayer):
        most = max((lane.n for lane in asked.lanes), default=0)
        if layer.spread != "line" or most <= _ONE_LINE or layer.strength < 0.3:
            continue
        spread = "swarm" if most <= MOST_SWARM else "shaped"
        yield Advice(
            key=f"{layer.id}/on-points", text=f"Up to {most} points share one line and hide one another.",
            why="Where many lie no longer shows.",
            remedies=[remedy("Spread them across the lane", (["layers", place, "spread"], spread))],
        )  # fmt: skip


def outliers_drawn_twice(asked: Question) -> Iterator[Advice]:
    """Two layers that both draw every value: outliers stand twice, and look like more."""
    points = list(asked.shown(PointsLayer))
    if len(points) > 1:
        place = points[-1][0]
        yield Advice(
            key="drawn-twice", text="Outliers are drawn twice.", why="Two layers of points draw the same rows.",
            remedies=[remedy("Hide one of them", (["layers", place, "shown"], False))],
        )  # fmt: skip


def too_many(asked: Question) -> Iterator[Advice]:
    """More lanes than the form can hold apart."""
    slots, parts, recipe = len(asked.arrangement.slots), max(len(asked.arrangement.parts), 1), asked.recipe
    if is_overlaid(recipe) and slots * parts > _MOST_CURVES:
        yield Advice(
            key="too-many", text=f"{slots * parts} lanes lie over one another.", why="Few eyes follow more than six.",
            remedies=[towards("Ridges", recipe, in_form(recipe, "ridges"))],
        )  # fmt: skip
    elif recipe.axis.runs == "up" and slots > _MOST_UP and not any(layer.even_axis for layer in recipe.layers):
        remedies = [remedy("Lanes across", (["axis", "runs"], "across"))]
        if asked.draws(DensityLayer):
            remedies.append(towards("Ridges", recipe, in_form(recipe, "ridges")))
        text = f"{slots} lanes stand side by side."
        yield Advice(key="too-many", text=text, why="Names and marks grow thin; across there is more room.", remedies=remedies)


def colours(asked: Question) -> Iterator[Advice]:
    """Colours that repeat, or that grey print cannot tell apart, where they alone say which lane is which."""
    parts = max(len(asked.arrangement.parts), 1)
    placed = asked.recipe.groups is not None and asked.recipe.groups.placed == "overlaid"
    count = len(asked.arrangement.slots) * parts if placed else parts
    style = style_of(asked.recipe)
    carried = style.lane_colours
    if count > len(carried):
        yield Advice(
            key="colours", text=f"{count} lanes share {plural(len(carried), 'colour')}.",
            why="Lay fewer lanes over one another, or give them panels.",
        )  # fmt: skip
        return
    colour_of = colouring(asked.recipe, asked.arrangement, style)
    drawn = {colour_of(lane) for lane in asked.arrangement.lanes} if count > 1 else set()
    levels = sorted(map(lightness, drawn))
    if any(b - a < _LEAST_LIGHTNESS for a, b in itertools.pairwise(levels)):
        remedies = [remedy("Greys", (["style"], "grey print"))] if asked.recipe.style != "grey print" else []
        yield Advice(
            key="grey", text="Some of these colours are one grey in print.", why="Their lightness is nearly the same.",
            remedies=remedies,
        )  # fmt: skip
