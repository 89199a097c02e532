"""Which columns a recipe looks at."""

from __future__ import annotations

from echelle.recipes.recipe import Recipe


def columns_of(recipe: Recipe) -> set[str]:
    """The names of all columns that arranging needs: roles, conditions, and those that layers name."""
    roles = [recipe.groups, recipe.subgroups, recipe.panels.down, recipe.panels.across, recipe.panels.wrapped]
    result = {*recipe.measure.columns, *(role.column for role in roles if role is not None)}
    result |= {condition.column for condition in recipe.keep}
    return result | set(extra_columns(recipe))


def extra_columns(recipe: Recipe) -> list[str]:
    """The columns that lanes carry besides their values: those that layers name, the one that pairs rows, and the
    measure where the share of a value is asked for."""
    names = [name for layer in recipe.layers for name in layer.named_columns()]
    if recipe.differences is not None:
        asked = recipe.differences
        control = (asked.control.order, asked.control.lots) if asked.control else ()
        names += [name for name in (asked.paired_by, asked.runs, *control) if name is not None]
    if recipe.ledger.shares or any(layer.asks_value() for layer in recipe.layers):
        names += recipe.measure.columns[:1]
    return sorted(set(names))
