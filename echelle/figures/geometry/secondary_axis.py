"""The second axis, inside each lane: counts, shares, densities, normal scores, or an order."""

from __future__ import annotations

from dataclasses import dataclass

from echelle.figures.geometry.axes import ticks_of
from echelle.figures.geometry.calendar_ticks import calendar_ticks
from echelle.figures.geometry.lane_bands import is_overlaid
from echelle.figures.lanes.figure_context import Family, FigureContext, Measurement, Order
from echelle.numbers.rounding import DecimalMark, with_decimal_mark
from echelle.recipes.layers.base import AnyLayer
from echelle.recipes.recipe import Recipe

_SCORES = (0.001, 0.01, 0.05, 0.25, 0.5, 0.75, 0.95, 0.99, 0.999)
# Longer names of levels would leave the lanes no room.
_MOST_LETTERS = 16
MeasuredLayers = list[tuple[AnyLayer, Measurement[object]]]


@dataclass(frozen=True, kw_only=True)
class SecondaryAxis:
    """What stands on the second axis of one lane: its ends, whose it is, and whether it counts."""

    bottom: float
    top: float
    family: Family
    unit: str
    layer: AnyLayer
    order: Order | None = None
    whole: bool = False
    mark: DecimalMark = "point"

    def ticks(self, most: int) -> list[tuple[float, str]]:
        """Where ticks stand, as shares from bottom to top, and their labels; at most ``most``."""
        from scipy.special import ndtri

        span = self.top - self.bottom
        if self.family == "score":
            inside = [p for p in _SCORES if self.bottom <= ndtri(p) <= self.top]
            kept = inside if len(inside) <= most else [p for p in inside if p in (0.05, 0.5, 0.95)][: max(most, 1)]
            return [((float(ndtri(p)) - self.bottom) / span, with_decimal_mark(f"{100 * p:g}", self.mark)) for p in kept]
        if self.order is not None and self.order.levels:
            named = list(enumerate(self.order.levels))[:: -(-len(self.order.levels) // max(most, 1))]
            return [((place - self.bottom) / span, _short(level)) for place, level in named]
        if self.order is not None and self.order.dates:
            return [((day - self.bottom) / span, label) for day, label in calendar_ticks(self.bottom, self.top, most)]
        factor = 100.0 if self.family == "share" else 1.0
        ticks = ticks_of(self.bottom * factor, self.top * factor, max(most, 2), self.whole)
        pairs = zip(ticks.values, ticks.labels, strict=True)
        return [((v / factor - self.bottom) / span, with_decimal_mark(label, self.mark)) for v, label in pairs]

    @property
    def title(self) -> str:
        """What the axis is called."""
        return f"{self.unit} (%)" if self.family in ("share", "score") else self.unit


def _short(level: str) -> str:
    """A level's name, as long as the room beside a lane allows."""
    return level if len(level) <= _MOST_LETTERS else f"{level[: _MOST_LETTERS - 1]}…"


def secondary_axes(context: FigureContext, measured: MeasuredLayers) -> dict[str, SecondaryAxis]:
    """The second axis of each lane that has one: of the first shown layer that needs it."""
    lead = next(((layer, measurement.second) for layer, measurement in measured if measurement.second.family), None)
    if lead is None:
        return {}
    layer, second = lead
    chosen, mark = context.recipe.second_axis, context.recipe.axis.decimal_mark
    axes: dict[str, SecondaryAxis] = {}
    tops = _tops(context, measured, second.family)
    for lane in context.arrangement.lanes:
        if lane.key in second.orders:
            order = second.orders[lane.key]
            axes[lane.key] = SecondaryAxis(
                bottom=order.low, top=order.high, family="order", unit=order.name, layer=layer, order=order, whole=order.whole,
                mark=mark,
            )  # fmt: skip
            continue
        top = tops.get(lane.key)
        if top is None:
            continue
        bottom = -top if second.family == "score" else 0.0
        if second.family != "score":
            bottom = chosen.start if chosen.start is not None else bottom
            top = chosen.end if chosen.end is not None else top
        axes[lane.key] = SecondaryAxis(
            bottom=bottom, top=top if top > bottom else bottom + 1.0, family=second.family, unit=second.unit, layer=layer,
            whole=second.whole, mark=mark,
        )  # fmt: skip
    return axes


def _tops(context: FigureContext, measured: MeasuredLayers, family: Family) -> dict[str, float]:
    """The top of each lane over all layers of one family; under bins one for the figure, or for each panel."""
    tops: dict[str, float] = {}
    for _, measurement in measured:
        if measurement.second.family == family:
            for key, top in measurement.second.tops.items():
                tops[key] = max(tops.get(key, 0.0), top)
    if context.per_density is None or not tops:
        return tops
    if context.recipe.second_axis.one_top:
        return dict.fromkeys(tops, max(tops.values()))
    panel_of = {lane.key: lane.panel for lane in context.arrangement.lanes}
    return {key: max(top for other, top in tops.items() if panel_of[other] == panel_of[key]) for key in tops}


def second_shown(recipe: Recipe, axes: dict[str, SecondaryAxis]) -> bool:
    """Whether the second axis is written: where asked, else where the form is read by it."""
    if not axes or not any(axis.unit for axis in axes.values()):
        return False
    if recipe.second_axis.shown is not None:
        return recipe.second_axis.shown
    axis = next(iter(axes.values()))
    return axis.family == "order" or axis.layer.shows_axis(is_overlaid(recipe))
