"""What all layers share: their base model, and the types of settings that several have."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Annotated, ClassVar, Literal, Self

from pydantic import Field, JsonValue, model_validator

from echelle.numbers.outliers import FenceScale, OutlierRule
from echelle.recipes.settings import SettingInfo, info_of
from echelle.strict_model import StrictModel

LayerId = Annotated[str, Field(pattern=r"^[a-z][a-z0-9]{0,15}$")]
Place = Literal["on", "above", "below"]
Side = Literal["both", "above", "below"]
DifferenceOf = Literal["means", "medians", "shift"]
Strength = Annotated[float, Field(ge=0.05, le=1.0)]
LineWidth = Annotated[float, Field(ge=0.0, le=6.0)]
Seed = Annotated[int, Field(ge=0, le=2**31 - 1)]
Level = Annotated[float, Field(ge=0.5, le=0.9999)]
Stands = Literal["box", "curve", "columns"]
PreviewPlaced = Literal["evenly", "at value", "overlaid"]

LANE_PLACE = SettingInfo("On the lane's line, above it or below it.")
WIDTH = SettingInfo("How much of the lane it may use.", slider=(0.02, 1.0))
LINE = SettingInfo("How thick the line is, in pt.", title="Line width", slider=(0.0, 4.0))


class Fence(StrictModel):
    """Beyond which value an outlier begins; ``k`` is the reach in IQRs, SDs or MADs, for percentiles the share cut off at
    each end, for extreme deviates the most outliers looked for; ``of`` the values or their logarithms.
    """

    rule: OutlierRule = "quartiles"
    k: float = Field(default=1.5, ge=0.0, le=20.0)
    of: FenceScale = "values"

    @model_validator(mode="after")
    def _shares(self) -> Self:
        if self.rule == "percentiles" and self.k >= 0.5:
            raise ValueError("percentiles cut off less than 0.5 at each end")
        return self


class AnyLayer(StrictModel):
    """What all layers share. The class variables tell what a kind of layer is, so that nobody need ask which kind it is.

    title: its name on the page; marks: its marks in a sentence, where the kind's name does not serve.
    counts_rows: bars of rows instead of values of the measure; they share their axis, and so their figure, with no other layer.
    draws_rows: every value is drawn, outliers among them. draws_outliers: outliers, limits and rows left out are drawn.
    shows_shape: the distribution's shape is seen. bends_with_axis: that shape is computed on the axis' scale.
    even_axis: text at even steps of the measure; lanes run up, and the axis is not bent where it stands alone.
    summarises: centres alone, which a table of summaries can give.
    joins_lanes: goes from lane to lane, so that a lane alone cannot show it. writes: its words stand among the marks.
    stands_on_box: its marks have the lane's colour; a box under them, which ``turns_pale``, gets a clear edge for its fill.
    stands_as: what others that arrive find there: a "box", a "curve" or "columns"; arrives: what it changes of itself then, so
    that both are readable.
    front: how far in front it is put when it is added: filled shapes stand behind, lines and dots before them.
    preview_form, preview_placed: the form that its settings are shown in, and how groups stand there.
    """

    title: ClassVar[str]
    marks: ClassVar[str] = ""
    counts_rows: ClassVar[bool] = False
    draws_rows: ClassVar[bool] = False
    draws_outliers: ClassVar[bool] = False
    shows_shape: ClassVar[bool] = False
    bends_with_axis: ClassVar[bool] = False
    even_axis: ClassVar[bool] = False
    summarises: ClassVar[bool] = False
    joins_lanes: ClassVar[bool] = False
    writes: ClassVar[bool] = False
    front: ClassVar[int] = 4
    stands_as: ClassVar[Stands | None] = None
    arrives: ClassVar[Mapping[Stands, Mapping[str, JsonValue]]] = {}
    turns_pale: ClassVar[bool] = False
    stands_on_box: ClassVar[bool] = False
    preview_form: ClassVar[str] = "strip"
    preview_placed: ClassVar[PreviewPlaced] = "evenly"

    if TYPE_CHECKING:
        # Every kind has this field, with its own name as the only value.
        @property
        def layer(self) -> str: ...

    id: LayerId
    shown: Annotated[bool, SettingInfo("Draw this layer, or leave it out for now.", row=False)] = True
    place: Annotated[Place, LANE_PLACE] = "on"

    @classmethod
    def kind(cls) -> str:
        """The layer's name in a recipe."""
        return str(cls.model_fields["layer"].default)

    def form_sign(self) -> str:
        """The layer in short: its kind, and what tells one form's use of it from another's."""
        return self.kind()

    def without_unit(self) -> Self:
        """The layer without what was given in the measure's unit."""
        return self

    def without_rows(self) -> Self:
        """The layer without what names single rows."""
        return self

    def fills(self, place: Place) -> bool:
        """Whether it is a shape in the lane's colour at a place, in which other marks of that colour would be lost."""
        return False

    def on_lane_edge(self) -> bool:
        """Whether its marks rise from the edge of the lane, which is then higher."""
        return False

    def draws_aside(self) -> bool:
        """Whether limits and rows left out are drawn."""
        return self.draws_outliers

    def shows_axis(self, overlaid: bool) -> bool:
        """Whether the second axis is written where it is this layer's and nobody said."""
        return False

    def order(self) -> str | None:
        """The column that its marks follow over their order; None for none, or the rows as they come."""
        return None

    def in_order(self, column: str | None) -> Self:
        """The layer with its marks in the order of a column, where they stand in an order."""
        return self

    def follows_rows(self) -> bool:
        """Whether it needs every row by itself: in an order, joined to others, or written out; counts do not serve it."""
        return False

    def asks_value(self) -> bool:
        """Whether it looks for one value of the measure, which may be a word."""
        return False

    def named_columns(self) -> list[str]:
        """The columns that it looks at besides the roles."""
        columns = (getattr(self, name) for name, field in type(self).model_fields.items() if info_of(field).column)
        return [str(column) for column in columns if column is not None]


class RisingLayer(AnyLayer):
    """A layer whose marks have a height on the second axis."""

    if TYPE_CHECKING:
        # A share of the lane, with each kind's own limits.
        width: float

    def rise(self) -> Side:
        """To which side of its place the marks rise."""
        return "above"
