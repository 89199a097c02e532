"""Sentences about a figure: method note, description, advice."""

from __future__ import annotations

import numpy as np

from echelle.figures.lanes import Arrangement
from echelle.figures.layers.registry import kind_of
from echelle.figures.means import only_counts, only_means
from echelle.figures.scene import Advice, LaneReadings
from echelle.numbers.quantiles import Floats
from echelle.numbers.rounding import as_read
from echelle.recipes.layers import BinsLayer, BoxLayer, DensityLayer, NormalCurveLayer, PointsLayer
from echelle.recipes.models import Recipe
from echelle.recipes.seal import style_of
from echelle.tables.counting import said
from echelle.tables.steps.conditions import condition_words

_SHAPES = (BinsLayer, DensityLayer, NormalCurveLayer)


def method_note(recipe: Recipe, arrangement: Arrangement) -> str:
    """How everything drawn was computed, and what is not in it."""
    points_shown = points_are_shown(recipe)
    clauses = [c for layer in recipe.layers if layer.shown for c in kind_of(layer).note(layer, points_shown)]
    if recipe.axis.scale != "linear" and any(isinstance(layer, _SHAPES) and layer.shown for layer in recipe.layers):
        clauses.append(f"Shapes are computed on the axis' scale ({recipe.axis.scale}).")
    return " ".join([*clauses, *_left_aside(recipe, arrangement)])


def points_are_shown(recipe: Recipe) -> bool:
    """Whether a points layer draws every value, outliers among them."""
    return any(isinstance(layer, PointsLayer) and layer.shown for layer in recipe.layers)


def _left_aside(recipe: Recipe, arrangement: Arrangement) -> list[str]:
    clauses = []
    if recipe.keep:
        kept = "; ".join(map(condition_words, recipe.keep))
        clauses.append(f"Rows kept: {kept}.")
    if arrangement.missing_by:
        by = ", ".join(f"{count} {name}" for name, count in arrangement.missing_by.items())
        clauses.append(f"Without a value: {by.removesuffix('.')}.")
    if arrangement.censored:
        clauses.append(f"{said(arrangement.censored, 'value')} beyond a detection limit, not in n.")
    if arrangement.left_out:
        reasons = "; ".join(f"row {entry.row}: {entry.reason}" for entry in recipe.left_out)
        clauses.append(f"{said(arrangement.left_out, 'row')} left out ({reasons}).")
    if arrangement.dropped:
        clauses.append(f"{said(arrangement.dropped, 'row')} of levels that are not shown.")
    if arrangement.ungrouped:
        clauses.append(f"{said(arrangement.ungrouped, 'row')} without a group.")
    return clauses


def title_of(recipe: Recipe, arrangement: Arrangement) -> str:
    """The figure's own title, or what it compares."""
    across = f" across {arrangement.groups}" if arrangement.groups else ""
    split = f", split by {arrangement.subgroups}" if arrangement.subgroups else ""
    panels = f", a panel per {' and '.join(arrangement.panelled)}" if arrangement.panelled else ""
    return recipe.words.title or f"{arrangement.name}{across}{split}{panels}"


def description(arrangement: Arrangement, readings: list[LaneReadings], decimals: int) -> str:
    """The figure in words, from its readings."""
    names = {lane.key: lane.name for lane in arrangement.lanes}
    known = sorted((r for r in readings if r.median is not None), key=lambda r: -(r.median or 0.0))
    if not known:
        means = ", ".join(f"{names[r.lane]} {as_read(r.mean, decimals)}" for r in readings[:24] if r.mean is not None)
        return f"{arrangement.heading}: means {means}." if means else f"{arrangement.heading}: no rows."
    medians = ", ".join(f"{names[r.lane]} {as_read(r.median, decimals)} (n = {r.n})" for r in known[:24])
    more = f" and {len(known) - 24} more" if len(known) > 24 else ""
    odd = sum(r.beyond for r in readings)
    return (
        f"{arrangement.heading} in {said(len(readings), 'lane')}. Medians from the highest: {medians}{more}. "
        f"{said(odd, 'value')} beyond the fences."
    )


