"""Where things stand on the sheet."""

from __future__ import annotations

from dataclasses import dataclass, replace

from echelle.errors import InputError
from echelle.figures.arrange import Arrangement, Lane
from echelle.figures.axes import Ticks, domain_of, ticks_of
from echelle.figures.frame import Band, Frame
from echelle.figures.lettering import LEADING, Block, Lettering
from echelle.recipes.models import Recipe, Runs, points

MARGIN = 8.0
GAP = 6.0
LANE_FILL = 0.86
_LANE_NAME = 1.06


@dataclass(frozen=True)
class LaneName:
    """A lane's name and the count under it (or beside it, where the lane is low)."""

    name: Block
    count: Block | None


@dataclass(frozen=True)
class Layout:
    """The sheet, its one panel, the lanes' bands and the blocks around it; coordinates in points."""

    width: float
    height: float
    frame: Frame
    bands: tuple[Band, ...]
    names: tuple[LaneName, ...]
    ticks: Ticks
    title: Block | None
    axis_title: Block
    groups_title: Block | None
    source: Block | None
    turned: bool


def lay_out(recipe: Recipe, arrangement: Arrangement, letters: Lettering) -> Layout:
    """Find room for everything: names wrap, then shrink, then lanes that run up are turned across.

    Raises InputError where the sheet is too small for its axis.
    """
    laid = _lay_out(recipe, arrangement, letters, recipe.axis.runs)
    if recipe.axis.runs == "up" and any(name.name.cut or name.name.size < 6.0 for name in laid.names):
        return replace(_lay_out(recipe, arrangement, letters, "across"), turned=True)
    return laid


def bare(recipe: Recipe, arrangement: Arrangement, letters: Lettering, width: float, height: float) -> Layout:
    """The miniature: the panel fills the sheet and nothing is written."""
    frame = Frame("p1", 4.0, 4.0, width - 8.0, height - 8.0, recipe.axis.runs, domain_of(arrangement.pooled, recipe.axis))
    nothing = Block((), letters.style.text_size, 400, 0.0)
    ticks = Ticks((), ())
    bands = _bands(recipe, arrangement, frame, letters)
    return Layout(width, height, frame, bands, (), ticks, None, nothing, None, None, False)


def _lay_out(recipe: Recipe, arrangement: Arrangement, letters: Lettering, runs: Runs) -> Layout:
    size = letters.style.text_size
    width = points(recipe.size.width)
    room = width - 2 * MARGIN
    title = letters.block(recipe.words.title, room, size * 1.35, 700) if recipe.words.title else None
    source = letters.block(recipe.words.source, room, size * 0.9) if recipe.words.source else None
    groups_title = letters.block(recipe.words.groups, room / 2, size, 400, 2) if recipe.words.groups else None
    top = MARGIN + (title.height + GAP if title else 0.0) + (groups_title.height + 2 if groups_title else 0.0)
    below = (source.height + GAP if source else 0.0) + MARGIN
    fixed = points(recipe.size.height) if recipe.size.height else None
    domain = domain_of(arrangement.pooled, recipe.axis)
    words = recipe.words.measure or arrangement.heading
    if runs == "across":
        names, pitch = _names_across(arrangement.lanes, letters, width, fixed and fixed - top - below - 3 * size)
        left = MARGIN + max((_name_width(n) for n in names), default=0.0) + GAP + 2
        axis_title = letters.block(words, width - left - MARGIN, size)
        foot = 4 + size * LEADING + 2 + axis_title.height
        tall = pitch * max(len(names), 1)
        frame = Frame("p1", left, top, width - left - MARGIN - 4, tall, runs, domain)
        height = fixed or top + tall + foot + below
        ticks = ticks_of(*domain, most=max(2, int(frame.width / 52)))
    else:
        height = fixed or points("110mm")
        axis_title = letters.block(words, height - top - below, size)
        ticks = ticks_of(*domain, most=max(2, int((height - top - below) / 34)))
        widest = max((letters.width(label, size) for label in ticks.labels), default=0.0)
        left = MARGIN + axis_title.height + 4 + widest + 5
        wide = width - left - MARGIN
        pitch = wide / max(len(arrangement.lanes), 1)
        names = tuple(_name_up(lane, letters, pitch - 4) for lane in arrangement.lanes)
        foot = 5 + max((n.name.height + (n.count.height if n.count else 0.0) for n in names), default=0.0)
        frame = Frame("p1", left, top + size * 0.5, wide, height - top - size * 0.5 - foot - below, runs, domain)
    if frame.width < 40 or frame.height < 20:
        raise InputError(
            "the sheet is too small for this figure", where="$.size", remedy="Make it wider or higher, or shorten the names."
        )
    bands = _bands(recipe, arrangement, frame, letters)
    return Layout(width, height, frame, bands, names, ticks, title, axis_title, groups_title, source, False)


def count_words(lane: Lane) -> str:
    """ "n = 118", and how many people where an identifier repeats."""
    people = "" if lane.people is None or lane.people == len(lane.values) else f", {lane.people} people"
    return f"n = {len(lane.values)}{people}"


def _name_width(name: LaneName) -> float:
    return max(name.name.width, name.count.width if name.count else 0.0)


def _names_across(
    lanes: tuple[Lane, ...], letters: Lettering, width: float, room: float | None
) -> tuple[tuple[LaneName, ...], float]:
    """Names at the left of their lanes, and the height of one lane."""
    size = letters.style.text_size
    usual = (
        58.0
        if len(lanes) <= 5
        else 44.0
        if len(lanes) <= 8
        else 34.0
        if len(lanes) <= 12
        else 24.0
        if len(lanes) <= 24
        else 16.0
    )
    pitch = room / max(len(lanes), 1) if room else usual
    if pitch < 4.0:
        raise InputError(
            f"{len(lanes)} lanes do not fit this height", where="$.size.height", remedy="Leave the height to the figure."
        )
    fitting = min(size * _LANE_NAME, pitch / LEADING)
    most = max(1, int(pitch / (fitting * LEADING))) if room else 3
    names = []
    for lane in lanes:
        own = letters.block(lane.name, width * 0.27, fitting, 600, most)
        count = letters.block(count_words(lane), width * 0.27, min(size * 0.94, fitting), 400, 1)
        fits = pitch >= own.height + count.height
        names.append(LaneName(own, count if fits or not room else None))
    if room is None:
        tallest = max((n.name.height + (n.count.height if n.count else 0) for n in names), default=0.0)
        if usual < 34.0:
            names = [LaneName(n.name, None) for n in names]
            tallest = max((n.name.height for n in names), default=0.0)
        pitch = max(usual, tallest + 4)
    return tuple(names), pitch


def _name_up(lane: Lane, letters: Lettering, room: float) -> LaneName:
    size = letters.style.text_size
    return LaneName(
        letters.block(lane.name, room, size * _LANE_NAME, 600, 3), letters.block(count_words(lane), room, size * 0.94, 400, 2)
    )


def _bands(recipe: Recipe, arrangement: Arrangement, frame: Frame, letters: Lettering) -> tuple[Band, ...]:
    colours = letters.style.lane_colours
    start, whole = (frame.top, frame.height) if frame.runs == "across" else (frame.left, frame.width)
    pitch = whole / max(len(arrangement.lanes), 1)
    inset = pitch * (1 - LANE_FILL) / 2
    return tuple(
        Band(lane, start + i * pitch + inset, start + (i + 1) * pitch - inset, colours[i % len(colours)])
        for i, lane in enumerate(arrangement.lanes)
    )
