"""What layers look at together: the recipe, its lanes, their readings; and what each layer measured of them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Generic, Literal, TypeVar

from echelle.catalogue.catalogue import Catalogue, catalogue
from echelle.figures.lanes.guide_values import PlacedGuide
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.figures.lanes.transforms import TRANSFORMS, Transform
from echelle.numbers.remarks import Remark
from echelle.numbers.rounding import with_decimal_mark
from echelle.numbers.sample import Floats, Sample
from echelle.progress import step
from echelle.recipes.recipe import Recipe
from echelle.scene.models import Advice, LaneReadings, NamedReading

V = TypeVar("V")
M = TypeVar("M", covariant=True)
# Curves and bins are small and tried by the dozen; what is as long as the lane is kept for a few settings only.
_MOST_SMALL, _MOST_LONG = 24, 4
# What a second axis shows: an amount that grows from the lane's edge, a share of rows, normal scores, or an order.
Family = Literal["", "amount", "share", "score", "order"]


def cache_on_lane(lane: Lane, key: object, make: Callable[[], V], long: bool = False) -> V:
    """What was computed of a lane before, by the settings that decide it; the oldest leaves first.

    ``long`` for what has a number for each value. Threads share lanes: two may compute the same, none waits.
    """
    kept = lane.long if long else lane.small
    result: V | None = kept.get(key)
    if result is None:
        step()
        result = make()
        for old in list(kept)[: max(0, len(kept) + 1 - (_MOST_LONG if long else _MOST_SMALL))]:
            kept.pop(old, None)
        kept[key] = result
    return result


@dataclass(frozen=True)
class Order:
    """Values drawn in an order: from where to where it reaches, whether it is of dates, what it is called, whether it counts,
    and the levels whose places they are, where they have no numbers.
    """

    low: float
    high: float
    dates: bool
    name: str
    whole: bool = False
    levels: tuple[str, ...] = ()


@dataclass(frozen=True)
class SecondaryAmounts:
    """What a layer shows on the second axis: of which family, in which unit, up to where in each lane (by its key); the order
    of each lane where it shows one; by which factor curves of density lie over a lane's columns; and whether it counts.
    """

    family: Family = ""
    unit: str = ""
    tops: Mapping[str, float] = field(default_factory=dict)
    orders: Mapping[str, Order] = field(default_factory=dict)
    per_density: Mapping[str, float] | None = None
    whole: bool = False


@dataclass(frozen=True)
class AxisEdges:
    """Edges that may be ticks of the measure's axis, by lane, and the names between them."""

    by_lane: Mapping[str, Floats]
    names: Sequence[str]


@dataclass(frozen=True, eq=False)
class Measurement(Generic[M]):
    """What a layer computed before anything has a place: ``lanes`` by their key; from where to where the axis must reach for
    each; what it shows on the second axis; edges for the axis' ticks; whether it needs an axis of its own on the measure's
    ``far`` side; how much of the measure a line of its text takes; remarks; by what happened, the lanes for which a rule had
    no answer; readings for the ledger, by lane.
    """

    lanes: Mapping[str, M] = field(default_factory=dict)
    extents: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    second: SecondaryAmounts = SecondaryAmounts()
    edges: AxisEdges | None = None
    far: bool = False
    line_pitch: float | None = None
    remarks: Sequence[Advice] = ()
    stand_ins: Mapping[Remark, list[str]] = field(default_factory=dict)
    named: Mapping[str, Sequence[NamedReading]] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class FigureContext:
    """A recipe over its lanes. ``guides`` are the recipe's, each with its place; ``per_density`` is, by lane, what a density is
    multiplied by to lie over the columns of the layer that leads; None where none does.
    """

    recipe: Recipe
    arrangement: Arrangement
    readings: dict[str, LaneReadings]
    guides: tuple[PlacedGuide, ...] = ()
    per_density: Mapping[str, float] | None = None

    @property
    def words(self) -> Catalogue:
        """What says sentences, in the figure's language."""
        return catalogue(self.recipe.words.note.english)

    def written(self, text: str) -> str:
        """A text of our own with the figure's decimal mark in its numbers."""
        return with_decimal_mark(text, self.recipe.axis.decimal_mark)

    @property
    def transform(self) -> Transform:
        """The scale of the measure's axis."""
        return TRANSFORMS[self.recipe.axis.scale]

    @property
    def stacked(self) -> bool:
        """Whether subgroups stand on one another."""
        return self.recipe.subgroups is not None and self.recipe.subgroups.placed == "stacked"

    @property
    def unit(self) -> str:
        """The measure's unit, "" where there is none or several."""
        units = self.arrangement.units
        return units[0] or "" if len(units) == 1 else ""

    def per_unit(self, of: Literal["density", "rows"] = "density") -> str:
        """What an axis of densities, or of rows, is called."""
        return self.words.say("axis-per-unit", of=of, unit=self.unit or self.words.say("unit"))

    def bent(self, lane: Lane) -> Sample:
        """The lane's values on the axis' scale, sorted upwards: shapes are computed there, so that they look as they are."""
        if self.transform.name == "linear":
            return lane.ordered
        return cache_on_lane(lane, ("bent", self.transform.name), lambda: lane.ordered.moved(self.transform.forward), long=True)


def hull(extents: list[tuple[float, float] | None]) -> tuple[float, float] | None:
    """The range that holds all ranges; None for none."""
    known = [extent for extent in extents if extent is not None]
    return (min(low for low, _ in known), max(high for _, high in known)) if known else None
