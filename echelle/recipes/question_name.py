"""The name that a comparison has from its question."""

from __future__ import annotations

from echelle.recipes.recipe import Recipe


def question_name(recipe: Recipe) -> str:
    """What a comparison is called until somebody names it: "level by ward"."""
    return ", ".join(recipe.measure.columns[:2]) + (f" by {recipe.groups.column}" if recipe.groups else "")
