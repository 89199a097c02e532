"""Sentences about a figure: method note, description, advice."""

from __future__ import annotations

from echelle.figures.arrange import Arrangement
from echelle.figures.layers.registry import KINDS
from echelle.figures.scene import Advice, LaneReadings
from echelle.numbers.rounding import as_read
from echelle.recipes.models import BoxLayer, PointsLayer, Recipe


def method_note(recipe: Recipe, arrangement: Arrangement) -> str:
    """How everything drawn was computed, and what is not in it."""
    points_shown = points_are_shown(recipe)
    clauses = [c for layer in recipe.layers if layer.shown for c in KINDS[type(layer)].note(layer, points_shown)]
    return " ".join([*clauses, *_left_aside(recipe, arrangement)])


def points_are_shown(recipe: Recipe) -> bool:
    """Whether a points layer draws every value, outliers among them."""
    return any(isinstance(layer, PointsLayer) and layer.shown for layer in recipe.layers)


def _left_aside(recipe: Recipe, arrangement: Arrangement) -> list[str]:
    clauses = []
    if recipe.keep:
        kept = "; ".join(f"{c.column}: {', '.join(c.values)}" for c in recipe.keep)
        clauses.append(f"Rows kept: {kept}.")
    if arrangement.missing_by:
        by = ", ".join(f"{count} {name}" for name, count in arrangement.missing_by.items())
        clauses.append(f"Without a value: {by}.")
    if arrangement.censored:
        clauses.append(f"{_counted(arrangement.censored, 'value')} beyond a detection limit, not drawn and not in n.")
    if arrangement.left_out:
        reasons = "; ".join(f"row {entry.row}: {entry.reason}" for entry in recipe.left_out)
        clauses.append(f"{_counted(arrangement.left_out, 'row')} left out ({reasons}).")
    if arrangement.ungrouped:
        clauses.append(f"{_counted(arrangement.ungrouped, 'row')} without a group.")
    return clauses


def _counted(count: int, noun: str) -> str:
    return f"{count} {noun}" if count == 1 else f"{count} {noun}s"


def title_of(recipe: Recipe, arrangement: Arrangement) -> str:
    """The figure's own title, or what it compares."""
    across = f" across {arrangement.groups.name}" if arrangement.groups else ""
    return recipe.words.title or f"{arrangement.name}{across}"


def description(arrangement: Arrangement, readings: list[LaneReadings], decimals: int) -> str:
    """The figure in words, from its readings."""
    names = {lane.key: lane.name for lane in arrangement.lanes}
    known = sorted((r for r in readings if r.median is not None), key=lambda r: -(r.median or 0.0))
    if not known:
        return f"{arrangement.heading}: no rows."
    medians = ", ".join(f"{names[r.lane]} {as_read(r.median, decimals)} (n = {r.n})" for r in known[:24])
    more = f" and {len(known) - 24} more" if len(known) > 24 else ""
    odd = sum(r.beyond for r in readings)
    return (
        f"{arrangement.heading} in {_counted(len(readings), 'lane')}. Medians from the highest: {medians}{more}. "
        f"{_counted(odd, 'value')} beyond the fences."
    )


def advice_on(
    recipe: Recipe, arrangement: Arrangement, readings: list[LaneReadings], domain: tuple[float, float],
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
    pooled = arrangement.pooled
    out = int(((pooled < domain[0]) | (pooled > domain[1])).sum())
    if out:
        text = f"{_counted(out, 'value')} out of view; every number still counts them."
        found.append(Advice(key="out-of-view", text=text, why="The axis was told where to begin or end."))
    if len(arrangement.units) > 1:
        units = ", ".join(unit or "none" for unit in arrangement.units)
        text = f"Measures in different units stand on one axis: {units}."
        found.append(Advice(key="units", text=text, why="Their numbers cannot be compared; choose measures in one unit."))
    if turned:
        found.append(Advice(key="turned", text="Lanes were turned across.", why="Side by side their names would collide."))
    if shortened:
        found.append(
            Advice(
                key="shortened",
                text=f"{_counted(shortened, 'name')} shortened to fit.",
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


def _listed(names: list[str]) -> str:
    return ", ".join(names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")
