"""All steps of a preparation. A new step is named here; all else that is known of it stands in its family's file."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Union

from pydantic import ConfigDict, Field, TypeAdapter

from echelle.tables.steps.base import StepBase
from echelle.tables.steps.columns import AsMissing, Rename, SetKind, SetUnit
from echelle.tables.steps.derived import DatePart, Derive, Intervals, Relative
from echelle.tables.steps.joining import Append, Join, TableRef
from echelle.tables.steps.levels import JoinLevels, SetLabels, SetOrder
from echelle.tables.steps.limits_units import Convert, StandIn
from echelle.tables.steps.rows import Keep, LeaveOut, LeaveOutWhere
from echelle.tables.steps.shape import Combine, LongToWide, WideToLong
from echelle.tables.steps.tally import Repeat

# In the order of the page's menu.
STEPS: tuple[type[StepBase], ...] = (
    Keep, LeaveOutWhere, LeaveOut, Combine, Repeat, Rename, SetKind, SetUnit, AsMissing, SetOrder, SetLabels, JoinLevels,
    StandIn, Convert, Intervals, Relative, Derive, DatePart, Join, Append, WideToLong, LongToWide,
)  # fmt: skip

if TYPE_CHECKING:
    Step = StepBase
else:
    # Made at run time of whatever is named above.
    Step = Annotated[Union[STEPS], Field(discriminator="step")]  # noqa: UP007

for _model in (TableRef, Append, Join):
    _model.model_rebuild(_types_namespace={"Step": Step})
STEP_NAMES: tuple[str, ...] = tuple(model.step_name() for model in STEPS)
StepList: TypeAdapter[list[Step]] = TypeAdapter(list[Step], config=ConfigDict(defer_build=True))
