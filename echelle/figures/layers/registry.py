"""Which module answers for which layer of a recipe: the one of the same name as the file of its model."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from typing import cast

from echelle.figures.layers.base import Layer
from echelle.recipes.layers import LAYER_MODELS
from echelle.recipes.layers.base import AnyLayer


@cache
def layers() -> dict[str, Layer[AnyLayer, object]]:
    """All kinds by their name in a recipe, in the recipe's order."""
    return {model.kind(): _layer(model) for model in LAYER_MODELS}


def layer_of(settings: AnyLayer) -> Layer[AnyLayer, object]:
    """The kind of a layer of a recipe."""
    return layers()[settings.kind()]


def _layer(model: type[AnyLayer]) -> Layer[AnyLayer, object]:
    module = import_module(f"echelle.figures.layers.{model.__module__.rpartition('.')[2]}")
    # The one place where kinds lose their types: each is only ever given layers and lanes of its own.
    return cast("Layer[AnyLayer, object]", module.LAYER)
