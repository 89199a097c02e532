"""What every piece of advice looks at, and words that they share."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar, cast

from pydantic import JsonValue

from echelle.catalogue.catalogue import Catalogue, MessageValue, catalogue
from echelle.figures.geometry.secondary_axis import MeasuredLayers
from echelle.figures.lanes.figure_context import Measurement
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.figures.layers.base import Layer
from echelle.recipes.layers.base import AnyLayer
from echelle.recipes.recipe import Recipe
from echelle.scene.advice import advice, remedy
from echelle.scene.models import Advice, LaneReadings, Remedy

L = TypeVar("L", bound=AnyLayer)
M = TypeVar("M")


@dataclass(frozen=True, eq=False)
class Question:
    """A figure as it was composed: recipe, lanes, readings by lane, what layers measured, each panel's domain."""

    recipe: Recipe
    arrangement: Arrangement
    readings: dict[str, LaneReadings]
    measured: MeasuredLayers
    domains: dict[str, tuple[float, float]]

    def shown(self, model: type[L]) -> Iterator[tuple[int, L]]:
        """The layers of a kind that are drawn, each with its place in the recipe."""
        places = {layer.id: place for place, layer in enumerate(self.recipe.layers)}
        return ((places[layer.id], layer) for layer in self.recipe.shown(model))

    def measured_by(self, layer: Layer[L, M]) -> Iterator[tuple[int, L, Measurement[M]]]:
        """The same with what each measured."""
        by_id = {settings.id: measurement for settings, measurement in self.measured}
        for place, settings in self.shown(layer.settings):
            yield place, settings, cast("Measurement[M]", by_id[settings.id])

    def draws(self, model: type[AnyLayer]) -> bool:
        """Whether a layer of a kind is drawn."""
        return bool(self.recipe.shown(model))

    @property
    def lanes(self) -> list[Lane]:
        """Those with values."""
        return [lane for lane in self.arrangement.lanes if lane.filled]

    @property
    def stacked(self) -> bool:
        """Whether subgroups stand on one another."""
        return self.recipe.subgroups is not None and self.recipe.subgroups.placed == "stacked"

    def lanes_where(self, holds: Callable[[Lane, LaneReadings], bool]) -> list[str]:
        """Names of the lanes for which something holds."""
        return [lane.name for lane in self.lanes if holds(lane, self.readings[lane.key])]

    @property
    def words(self) -> Catalogue:
        """What says advice, in the figure's language."""
        return catalogue(self.recipe.words.note.english)

    def advice(
        self, key: str, message: str, *, remedies: Sequence[Remedy] = (), why: str | None = None, **values: MessageValue
    ) -> Advice:
        """The advice that a message words."""
        return advice(self.words, key, message, remedies=remedies, why=why, **values)

    def remedy(self, message: str, *changes: tuple[Sequence[str | int], JsonValue], **values: MessageValue) -> Remedy:
        """A remedy that sets values in the recipe."""
        return remedy(self.words, message, *changes, step=None, **values)

    def towards(self, message: str, then: Recipe) -> Remedy:
        """A remedy that turns the recipe into another, part by part."""
        before, after = (recipe.model_dump(mode="json") for recipe in (self.recipe, then))
        return self.remedy(message, *(([key], after[key]) for key in after if after[key] != before[key]))

    def with_layers(self, message: str, layers: Sequence[AnyLayer]) -> Remedy:
        """A remedy that puts other layers in the place of all."""
        return self.remedy(message, (["layers"], [layer.model_dump(mode="json") for layer in layers]))


Check = Callable[[Question], Iterator[Advice]]
