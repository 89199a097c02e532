"""Conditions on rows: as records, and as masks over a table."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any

import numpy as np
import polars as pl
from numpy.typing import NDArray
from pydantic import Field, model_validator

from echelle.catalogue.catalogue import Catalogue
from echelle.errors import InputError
from echelle.strict_model import MOST_LEVELS, StrictModel
from echelle.tables.table import Column, Mark, Table

Mask = NDArray[np.bool_]


class OneOf(StrictModel):
    """Rows whose value in ``column`` is one of ``values``."""

    column: str
    values: list[str] = Field(alias="is", min_length=1, max_length=MOST_LEVELS)


class NoneOf(StrictModel):
    """Rows that have a value in ``column`` which is none of ``values``."""

    column: str
    values: list[str] = Field(alias="is_not", min_length=1, max_length=MOST_LEVELS)


class Within(StrictModel):
    """Rows whose number or date lies in a range: ``from`` and ``to`` belong to it, ``above`` and ``below`` do not."""

    column: str
    start: float | str | None = Field(default=None, alias="from")
    end: float | str | None = Field(default=None, alias="to")
    above: float | str | None = None
    below: float | str | None = None

    @model_validator(mode="after")
    def _one_end(self) -> Within:
        if self.start is self.end is self.above is self.below is None:
            raise ValueError("a range needs one of from, to, above, below")
        return self


class Missing(StrictModel):
    """Rows without a value in ``column`` (``missing`` true), or with one."""

    column: str
    missing: bool


class AllOf(StrictModel):
    """Rows for which every condition holds."""

    conditions: list[Condition] = Field(alias="all", min_length=1, max_length=60)


class AnyOf(StrictModel):
    """Rows for which one of the conditions holds."""

    conditions: list[Condition] = Field(alias="any", min_length=1, max_length=60)


ColumnCondition = OneOf | NoneOf | Missing | Within
Condition = Annotated[ColumnCondition | AllOf | AnyOf, Field(union_mode="left_to_right")]
AllOf.model_rebuild()
AnyOf.model_rebuild()


def rows_where(table: Table, condition: Condition, where: str) -> Mask:
    """The rows that a condition holds for; bool, shape (rows,).

    Raises InputError for a column that is not there, and for a range over a column without numbers or dates.
    """
    if isinstance(condition, AllOf):
        masks = [rows_where(table, c, f"{where}.all[{i}]") for i, c in enumerate(condition.conditions)]
        return np.asarray(np.logical_and.reduce(masks))
    if isinstance(condition, AnyOf):
        masks = [rows_where(table, c, f"{where}.any[{i}]") for i, c in enumerate(condition.conditions)]
        return np.asarray(np.logical_or.reduce(masks))
    column = table.column(condition.column, where=f"{where}.column")
    if isinstance(condition, OneOf):
        return _is(column, condition.values)
    if isinstance(condition, NoneOf):
        return column.present & ~_is(column, condition.values)
    if isinstance(condition, Missing):
        return ~column.present if condition.missing else column.present
    return _rows_within(column, condition, where)


def _is(column: Column, values: list[str]) -> Mask:
    wanted = set(values)
    if column.numbers is not None and column.marks is not None:
        numbers = [number for text in wanted if (number := _number(text)) is not None]
        equal = (column.marks == Mark.NUMBER) & np.isin(column.numbers, numbers)
        return np.asarray(equal | (column.texts.is_in(list(wanted)).fill_null(False).to_numpy() & column.present))
    places = [i for i, level in enumerate(column.levels) if level in wanted]
    return np.isin(column.codes, places)


def _number(text: str) -> float | None:
    try:
        return float(text)
    except ValueError:
        return None


def _rows_within(column: Column, condition: Within, where: str) -> Mask:
    held = column.present
    if column.numbers is not None and column.marks is not None:
        held &= column.marks == Mark.NUMBER
        with np.errstate(invalid="ignore"):
            for bound, compare in _bounds(condition):
                if isinstance(bound, str):
                    raise InputError(f"“{bound}” is no number", where=where, remedy=f"“{column.name}” holds numbers.")
                held &= compare(column.numbers, bound)
        return held
    if column.kind != "date":
        raise InputError(
            f"“{column.name}” is a {column.kind} and has no range", where=where, remedy="Choose levels, or a column of numbers."
        )
    texts = column.texts
    for bound, compare in _bounds(condition):
        # A day as a bound means the whole day.
        day = texts.str.slice(0, len(str(bound)))
        held &= compare(day, str(bound)).fill_null(False).to_numpy()
    return held


def _bounds(condition: Within) -> list[tuple[float | str, Callable[[Any, Any], Any]]]:
    pairs: list[tuple[float | str | None, Callable[[Any, Any], Any]]] = [
        (condition.start, lambda a, b: a >= b), (condition.end, lambda a, b: a <= b),
        (condition.above, lambda a, b: a > b), (condition.below, lambda a, b: a < b),
    ]  # fmt: skip
    return [(bound, compare) for bound, compare in pairs if bound is not None]


def condition_words(condition: Condition, words: Catalogue) -> str:
    """ "haemolysed = no", "cortisol from 2 to 40", "a = 1 and (b missing or c > 3)"."""
    if isinstance(condition, AllOf):
        return words.say("and").join(_in_brackets(c, AnyOf, words) for c in condition.conditions)
    if isinstance(condition, AnyOf):
        return words.say("or").join(_in_brackets(c, AllOf, words) for c in condition.conditions)
    if isinstance(condition, OneOf):
        return f"{condition.column} = {', '.join(condition.values)}"
    if isinstance(condition, NoneOf):
        return f"{condition.column} ≠ {', '.join(condition.values)}"
    if isinstance(condition, Missing):
        return words.say("condition-missing", column=condition.column, missing="yes" if condition.missing else "no")
    ends = [words.say("condition-from", bound=_plain(condition.start))] if condition.start is not None else []
    ends += [words.say("condition-to", bound=_plain(condition.end))] if condition.end is not None else []
    ends += [f"{sign} {_plain(bound)}" for sign, bound in ((">", condition.above), ("<", condition.below)) if bound is not None]
    return " ".join([condition.column, *ends])


def _in_brackets(condition: Condition, kind: type, words: Catalogue) -> str:
    inner = condition_words(condition, words)
    return f"({inner})" if isinstance(condition, kind) else inner


def _plain(bound: float | str) -> str:
    return bound if isinstance(bound, str) else pl.Series([bound]).cast(pl.String)[0].removesuffix(".0")
