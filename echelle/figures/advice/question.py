"""What every piece of advice looks at, and words that they share."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar

from pydantic import JsonValue

from echelle.figures.geometry.secondary_axis import MeasuredLayers
from echelle.figures.lanes.figure_context import Measured
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.recipes.layers import AnyLayer, Layer
from echelle.recipes.recipe import Recipe
from echelle.scene.models import Advice, Change, LaneReadings, Remedy

L = TypeVar("L", bound=AnyLayer)


@dataclass(frozen=True, eq=False)
class Question:
    """A figure as it was composed: recipe, lanes, readings by lane, what layers measured, each panel's domain."""

    recipe: Recipe
    arrangement: Arrangement
    readings: dict[str, LaneReadings]
    measured: MeasuredLayers
    domains: dict[str, tuple[float, float]]

    def shown(self, kind: type[L]) -> Iterator[tuple[int, L, Measured]]:
        """The layers of a kind that are drawn: place in the recipe, layer, what it measured."""
        places = {layer.id: place for place, layer in enumerate(self.recipe.layers)}
        for layer, found in self.measured:
            if isinstance(layer, kind):
                yield places[layer.id], layer, found

    def draws(self, kind: type[AnyLayer]) -> bool:
        """Whether a layer of a kind is drawn."""
        return any(True for _ in self.shown(kind))

    @property
    def lanes(self) -> list[Lane]:
        """Those with values."""
        return [lane for lane in self.arrangement.lanes if len(lane.values)]

    @property
    def stacked(self) -> bool:
        """Whether subgroups stand on one another."""
        return self.recipe.subgroups is not None and self.recipe.subgroups.placed == "stacked"

    def lanes_where(self, holds: Callable[[Lane, LaneReadings], bool]) -> list[str]:
        """Names of the lanes for which something holds."""
        return [lane.name for lane in self.lanes if holds(lane, self.readings[lane.key])]


Check = Callable[[Question], Iterator[Advice]]


def remedy(words: str, *changes: tuple[Sequence[str | int], JsonValue]) -> Remedy:
    """A remedy that sets values in the recipe."""
    return Remedy(words=words, changes=[Change(path=list(path), value=value) for path, value in changes])


def towards(words: str, now: Recipe, then: Recipe) -> Remedy:
    """A remedy that turns one recipe into another, part by part."""
    before, after = (recipe.model_dump(mode="json") for recipe in (now, then))
    changes = [Change(path=[key], value=after[key]) for key in after if after[key] != before[key]]
    return Remedy(words=words, changes=changes)


def with_layers(words: str, layers: Sequence[Layer]) -> Remedy:
    """A remedy that puts other layers in the place of all."""
    return remedy(words, (["layers"], [layer.model_dump(mode="json") for layer in layers]))
