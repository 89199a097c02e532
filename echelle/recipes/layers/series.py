"""The layer of lines over an order."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from echelle.recipes.guides import Dash
from echelle.recipes.layers.base import LINE, AnyLayer, Level, LineWidth, Place
from echelle.recipes.settings import DASH, SettingInfo

SeriesThrough = Literal["values", "means", "medians", "least squares", "running total"]
SeriesBand = Literal["none", "spread", "interval"]
_CENTRES = ["means", "medians"]
_BANDS = [*_CENTRES, "least squares"]


class SeriesLayer(AnyLayer):
    """A line in each lane over the order of its values: through them, their means or medians at each place, straight by least
    squares, or their running total.
    """

    title: ClassVar[str] = "Series"
    front: ClassVar[int] = 3
    preview_form: ClassVar[str] = "in-order"

    layer: Literal["series"] = "series"
    # Its order takes the whole lane.
    place: Annotated[Place, SettingInfo("On the lane's line: its order takes the whole lane.", row=False)] = "on"
    against: Annotated[
        str | None,
        SettingInfo(
            "The column that the line follows: a number, a date or levels in their order.",
            title="In order of",
            find=("time", "date", "x axis", "course", "over time"),
            column=True,
            computed=True,
        ),
    ] = Field(default=None, description="column that orders the values; null: the rows as they come")
    through: Annotated[
        SeriesThrough,
        SettingInfo(
            "Through every value, the mean or median at each place, straight by least squares, or the sum so far.",
            find=("regression", "fitted line", "trend", "cumulative", "moving"),
            options={"least squares": "a straight line"},
            computed=True,
        ),
    ] = "means"
    step: Annotated[
        float | None,
        SettingInfo(
            "Places are gathered into steps of this length (days, of dates); empty: each place for itself.",
            title="In steps of",
            needs={"through": _CENTRES},
            find=("bins", "gather"),
            computed=True,
        ),
    ] = Field(default=None, gt=0, description="length of the steps that places are gathered into; null: each for itself")
    by: Annotated[
        str | None,
        SettingInfo(
            "An identifier column: each subject has a line of its own.",
            title="A line each",
            needs={"through": ["values", "running total"]},
            find=("subjects", "individual", "profiles"),
            column=True,
            computed=True,
        ),
    ] = Field(default=None, description="identifier column: each subject has a line")
    band: Annotated[
        SeriesBand,
        SettingInfo(
            "Where values lie (one SD about means, the middle half about medians), or how sure the line is.",
            needs={"through": _BANDS},
            find=("confidence", "ribbon", "SD"),
            options={"spread": "where values lie", "interval": "of the line"},
        ),
    ] = "none"
    level: Annotated[
        Level,
        SettingInfo(
            "How sure the interval is.", slider=(0.5, 0.999), needs={"through": _BANDS, "band": ["interval", "spread"]},
            computed=True,
        ),
    ] = Field(default=0.95, description="of intervals of the line, its slope, and single values")  # fmt: skip
    fill: Annotated[
        float, SettingInfo("How opaque the area from the line down to zero is.", find=("area",), slider=(0.0, 1.0))
    ] = Field(default=0.0, ge=0.0, le=1.0, description="opacity of the area below the line")
    line: Annotated[LineWidth, LINE] = 1.4
    dash: Annotated[Dash, DASH] = "solid"

    def order(self) -> str | None:
        """The column that the line follows."""
        return self.against

    def in_order(self, column: str | None) -> Self:
        """With the line over a column."""
        return self.model_copy(update={"against": column})

    def shows_axis(self, overlaid: bool) -> bool:
        """The order is read."""
        return True

    def follows_rows(self) -> bool:
        """Its marks follow one another."""
        return True
