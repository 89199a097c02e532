"""Advice on the axis: what is out of view, cuts that magnify, bars without their zero, curves past a limit."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from echelle.figures.advice.question import Question, remedy
from echelle.figures.geometry.count_axis import only_counts, only_means
from echelle.figures.lanes.transforms import TRANSFORMS
from echelle.figures.layers import density, mean
from echelle.numbers.quantiles import Floats
from echelle.plurals import list_words, plural
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.counts import CountsLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.scene.models import Advice

_WHOLE = remedy("Show all values", (["axis", "from"], None), (["axis", "to"], None))
_LINEAR = remedy("Linear axis", (["axis", "scale"], "linear"), (["axis", "from"], None))
_MAGNIFIED = 2.0
_PAST = 0.02


def out_of_view(asked: Question) -> Iterator[Advice]:
    """Values that the axis was told to leave out."""
    out = sum(_beyond(lane.ordered, asked.domains[lane.panel]) for lane in asked.arrangement.lanes)
    if out and not only_means(asked.recipe) and not only_counts(asked.recipe):
        text = f"{plural(out, 'value')} out of view; every number still counts them."
        yield Advice(key="out-of-view", text=text, why="The axis was told where to begin or end.", remedies=[_WHOLE])


def _beyond(ordered: Floats, domain: tuple[float, float]) -> int:
    low, high = np.searchsorted(ordered, domain[0], side="left"), np.searchsorted(ordered, domain[1], side="right")
    return int(len(ordered) - (high - low))


def lines_cut(asked: Question) -> Iterator[Advice]:
    """Lines about means that reach further than the axis shows."""
    transform = TRANSFORMS[asked.recipe.axis.scale]
    for _, layer, result in asked.measured_by(mean.LAYER):
        lines = [(lane.name, result.lanes.get(lane.key), asked.domains[lane.panel]) for lane in asked.arrangement.lanes]
        cut = [(name, line) for name, line, (low, high) in lines if line and (line[0] < low or line[1] > high)]
        if not cut:
            continue
        names = list_words(list(dict.fromkeys(name for name, _ in cut)))
        text = f"Lines end at the edge of the axis before their own end: {names}."
        if any(transform.refuses(np.array(line)) for _, line in cut):
            why = f"They reach below zero, where a {transform.name} axis has no place."
            yield Advice(key=f"{layer.id}/cut", text=text, why=why, remedies=[_LINEAR])
        else:
            why = "The axis was told where to begin or end."
            yield Advice(key=f"{layer.id}/cut", text=text, why=why, remedies=[_WHOLE])


def bars_off_zero(asked: Question) -> Iterator[Advice]:
    """A bar's length says something only from zero on."""
    for place, layer in asked.shown(MeanLayer):
        missed = [end for low, high in asked.domains.values() for end, off in (("from", low > 0), ("to", high < 0)) if off]
        if layer.mark == "bar" and missed:
            why = "The length of a bar is read as its value."
            dots = remedy("Draw dots", (["layers", place, "mark"], "dot"))
            to_zero = (["axis", missed[0]], 0.0)
            # A logarithmic axis has no zero to begin at.
            logarithmic = asked.recipe.axis.scale in ("log10", "ln")
            zero = (
                remedy("Linear axis from zero", (["axis", "scale"], "linear"), to_zero)
                if logarithmic
                else remedy("Begin at zero", to_zero)
            )
            yield Advice(key=f"{layer.id}/zero", text="Bars do not begin at zero.", why=why, remedies=[zero, dots])
    start = asked.recipe.second_axis.start
    if start is not None and start > 0:
        whole = remedy("Begin at zero", (["second_axis", "from"], None))
        for _, bins in asked.shown(BinsLayer):
            if bins.drawn == "columns":
                why = "The height of a column is read as its count."
                yield Advice(key=f"{bins.id}/zero", text="Columns do not begin at zero.", why=why, remedies=[whole])
        for _, counts in asked.shown(CountsLayer):
            why = "The length of a bar is read as its count."
            yield Advice(key=f"{counts.id}/zero", text="Bars do not begin at zero.", why=why, remedies=[whole])


def magnified(asked: Question) -> Iterator[Advice]:
    """A cut that makes one lane look several times another."""
    start, scale = asked.recipe.axis.start, asked.recipe.axis.scale
    middles = [r.median for r in asked.readings.values() if r.median is not None]
    if start is None or scale != "linear" or start <= 0 or len(middles) < 2 or min(middles) <= start:
        return
    seen, true = (max(middles) - start) / (min(middles) - start), max(middles) / min(middles)
    if seen > _MAGNIFIED * true:
        text = f"The cut axis shows {true:.2g} times as {seen:.2g} times."
        yield Advice(
            key="magnified", text=text, why="Distances from the edge are taken for sizes.",
            remedies=[remedy("Begin at zero", (["axis", "from"], 0.0))],
        )  # fmt: skip


def past_limit(asked: Question) -> Iterator[Advice]:
    """A curve that runs below zero where no value can."""
    least = min((float(lane.ordered[0]) for lane in asked.lanes), default=-1.0)
    if least < 0 or asked.recipe.axis.scale != "linear":
        return
    for place, layer, result in asked.measured_by(density.LAYER):
        past = any(
            curve.at[0] < 0 and np.interp(0.0, curve.at, curve.heights) > _PAST * curve.heights.max()
            for curve in result.lanes.values()
        )
        if layer.ends == "run past" and past:
            path: list[str | int] = ["layers", place]
            fold = remedy("Fold at 0", ([*path, "ends"], "fold"), ([*path, "low"], 0.0))
            yield Advice(
                key=f"{layer.id}/limit", text="A curve runs below zero, where no value is.",
                why="If values cannot be negative, fold the curve back.", source="Silverman 1986",
                remedies=[fold, remedy("Stop at the data", ([*path, "ends"], "stop"))],
            )  # fmt: skip
