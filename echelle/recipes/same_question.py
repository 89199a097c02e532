"""A question asked of another table of about the same shape, such as next month's file."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from echelle.errors import InputError
from echelle.recipes.parse import recipe_from
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Panels
from echelle.recipes.used_columns import columns_of
from echelle.tables.column_summary import ColumnSummary
from echelle.tables.name_words import words_of


@dataclass(frozen=True)
class SameQuestion:
    """The recipe for the other table, and a sentence for each thing that did not fit."""

    recipe: Recipe
    said: tuple[str, ...]


def same_question(recipe: Recipe, columns: Sequence[ColumnSummary]) -> SameQuestion:
    """The recipe as it fits a table's columns. A column is found by its name, or by the same words written otherwise.

    Raises:
        InputError: the table has no such measure or groups, or the measure holds no numbers there.
    """
    by_name = {heading: column for column in columns for heading in (f"{column.name} ({column.unit})", column.name)}
    renamed = {name: _like(name, columns) for name in columns_of(recipe) if name not in by_name}
    told = {old: new for old, new in renamed.items() if new is not None}
    made = _with_names(recipe, told) if told else recipe
    said = [f"“{old}” is “{new}” there." for old, new in told.items()]
    for name in made.measure.columns:
        if name not in by_name:
            raise InputError(f"that table has no column “{name}”", where="measure", remedy="Choose a table that measures it.")
        if by_name[name].kind != "measure":
            raise InputError(
                f"“{name}” holds no numbers in that table", where="measure", remedy="Read that column as a measure."
            )
    if made.groups is not None and made.groups.column not in by_name:
        raise InputError(
            f"that table has no column “{made.groups.column}”", where="groups", remedy="Choose a table that has it."
        )
    return _without_missing(made, set(by_name), said)


def _like(name: str, columns: Sequence[ColumnSummary]) -> str | None:
    """The one column whose name has the same words."""
    like = [column.name for column in columns if words_of(column.name) == words_of(name)]
    return like[0] if len(like) == 1 and words_of(name) else None


def _with_names(recipe: Recipe, told: dict[str, str]) -> Recipe:
    parts = ("measure", "groups", "subgroups", "panels", "keep", "layers", "differences")
    data = recipe.model_dump(mode="json")
    return recipe_from({key: _renamed(held, told) if key in parts else held for key, held in data.items()})


def _renamed(value: Any, told: dict[str, str]) -> Any:
    """Column names written as they are in the other table; levels, ids and labels stay."""
    if isinstance(value, dict):
        kept = ("id", "labels", "label", "order", "is", "values")
        return {key: held if key in kept else _renamed(held, told) for key, held in value.items()}
    if isinstance(value, list):
        return [_renamed(held, told) for held in value]
    return told.get(value, value) if isinstance(value, str) else value


def _without_missing(recipe: Recipe, names: set[str], said: list[str]) -> SameQuestion:
    """The recipe without what needs columns that are not there, and without rows that were left out of another file."""
    update: dict[str, Any] = {}
    if recipe.subgroups is not None and recipe.subgroups.column not in names:
        said.append(f"It is not split by “{recipe.subgroups.column}”, which is not there.")
        update["subgroups"] = None
    panels = recipe.panels
    gone = [role.column for role in (panels.down, panels.across, panels.wrapped) if role and role.column not in names]
    if gone:
        said.append(f"There are no panels by “{', '.join(gone)}”, which is not there.")
        update["panels"] = Panels()
    kept = [condition for condition in recipe.keep if condition.column in names]
    for condition in recipe.keep:
        if condition.column not in names:
            said.append(f"All rows are kept whatever “{condition.column}” was, which is not there.")
    update["keep"] = kept
    layers = [layer for layer in recipe.layers if set(layer.named_columns()) <= names]
    for layer in recipe.layers:
        if not set(layer.named_columns()) <= names:
            said.append(f"The layer {layer.layer} is left out: it needs “{', '.join(layer.named_columns())}”.")
    update["layers"] = layers or recipe.layers[:1]
    if recipe.left_out:
        count = len(recipe.left_out)
        said.append(f"{count} {'row was' if count == 1 else 'rows were'} left out of the other file; here every row counts.")
        update["left_out"] = []
    made = recipe.model_copy(update=update)
    if made.differences is not None and not columns_of(made) <= names:
        said.append("The differences begin anew: they need columns that are not there.")
        made = made.model_copy(update={"differences": None})
    return SameQuestion(made, tuple(said))
