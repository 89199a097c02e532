"""Lanes that run across: names at their left, the axis under the lowest panel of each column."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from echelle.errors import InputError
from echelle.figures.geometry.frame import Frame
from echelle.figures.geometry.guide_labels import GuideLabel, flags, flags_height
from echelle.figures.geometry.lane_bands import is_overlaid, parts_placed, slots_of
from echelle.figures.geometry.lettering import LEADING
from echelle.figures.layout.layout_model import (
    GAP,
    LANE_NAME,
    MARGIN,
    PANEL_GAP,
    Laid,
    LayoutPlan,
    PanelPlace,
    SlotName,
    bare_counts,
    count_words,
    domains,
    frame_at,
    overlap,
    panel_title,
    place_panel,
    second_room,
    too_small,
)  # fmt: skip
from echelle.plurals import plural
from echelle.recipes.style import points

# How much of a panel's share of a given height labels of guides may take.
_FLAGS = 0.4
# Labels keep so far off the sheet's edge.
_EDGE = 2.0
# So many lanes are set line by line.
_CROWD = 40


def across(plan: LayoutPlan, width: float, top: float, below: float, words: str) -> Laid:
    """Lanes run across: names at the left of the first column, the axis under the lowest panel of each column."""
    letters, size = plan.letters, plan.letters.style.text_size
    fixed = points(plan.recipe.size.height) if plan.recipe.size.height else None
    room = Room(size * LEADING, 0.0, 0.0)
    while True:
        panels, left = _panels(plan, width, top, below, fixed, room)
        axis_title = letters.block(words, width - left - MARGIN, size)
        wanted = room.grown(axis_title.height if fixed else 0.0, *_overhang(plan, panels, width))
        if wanted == room:
            break
        room = wanted
    lowest = max(p.frame.top + p.frame.height for p in panels)
    return fixed or lowest + 4 + size * LEADING + 2 + axis_title.height + below, panels, axis_title


@dataclass(frozen=True)
class Room:
    """What panels leave free: the height of the axis' words, and what its labels need beyond the panels at the left and
    right.
    """

    words: float
    left: float
    right: float

    def grown(self, words: float, left: float, right: float) -> Room:
        """The room with so high words and so much more at the sides."""
        return Room(max(self.words, words), self.left + left, self.right + right)


def _overhang(plan: LayoutPlan, panels: Sequence[PanelPlace], width: float) -> tuple[float, float]:
    """By how much labels of the axis leave the sheet at the left and right."""
    size = plan.letters.style.text_size
    ends = [
        (at - half, at + half)
        for place in panels
        if place.labelled
        for value, label in zip(place.ticks.values, place.ticks.labels, strict=True)
        for at, half in ((place.frame.along(value), plan.letters.width(label, size) / 2),)
    ]
    left = max((_EDGE - low for low, _ in ends), default=0.0)
    right = max((high - (width - _EDGE) for _, high in ends), default=0.0)
    return (left if left > 0.01 else 0.0), (right if right > 0.01 else 0.0)


def _panels(
    plan: LayoutPlan, width: float, top: float, below: float, fixed: float | None, spare: Room
) -> tuple[tuple[PanelPlace, ...], float]:  # fmt: skip
    """The panels, and where the first column begins. Raises InputError where they find no room."""
    letters = plan.letters
    size = letters.style.text_size
    own = plan.scales == "each-its-own"
    titles = {p.key: panel_title(p, letters, width / plan.columns - 12) for p in plan.arrangement.panels}
    heads_room = max((column.heading.height + 3 for column in plan.ledger), default=0.0)
    title_room = max([heads_room, *(t.height + 2 for t in titles.values() if t)])
    counted = plan.columns > 1
    labels = 4 + size * LEADING
    between = title_room + (labels + 2 if own else 0.0) + PANEL_GAP + plan.far
    tall = None
    if fixed:
        used = top + title_room + plan.far + labels + 2 + spare.words + below + (plan.rows - 1) * between
        tall = (fixed - used) / plan.rows
    over = overlap(plan)
    gutter = _count_room(plan) if counted else 0.0
    ranges = domains(plan)

    def sized(flagged: float) -> tuple[dict[str, tuple[SlotName, ...]], float, float, float]:
        """Names, the height of a lane, where panels begin and how wide they are, with so much room for flags."""
        room = None if tall is None else (tall - flagged) / (1 + over / plan.slots)
        names, pitch = _names_across(plan, width, room, not counted)
        left = MARGIN + max((n.width for by in names.values() for n in by), default=0.0) + (GAP + 2 if names else 0.0)
        left += (second_room(plan) if plan.second else 0.0) + spare.left
        wide = width - left - MARGIN - 4 - spare.right - plan.ledger_room - (plan.columns - 1) * PANEL_GAP
        return names, pitch, left, wide / plan.columns - gutter

    def flagged(frame: Frame, rise: float) -> tuple[GuideLabel, ...]:
        """Labels over a panel: over the highest where those under it have the same axis."""
        ends = (MARGIN, width - MARGIN) if plan.columns == 1 else (frame.left, frame.left + frame.width + gutter)
        return flags(plan.context, frame, letters, ends, rise, math.inf if tall is None else _FLAGS * tall)

    names, pitch, left, wide = sized(0.0)
    if wide < 40:
        raise too_small()
    rough = [frame_at(plan, key, domain, left, 0.0, wide, 1.0) for key, domain in ranges.items()]
    heads = max(flags_height(flagged(frame, 0.0), frame, 0.0) for frame in rough)
    lines_of_heads = plan.rows if own else 1
    names, pitch, left, wide = sized(heads * lines_of_heads / plan.rows)
    panel_height = pitch * plan.slots
    # The first lane may rise over its strip: the panel begins lower.
    rise = over * pitch + plan.far
    title_room += rise + heads
    between += over * pitch + (heads if own else 0.0)
    if wide < 40 or panel_height < 20:
        raise too_small()
    # Two ticks say little of a scale: three may stand closer.
    most = max(2, int(wide / 52), min(3, int(wide / 36)))
    panels = []
    for panel in plan.arrangement.panels:
        x = left + panel.column * (wide + gutter + PANEL_GAP)
        y = top + title_room + panel.row * (panel_height + between)
        frame = frame_at(plan, panel.key, ranges[panel.key], x, y, wide, panel_height)
        last = not any(p.column == panel.column and p.row > panel.row for p in plan.arrangement.panels)
        panels.append(place_panel(plan, panel, frame, most, own or last, titles[panel.key],
                             names.get(panel.key, ()) if panel.column == 0 else (), counted, panel.column == 0,
                             rise, flagged(frame, rise) if own or panel.row == 0 else ()))  # fmt: skip
    return tuple(panels), left


def _count_room(plan: LayoutPlan) -> float:
    """The width of the longest count beside a panel."""
    size, arrangement = plan.letters.style.text_size * 0.85, plan.arrangement
    slots = range(max(len(arrangement.slots), 1))
    groups = [arrangement.of_slot(panel.key, slot) for panel in arrangement.panels for slot in slots]
    if is_overlaid(plan.recipe):
        groups = [arrangement.of_panel(panel.key) for panel in arrangement.panels]
    counts = [bare_counts(lanes, len(arrangement.parts)) for lanes in groups if lanes]
    return max((plan.letters.width(count, size) for count in counts), default=0.0) + 8


def _usual_pitch(plan: LayoutPlan) -> float:
    """Height of a lane that runs across, in points: less where there are many, more where something stands on its edge."""
    lanes = plan.slots
    if is_overlaid(plan.recipe):
        return 190.0 if plan.rows == 1 else 120.0
    sided = any(layer.on_lane_edge() for layer, _ in plan.measured)
    steps: tuple[tuple[int, float], ...]
    steps = ((5, 58.0), (8, 44.0), (12, 34.0), (24, 24.0)) if not sided else ((4, 78.0), (8, 56.0), (12, 42.0), (24, 26.0))
    if plan.rows == 1 and sided:
        # One lane, or two, are a full figure.
        steps = ((1, 150.0), (2, 100.0), *steps)
    usual = 10.0 if _line_by_line(plan) else next((pitch for most, pitch in steps if lanes <= most), 16.0)
    parts = len(plan.arrangement.parts) if parts_placed(plan.recipe, plan.arrangement) == "beside" else 1
    return max(usual, 15.0 * parts + 6) if parts > 1 and lanes * parts <= 60 else usual


def _line_by_line(plan: LayoutPlan) -> bool:
    """Whether lanes stand as close as lines of text: single values, and very many."""
    return plan.arrangement.single_values or plan.slots > _CROWD


def _names_across(
    plan: LayoutPlan, width: float, tall: float | None, counted: bool
) -> tuple[dict[str, tuple[SlotName, ...]], float]:
    """Names at the left of their lanes, for each panel of the first column, and the height of one lane."""
    letters, size = plan.letters, plan.letters.style.text_size
    lanes = plan.slots
    usual = _usual_pitch(plan)
    pitch = tall / lanes if tall is not None else usual
    if pitch < 4.0:
        raise InputError(
            f"{plural(lanes, 'lane')} will not fit this height", where="$.size.height", remedy="Leave the height to the figure."
        )
    if is_overlaid(plan.recipe):
        return {}, pitch
    # At their value, lanes may stand closer than they would evenly.
    narrow = pitch * lanes * slots_of(plan.recipe, plan.arrangement).narrowest
    fitting = min(size * LANE_NAME, narrow / LEADING)
    most = max(1, int(narrow / (fitting * LEADING))) if tall is not None or narrow < pitch * 0.99 else 3
    result: dict[str, list[SlotName]] = {}
    for panel in plan.arrangement.panels:
        if panel.column:
            continue
        for slot, level in enumerate(plan.arrangement.slots):
            own = letters.block(level.shown, width * 0.27, fitting, 600, most)
            lanes_here = plan.arrangement.of_slot(panel.key, slot)
            words = count_words(plan.arrangement, lanes_here) if counted else ""
            count = letters.block(words, width * 0.27, min(size * 0.94, fitting), 400, 1) if words else None
            fits = count is not None and narrow >= own.height + count.height
            keep = count if fits or (tall is None and narrow >= pitch * 0.99 and usual >= 34.0) else None
            result.setdefault(panel.key, []).append(SlotName(slot, own, keep))
    if tall is None:
        tallest = max((name.height for by in result.values() for name in by), default=0.0)
        pitch = max(usual, (tallest + (1 if _line_by_line(plan) else 4)) * pitch / narrow)
    return {key: tuple(names) for key, names in result.items()}, pitch
