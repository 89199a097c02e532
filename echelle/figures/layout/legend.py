"""The key: what colours and shapes stand for, where lane names do not say it."""

from __future__ import annotations

from dataclasses import dataclass

from echelle.figures.geometry.lane_bands import colouring, is_overlaid
from echelle.figures.geometry.lettering import LEADING, Block, Lettering
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.layers.base import KeyEntry
from echelle.figures.layers.registry import layer_of
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import Style

SWATCH = 7.0
_GAP = 12.0
_MOST = 24


@dataclass(frozen=True)
class Key:
    """Entries with their places: left and top of each, in points from the key's own corner."""

    entries: tuple[tuple[KeyEntry, Block, float, float], ...]
    height: float


def key_entries(recipe: Recipe, arrangement: Arrangement, context: FigureContext, style: Style) -> list[KeyEntry]:
    """What the key is of; groups laid over one another, subgroups, and what points' colours and shapes stand for."""
    entries: list[KeyEntry] = []
    colour_of = colouring(recipe, arrangement, style)
    of = [arrangement.groups] if is_overlaid(recipe) else []
    of += [arrangement.subgroups] if arrangement.parts else []
    if title := " · ".join(column for column in of if column is not None):
        entries.append(KeyEntry(title, style.muted, None))
    if is_overlaid(recipe):
        single = len(arrangement.panels) == 1
        for lane in {(lane.slot, lane.part): lane for lane in arrangement.lanes}.values():
            count = f" (n = {lane.n})" if single else ""
            places = [*arrangement.slots[lane.slot : lane.slot + 1], *arrangement.parts[lane.part : lane.part + 1]]
            name = " · ".join(place.shown for place in places if place.level is not None) or lane.name
            entries.append(KeyEntry(name + count, colour_of(lane)))
    elif arrangement.parts:
        first = {lane.part: lane for lane in reversed(arrangement.lanes)}
        shown = ((part, first.get(place)) for place, part in enumerate(arrangement.parts))
        entries += [KeyEntry(part.shown, colour_of(lane)) for part, lane in shown if lane is not None]
    for layer in recipe.shown_layers:
        entries += layer_of(layer).key(layer, context, style)
    more = len(entries) - _MOST
    return [*entries[:_MOST], KeyEntry(context.words.say("more-entries", more=more), style.ground)] if more > 0 else entries


def key_block(entries: list[KeyEntry], letters: Lettering, room: float) -> Key:
    """Entries in lines, as many in each as fit."""
    size = letters.style.text_size
    placed, x, y = [], 0.0, 0.0
    for entry in entries:
        shape = 0.0 if entry.shape is None else SWATCH + 4
        text = letters.block(entry.name, room - shape, size, 400, 1)
        wide = shape + text.width
        if x and x + wide > room:
            x, y = 0.0, y + size * LEADING + 2
        placed.append((entry, text, x, y))
        x += wide + _GAP
    return Key(tuple(placed), y + size * LEADING)
