"""The recipe: one comparison's question and figure. The published JSON Schema is made from it; unknown keys are refused
with their path.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal, TypeVar

from pydantic import BeforeValidator, Field, model_validator

from echelle.recipes.differences import Differences
from echelle.recipes.guides import Guide
from echelle.recipes.layers import Layer
from echelle.recipes.layers.base import AnyLayer
from echelle.recipes.roles import Groups, Measure, Panels, Subgroups
from echelle.recipes.style import Axis, Ledger, LookName, OwnLook, SecondAxis, Size, Style, Words, named_look
from echelle.recipes.upgrade import upgraded
from echelle.strict_model import MOST_LEVELS, MOST_PARTS, StrictModel
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.steps.conditions import ColumnCondition
from echelle.tables.steps.left_out import LeftOut
from echelle.tables.steps.registry import Step

L = TypeVar("L", bound=AnyLayer)
FormName = Literal[
    "box", "violin", "strip", "raincloud", "histogram", "density", "ridges", "cumulative", "means", "in-order", "series",
    "probability", "stem", "counts",
]  # fmt: skip


class Recipe(StrictModel):
    """One comparison's question and figure."""

    echelle: Literal[1]
    read: ReadingOptions | None = Field(default=None, description="sealed: how the file is read, where a person said so")
    prepare: list[Step] | None = Field(
        max_length=MOST_PARTS, default=None, description="sealed: the steps from the file to the rows in use"
    )
    made: datetime | None = Field(default=None, description="sealed: when the drawn state was settled")
    measure: Measure
    groups: Groups | None = None
    subgroups: Subgroups | None = None
    panels: Panels = Field(default_factory=Panels)
    keep: list[ColumnCondition] = Field(max_length=60, default_factory=list)
    left_out: list[LeftOut] = Field(max_length=MOST_LEVELS, default_factory=list)
    layers: list[Layer] = Field(max_length=60, min_length=1)
    axis: Axis = Field(default_factory=Axis)
    second_axis: SecondAxis = Field(default_factory=SecondAxis)
    guides: list[Guide] = Field(default_factory=list, max_length=40)
    words: Words = Field(default_factory=Words)
    ledger: Ledger = Field(default_factory=Ledger)
    differences: Differences | None = Field(default=None, description="how lanes are set against one another; null: not")
    style: Annotated[LookName | Style, BeforeValidator(named_look)] = "house"
    own_look: OwnLook = Field(default_factory=OwnLook, description="where the figure deviates from its look")
    size: Size = Field(default_factory=Size)

    def shown(self, model: type[L]) -> list[L]:
        """The layers of one kind that are drawn, in the recipe's order."""
        return [layer for layer in self.layers if layer.shown and isinstance(layer, model)]

    @property
    def shown_layers(self) -> list[AnyLayer]:
        """All layers that are drawn."""
        return [layer for layer in self.layers if layer.shown]

    @model_validator(mode="before")
    @classmethod
    def _of_this_release(cls, data: object) -> object:
        return upgraded(data) if isinstance(data, dict) else data

    @model_validator(mode="after")
    def _agrees(self) -> Recipe:
        if len(self.measure.columns) > 1 and self.groups is not None:
            divided = [self.panels.down, self.panels.across, self.panels.wrapped]
            if self.measure.placed == "within groups" and self.subgroups is not None:
                raise ValueError("measures within groups stand where subgroups would: leave one of them out, or use panels")
            if self.measure.placed == "panels" and any(role is not None for role in divided):
                raise ValueError("each measure has a panel, so there are no panels by columns")
        if len(set(self.measure.columns)) < len(self.measure.columns):
            raise ValueError("a measure stands twice among the columns")
        if self.subgroups is not None and self.groups is None:
            raise ValueError("subgroups need groups")
        return self
