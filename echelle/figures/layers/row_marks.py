"""Marks of single rows that boxes and points share: outliers, values at a limit, rows that are left out."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

import numpy as np

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.geometry.frame import MarkOf
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.lanes.lane import AtLimit, Rows
from echelle.figures.layers.base import Explanation, LaneView
from echelle.numbers.decimals import decimal
from echelle.numbers.sample import Floats
from echelle.recipes.layers.base import Fence
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.recipe import Recipe
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Paint, ScenePart, Shape

OUTLIER_SIZE = 4.4
LIMIT_SIZE = 4.0
_CROSS = 3.2


def thinned(words: Catalogue, what: Literal["points", "outliers"], drawn: int, used: int) -> Advice:
    """That the screen shows a part of the points or outliers."""
    part, whole = (f"{count:,}".replace(",", " ") for count in (drawn, used))
    key = "thinned" if what == "points" else "thinned-outliers"
    return advice(words, key, "thinned", most=part, used=whole, what=what)


def limit_extents(context: FigureContext) -> dict[str, tuple[float, float]]:
    """From where to where the limits of censored values reach, for the lanes that have some."""
    of_lane = {lane.key: np.concatenate([lane.below.limits, lane.above.limits]) for lane in context.arrangement.lanes}
    return {key: (float(limits.min()), float(limits.max())) for key, limits in of_lane.items() if len(limits)}


def aside_marks(layer_id: str, view: LaneView[object], across: Callable[[Rows], Floats]) -> list[ScenePart]:
    """Rows that stand in no number stay visible: an arrow a censored value, at its limit and pointing to where the value
    lies; a faint cross a left-out row. ``across`` gives the coordinates of rows.
    """
    frame, lane = view.frame, view.band.lane
    ways: tuple[Shape, Shape] = ("left", "right") if frame.runs == "across" else ("down", "up")
    arrow = Paint(stroke=view.band.colour, stroke_width=1.0)
    faint = Paint(stroke=view.style.muted, stroke_width=0.8, opacity=0.5)
    below, above = view.mark(layer_id, "limit", ways[0]), view.mark(layer_id, "limit", ways[1])
    kinds: tuple[tuple[MarkOf, AtLimit, Shape, float, Paint], ...]
    kinds = ((below, lane.below, ways[0], LIMIT_SIZE, arrow), (above, lane.above, ways[1], LIMIT_SIZE, arrow),
             (view.mark(layer_id, "left-out"), lane.out, "cross", _CROSS, faint))  # fmt: skip
    parts: list[ScenePart] = []
    for mark, rows, shape, size, paint in kinds:
        seen = frame.sees(rows.limits)
        if seen.any():
            along, side = frame.along_all(rows.limits[seen]), across(rows.rows)[seen]
            parts.append(frame.points(mark, shape, size, paint, along, side, rows.rows[seen]))
    return parts


def fence_words(fence: Fence, words: Catalogue) -> str:
    """Beyond which a value counts as an outlier."""
    low, high = (words.ordinal(f"{float(percent):g}") for percent in (100 * decimal(fence.k), 100 - 100 * decimal(fence.k)))
    return words.say("fence", rule=fence.rule.replace(" ", "-"), k=f"{fence.k:g}", low=low, high=high, of=fence.of)


def outlier_marks(recipe: Recipe, words: Catalogue) -> str:
    """What marks values beyond the fences."""
    shown = recipe.shown(PointsLayer)
    shaped = "no-points" if not shown else "no" if all(layer.shaped is None for layer in shown) else "yes"
    return words.say("outlier-marks", shaped=shaped)


def explain_aside(words: Catalogue) -> tuple[Explanation, ...]:
    """Rows that stand in no number."""
    return ("limit", words.say("key-limit")), ("left-out", words.say("key-left-out"))
