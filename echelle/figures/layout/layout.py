"""Where things stand on the sheet: panels, names, axes, key."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace

from echelle.errors import InputError
from echelle.figures.geometry.lane_bands import bands_of, is_overlaid, slots_of
from echelle.figures.geometry.lettering import Block, Lettering
from echelle.figures.geometry.secondary_axis import MeasuredLayers, SecondaryAxis
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.layout.lanes_across import across
from echelle.figures.layout.lanes_upright import up
from echelle.figures.layout.layout_model import (
    GAP,
    MARGIN,
    Layout,
    LayoutPlan,
    PanelPlace,
    SheetTexts,
    domains,
    frame_at,
    overlap,
    stands_beside,
)
from echelle.figures.layout.legend import key_block, key_entries
from echelle.figures.words.measure_name import measure_words
from echelle.figures.words.method_note import method_note
from echelle.recipes.style import points

_MOST_LINES = 40
# Lanes closer than this have no names below them, in points.
_LEAST_PITCH = 6.0
# Names so short, and answers to a question that nobody wrote down, say nothing alone.
_CODE = 2
_ANSWERS = frozenset(["yes", "no", "true", "false"])


def lay_out(context: FigureContext, measured: MeasuredLayers, seconds: dict[str, SecondaryAxis], letters: Lettering) -> Layout:
    """Find room for everything: names wrap, then shrink, then lanes that run up are turned across.

    Raises InputError where the sheet is too small for its axis.
    """
    plan = LayoutPlan.of(context, measured, seconds, letters)
    if plan.may_turn and plan.slots * plan.columns * _LEAST_PITCH > points(plan.recipe.size.width):
        with suppress(InputError):
            return replace(_lay_out(replace(plan, runs="across")), turned=True)
    layout = _lay_out(plan)
    if plan.may_turn and _collide(layout):
        try:
            return replace(_lay_out(replace(plan, runs="across")), turned=True)
        except InputError:
            # Across there is no room either: small names are better than none.
            return layout
    return layout


def _collide(layout: Layout) -> bool:
    return any(name.name.cut or name.name.broken or name.name.size < 6.0 for panel in layout.panels for name in panel.names)


def bare(context: FigureContext, measured: MeasuredLayers, letters: Lettering, width: float, height: float) -> Layout:
    """The miniature: panels fill the sheet and nothing is written."""
    recipe, arrangement = context.recipe, context.arrangement
    plan = LayoutPlan.of(context, measured, {}, letters)
    ranges = domains(plan)
    wide, high = (width - 4.0) / plan.columns, (height - 4.0) / plan.rows
    # Lanes that rise over their strips take it from the panel.
    give = 1 - 1 / (1 + overlap(plan) / plan.slots)
    down, left = (give * (high - 4.0), 0.0) if plan.runs == "across" else (0.0, give * (wide - 4.0))
    panels = []
    for panel in arrangement.panels:
        x, y = 4.0 + panel.column * wide, 4.0 + panel.row * high + down
        size = (wide - 4.0 - left, high - 4.0 - down)
        frame = frame_at(plan, panel.key, ranges[panel.key], x, y, *size)
        bands = bands_of(recipe, arrangement, arrangement.of_panel(panel.key), frame, letters.style)
        slots = slots_of(recipe, arrangement)
        panels.append(PanelPlace(panel=panel, frame=frame, bands=bands, slots=slots))
    return Layout(width, height, tuple(panels), Block((), letters.style.text_size, 400, 0.0))


def _lay_out(plan: LayoutPlan) -> Layout:
    recipe, arrangement, letters = plan.recipe, plan.arrangement, plan.letters
    size = letters.style.text_size
    width = points(recipe.size.width)
    room = width - 2 * MARGIN
    words = recipe.words
    title = letters.block(words.title, room, size * 1.35, 700) if words.title else None
    subtitle = letters.block(words.subtitle, room, size * 1.05) if words.subtitle else None
    source, credit = (letters.block(line, room, size * 0.9) if line else None for line in (words.source, words.credit))
    named = words.groups or _groups_named(plan)
    groups_title = letters.block(named, room / 2, size, 400, 2) if named else None
    keyed = letters.style.key
    entries = key_entries(recipe, arrangement, plan.context, letters.style) if keyed != "none" else []
    key = key_block(entries, letters, room) if entries else None
    second_title = _second_title(plan, room) if plan.second else None
    top = MARGIN
    # The second axis' uppermost label stands at a panel's edge, half of it over the panel.
    over_panels = 3.0 if plan.runs == "up" else 3.0 + size * 0.4
    # Over lanes that run across, where their names and second axes begin; under those that run up.
    lane_titles = ((groups_title, 2.0), (second_title, over_panels))
    for block, gap in ((title, GAP), (subtitle, GAP), *(lane_titles if plan.runs == "across" else ())):
        top += block.height + gap if block else 0.0
    top += key.height + GAP if key and keyed == "above" else 0.0
    caption = letters.block(words.caption, room, size, 400, _MOST_LINES) if words.caption else None
    note = None
    if words.note.under:
        note = letters.block(method_note(plan.context, plan.measured), room, size * 0.85, 400, _MOST_LINES)
    below = MARGIN + sum(block.height + GAP for block in (caption, note, source, credit) if block)
    below += key.height + GAP if key and keyed == "below" else 0.0
    if plan.runs == "up":
        under = (groups_title, None if stands_beside(second_title, plan.ledger) else second_title)
        below += sum(block.height + 2.0 for block in under if block)
    axis_words = arrangement.within(words.measure or measure_words(plan.context, plan.measured), plan.context.words)
    place = across if plan.runs == "across" else up
    height, panels, axis_title = place(plan, width, top, below, axis_words)
    texts = SheetTexts(
        title=title, subtitle=subtitle, groups_title=groups_title, second_title=second_title, source=source, credit=credit,
        caption=caption, note=note,
    )  # fmt: skip
    return Layout(width, height, panels, axis_title, texts, key, ledger=plan.ledger)


def _groups_named(plan: LayoutPlan) -> str:
    """The groups' column, where bare codes and numbers do not say what they are of; "" where names explain themselves."""
    arrangement = plan.arrangement
    if arrangement.groups is None or is_overlaid(plan.recipe):
        return ""
    names = [slot.name for slot in arrangement.slots]
    return arrangement.groups if names and all(_is_code(name) for name in names) else ""


def _is_code(name: str) -> bool:
    return len(name) <= _CODE or name.casefold() in _ANSWERS or not any(letter.isalpha() for letter in name)


def _second_title(plan: LayoutPlan, room: float) -> Block:
    titles = dict.fromkeys(axis.title for axis in plan.seconds.values())
    return plan.letters.block(", ".join(t for t in titles if t), room, plan.letters.style.text_size * 0.94, 400, 2)
