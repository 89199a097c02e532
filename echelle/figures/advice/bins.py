"""Advice on bins: counts that cannot be compared, widths that comb."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from echelle.figures.advice.question import Question, remedy
from echelle.figures.layers import bins
from echelle.recipes.layers.bins import BinsLayer
from echelle.scene.models import Advice

_UNEQUAL = 1.5
_MOST_STACKED = 3


def counts_of_unequal_n(asked: Question) -> Iterator[Advice]:
    """Counts compared across lanes of different n."""
    counts = [lane.n for lane in asked.lanes]
    if len(counts) < 2 or max(counts) < _UNEQUAL * min(counts):
        return
    for place, layer in asked.shown(BinsLayer):
        if layer.height == "count" and not asked.stacked:
            yield Advice(
                key=f"{layer.id}/counts", text=f"Counts are compared across lanes of {min(counts)} to {max(counts)} values.",
                why="A higher column may only mean a larger lane.",
                remedies=[remedy("Shares of each lane", (["layers", place, "height"], "share"))],
            )  # fmt: skip


def unequal_widths(asked: Question) -> Iterator[Advice]:
    """Counts over bins of unequal width."""
    for place, layer in asked.shown(BinsLayer):
        widths = np.diff(np.array(layer.edges or [0.0, 1.0]))
        if layer.height != "density" and not layer.cumulative and widths.max() > 1.001 * widths.min():
            yield Advice(
                key=f"{layer.id}/widths", text="The bins have unequal widths.",
                why="A wide bin collects more; only a density makes areas comparable.",
                remedies=[remedy("Density", (["layers", place, "height"], "density"))],
            )  # fmt: skip


def off_step(asked: Question) -> Iterator[Advice]:
    """Bins whose width is no multiple of the step in which values were recorded make combs."""
    step = asked.arrangement.step
    if step is None or asked.recipe.axis.scale != "linear":
        return
    for place, layer, result in asked.measured_by(bins.LAYER):
        if layer.edges is not None or not result.lanes:
            continue
        width = float(np.diff(next(iter(result.lanes.values())).edges)[0])
        if width > 20 * step or abs(width / step - round(width / step)) < 1e-6:
            continue
        better = float(f"{max(1, round(width / step)) * step:.12g}")
        path: list[str | int] = ["layers", place]
        yield Advice(
            key=f"{layer.id}/step",
            text=f"The bins are {width:.3g} wide, no multiple of the recording step {step:g}.",
            why=f"Columns rise and fall by chance; a width of {better:g} fits.",
            remedies=[remedy(f"Width {better:g}", ([*path, "count"], None), ([*path, "width_of_bins"], better))],
        )  # fmt: skip


def stacked(asked: Question) -> Iterator[Advice]:
    """Many subgroups on one another: only the lowest can be compared."""
    if asked.stacked and len(asked.arrangement.parts) > _MOST_STACKED:
        for place, layer in asked.shown(BinsLayer):
            over = remedy("Outlines, laid over", (["subgroups", "placed"], "overlaid"), (["layers", place, "drawn"], "outline"))
            yield Advice(
                key=f"{layer.id}/stacked", text=f"{len(asked.arrangement.parts)} subgroups are stacked.",
                why="Only the lowest stands on a straight line; the others cannot be compared.", remedies=[over],
            )  # fmt: skip
