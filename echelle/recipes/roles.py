"""The roles that columns play in a comparison."""

from __future__ import annotations

import itertools
from typing import Annotated, Literal

from pydantic import Field, model_validator

from echelle.recipes.settings import SettingInfo
from echelle.strict_model import MOST_LEVELS, MOST_PARTS, StrictModel
from echelle.tables.date_parts import Part

GroupsPlaced = Literal["evenly", "at value", "overlaid"]
SubgroupsPlaced = Literal["beside", "back-to-back", "overlaid", "stacked"]
Scales = Literal["one", "one-per-line", "each-its-own"]
MeasuresPlaced = Literal["within groups", "panels"]
Sorted = Literal["by hand", "alphabetical", "calendar", "by median", "by mean", "by n"]


class Measure(StrictModel):
    """The measured column; several give one lane each, or one in each group."""

    columns: list[str] = Field(min_length=1, max_length=400)
    placed: Annotated[
        MeasuresPlaced,
        SettingInfo(
            "Several measures stand beside one another in each group, or have a panel each.",
            title="Several stand",
            find=("measures", "multiple columns"),
            options={"within groups": "in each group", "panels": "a panel each"},
        ),
    ] = Field(default="within groups", description="of several measures with groups: in each group, or a panel each")
    limits: Annotated[
        Literal["set aside", "in order"],
        SettingInfo(
            "Values such as <0.4 stay out of quartiles, or are counted at their place in the order.",
            title="Below a limit",
            find=("detection limit", "censored", "<"),
            options={"set aside": "out of quartiles", "in order": "in their order"},
        ),
    ] = Field(default="set aside", description="whether quartiles count values such as <0.4 at their place in the order")


class JoinedLevels(StrictModel):
    """Several levels as one."""

    name: str = Field(min_length=1, max_length=200)
    levels: list[str] = Field(max_length=MOST_LEVELS, min_length=1)


class Cut(StrictModel):
    """A column of numbers cut into intervals [a, b), or (a, b]; the first and last are open."""

    edges: list[float] = Field(min_length=1, max_length=100)
    names: list[str] = Field(
        max_length=101, default_factory=list, description="one more than edges; empty: written from the edges"
    )
    closed: Literal["left", "right"] = "left"

    @model_validator(mode="after")
    def _rising(self) -> Cut:
        if any(b <= a for a, b in itertools.pairwise(self.edges)):
            raise ValueError("edges rise")
        if self.names and len(self.names) != len(self.edges) + 1:
            raise ValueError("an interval lies below the first edge and after each: names are one more than edges")
        return self


class Levels(StrictModel):
    """A column whose levels divide rows; levels not in ``order`` follow it as they come."""

    column: str
    order: list[str] = Field(max_length=MOST_LEVELS, default_factory=list)
    sorted: Annotated[
        Sorted,
        SettingInfo(
            "In the order of the table or of your hand, by name, by the calendar, or the highest first.",
            title="Order",
            find=("sort", "rank"),
        ),
    ] = "by hand"
    labels: dict[str, str] = Field(max_length=MOST_LEVELS, default_factory=dict)
    dropped: list[str] = Field(max_length=MOST_LEVELS, default_factory=list)
    joined: list[JoinedLevels] = Field(max_length=MOST_PARTS, default_factory=list)
    cut: Cut | None = Field(default=None, description="a measure in named intervals")
    dates: Annotated[
        Part | None,
        SettingInfo(
            "A date by its year, quarter, month, weekday, hour or shift (from 6, 14 and 22 o'clock).",
            title="Dates by",
            find=("calendar", "season"),
        ),
    ] = Field(default=None, description="a date by a part of it")


class Groups(Levels):
    """The column whose levels become lanes."""

    placed: Annotated[
        GroupsPlaced,
        SettingInfo(
            "A lane each, evenly or at the level's own number (a dose, a year), or all on one axis, laid over one another.",
            title="Placed",
            find=("overlay", "dose", "to scale"),
            options={"evenly": "a lane each", "at value": "at their numbers", "overlaid": "on one axis"},
        ),
    ] = Field(default="evenly", description="evenly; at the level's own number; all on one line, laid over")
    empty: Annotated[
        Literal["close up", "keep"], SettingInfo("A group without rows leaves no gap, or keeps its place.", title="Empty lanes")
    ] = "close up"
    width: Annotated[
        Literal["same", "by n", "by root n"],
        SettingInfo("All lanes alike, or wider where there are more rows.", title="Lane width", find=("proportional",)),
    ] = "same"


class Subgroups(Levels):
    """The column that splits each group."""

    placed: Annotated[
        SubgroupsPlaced,
        SettingInfo(
            "Beside one another in the lane, as two halves back to back, laid over one another, or stacked.",
            title="Placed",
            find=("overlay", "split", "side by side"),
            options={"back-to-back": "in halves"},
        ),
    ] = "beside"


class Panels(StrictModel):
    """Columns whose levels get a panel each."""

    down: Levels | None = None
    across: Levels | None = None
    wrapped: Levels | None = None
    in_line: Annotated[
        int | None,
        SettingInfo("How many wrapped panels stand in one line.", title="In a line", slider=(1, 12), needs={"wrapped": True}),
    ] = Field(default=None, ge=1, le=12, description="of wrapped panels: how many stand in one line")
    scales: Annotated[
        Scales,
        SettingInfo(
            "All panels on one scale, those of a line together, or each on its own.",
            find=("free scales",),
            options={"one": "one for all", "one-per-line": "one a line", "each-its-own": "each its own"},
        ),
    ] = "one"

    @model_validator(mode="after")
    def _one_way(self) -> Panels:
        if self.wrapped is not None and (self.down is not None or self.across is not None):
            raise ValueError("panels are wrapped, or go down and across")
        return self