def advice_on(
    recipe: Recipe, arrangement: Arrangement, readings: list[LaneReadings], domains: dict[str, tuple[float, float]],
    turned: bool, unwritable: str, shortened: int,
) -> list[Advice]:  # fmt: skip
    """Remarks on what the figure hides, cuts or could not write."""
    found = []
    names = {lane.key: lane.name for lane in arrangement.lanes}
    if arrangement.used == 0:
        found.append(Advice(key="no-rows", text="No row has a value here.", why="Keep more rows, or choose another measure."))
    if any(isinstance(layer, BoxLayer) and layer.shown for layer in recipe.layers):
        few = [names[r.lane] for r in readings if 0 < r.n < 5]
        if few:
            text = f"{_listed(few)}: a box from fewer than 5 values."
            found.append(Advice(key="few-values", text=text, why="Quartiles of so few values say little; points say more."))
    if arrangement.people is not None and arrangement.people < arrangement.used:
        text = f"{arrangement.used} rows come from {arrangement.people} people."
        found.append(Advice(key="repeated-people", text=text, why="Rows of one person resemble one another; n counts rows."))
    out = sum(_out_of_view(lane.ordered, domains[lane.panel]) for lane in arrangement.lanes)
    if out and not only_means(recipe) and not only_counts(recipe):
        text = f"{said(out, 'value')} out of view; every number still counts them."
        found.append(Advice(key="out-of-view", text=text, why="The axis was told where to begin or end."))
    if len(arrangement.units) > 1:
        units = ", ".join(unit or "none" for unit in arrangement.units)
        text = f"Measures in different units: {units}; each unit has a panel and an axis of its own."
        found.append(Advice(key="units", text=text, why="Their numbers cannot be compared; choose measures in one unit."))
    found += _drawn_over(recipe)
    if (count := _coloured(recipe, arrangement)) > len(style_of(recipe).lane_colours):
        text = f"{count} lanes share {said(len(style_of(recipe).lane_colours), 'colour')}."
        found.append(Advice(key="colours", text=text, why="Lay fewer lanes over one another, or give them panels."))
    if turned:
        found.append(Advice(key="turned", text="Lanes were turned across.", why="Side by side their names would collide."))
    if shortened:
        found.append(
            Advice(
                key="shortened",
                text=f"{said(shortened, 'name')} shortened to fit.",
                why="Rename the level, or make the sheet larger.",
            )
        )
    if unwritable:
        found.append(
            Advice(
                key="unwritable",
                text=f"No font here can write {' '.join(unwritable)}.",
                why="An empty box stands in its place.",
            )
        )
    return found


def _drawn_over(recipe: Recipe) -> list[Advice]:
    """Points that an opaque box covers."""
    shown = [layer for layer in recipe.layers if layer.shown]
    for place, layer in enumerate(shown):
        over = [one for one in shown[place + 1 :] if isinstance(one, BoxLayer) and one.place == layer.place]
        if isinstance(layer, PointsLayer) and over:
            why = "Move the points after the box, or beside it."
            return [Advice(key="covered-points", text="Boxes cover points.", why=why)]
    return []


def _coloured(recipe: Recipe, arrangement: Arrangement) -> int:
    """How many colours a reader must tell apart, where no name stands beside a lane."""
    parts = max(len(arrangement.parts), 1)
    if recipe.groups is not None and recipe.groups.placed == "overlaid":
        return len(arrangement.slots) * parts
    return parts


def _out_of_view(ordered: Floats, domain: tuple[float, float]) -> int:
    low, high = np.searchsorted(ordered, domain[0], side="left"), np.searchsorted(ordered, domain[1], side="right")
    return int(len(ordered) - (high - low))


def _listed(names: list[str]) -> str:
    return ", ".join(names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")
