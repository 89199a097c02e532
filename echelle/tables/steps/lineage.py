"""Which columns steps look at, and what they were made from."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from pydantic import BaseModel

from echelle.tables.steps.base import FieldForm, StepBase
from echelle.tables.steps.joining import Join

_NAMED = ("column", "columns")


def columns_named(step: StepBase) -> set[str]:
    """The columns that a step looks at: those of its fields, of its conditions and of its formula."""
    result: set[str] = set()
    for name, field in type(step).model_fields.items():
        form = next((part for part in field.metadata if isinstance(part, FieldForm)), None)
        value = getattr(step, name)
        if form is None or value is None:
            continue
        if form.asks == "keys":
            result |= {pair.here for pair in value}
        elif form.asks in _NAMED:
            result |= {value} if isinstance(value, str) else set(value)
        elif form.asks == "condition":
            result |= set(_of_condition(value))
        elif form.asks == "formula":
            result |= _of_formula(value)
    return result


def _of_condition(condition: Any) -> Iterator[str]:
    if not isinstance(condition, BaseModel):
        return
    column = getattr(condition, "column", None)
    if isinstance(column, str):
        yield column
    for name in type(condition).model_fields:
        value = getattr(condition, name)
        for part in value if isinstance(value, list) else ():
            yield from _of_condition(part)


def _of_formula(formula: str) -> set[str]:
    from echelle.tables.formulas.evaluate import columns_of_formula

    return columns_of_formula(formula)


def needed_for(columns: Iterable[str], steps: Sequence[StepBase]) -> tuple[set[str], list[StepBase]]:
    """The columns, of the raw table or of ones that are joined to it, that some columns of the prepared table come from; and
    the steps among ``steps`` that make them.
    """
    needed, kept = set(columns), list[StepBase]()
    for step in reversed([step for step in steps if step.on]):
        named, made = columns_named(step), step.makes()
        if isinstance(step, Join):
            # Which columns it brings, its table alone tells.
            needed |= named
            kept.append(step)
            continue
        if made is not None:
            if made not in needed:
                continue
            needed.discard(made)
        elif named and not step.leaves_out and not named & needed:
            # One that names no column is about all of them.
            continue
        needed |= named
        kept.append(step)
    return needed, kept[::-1]
