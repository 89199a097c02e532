"""The records of a preparation. Each is small JSON; unknown keys are refused."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal, get_args

from pydantic import Field, TypeAdapter

from echelle.strict_model import StrictModel
from echelle.tables.numerals import Decimal
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.steps.conditions import Condition
from echelle.tables.table import Kind

ColumnName = Annotated[str, Field(min_length=1, max_length=500)]
DateOrder = Literal["day first", "month first"]


class IdentifierValue(StrictModel):
    """The value of a column in which every record has its own."""

    column: str
    value: str


class LeftOut(StrictModel):
    """One row left out, and why.

    ``row`` is the raw record from 1 (``part`` the source column or table, where that is needed to name the row). In a
    file with another SHA-256 the row is found again by ``identifier``, else by ``fingerprint`` over ``columns``.
    """

    row: int = Field(ge=0, description="0 where the reader may not see rows")
    part: str = ""
    reason: str = Field(min_length=1, max_length=500)
    by: str = ""
    at: datetime | None = None
    sha256: str = ""
    columns: list[str] = Field(default_factory=list)
    fingerprint: str = ""
    identifier: IdentifierValue | None = None


class StepPart(StrictModel):
    """What every step has: it can be switched off."""

    on: bool = True


class Rename(StepPart):
    """A column gets another name."""

    step: Literal["rename"] = "rename"
    column: str
    to: ColumnName


class SetKind(StepPart):
    """What a column is. ``decimal`` and ``dates`` say how its cells are written, where that is not clear."""

    step: Literal["kind"] = "kind"
    column: str
    kind: Kind
    decimal: Decimal | None = None
    dates: DateOrder | None = None


class SetUnit(StepPart):
    """A unit, or none; the numbers stay."""

    step: Literal["unit"] = "unit"
    column: str
    unit: Annotated[str, Field(min_length=1, max_length=60)] | None


class SetOrder(StepPart):
    """The order of a category's levels; levels not named follow as they come. ``ordered`` false takes the order away."""

    step: Literal["order"] = "order"
    column: str
    levels: list[str] = Field(default_factory=list)
    ordered: bool = True


class SetLabels(StepPart):
    """Other words for levels."""

    step: Literal["labels"] = "labels"
    column: str
    labels: dict[str, str] = Field(min_length=1)


class JoinLevels(StepPart):
    """Several levels become one."""

    step: Literal["join levels"] = "join levels"
    column: str
    levels: list[str] = Field(min_length=1)
    into: Annotated[str, Field(min_length=1, max_length=500)]


class AsMissing(StepPart):
    """Cells written like one of ``marks`` are missing; in every column where ``column`` is null."""

    step: Literal["missing"] = "missing"
    column: str | None
    marks: list[str] = Field(min_length=1)


Below = Literal["limit", "half", "limit/√2", "left out", "as it is"]
Above = Literal["limit", "left out", "as it is"]


class StandIn(StepPart):
    """A number for values known only by their limit: "<0.4" below, ">200" above."""

    step: Literal["stand-in"] = "stand-in"
    column: str
    below: Below = "half"
    above: Above = "as it is"


class Convert(StepPart):
    """Numbers times a factor, in a new unit. With ``by`` the factor depends on that column's level; a level without a
    factor makes the number missing."""

    step: Literal["convert"] = "convert"
    column: str
    to: Annotated[str, Field(min_length=1, max_length=60)]
    factor: float | None = None
    by: str | None = None
    factors: dict[str, float] = Field(default_factory=dict)


class Keep(StepPart):
    """Only the rows for which a condition holds."""

    step: Literal["keep"] = "keep"
    where: Condition


class LeaveOut(StepPart):
    """Single rows left out, each with its reason."""

    step: Literal["leave out"] = "leave out"
    rows: list[LeftOut] = Field(min_length=1)


class WideToLong(StepPart):
    """Several columns become one of names and one of values; a row for each cell, padding aside."""

    step: Literal["wide to long"] = "wide to long"
    columns: list[str] = Field(min_length=1)
    names: ColumnName
    values: ColumnName


class LongToWide(StepPart):
    """The levels of ``names`` become columns that hold ``values``; one row for each combination of ``by``."""

    step: Literal["long to wide"] = "long to wide"
    names: str
    values: str
    by: list[str] = Field(min_length=1)


class TableRef(StrictModel):
    """Another table: its file by SHA-256 (``name`` says what to look for), how it is read, and its own preparation."""

    name: str
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    options: ReadingOptions = Field(default_factory=ReadingOptions)
    prepare: list[Step] = Field(default_factory=list)


class Append(StepPart):
    """The rows of another table below these; ``source`` names a column that says where each row came from."""

    step: Literal["append"] = "append"
    table: TableRef
    source: ColumnName = "source"
    here: str = ""


class KeyPair(StrictModel):
    """A column of this table and the one of the other table that it must equal."""

    here: str
    there: str


class Join(StepPart):
    """The columns of another table beside these, where keys agree. Every row here stays; several matches are refused
    unless ``multiply``."""

    step: Literal["join"] = "join"
    table: TableRef
    keys: list[KeyPair] = Field(min_length=1)
    multiply: bool = False


class Combine(StepPart):
    """Repeats become one row for each combination of ``by``: numbers by ``how``, other columns where they agree."""

    step: Literal["combine"] = "combine"
    by: list[str] = Field(min_length=1)
    how: Literal["mean", "median", "first", "count"] = "mean"


class Intervals(StepPart):
    """A number cut into named intervals at ``edges``. Without names they are written from their edges.

    ``open_low`` and ``open_high`` add an interval beyond each end; else such values are missing. ``closed`` says which
    side of an interval belongs to it; of the outermost both do, unless an open one follows.
    """

    step: Literal["intervals"] = "intervals"
    column: str
    to: ColumnName
    edges: list[float] = Field(min_length=1)
    names: list[str] = Field(default_factory=list)
    closed: Literal["left", "right"] = "left"
    open_low: bool = True
    open_high: bool = True


class DatePart(StepPart):
    """Year, month or weekday of a date, as an ordered category."""

    step: Literal["date part"] = "date part"
    column: str
    part: Literal["year", "month", "weekday"]
    to: ColumnName


class Derive(StepPart):
    """A column by a formula."""

    step: Literal["derive"] = "derive"
    to: ColumnName
    formula: Annotated[str, Field(min_length=1, max_length=4000)]
    unit: Annotated[str, Field(min_length=1, max_length=60)] | None = None


class Relative(StepPart):
    """A value relative to its own group (rows that agree in ``within``).

    ``ratio to mean`` and ``ratio to median`` divide by that of the group's reference rows, ``change`` subtracts their
    mean, ``z-score`` takes their mean away and divides by their SD. ``reference`` null takes the whole group.
    """

    step: Literal["relative"] = "relative"
    column: str
    to: ColumnName
    how: Literal["ratio to mean", "ratio to median", "change", "z-score"]
    within: list[str] = Field(default_factory=list)
    reference: Condition | None = None


AnyStep = (
    Rename | SetKind | SetUnit | SetOrder | SetLabels | JoinLevels | AsMissing | StandIn | Convert | Keep | LeaveOut
    | WideToLong | LongToWide | Append | Join | Combine | Intervals | DatePart | Derive | Relative
)  # fmt: skip
Step = Annotated[AnyStep, Field(discriminator="step")]
TableRef.model_rebuild()
Append.model_rebuild()
Join.model_rebuild()
STEP_NAMES: tuple[str, ...] = tuple(kind.model_fields["step"].default for kind in get_args(AnyStep))
StepList = TypeAdapter(list[Step])
