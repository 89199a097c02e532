"""Where guides stand, and how many values of each lane they hold."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from echelle.figures.lanes import Arrangement, Lane
from echelle.figures.plan import PanelPlace
from echelle.figures.readings import rules_of
from echelle.figures.scene import Inside, LaneReadings
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import Floats, quantiles
from echelle.numbers.rounding import as_read, decimals_of
from echelle.recipes.guides import FromMean, Guide, GuidePlace, Percentile, guide_name, place_words
from echelle.recipes.markup import plain
from echelle.recipes.models import Recipe


@dataclass(frozen=True)
class Strip:
    """Where a guide stands in a panel: from ``low`` to ``high`` (the same for a line), over coordinates ``start`` to ``end``
    across; ``lane`` names what it belongs to, "" for the whole panel.
    """

    lane: str
    low: float
    high: float
    start: float
    end: float


def strips(guide: Guide, recipe: Recipe, arrangement: Arrangement, place: PanelPlace) -> Iterator[Strip]:
    """A guide's strips in one panel; none where it has no values to stand on or its group is not there."""
    if guide.group is None and not guide.own:
        if (ends := ends_of(guide, recipe, arrangement.pooled)) is not None:
            yield Strip("", *ends, *place.frame.sides)
        return
    bands = [band for band in place.bands if guide.group in (None, band.lane.group)]
    if guide.own:
        for band in bands:
            if (ends := ends_of(guide, recipe, band.lane.ordered)) is not None:
                yield Strip(band.lane.key, *ends, band.start, band.end)
    elif bands and (ends := ends_of(guide, recipe, _of_group(guide, arrangement))) is not None:
        yield Strip(f"slot{bands[0].lane.slot + 1}", *ends, min(b.start for b in bands), max(b.end for b in bands))


def ends_of(guide: Guide, recipe: Recipe, ordered: Floats) -> tuple[float, float] | None:
    """Both ends over values sorted upwards; None where these give none, or none that rise."""
    low, high = (_value(end, recipe, ordered) for end in guide.ends)
    if low is None or high is None or (guide.band is not None and not low < high):
        return None
    return low, high


def with_inside(recipe: Recipe, arrangement: Arrangement, readings: dict[str, LaneReadings]) -> dict[str, LaneReadings]:
    """Readings with how many of each lane's values lie in each band (both ends inside), and above each line at a number."""
    if not recipe.guides:
        return readings
    for lane in arrangement.lanes:
        found = [one for guide in recipe.guides if (one := _inside(guide, recipe, arrangement, lane)) is not None]
        readings[lane.key] = readings[lane.key].model_copy(update={"inside": found})
    return readings


def guide_notes(recipe: Recipe, arrangement: Arrangement) -> list[str]:
    """A clause of the method note for each guide that the values give: how it stands, and at what."""
    decimals, clauses = decimals_of(arrangement.sample), list[str]()
    for guide in recipe.guides:
        if guide.fixed:
            continue
        words = " to ".join(dict.fromkeys(map(place_words, guide.ends)))
        whose = "each lane’s values" if guide.own else f"{guide.group}’s values" if guide.group else "all values"
        ends = None if guide.own else ends_of(guide, recipe, _of_group(guide, arrangement))
        at = "" if ends is None else f", {' to '.join(dict.fromkeys(as_read(end, decimals + 1) for end in ends))}"
        how = f" (definition {rules_of(recipe).quantile_type})" if any(map(_ranked, guide.ends)) else ""
        named = f" “{plain(guide.label)}”" if guide.label else ""
        clauses.append(f"{'Line' if guide.band is None else 'Band'}{named}: {words} of {whose}{how}{at}.")
    return clauses


def _ranked(place: GuidePlace) -> bool:
    return isinstance(place, Percentile)


def _inside(guide: Guide, recipe: Recipe, arrangement: Arrangement, lane: Lane) -> Inside | None:
    if guide.group not in (None, lane.group) or not len(lane.ordered) or (guide.band is None and not guide.fixed):
        return None
    ends = ends_of(guide, recipe, lane.ordered if guide.own else _of_group(guide, arrangement))
    if ends is None:
        return None
    name = guide_name(guide)
    if guide.band is None:
        count = len(lane.ordered) - int(np.searchsorted(lane.ordered, ends[0], "right"))
        return Inside(name=f"above {name}", count=count, share=count / lane.n)
    count = int(np.searchsorted(lane.ordered, ends[1], "right") - np.searchsorted(lane.ordered, ends[0], "left"))
    return Inside(name=name, count=count, share=count / lane.n)


def _of_group(guide: Guide, arrangement: Arrangement) -> Floats:
    """The values that a guide without lanes of its own stands on, sorted upwards."""
    if guide.group is None:
        return arrangement.pooled
    lanes = [lane.values for lane in arrangement.lanes if lane.group == guide.group]
    return np.sort(np.concatenate(lanes)) if lanes else np.empty(0)


def _value(place: GuidePlace, recipe: Recipe, ordered: Floats) -> float | None:
    if isinstance(place, float | int):
        return float(place)
    if len(ordered) == 0:
        return None
    if isinstance(place, Percentile):
        return quantiles(ordered, (place.percentile / 100,), rules_of(recipe).quantile_type)[0]
    if place == "median":
        return quantiles(ordered, (0.5,), rules_of(recipe).quantile_type)[0]
    shape = moments(ordered)
    if place == "mean" or shape.mean is None:
        return shape.mean
    return None if shape.sd is None or not isinstance(place, FromMean) else shape.mean + place.sds * shape.sd
