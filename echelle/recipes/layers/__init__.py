"""The layers of a recipe: one file a kind of mark, every setting in it. A new kind is named here."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from echelle.recipes.layers.base import AnyLayer
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.bracket import BracketLayer
from echelle.recipes.layers.control import ControlLayer
from echelle.recipes.layers.counts import CountsLayer
from echelle.recipes.layers.cumulative import CumulativeLayer
from echelle.recipes.layers.density import DensityLayer
from echelle.recipes.layers.difference import DifferenceLayer
from echelle.recipes.layers.line import LineLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.layers.normal_curve import NormalCurveLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.layers.series import SeriesLayer
from echelle.recipes.layers.stem import StemLayer
from echelle.recipes.layers.ticks import TicksLayer
from echelle.recipes.layers.trend import TrendLayer

LAYER_MODELS: tuple[type[AnyLayer], ...] = (
    BoxLayer, DensityLayer, PointsLayer, BinsLayer, MeanLayer, TicksLayer, CumulativeLayer, LineLayer, NormalCurveLayer,
    StemLayer, CountsLayer, TrendLayer, SeriesLayer, DifferenceLayer, BracketLayer,
    ControlLayer,
)  # fmt: skip

if TYPE_CHECKING:
    Layer = AnyLayer
else:
    # Made at run time of whatever is named above.
    Layer = Annotated[Union[LAYER_MODELS], Field(discriminator="layer")]  # noqa: UP007
