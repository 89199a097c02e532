"""What newer data break of what a figure is held against: control rules, and reference limits."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from echelle.comparison.laboratory import LimitsAnswer, limits_of
from echelle.figures.lanes.control_charts import control_chart
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.numbers.rounding import three_digits
from echelle.recipes.control import Control
from echelle.recipes.layers.control import ControlLayer
from echelle.recipes.recipe import Recipe

# 1-2s calls for a look and not for a stop.
_WARNING = "1-2s"


def can_watch(recipe: Recipe) -> bool:
    """Whether a recipe holds its values against anything: control lines or rules, or reference limits."""
    asked = recipe.differences
    return bool(recipe.shown(ControlLayer)) or (asked is not None and (asked.control is not None or asked.limits is not None))


def broken_by(recipe: Recipe, before: Arrangement, now: Arrangement) -> list[str]:
    """A sentence for each rule that more values of a lane break now, and for each limit of before that lies outside of the
    interval of the limit as it is now. Raises InputError as arranging does.
    """
    asked = recipe.differences
    result: list[str] = []
    if recipe.shown(ControlLayer) or (asked is not None and asked.control is not None):
        control = (asked.control if asked else None) or Control()
        lanes = {lane.key: lane for lane in before.lanes}
        for lane in now.lanes:
            result += _rules(lane, _hits(lanes[lane.key], control) if lane.key in lanes else Counter(), control)
    if asked is not None and asked.limits is not None:
        result += _limits(limits_of(before, asked.limits), limits_of(now, asked.limits))
    return result


def _hits(lane: Lane, control: Control) -> Counter[str]:
    """How often each rule is broken in a lane."""
    return Counter(hit.rule for hit in control_chart(lane, control).hits) if lane.filled else Counter()


def _rules(lane: Lane, before: Counter[str], control: Control) -> Iterator[str]:
    for rule, count in sorted(_hits(lane, control).items()):
        if rule != _WARNING and count > before[rule]:
            more = count - before[rule]
            yield f"{lane.name} breaks {rule} {'once' if more == 1 else f'{more} times'} more."


def _limits(before: LimitsAnswer, now: LimitsAnswer) -> Iterator[str]:
    old = {line.lane: line for line in before.limits}
    for line in now.limits:
        held = old.get(line.lane)
        if held is None:
            continue
        sides = (("lower", held.lower, line.lower, line.lower_interval), ("upper", held.upper, line.upper, line.upper_interval))
        for side, was, is_now, (low, high) in sides:
            if was is None or is_now is None or low is None or high is None or low <= was <= high:
                continue
            interval = f"{three_digits(low)} to {three_digits(high)}"
            yield f"The {side} limit of {line.lane}, {three_digits(was)}, lies outside of its interval now, {interval}."
