"""Which module answers for which layer of a recipe."""

from __future__ import annotations

from echelle.figures.layers import box, points
from echelle.figures.layers.base import LayerKind
from echelle.recipes.models import BoxLayer, PointsLayer

KINDS: dict[type[BoxLayer] | type[PointsLayer], LayerKind] = {
    BoxLayer: box.KIND,
    PointsLayer: points.KIND,
}
