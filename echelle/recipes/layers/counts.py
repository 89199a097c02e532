"""The layer of counts of rows."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.recipes.layers.base import WIDTH, AnyLayer
from echelle.recipes.settings import SettingInfo

CountOf = Literal["rows", "subjects", "both"]


class CountsLayer(AnyLayer):
    """How many rows each lane has, and how many distinct subjects."""

    title: ClassVar[str] = "Counts"
    front: ClassVar[int] = 0
    counts_rows: ClassVar[bool] = True
    preview_form: ClassVar[str] = "counts"

    layer: Literal["counts"] = "counts"
    of: Annotated[CountOf, SettingInfo("Rows, distinct subjects by the identifier, or both.")] = "both"
    height: Annotated[
        Literal["count", "percent"],
        SettingInfo("Bars show how many there are, or per cent.", title="Bars show", find=("share",)),
    ] = "count"
    percent_of: Annotated[
        Literal["group", "all"],
        SettingInfo(
            "Per cent of the rows of each group in a panel, so that split bars add to 100, or of all rows.",
            title="Per cent of",
            needs={"height": ["percent"]},
            options={"group": "each group", "all": "all rows"},
        ),
    ] = "group"
    of_value: Annotated[
        str | None,
        SettingInfo(
            "Count only rows with this value of the measure (such as 0, or none), as a share of each lane.",
            title="Of the value",
            find=("zeros", "proportion", "prevalence", "rate"),
            samples=("4",),
            text=True,
            computed=True,
        ),
    ] = Field(default=None, max_length=200, description="count rows with this value alone; or: beyond a limit")
    interval: Annotated[
        bool,
        SettingInfo(
            "A line on each bar: the 95 % interval of its share.",
            needs={"of_value": True, "height": ["percent"]},
            find=("confidence", "uncertainty"),
        ),
    ] = Field(default=False, description="the 95 % interval of each share, where a value is counted in per cent")
    labels: Annotated[
        Literal["none", "count", "percent"],
        SettingInfo("A number on each bar: how many, or per cent.", find=("values", "numbers")),
    ] = "none"
    width: Annotated[float, WIDTH] = Field(default=0.6, ge=0.05, le=1.0, description="share of the lane")

    def asks_value(self) -> bool:
        """One value of the measure may be counted alone."""
        return self.of_value is not None
