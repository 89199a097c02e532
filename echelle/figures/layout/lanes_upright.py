"""Lanes that run up: names under them, the axis at the left of each line of panels."""

from __future__ import annotations

from echelle.figures.geometry.guide_labels import tags, tags_room
from echelle.figures.geometry.lane_bands import Slots, is_overlaid, slots_of
from echelle.figures.geometry.lettering import LEADING, Block
from echelle.figures.lanes.figure_context import hull
from echelle.figures.lanes.lane import PanelOf
from echelle.figures.layout.layout_model import (
    LANE_NAME,
    MARGIN,
    PANEL_GAP,
    Laid,
    LayoutPlan,
    SlotName,
    count_words,
    domains,
    frame_at,
    overlap,
    panel_ticks,
    panel_title,
    place_panel,
    too_small,
)  # fmt: skip
from echelle.recipes.style import points


def up(plan: LayoutPlan, width: float, top: float, below: float, words: str) -> Laid:
    """Lanes run up: names under the lowest panel of each column, the axis at the left of each line's first panel."""
    recipe, letters = plan.recipe, plan.letters
    size = letters.style.text_size
    height = points(recipe.size.height) if recipe.size.height else _usual_height(plan, top, below)
    own = plan.scales == "each-its-own"
    ranges = domains(plan)
    titles = {p.key: panel_title(p, letters, width / plan.columns - 30) for p in plan.arrangement.panels}
    title_room = max((t.height + 2 for t in titles.values() if t), default=0.0)
    counted = plan.rows > 1
    gutter = size * 0.85 * LEADING + 2 if counted else 0.0
    widest = _widest(plan, ranges, max(2, int((height - top - below) / plan.rows / 34)))
    tagged = tags_room(plan.context, ranges, letters, width)
    slots = slots_of(recipe, plan.arrangement)

    def sized(axis_title: Block) -> tuple[float, float, float, dict[str, tuple[SlotName, ...]], float]:
        """Where panels begin, how wide they are and what lies between them, names, and the height of a panel."""
        left = MARGIN + axis_title.height + 4 + widest + 5
        left = max(left, MARGIN + max((column.heading.width for column in plan.ledger), default=0.0) + size)
        gap = PANEL_GAP + (widest + 8 + tagged if own else 0.0) + plan.far
        wide = (width - left - MARGIN - plan.far - tagged - (plan.columns - 1) * gap) / plan.columns
        # The last lane may reach beyond its strip: the panel ends earlier.
        reach = wide - wide / (1 + overlap(plan) / plan.slots)
        wide, gap = wide - reach, gap + reach
        names = {} if is_overlaid(recipe) else _names_up(plan, slots, wide, counted)
        foot = 5 + max((n.height for by in names.values() for n in by), default=0.0)
        foot += plan.ledger_room + (size * LEADING if plan.second else 0.0)
        given = height - top - size * 0.5 - below - foot - (plan.rows - 1) * PANEL_GAP
        return left, wide, gap, names, given / plan.rows - title_room - gutter

    between = title_room + gutter + PANEL_GAP
    axis_title = letters.block(words, height - top - below, size)
    left, wide, gap, names, tall = sized(axis_title)
    along = plan.rows * tall + (plan.rows - 1) * between
    if axis_title.width > along >= 20:
        # It stands beside the panels, never beside what is over or under them.
        axis_title = letters.block(words, along, size)
        left, wide, gap, names, tall = sized(axis_title)
    top += size * 0.5
    if wide < 30 or tall < 20:
        raise too_small()
    most = max(2, int(tall / 34))
    panels = []
    for panel in plan.arrangement.panels:
        x = left + panel.column * (wide + gap)
        y = top + title_room + gutter + panel.row * (tall + between)
        frame = frame_at(plan, panel.key, ranges[panel.key], x, y, wide, tall)
        last = not any(p.column == panel.column and p.row > panel.row for p in plan.arrangement.panels)
        outer = own or not any(p.row == panel.row and p.column > panel.column for p in plan.arrangement.panels)
        panels.append(place_panel(plan, panel, frame, most, own or panel.column == 0, titles[panel.key],
                             names.get(panel.key, ()) if last else (), counted, last,
                             labels=tags(plan.context, frame, letters, tagged, plan.far) if outer else ()))  # fmt: skip
    return height, tuple(panels), axis_title


def _widest(plan: LayoutPlan, ranges: dict[str, tuple[float, float]], most: int) -> float:
    """The width of the widest label: how many ticks there will be depends on the height that is left, so of any number."""
    return max(
        plan.letters.width(label, plan.letters.style.text_size)
        for panel in plan.arrangement.panels
        for few in range(2, most + 1)
        for label in ("0", *panel_ticks(plan, panel, ranges[panel.key], few).labels)
    )


def _names_up(plan: LayoutPlan, slots: Slots, wide: float, counted: bool) -> dict[str, tuple[SlotName, ...]]:
    return {
        panel.key: tuple(
            _slot_name(plan, panel, i, max(6.0, (b - a) * wide - 4), counted)
            for i, (a, b) in enumerate(slots.ends[: len(plan.arrangement.slots)])
        )
        for panel in plan.arrangement.panels
    }


def _slot_name(plan: LayoutPlan, panel: PanelOf, slot: int, room: float, counted: bool) -> SlotName:
    size = plan.letters.style.text_size
    lanes = plan.arrangement.of_slot(panel.key, slot)
    name = plan.letters.block(plan.arrangement.slots[slot].shown, room, size * LANE_NAME, 600, 3)
    words = "" if counted else count_words(plan.arrangement, lanes)
    return SlotName(slot, name, plan.letters.block(words, room, size * 0.94, 400, 2) if words else None)


def _usual_height(plan: LayoutPlan, top: float, below: float) -> float:
    """Of a sheet whose lanes run up; stems need a line of text each."""
    usual = points("110mm") if plan.rows == 1 else points("62mm") * plan.rows
    text = next((measurement for _, measurement in plan.measured if measurement.line_pitch is not None), None)
    if text is None or text.line_pitch is None:
        return usual
    ends = hull(list(text.extents.values())) or (0.0, 1.0)
    lines = (ends[1] - ends[0]) * 1.1 / text.line_pitch + 2
    return min(14_000.0, top + below + plan.rows * lines * plan.letters.style.text_size * 1.3 + 40)
