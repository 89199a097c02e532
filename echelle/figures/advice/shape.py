"""Advice on the shape of lanes: skew, long tails, means that stand for nobody."""

from __future__ import annotations

from collections.abc import Iterator

from echelle.figures.advice.question import Question, remedy
from echelle.figures.lanes.lane import Lane
from echelle.plurals import list_words
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.scene.models import Advice, LaneReadings, Remedy

_FEWEST = 20
_SKEWED = 1.5
_BEYOND = 0.03
_APART = 0.2


def skewed_fences(asked: Question) -> Iterator[Advice]:
    """Fences that take the long tail of a skewed lane for outliers."""
    for place, layer in asked.shown(BoxLayer):
        if layer.fence.rule != "quartiles" or asked.recipe.axis.scale != "linear":
            continue
        tails = asked.lanes_where(_tail)
        if tails:
            path: list[str | int] = ["layers", place, "fence"]
            adjusted = remedy("Adjust the fences for skew", (path, {"rule": "skew-adjusted", "k": 1.5}))
            text = f"{list_words(tails)}: many values beyond the fence, in the direction of the skew."
            yield Advice(
                key=f"{layer.id}/skewed", text=text, why="In a skewed lane the long tail is no outlier.",
                source="Hubert & Vandervieren 2008", remedies=[*_log(asked), adjusted],
            )  # fmt: skip


def _tail(lane: Lane, readings: LaneReadings) -> bool:
    skew = readings.skewness
    return lane.n >= _FEWEST and skew is not None and abs(skew) > _SKEWED and readings.beyond >= max(2, _BEYOND * lane.n)


def _log(asked: Question) -> list[Remedy]:
    least = min((float(lane.ordered[0]) for lane in asked.lanes), default=0.0)
    return [remedy("Logarithmic axis", (["axis", "scale"], "log10"))] if least > 0 else []


def means_of_skewed(asked: Question) -> Iterator[Advice]:
    """A mean that most values lie on one side of."""
    for place, layer in asked.shown(MeanLayer):
        if layer.centre != "mean":
            continue
        names = asked.lanes_where(lambda lane, r: lane.n >= 10 and r.skewness is not None and abs(r.skewness) > _SKEWED)
        if names:
            path: list[str | int] = ["layers", place]
            medians = remedy("Show medians", ([*path, "centre"], "median"), ([*path, "interval"], "confidence"))
            text = f"{list_words(names)}: strongly skewed, so a few values pull the mean."
            yield Advice(
                key=f"{layer.id}/skewed", text=text, why="The median stays where the middle row is.", remedies=[medians]
            )


def long_tail(asked: Question) -> Iterator[Advice]:
    """Mean far from median, said as what it is."""
    up = asked.lanes_where(lambda lane, r: _apart(lane, r) > _APART)
    down = asked.lanes_where(lambda lane, r: _apart(lane, r) < -_APART)
    for names, way in ((up, "upward"), (down, "downward")):
        if names:
            text = f"{list_words(names)}: long tail {way}."
            side = "above" if way == "upward" else "below"
            yield Advice(key=f"tail-{way}", text=text, why=f"The mean lies {side} the median.")


def _apart(lane: Lane, readings: LaneReadings) -> float:
    """From median to mean, in SDs."""
    if lane.n < _FEWEST or not readings.sd or readings.mean is None or readings.median is None:
        return 0.0
    return (readings.mean - readings.median) / readings.sd
