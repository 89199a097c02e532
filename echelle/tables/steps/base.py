"""What every step of a preparation is: a record that is small JSON, its effect, its words, and what the page asks for it."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.catalogue.catalogue import catalogue
from echelle.errors import InputError
from echelle.strict_model import StrictModel
from echelle.tables.table import Kind, Table

Changed = tuple[Table, str]
ColumnName = Annotated[str, Field(min_length=1, max_length=500)]
UnitName = Annotated[str, Field(min_length=1, max_length=60)]
StepGroup = Literal["Rows", "Columns", "Levels", "Numbers", "New columns", "Tables"]
Asks = Literal[
    "column", "columns", "text", "formula", "number", "list", "numbers", "choice", "yes-no", "levels", "order", "map",
    "map of numbers", "condition", "table", "keys", "left out",
]  # fmt: skip


@dataclass(frozen=True)
class FieldForm:
    """What the page asks for a field: its name and how it is asked, among columns of which kinds.

    none: what it says where nothing is chosen; "" where something must be. help: a hint. start: what a new step begins with:
    a kind of column, a value, or a text with {column} or {measure} in it; "" for the first that fits. of: the field that
    names the column whose levels it is about. when: another field, and its value for which this one is asked. optional: may
    stay empty.
    """

    name: str
    asks: Asks = "text"
    kinds: tuple[Kind, ...] = ()
    none: str = ""
    help: str = ""
    start: str = ""
    of: str = "column"
    when: tuple[str, str | None] | None = None
    optional: bool = False


LEVELS: tuple[Kind, ...] = ("category", "yes/no", "identifier")
COLUMN = FieldForm("Column", asks="column")
MEASURE = FieldForm("Measure", asks="column", kinds=("measure",))
CATEGORY = FieldForm("Category", asks="column", kinds=LEVELS)


class StepBase(StrictModel, ABC):
    """A step; it can be switched off. ``title``, ``help`` and ``group`` are what the page's menu says of it; ``leaves_out``
    is set where it takes rows away and does nothing else.
    """

    title: ClassVar[str]
    help: ClassVar[str]
    group: ClassVar[StepGroup]
    leaves_out: ClassVar[bool] = False

    on: bool = True

    @abstractmethod
    def words(self) -> str:
        """What the step does, without its outcome."""

    def makes(self) -> str | None:
        """The column that the step adds or names anew; None where columns change in their place."""
        return None

    def row_local(self) -> bool:
        """Whether what it makes of a row depends on that row alone."""
        return True

    @classmethod
    def step_name(cls) -> str:
        """The step's name in a recipe."""
        return str(cls.model_fields["step"].default)


class OneTableStep(StepBase):
    """A step that needs no other table."""

    @abstractmethod
    def apply(self, table: Table) -> Changed:
        """The table after the step, and a few words on what it did. Raises InputError where it does not fit."""


def free_name(table: Table, name: str) -> str:
    """A name that no column has yet. Raises InputError otherwise."""
    if any(column.name == name for column in table.columns):
        raise InputError(f"there is a column “{name}” already", remedy="Choose another name.")
    return name


def list_some(words: Sequence[str]) -> str:
    """The first three of many."""
    more = len(words) - 3
    return ", ".join(words[:3]) + (f" {catalogue().say('more-entries', more=more)}" if more > 0 else "")
