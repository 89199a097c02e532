"""Identifiers replaced by running codes on the way out."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Any

import numpy as np
import polars as pl

from echelle.bundles.models import Contents, RawData
from echelle.errors import InputError
from echelle.recipes.recipe import Recipe
from echelle.tables.column_builders import words_of
from echelle.tables.reading.options import USUAL
from echelle.tables.reading.read import read_bytes
from echelle.tables.steps.prepare import all_steps
from echelle.tables.storage.writers import table_text
from echelle.tables.table import Column


def with_pseudonyms(contents: Contents) -> Contents:
    """The same contents with a running code for each level of each identifier, in data, recipe and words; without the trail,
    which tells who did what. Raises InputError where no column is an identifier, and where steps join
    other tables, whose identifiers would no longer fit.
    """
    if contents.others:
        raise InputError(
            "the preparation joins other tables, so identifiers cannot be replaced", where="$.prepare",
            remedy="Take the prepared rows out as CSV, bring them as a table of their own, and bundle a figure of that.",
        )  # fmt: skip
    recipe = contents.recipe
    raw = read_bytes(contents.raw.data, recipe.read or USUAL).table
    named = {column.name for table in (raw, contents.rows) for column in table.columns if column.kind == "identifier"}
    identifiers = [column for column in raw.columns if column.name in named]
    if not identifiers:
        raise InputError(
            "no column holds identifiers, so nothing would be replaced", where="--coded",
            remedy="Say on the table bench which column is an identifier.",
        )  # fmt: skip
    codes = _codes(identifiers)
    columns = tuple(_code_columns(column, codes) if column.name in named else column for column in raw.columns)
    data = table_text(replace(raw, columns=columns))
    told = Recipe.model_validate(_replace_names(recipe.model_dump(mode="json", by_alias=True), codes))
    told = told.model_copy(update={"read": None})
    rows = all_steps(read_bytes(data).table, told.prepare or [])
    return Contents(told, RawData("coded.csv", data), [], rows)


def _codes(identifiers: list[Column]) -> dict[str, str]:
    """A code for each level of the identifiers, in the order of the rows."""
    result: dict[str, str] = {}
    for level in (level for column in identifiers for level in column.levels):
        result.setdefault(level, f"ID-{len(result) + 1:04d}")
    return result


def _code_columns(column: Column, codes: dict[str, str]) -> Column:
    # By the order of levels, so that the text of equal ones stays equal.
    new = [codes[level] for level in column.levels]
    texts = [new[code] if code >= 0 else None for code in np.asarray(column.codes).tolist()]
    return replace(words_of(column.name, "identifier", pl.Series(texts, dtype=pl.String)), unit=column.unit)


def _replace_names(tree: Any, codes: dict[str, str], by_level: bool = False) -> Any:
    """Every identifier in the recipe's words, whole ones alone, and where something is kept ``by_level``."""
    if isinstance(tree, dict):
        return {
            codes.get(key, key) if by_level else key: _replace_names(value, codes, by_level or key in _BY_LEVEL)
            for key, value in tree.items()
        }
    if isinstance(tree, list):
        return [_replace_names(value, codes) for value in tree]
    if isinstance(tree, str):
        return codes.get(tree) or _WORD.sub(lambda match: codes.get(match.group(0), match.group(0)), tree)
    return tree


# Where the recipe keeps something by the name of a level.
_BY_LEVEL = ("labels", "level_colours")
_WORD = re.compile(r"[\w-]{3,}")
