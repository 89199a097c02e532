"""What else an analyst of a new table would ask, beside its first question."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from echelle.recipes.default_recipe import Offered, default_recipe, groups_of, outcome_of, share_an_axis
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Groups, Measure
from echelle.tables.summary_statistics_tables import SummaryColumns

MOST_QUESTIONS = 5
_MOST_TOGETHER = 12
_MOST_PARTS = 6
_FEW_NAMES, _MOST_NAMES = 8, 60


def other_questions(columns: Sequence[Offered], summary: SummaryColumns | None = None) -> list[Recipe]:
    """Up to five: the outcome across other groups, other outcomes across the same groups, the outcome alone, all measures that
    share an axis, groups split by others. None of a table of summaries, or where nothing is measured.
    """
    first = default_recipe(columns, summary)
    if summary is not None or all(layer.counts_rows for layer in first.layers):
        return []
    measures = _ranked(columns, lambda left: outcome_of(left, None))
    groups = _ranked(columns, groups_of)
    named = _values_by_name(columns, measures)
    asked = [recipe for recipe in [*named, *_candidates(measures, groups)] if _question(recipe) != _question(first)]
    return list({str(_question(recipe)): recipe for recipe in asked}.values())[:MOST_QUESTIONS]


def _candidates(measures: list[Offered], groups: list[Offered]) -> list[Recipe]:
    m, g = [column.name for column in measures], [column.name for column in groups]
    asked = []
    if m and len(g) > 1:
        asked.append(recipe_of_form("box", m[0], g[1]))
    if len(m) > 1:
        asked.append(recipe_of_form("box", m[1], g[0] if g else None))
    if m:
        asked.append(recipe_of_form("histogram", m[0]))
    alike = [column for column in measures if column.unit == measures[0].unit][:_MOST_TOGETHER]
    if len(alike) > 1 and share_an_axis(alike, measures[0].unit is not None):
        together = Measure(columns=[column.name for column in alike])
        asked.append(recipe_of_form("box", m[0]).model_copy(update={"measure": together}))
    split = next((column.name for column in groups[1:] if column.distinct <= _MOST_PARTS), None)
    if m and split:
        asked.append(recipe_of_form("box", m[0], g[0], split))
    asked += [recipe_of_form("box", m[0], name) for name in g[2:4] if m]
    return asked + [recipe_of_form("box", name, g[0] if g else None) for name in m[2:4]]


def _values_by_name(columns: Sequence[Offered], measures: list[Offered]) -> list[Recipe]:
    """Single values in their order with their names, where an identifier names every row and there are few enough to read."""
    names = [c.name for c in columns if c.kind == "identifier" and _FEW_NAMES <= c.distinct <= _MOST_NAMES and not c.missing]
    rows = sum(measures[0].bars) + measures[0].missing if measures else 0
    if not names or rows != next(c.distinct for c in columns if c.name == names[0]):
        return []
    recipe = recipe_of_form("strip", measures[0].name, names[0])
    points = [layer for layer in recipe.layers if layer.draws_rows]
    across = recipe.axis.model_copy(update={"runs": "across"})
    return [recipe.model_copy(update={"groups": Groups(column=names[0], sorted="by median"), "axis": across, "layers": points})]


def _ranked(columns: Sequence[Offered], best: Callable[[list[Offered]], Offered | None]) -> list[Offered]:
    """Columns as they would be chosen one after the other."""
    left, result = list(columns), list[Offered]()
    while len(result) <= _MOST_TOGETHER and (chosen := best(left)) is not None:
        result.append(chosen)
        left.remove(chosen)
    return result


def _question(recipe: Recipe) -> tuple[object, ...]:
    return (recipe.measure.columns, recipe.groups and recipe.groups.column, recipe.subgroups and recipe.subgroups.column)
