"""Advice on bins: counts that cannot be compared, widths that comb."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from echelle.figures.advice.question import Question
from echelle.figures.layers import bins
from echelle.recipes.layers.bins import BinsLayer
from echelle.scene.models import Advice

_UNEQUAL = 1.5
_MOST_STACKED = 3


def counts_of_unequal_n(question: Question) -> Iterator[Advice]:
    """Counts compared across lanes of different n."""
    counts = [lane.n for lane in question.lanes]
    if len(counts) < 2 or max(counts) < _UNEQUAL * min(counts):
        return
    for place, layer in question.shown(BinsLayer):
        if layer.height == "count" and not question.stacked:
            shares = question.remedy("shares", (["layers", place, "height"], "share"))
            yield question.advice(
                f"{layer.id}/counts", "unequal-counts", remedies=[shares], least=str(min(counts)), most=str(max(counts))
            )


def unequal_widths(question: Question) -> Iterator[Advice]:
    """Counts over bins of unequal width."""
    for place, layer in question.shown(BinsLayer):
        widths = np.diff(np.array(layer.edges or [0.0, 1.0]))
        if layer.height != "density" and not layer.cumulative and widths.max() > 1.001 * widths.min():
            density = question.remedy("density-height", (["layers", place, "height"], "density"))
            yield question.advice(f"{layer.id}/widths", "unequal-widths", remedies=[density])


def off_step(question: Question) -> Iterator[Advice]:
    """Bins whose width is no multiple of the step in which values were recorded make combs."""
    step = question.arrangement.step
    if step is None or question.recipe.axis.scale != "linear":
        return
    for place, layer, result in question.measured_by(bins.LAYER):
        if layer.edges is not None or not result.lanes:
            continue
        width = float(np.diff(next(iter(result.lanes.values())).edges)[0])
        if width > 20 * step or abs(width / step - round(width / step)) < 1e-6:
            continue
        better = float(f"{max(1, round(width / step)) * step:.12g}")
        path: list[str | int] = ["layers", place]
        fit = question.remedy("bin-width", ([*path, "count"], None), ([*path, "width_of_bins"], better), width=f"{better:g}")
        yield question.advice(
            f"{layer.id}/step", "off-step", remedies=[fit], width=f"{width:.3g}", step=f"{step:g}", better=f"{better:g}"
        )


def many_stacked(question: Question) -> Iterator[Advice]:
    """Many subgroups on one another: only the lowest can be compared."""
    if question.stacked and len(question.arrangement.parts) > _MOST_STACKED:
        for place, layer in question.shown(BinsLayer):
            overlaid = (["subgroups", "placed"], "overlaid")
            over = question.remedy("outlines", overlaid, (["layers", place, "drawn"], "outline"))
            yield question.advice(f"{layer.id}/stacked", "stacked", remedies=[over], parts=len(question.arrangement.parts))
