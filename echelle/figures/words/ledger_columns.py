"""The ledger as columns of text: what stands level with the lanes on the sheet. The page writes the same numbers."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.lanes.figure_context import FigureContext
from echelle.numbers.rounding import decimals_of, display_number, fixed_decimals
from echelle.recipes.style import Reading
from echelle.scene.models import LaneReadings

_NONE = "–"
_SHAPE = 2
# What there is to read where the column holds no numbers.
_OF_COUNTS: tuple[Reading, ...] = ("n", "missing", "shares")
_MOST_DECIMALS = 3
Number = Callable[[LaneReadings], float | None]


@dataclass(frozen=True)
class LedgerColumn:
    """A reading's name, and its text for each lane, by key."""

    name: str
    texts: dict[str, str]


def ledger_columns(context: FigureContext) -> list[LedgerColumn]:
    """The chosen readings in their order, and the differences to the reference where one is chosen."""
    asked, words, readings = context.recipe.ledger, context.words, list(context.readings.values())
    places = _places(context)
    names = [name for name in asked.readings if not context.arrangement.counted or name in _OF_COUNTS]
    columns = [column for name in names for column in _columns(name, readings, places, words)]
    if asked.reference is not None and any(lane.group == asked.reference for lane in readings):
        columns += [
            _difference(context, asked.reference, places, words.say("reading-difference", centre=centre), number)
            for centre, number in (("median", _median), ("mean", _mean))
        ]
    return [LedgerColumn(column.name, {key: context.written(text) for key, text in column.texts.items()}) for column in columns]


def _places(context: FigureContext) -> int:
    """Decimals for reading: as the data are written, one more where they are whole, and no more than four digits in all."""
    largest = max((max(abs(lane.mean or 0.0), lane.sd or 0.0) for lane in context.readings.values()), default=0.0)
    room = 3 - math.floor(math.log10(largest)) if largest > 0 and math.isfinite(largest) else 3
    return max(0, min(decimals_of(context.arrangement.excerpt) or 1, room, _MOST_DECIMALS))


def _columns(reading: Reading, readings: list[LaneReadings], places: int, words: Catalogue) -> list[LedgerColumn]:
    if reading == "in guides":
        held = dict.fromkeys(inside.name for lane in readings for inside in lane.inside)
        return [LedgerColumn(name, {lane.lane: _inside(lane, name) for lane in readings}) for name in held]
    if reading in ("slope", "shares"):
        named = dict.fromkeys(own.name for lane in readings for own in lane.named if own.reading == reading)
        return [LedgerColumn(name, {lane.lane: _named(lane, name) for lane in readings}) for name in named]
    name = words.say("reading-name", reading=reading.replace(" ", "-"))
    return [LedgerColumn(name, {lane.lane: _text(reading, lane, places, words) for lane in readings})]


def _inside(lane: LaneReadings, name: str) -> str:
    inside = next((inside for inside in lane.inside if inside.name == name), None)
    return _NONE if inside is None else f"{inside.count} · {fixed_decimals(100 * inside.share, 0)} %"


def _named(lane: LaneReadings, name: str) -> str:
    return next((reading.text for reading in lane.named if reading.name == name), _NONE)


def _median(lane: LaneReadings) -> float | None:
    return lane.median


def _mean(lane: LaneReadings) -> float | None:
    return lane.mean


def _text(reading: Reading, lane: LaneReadings, places: int, words: Catalogue) -> str:
    def number(name: str, value: float | None, decimals: int = places) -> str:
        return lane.limits.get(name) or display_number(value, decimals)

    def ends(low: str, high: str) -> str:
        first, second = getattr(lane, low), getattr(lane, high)
        if first is None and second is None and not (lane.limits.get(low) or lane.limits.get(high)):
            return _NONE
        return f"{number(low, first)} {'to' if (first or 0) < 0 else _NONE} {number(high, second)}"

    match reading:
        case "n":
            return str(lane.n)
        case "missing":
            return str(lane.missing)
        case "beyond a limit":
            return str(lane.censored)
        case "beyond":
            return str(lane.beyond)
        case "median":
            return number("median", lane.median)
        case "IQR":
            return display_number(lane.iqr, places)
        case "SE":
            return display_number(lane.se, places + 1)
        case "CV":
            share = None if lane.sd is None or not lane.mean or lane.mean < 0 else 100 * lane.sd / lane.mean
            return display_number(share, 1)
        case "skewness":
            return display_number(lane.skewness, _SHAPE)
        case "kurtosis":
            return display_number(lane.kurtosis, _SHAPE)
        case "mean and SD":
            mean = display_number(lane.mean, places)
            return mean if lane.sd is None else f"{mean} ± {display_number(lane.sd, places)}"
        case "quartiles":
            return ends("q1", "q3")
        case "range":
            return ends("min", "max")
        case "whiskers":
            return ends("whisker_low", "whisker_high")
        case "fences":
            return ends("fence_low", "fence_high")
        case "in guides" | "slope" | "shares":
            return ""


def _difference(context: FigureContext, reference: str, places: int, name: str, of: Number) -> LedgerColumn:
    """To the reference in the same panel and subgroup."""
    panel_of = {lane.key: lane.panel for lane in context.arrangement.lanes}
    readings = list(context.readings.values())

    def text(lane: LaneReadings) -> str:
        if lane.group == reference:
            return context.words.say("reading-reference")
        alike = (
            other
            for other in readings
            if (other.group, other.subgroup) == (reference, lane.subgroup) and panel_of[other.lane] == panel_of[lane.lane]
        )
        against = next(alike, None)
        here, there = of(lane), None if against is None else of(against)
        if here is None or there is None:
            return _NONE
        return ("+" if here > there else "") + display_number(here - there, places)

    return LedgerColumn(name, {lane.lane: text(lane) for lane in readings})
