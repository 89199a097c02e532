"""The column that a series would follow."""

from __future__ import annotations

from collections.abc import Sequence

from echelle.recipes.default_recipe import Offered
from echelle.recipes.recipe import Recipe
from echelle.tables.name_words import AXES, TIME_WORDS, VISIT_WORDS, head_of, words_of

_LEAST_PLACES, _FEW_PLACES = 3, 40


def order_of(recipe: Recipe, columns: Sequence[Offered]) -> str | None:
    """A number or category that is named for time and holds few values ("visit"), else a date, else what is named for time; of
    three values or more and without a role in the recipe. None for none: the rows as they come.
    """
    roles = [recipe.groups, recipe.subgroups, recipe.panels.down, recipe.panels.across, recipe.panels.wrapped]
    taken = {*recipe.measure.columns, *(role.column for role in roles if role is not None)}
    free = [c for c in columns if c.name not in taken and c.distinct >= _LEAST_PLACES]
    dates = [c.name for c in free if c.kind == "date"]
    timed = [c.name for c in free if c.kind in ("measure", "category") and _names_time(c.name)]
    visits = [c.name for c in free if c.name in timed and c.distinct <= _FEW_PLACES]
    return next(iter([*visits, *dates, *timed]), None)


def _names_time(name: str) -> bool:
    words = words_of(name)
    return head_of(name) in TIME_WORDS | VISIT_WORDS | AXES or (bool(words) and words[0] in TIME_WORDS | VISIT_WORDS)
