"""Every layer added to every form, across and up: it is drawn or refused in words, inside its panel, hides no mark whole and is
not lost in its own colour, and no word stands on another.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from echelle.errors import InputError
from echelle.figures.settings import figure_options
from echelle.recipes.differences import Differences
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.scene.models import LinePart, Paint, PathPart, PointsPart, RectPart, Scene, ScenePart, TextPart, leaves, unpack
from tests.support.tables import lanes_table

RNG = np.random.default_rng(31)
TABLE = lanes_table({name: RNG.normal(10 + i, 2, 40).round(1).tolist() for i, name in enumerate(("1", "2", "3"))})
OFFERS = {offer.layer: offer for offer in figure_options().layers}
Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class Mark:
    layer: str
    role: str
    lane: str
    box: Box
    paint: Paint | None
    solid: bool


def boxed(part: ScenePart) -> Mark | None:
    paint = getattr(part, "paint", None)
    if isinstance(part, RectPart):
        box = (part.x, part.y, part.x + part.width, part.y + part.height)
    elif isinstance(part, LinePart):
        box = (min(part.x1, part.x2), min(part.y1, part.y2), max(part.x1, part.x2), max(part.y1, part.y2))
    elif isinstance(part, PathPart):
        numbers = np.array([float(n) for n in re.findall(r"-?\d+\.?\d*", part.d)]).reshape(-1, 2)
        box = (*numbers.min(axis=0).tolist(), *numbers.max(axis=0).tolist()) if len(numbers) else None
    elif isinstance(part, PointsPart) and part.columns.count:
        x, y = unpack(part.columns.x, "<f4"), unpack(part.columns.y, "<f4")
        box = (float(x.min()), float(y.min()), float(x.max()), float(y.max()))
    elif isinstance(part, TextPart):
        box = part.box
    else:
        box = None
    if box is None:
        return None
    solid = paint is not None and paint.fill is not None and paint.opacity >= 0.95
    return Mark(part.layer, part.role, part.lane, box, paint, solid)


def scenes() -> Iterator[tuple[str, str, str, Recipe, Scene]]:
    for form, kind, runs in itertools.product(FORMS, OFFERS, ("across", "up")):
        recipe = recipe_of_form(form, "level", "group")
        if any(layer.kind() == kind for layer in recipe.layers):
            continue  # the page offers each kind once
        extra = OFFERS[kind].usual.model_copy(update={"id": "x9"})
        axis = recipe.axis.model_copy(update={"runs": runs})
        # As the page adds it: behind the first that stands further in front.
        front = OFFERS[kind].front
        behind = next((at for at, layer in enumerate(recipe.layers) if layer.front > front), len(recipe.layers))
        layers = [*recipe.layers[:behind], extra, *recipe.layers[behind:]]
        recipe = recipe.model_copy(update={"layers": layers, "axis": axis, "differences": Differences()})
        try:
            yield form, kind, runs, recipe, scene_of(recipe, TABLE)
        except InputError as error:
            assert error.remedy, (form, kind, runs, error)


def overlap(a: Box, b: Box, room: float = 0.5) -> bool:
    return a[0] + room < b[2] and b[0] + room < a[2] and a[1] + room < b[3] and b[1] + room < a[3]


def holds(outer: Box, inner: Box, room: float = 0.01) -> bool:
    return (
        outer[0] - room <= inner[0]
        and outer[1] - room <= inner[1]
        and inner[2] <= outer[2] + room
        and inner[3] <= outer[3] + room
    )


def faults(scene: Scene, recipe: Recipe) -> Iterator[str]:
    kinds = {layer.id: layer.kind() for layer in recipe.layers}
    parts = list(leaves(scene.parts))
    marks = [mark for part in parts if part.layer in kinds and (mark := boxed(part)) is not None]
    [panel] = scene.panels
    left, top, width, height = panel.box
    pitch = max(abs(lane.end - lane.start) for lane in scene.lanes)
    inside = (
        (left - 14, top - pitch - 14, left + width + 14, top + height + 14)
        if panel.scale.direction == "x"
        else (left - 14, top - 14, left + width + pitch + 14, top + height + 14)
    )
    for mark in marks:
        if mark.role not in ("axis-label", "axis-line", "axis-title", "note") and not holds(inside, mark.box):
            yield f"{kinds[mark.layer]}/{mark.role} leaves its panel: {mark.box} of {panel.box}"
    for early, late in itertools.combinations([m for m in marks if m.paint is not None], 2):
        if early.layer == late.layer or early.lane != late.lane:
            continue
        if (
            late.solid
            and late.role in ("box", "bin", "count", "mean")
            and early.role not in ("line", "trend")
            and holds(late.box, early.box)
        ):
            yield f"{kinds[late.layer]}/{late.role} hides {kinds[early.layer]}/{early.role}"
        if (
            early.solid
            and late.solid
            and early.paint.fill == late.paint.fill
            and late.paint.stroke is None
            and holds(early.box, late.box)
        ):
            yield f"{kinds[late.layer]}/{late.role} is lost in {kinds[early.layer]}/{early.role}"
    words = [part for part in parts if isinstance(part, TextPart)]
    for one, other in itertools.combinations(words, 2):
        if overlap(one.box, other.box):
            yield f"“{one.text}” ({one.role}) stands on “{other.text}” ({other.role})"


def test_every_layer_on_every_form() -> None:
    found: dict[str, list[str]] = {}
    drawn = 0
    for form, kind, runs, recipe, scene in scenes():
        drawn += 1
        for fault in faults(scene, recipe):
            found.setdefault(re.sub(r"[-\d.]+", "#", fault), []).append(f"{form}+{kind} {runs}")
    assert drawn > 250
    assert not found, "\n".join(f"{fault}: {', '.join(where[:6])} ({len(where)})" for fault, where in found.items())
