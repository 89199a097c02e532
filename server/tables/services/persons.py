"""What those who may not see rows are shown: no single person. No column that names persons divides or narrows their figures,
no lane of theirs is smaller than the study's least cell, and what others wrote names nobody.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields, is_dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from django.conf import settings
from pydantic import BaseModel

from echelle.errors import InputError
from echelle.figures.lanes.lane import Arrangement
from echelle.recipes.recipe import Recipe
from echelle.tables.column_summary import ColumnSummary
from echelle.tables.steps.registry import Step
from echelle.tables.subjects import SubjectNoun, subject_noun
from echelle.tables.table import Column, Table
from server.tables.models import DataTable
from server.tables.services.cache import Cache, prepared_of, summaries_of, table_of
from server.tables.services.preparation import steps_key

NOT_SHOWN = "not shown"
_NAMING_KINDS = ("identifier", "text")
_LEVEL_KINDS = ("category", "date", "yes/no")
# Fewer levels than that name nobody, however short the table; more of them do where each has but a few rows, or where the
# column is named after persons or samples.
_FEW_LEVELS, _FEW_ROWS = 10, 5
_MOST_WORDS = 16
_names = Cache(settings.CACHE_MEGABYTES / 16)
# Long texts without a word are drawings.
_LONG, _WORD = 200, re.compile(r"[^\W\d_]{3}")
_QUESTION = {"measure", "groups", "subgroups", "panels", "keep"}


@dataclass(frozen=True, eq=False)
class Persons:
    """What would name single persons in a table after its preparation."""

    stored: DataTable
    steps: Sequence[Step]

    @cached_property
    def columns(self) -> list[ColumnSummary]:
        """The table's columns in small."""
        return summaries_of(self.stored, self.steps)

    @cached_property
    def naming(self) -> frozenset[str]:
        """Names and headings of the columns that name persons: identifiers, free text, what is nearly unique."""
        result = set()
        for column in (*self.columns, *summaries_of(self.stored, [])):
            few = self.stored.rows_held < _FEW_ROWS * column.distinct or _of_persons(column.name)
            unique = column.kind in _LEVEL_KINDS and column.distinct > _FEW_LEVELS and few
            if column.kind in _NAMING_KINDS or unique:
                result |= {column.name, f"{column.name} ({column.unit})"}
        return frozenset(result)

    @cached_property
    def names(self) -> frozenset[str]:
        """Every value of those columns. What stands for other things too, such as short numbers and remarks of a few words, is
        hidden by its column alone.
        """
        key = (self.stored.pk, steps_key(self.steps))
        return _names.get(key, self._all_names, lambda names: 120 * len(names) + 1_000)

    def _all_names(self) -> frozenset[str]:
        columns = (*self._table.columns, *table_of(self.stored).columns)
        levels = ((column.kind, level) for column in columns if column.name in self.naming for level in column.levels)
        return frozenset(level for kind, level in levels if len(level) >= _least_letters(kind, level))

    def must_not_divide(self, recipe: Recipe) -> None:
        """Raises InputError where such a column is a role or a condition. (Names that layers write are taken out of them.)"""
        panels = recipe.panels
        roles = (recipe.groups, recipe.subgroups, panels.down, panels.across, panels.wrapped)
        named = [role.column for role in roles if role is not None] + [condition.column for condition in recipe.keep]
        for column in named:
            if column in self.naming:
                remedy = "Choose another column; the study's owner may show you more."
                raise InputError(f"“{column}” names single persons, so no figure for viewers has it", remedy=remedy)

    def must_be_large(self, recipe: Recipe, shown: Recipe, lanes: Arrangement, least: int) -> None:
        """Raises InputError for a lane of fewer subjects than the least cell, in a question other than the shown one."""
        if recipe.model_dump(include=_QUESTION) == shown.model_dump(include=_QUESTION):
            return
        for lane in lanes.lanes:
            count = self._subjects(lane.rows)
            if 0 < count < least:
                what = f"“{lane.name}” would hold fewer than {least} subjects, which viewers are not shown"
                raise InputError(what, remedy="Keep more rows, or group by a column with fewer levels.")

    def without_names(self, columns: Iterable[ColumnSummary]) -> list[ColumnSummary]:
        """The columns in small, without the levels of those that name persons."""
        return [
            column.model_copy(update={"levels": [], "bars": []}) if column.name in self.naming else column for column in columns
        ]

    def masked(self, answer: BaseModel) -> dict[str, Any]:
        """An answer as plain data in which no text names a person."""
        return {key: self._masked(held) for key, held in answer.model_dump(mode="json", by_alias=True).items()}

    def _masked(self, value: Any, of_person: bool = False) -> Any:
        if isinstance(value, dict):
            own = of_person or value.get("column") in self.naming or (value.get("name") in self.naming and "levels" in value)
            kept = ("column", "step", "kind", "name")
            return {key: held if key in kept and own else self._masked(held, own) for key, held in value.items()}
        if isinstance(value, list):
            return [self._masked(held, of_person) for held in value]
        if isinstance(value, str):
            return NOT_SHOWN if of_person else self.text(value)
        return value

    def mask(self, model: BaseModel) -> None:
        """Take persons' names out of all texts of a figure, in place."""
        for field in type(model).model_fields:
            held = getattr(model, field)
            if (masked := self._held(held)) is not held:
                setattr(model, field, masked)

    def _held(self, held: Any) -> Any:
        if isinstance(held, str):
            masked = self.text(held)
            return held if masked == held else masked
        if isinstance(held, BaseModel):
            self.mask(held)
        elif is_dataclass(held) and not isinstance(held, type):
            # Such as a row change, which never changes itself.
            texts = {f.name: self.text(text) for f in fields(held) if isinstance(text := getattr(held, f.name), str)}
            return replace(held, **texts)
        elif isinstance(held, list):
            for place, part in enumerate(held):
                if (masked := self._held(part)) is not part:
                    held[place] = masked
        return held

    def text(self, text: str) -> str:
        """A text with every person's name taken out of it."""
        if not self.names or (len(text) > _LONG and not _WORD.search(text)):
            return text
        edges = [0, *(i for i in range(1, len(text)) if text[i].isalnum() != text[i - 1].isalnum()), len(text)]
        result, at = "", 0
        while at < len(edges) - 1:
            ends = range(min(len(edges) - 1, at + _MOST_WORDS), at, -1)
            end = next((end for end in ends if text[edges[at] : edges[end]] in self.names), None)
            result += NOT_SHOWN if end is not None else text[edges[at] : edges[at + 1]]
            at = end if end is not None else at + 1
        return result

    def _subjects(self, keys: np.ndarray[Any, np.dtype[np.int64]]) -> int:
        """How many different subjects rows are of; each its own where no column tells."""
        column = self._subject
        if column is None:
            return len(np.unique(keys))
        own = self._table.row_ids.keys
        order = np.argsort(own, kind="stable")
        places = order[np.minimum(np.searchsorted(own[order], keys), max(len(own) - 1, 0))]
        return len(np.unique(column.codes[places]))

    @cached_property
    def _table(self) -> Table:
        return prepared_of(self.stored, self.steps).table

    @cached_property
    def _subject(self) -> Column | None:
        kinds = ("identifier", "category")
        naming = [c for c in self._table.columns if c.name in self.naming and c.kind in kinds and c.distinct]
        return min(naming, key=lambda column: column.distinct, default=None)


def _of_persons(name: str) -> bool:
    return subject_noun(name) != SubjectNoun(name, f"× {name}")


def _least_letters(kind: str, level: str) -> int:
    """How long a value is that can only mean a person."""
    if kind == "text":
        return 16
    return 5 if level.isdecimal() else 2
