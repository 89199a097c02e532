"""Where each lane lies across its panel."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from echelle.errors import InputError
from echelle.figures.geometry.colours import between_colours
from echelle.figures.geometry.frame import Band, Frame
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import SubgroupsPlaced
from echelle.recipes.style import Style

_PART_FILL = 0.92


@dataclass(frozen=True)
class Slots:
    """The strips of the groups across a panel, as shares of its extent: start and end of each."""

    ends: tuple[tuple[float, float], ...]

    @property
    def narrowest(self) -> float:
        """The share of the narrowest strip."""
        return min((end - start for start, end in self.ends), default=1.0)


def is_overlaid(recipe: Recipe) -> bool:
    """Whether all groups share one strip; texts never do."""
    return recipe.groups is not None and recipe.groups.placed == "overlaid" and not _written(recipe)


def _written(recipe: Recipe) -> bool:
    return any(layer.even_axis for layer in recipe.shown_layers)


def slots_of(recipe: Recipe, arrangement: Arrangement) -> Slots:
    """The groups' strips: even, at their numbers, or all one."""
    n = max(len(arrangement.slots), 1)
    if is_overlaid(recipe):
        return Slots(((0.0, 1.0),) * n)
    if recipe.groups is None or recipe.groups.placed != "at value" or n < 2:
        return Slots(tuple((i / n, (i + 1) / n) for i in range(n)))
    values = [slot.value for slot in arrangement.slots]
    known = np.array([v for v in values if v is not None])
    if len(known) < n or len(set(known.tolist())) < n:
        raise InputError(
            f"“{recipe.groups.column}” has levels that are no numbers, so lanes cannot stand at their value",
            where="$.groups.placed", remedy="Place them evenly.",
        )  # fmt: skip
    span = float(known.max() - known.min())
    gap = float(np.diff(np.sort(known)).min()) / span
    wide = gap / (1 + gap)
    centres = wide / 2 + (known - known.min()) / span * (1 - wide)
    return Slots(tuple((float(c - wide / 2), float(c + wide / 2)) for c in centres))


def parts_placed(recipe: Recipe, arrangement: Arrangement) -> SubgroupsPlaced:
    """How the parts of a group stand to one another: measures within groups, and texts, beside one another."""
    if recipe.subgroups is None:
        return "beside" if arrangement.parts else "overlaid"
    return "beside" if _written(recipe) else recipe.subgroups.placed


def lane_fill(recipe: Recipe) -> float:
    """How much of its strip a lane takes."""
    return 0.97 if is_overlaid(recipe) else recipe.axis.lane_width


def bands_of(recipe: Recipe, arrangement: Arrangement, lanes: list[Lane], frame: Frame, style: Style) -> tuple[Band, ...]:
    """The lanes' bands in a frame. Raises InputError where back to back would need more than two subgroups."""
    start, whole = frame.sides[0], frame.sides[1] - frame.sides[0]
    slots = slots_of(recipe, arrangement)
    parts = max(len(arrangement.parts), 1)
    placed = parts_placed(recipe, arrangement)
    if placed == "back-to-back" and parts > 2:
        raise InputError(
            f"{parts} subgroups cannot stand back to back", where="$.subgroups.placed",
            remedy="Keep two of them, or place them beside one another.",
        )  # fmt: skip
    widest = max((lane.n for lane in arrangement.lanes), default=1) or 1
    colour_of = colouring(recipe, arrangement, style)
    bands = []
    for lane in lanes:
        a, b = (start + end * whole for end in slots.ends[lane.slot])
        inset = (b - a) * (1 - lane_fill(recipe)) / 2
        a, b = a + inset, b - inset
        if placed == "beside" and parts > 1:
            step = (b - a) / parts
            gap = step * (1 - _PART_FILL) / 2
            a, b = a + lane.part * step + gap, a + (lane.part + 1) * step - gap
        share = _share(recipe, lane.n, widest)
        middle, half = (a + b) / 2, (b - a) / 2 * share
        up = frame.runs == "up"
        side = (1 if (lane.part == 0) == up else -1) if placed == "back-to-back" and parts == 2 else 0
        bands.append(Band(lane, middle - half, middle + half, colour_of(lane), side, up))  # type: ignore[arg-type]
    return tuple(bands)


def _share(recipe: Recipe, n: int, widest: int) -> float:
    """How much of its strip a lane takes: all of it, or by its number of values."""
    by = recipe.groups.width if recipe.groups else "same"
    if by == "same":
        return 1.0
    return max(0.02, n / widest if by == "by n" else math.sqrt(n / widest))


def colouring(recipe: Recipe, arrangement: Arrangement, style: Style) -> Callable[[Lane], str]:
    """The colour of each lane. Subgroups carry it where there are some, else groups; a level keeps its colour whatever is shown
    beside it, unless two of those shown would then have the same.
    """
    colours, parts = style.lane_colours, len(arrangement.parts)
    levels, column = (arrangement.parts, arrangement.subgroups) if parts else (arrangement.slots, arrangement.groups)
    fixed = style.level_colours.get(column or "", {})
    hues = [level.hue for level in levels]
    known = [hue for hue in hues if hue is not None]
    if len({hue % len(colours) for hue in known}) < len(levels):
        known = list(range(len(levels)))
    usual = [colours[hue % len(colours)] for hue in known]
    if levels and all(level.of is not None for level in levels):
        usual = [between_colours(style.rising_colours, (level.hue or 0) / ((level.of or 2) - 1)) for level in levels]
    if arrangement.single_values:
        usual = colours[:1] * len(levels)
    elif len(levels) > len(colours):
        # More than there are colours to tell apart: their order is seen instead.
        usual = [between_colours(style.rising_colours, place / (len(levels) - 1)) for place in range(len(levels))]
    of_level = [fixed.get(level.level or "") or colour for level, colour in zip(levels, usual, strict=True)]

    def colour_of(lane: Lane) -> str:
        if lane.tint is not None:
            return lane.tint
        place = lane.part if parts else lane.slot
        if lane.hue is not None:
            place = lane.hue
        elif parts and is_overlaid(recipe):
            place = lane.slot * parts + lane.part
        elif place < len(of_level):
            return of_level[place]
        return colours[place % len(colours)]

    return colour_of
