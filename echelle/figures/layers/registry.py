"""Which module answers for which layer of a recipe."""

from __future__ import annotations

from echelle.figures.layers import (
    bins,
    box,
    bracket,
    control,
    counts,
    cumulative,
    density,
    difference,
    marks,
    mean,
    points,
    stem,
    trend,
)
from echelle.figures.layers.base import LayerKind
from echelle.recipes.layers import Layer

KINDS: dict[str, LayerKind] = {
    "box": box.KIND,
    "density": density.KIND,
    "points": points.KIND,
    "bins": bins.KIND,
    "mean": mean.KIND,
    "ticks": marks.TICKS,
    "cumulative": cumulative.KIND,
    "line": marks.CENTRE_LINE,
    "normal-curve": marks.NORMAL_CURVE,
    "stem": stem.KIND,
    "counts": counts.KIND,
    "trend": trend.KIND,
    "difference": difference.KIND,
    "bracket": bracket.KIND,
    "control": control.KIND,
}


def kind_of(layer: Layer) -> LayerKind:
    """The answers of a layer's kind."""
    return KINDS[layer.layer]
