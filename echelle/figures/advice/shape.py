"""Advice on the shape of lanes: skew, long tails, means that stand for nobody."""

from __future__ import annotations

from collections.abc import Iterator

from echelle.figures.advice.question import Question
from echelle.figures.lanes.lane import Lane
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.scene.models import Advice, LaneReadings, Remedy

_FEWEST = 20
_SKEWED = 1.5
_BEYOND = 0.03
_APART = 0.2


def skewed_fences(question: Question) -> Iterator[Advice]:
    """Fences that take the long tail of a skewed lane for outliers."""
    for place, layer in question.shown(BoxLayer):
        if layer.fence.rule != "quartiles" or question.recipe.axis.scale != "linear":
            continue
        tails = question.lanes_where(_tail)
        if tails:
            path: list[str | int] = ["layers", place, "fence"]
            adjusted = question.remedy("skew-fences", (path, {"rule": "skew-adjusted", "k": 1.5}))
            yield question.advice(f"{layer.id}/skewed", "skewed-fences", remedies=[*_log(question), adjusted], lanes=tails)


def _tail(lane: Lane, readings: LaneReadings) -> bool:
    skew = readings.skewness
    return lane.n >= _FEWEST and skew is not None and abs(skew) > _SKEWED and readings.beyond >= max(2, _BEYOND * lane.n)


def _log(question: Question) -> list[Remedy]:
    least = min((float(lane.ordered[0]) for lane in question.lanes), default=0.0)
    return [question.remedy("logarithmic-axis", (["axis", "scale"], "log10"))] if least > 0 else []


def means_of_skewed(question: Question) -> Iterator[Advice]:
    """A mean that most values lie on one side of."""
    for place, layer in question.shown(MeanLayer):
        if layer.centre != "mean":
            continue
        names = question.lanes_where(lambda lane, r: lane.n >= 10 and r.skewness is not None and abs(r.skewness) > _SKEWED)
        if names:
            path: list[str | int] = ["layers", place]
            medians = question.remedy("medians", ([*path, "centre"], "median"), ([*path, "interval"], "confidence"))
            yield question.advice(f"{layer.id}/skewed", "skewed-means", remedies=[medians], lanes=names)


def long_tail(question: Question) -> Iterator[Advice]:
    """Mean far from median, said as what it is."""
    up = question.lanes_where(lambda lane, r: _mean_shift(lane, r) > _APART)
    down = question.lanes_where(lambda lane, r: _mean_shift(lane, r) < -_APART)
    for names, way in ((up, "up"), (down, "down")):
        if names:
            yield question.advice(f"tail-{way}ward", "long-tail", lanes=names, way=way)


def _mean_shift(lane: Lane, readings: LaneReadings) -> float:
    """From median to mean, in SDs."""
    if lane.n < _FEWEST or not readings.sd or readings.mean is None or readings.median is None:
        return 0.0
    return (readings.mean - readings.median) / readings.sd
