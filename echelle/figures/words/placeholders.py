"""Words with places that stay true when data change: {n}, {median:Night}, {missing}, {date}."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import UTC, datetime

from echelle.figures.lanes.lane import Arrangement
from echelle.numbers.rounding import decimals_of, display_number, with_decimal_mark
from echelle.recipes.markup import has_marks
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import Words
from echelle.scene.models import LaneReadings

# What stands in braces after ^, _ or * is raised, lowered or slanted.
_PLACE = re.compile(r"(?<![\^_*])\{([a-z0-9 ]+)(?::([^{}]*))?\}")
# What is asked of one lane by name.
_OF_LANE: dict[str, Callable[[LaneReadings], float | None]] = {
    "median": lambda lane: lane.median, "mean": lambda lane: lane.mean, "sd": lambda lane: lane.sd,
    "iqr": lambda lane: lane.iqr, "q1": lambda lane: lane.q1, "q3": lambda lane: lane.q3,
    "min": lambda lane: lane.min, "max": lambda lane: lane.max,
}  # fmt: skip
_COUNT_OF_LANE: dict[str, Callable[[LaneReadings], int | None]] = {
    "n": lambda lane: lane.n, "people": lambda lane: lane.people, "missing": lambda lane: lane.missing,
    "beyond": lambda lane: lane.beyond,
}  # fmt: skip
OF_ALL = ("n", "people", "missing", "left out", "rows", "date")
OF_LANES = (*_COUNT_OF_LANE, *_OF_LANE)
WORDS = ("title", "subtitle", "measure", "counts", "groups", "source", "credit", "caption")


def fill_placeholders(recipe: Recipe, arrangement: Arrangement, readings: list[LaneReadings]) -> tuple[Words, list[str]]:
    """The recipe's words with every place filled and marks as signs, and the places that nothing can fill, which are printed as
    a dash.
    """
    unknown: dict[str, None] = {}
    decimals = decimals_of(arrangement.excerpt)
    of_name = _by_name(arrangement, readings)
    made = recipe.made or datetime.now(UTC)

    def put(match: re.Match[str]) -> str:
        place, name = match.group(1).strip(), match.group(2)
        if name is None:
            said = _of_all(place, arrangement, made)
        else:
            said = _of_lane(place, of_name.get(name.strip()), decimals)
            said = said and with_decimal_mark(said, recipe.axis.decimal_mark)
        if said is None:
            unknown[match.group(0)] = None
            return "–"
        return said

    changed = {key: has_marks(_PLACE.sub(put, getattr(recipe.words, key))) for key in WORDS}
    return recipe.words.model_copy(update=changed), list(unknown)


def _by_name(arrangement: Arrangement, readings: list[LaneReadings]) -> dict[str, LaneReadings]:
    """Lanes by what they are called, with and without their panel, and by their level: only where that names one lane."""
    panels = {panel.key: panel.name for panel in arrangement.panels}
    result: dict[str, list[LaneReadings]] = {}
    for lane, read in zip(arrangement.lanes, readings, strict=True):
        level = lane.group if lane.subgroup is None and lane.group is not None else lane.name
        for name in {lane.name, level, f"{panels[lane.panel]} · {lane.name}"}:
            result.setdefault(name, []).append(read)
    return {name: lanes[0] for name, lanes in result.items() if len(lanes) == 1}


def _of_all(place: str, arrangement: Arrangement, made: datetime) -> str | None:
    counts = {
        "n": arrangement.used, "people": arrangement.account.people, "missing": sum(arrangement.account.missing_by.values()),
        "rows": arrangement.account.read or arrangement.account.rows, "left out": arrangement.account.left_out,
    }  # fmt: skip
    if place == "date":
        return f"{made:%Y-%m-%d}"
    value = counts.get(place)
    return None if value is None else str(value)


def _of_lane(place: str, lane: LaneReadings | None, decimals: int) -> str | None:
    if lane is None:
        return None
    if place in _COUNT_OF_LANE:
        count = _COUNT_OF_LANE[place](lane)
        return None if count is None else str(count)
    value = _OF_LANE[place](lane) if place in _OF_LANE else None
    if value is None:
        return None
    # A mean carries more than the values it is made of, and a median between two values may.
    finer = place in ("mean", "sd") or float(f"{value:.{decimals}f}") != float(f"{value:.{decimals + 1}f}")
    return display_number(value, decimals + finer)
