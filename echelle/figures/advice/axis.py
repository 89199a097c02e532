"""Advice on the axis: what is out of view, cuts that magnify, bars without their zero, curves past a limit."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from echelle.figures.advice.question import Question
from echelle.figures.geometry.count_axis import only_counts, only_means
from echelle.figures.lanes.transforms import TRANSFORMS
from echelle.figures.layers import density, mean
from echelle.numbers.fences import Fences, count_beyond
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.counts import CountsLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.scene.models import Advice, Remedy

_MAGNIFIED = 2.0
_PAST = 0.02


def out_of_view(question: Question) -> Iterator[Advice]:
    """Values that the axis was told to leave out."""
    out = sum(count_beyond(lane.ordered, Fences(*question.domains[lane.panel])) for lane in question.arrangement.lanes)
    if out and not only_means(question.recipe) and not only_counts(question.recipe):
        yield question.advice("out-of-view", "out-of-view", remedies=[_all_values(question)], count=out)


def _all_values(question: Question) -> Remedy:
    return question.remedy("all-values", (["axis", "from"], None), (["axis", "to"], None))


def lines_cut(question: Question) -> Iterator[Advice]:
    """Lines about means that reach further than the axis shows."""
    transform = TRANSFORMS[question.recipe.axis.scale]
    for _, layer, result in question.measured_by(mean.LAYER):
        lines = [(lane.name, result.lanes.get(lane.key), question.domains[lane.panel]) for lane in question.arrangement.lanes]
        ends = [(name, line.ends, domain) for name, line, domain in lines if line is not None and line.ends is not None]
        cut = [(name, line) for name, line, (low, high) in ends if line[0] < low or line[1] > high]
        if not cut:
            continue
        names = list(dict.fromkeys(name for name, _ in cut))
        scale, way_out = "linear", _all_values(question)
        if any(transform.refuses(np.array(line)) for _, line in cut):
            scale = transform.name
            way_out = question.remedy("linear-axis", (["axis", "scale"], "linear"), (["axis", "from"], None))
        yield question.advice(f"{layer.id}/cut", "lines-cut", remedies=[way_out], lanes=names, scale=scale)


def bars_off_zero(question: Question) -> Iterator[Advice]:
    """A bar's length says something only from zero on."""
    for place, layer in question.shown(MeanLayer):
        missed = [end for low, high in question.domains.values() for end, off in (("from", low > 0), ("to", high < 0)) if off]
        if layer.mark == "bar" and missed:
            dots = question.remedy("dots", (["layers", place, "mark"], "dot"))
            to_zero = (["axis", missed[0]], 0.0)
            # A logarithmic axis has no zero to begin at.
            logarithmic = question.recipe.axis.scale in ("log10", "ln")
            zero = (
                question.remedy("linear-axis-from-zero", (["axis", "scale"], "linear"), to_zero)
                if logarithmic
                else question.remedy("from-zero", to_zero)
            )
            yield question.advice(f"{layer.id}/zero", "bars-off-zero", remedies=[zero, dots], of="value")
    start = question.recipe.second_axis.start
    if start is not None and start > 0:
        whole = question.remedy("from-zero", (["second_axis", "from"], None))
        for _, bins in question.shown(BinsLayer):
            if bins.drawn == "columns":
                yield question.advice(f"{bins.id}/zero", "columns-off-zero", remedies=[whole])
        for _, counts in question.shown(CountsLayer):
            yield question.advice(f"{counts.id}/zero", "bars-off-zero", remedies=[whole], of="count")


def cut_that_magnifies(question: Question) -> Iterator[Advice]:
    """A cut that makes one lane look several times another."""
    start, scale = question.recipe.axis.start, question.recipe.axis.scale
    middles = [r.median for r in question.readings.values() if r.median is not None]
    if start is None or scale != "linear" or start <= 0 or len(middles) < 2 or min(middles) <= start:
        return
    seen, true = (max(middles) - start) / (min(middles) - start), max(middles) / min(middles)
    if seen > _MAGNIFIED * true:
        zero = question.remedy("from-zero", (["axis", "from"], 0.0))
        yield question.advice("magnified", "magnified", remedies=[zero], true=f"{true:.2g}", seen=f"{seen:.2g}")


def past_limit(question: Question) -> Iterator[Advice]:
    """A curve that runs below zero where no value can."""
    least = min((float(lane.ordered[0]) for lane in question.lanes), default=-1.0)
    if least < 0 or question.recipe.axis.scale != "linear":
        return
    for place, layer, result in question.measured_by(density.LAYER):
        past = any(
            curve.at[0] < 0 and np.interp(0.0, curve.at, curve.heights) > _PAST * curve.heights.max()
            for curve in result.lanes.values()
        )
        if layer.ends == "run past" and past:
            path: list[str | int] = ["layers", place]
            fold = question.remedy("fold", ([*path, "ends"], "fold"), ([*path, "low"], 0.0))
            stop = question.remedy("stop", ([*path, "ends"], "stop"))
            yield question.advice(f"{layer.id}/limit", "past-limit", remedies=[fold, stop])
