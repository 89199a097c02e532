"""Guides: reference lines and bands, and their labels: outside the panel, or in the strip of the lanes that they hold for."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from echelle.figures.geometry.frame import Frame, MarkOf
from echelle.figures.geometry.guide_labels import SMALL, named_outside, without_label
from echelle.figures.geometry.label_places import LabelPlaces
from echelle.figures.geometry.lettering import LEADING, Block, Box, Lettering
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.lanes.guide_values import PlacedGuide
from echelle.figures.layout.layout_model import Layout, PanelPlace
from echelle.recipes.guides import guide_name
from echelle.scene.advice import advice, remedy
from echelle.scene.models import Advice, Paint, RectPart, ScenePart, round_coordinate

_BAND = 0.1
_PLATE = 0.7


@dataclass(frozen=True)
class _Strip:
    """Where a guide stands in a panel: from ``low`` to ``high``, over coordinates ``start`` to ``end`` across; ``lane`` names
    what it belongs to, "" for the whole panel.
    """

    lane: str
    low: float
    high: float
    start: float
    end: float


def _strips(guide: PlacedGuide, place: PanelPlace) -> Iterator[_Strip]:
    """A guide's strips in one panel; none where it has no values to stand on or its group is not there."""
    if guide.guide.group is None and guide.ends is not None:
        yield _Strip("", *guide.ends, *place.frame.sides)
        return
    bands = [band for band in place.bands if guide.of(band.lane) is not None]
    if guide.guide.own:
        yield from (_Strip(band.lane.key, *guide.own[band.lane.key], band.start, band.end) for band in bands)
    elif bands and guide.ends is not None:
        yield _Strip(f"slot{bands[0].lane.slot + 1}", *guide.ends, min(b.start for b in bands), max(b.end for b in bands))


def guide_bands(layout: Layout, context: FigureContext, letters: Lettering) -> list[ScenePart]:
    """Bands, which lie under all marks."""
    parts: list[ScenePart] = []
    for number, guide in enumerate(context.guides):
        paint = Paint(fill=guide.guide.colour or letters.style.muted, opacity=_BAND)
        for place in layout.panels if guide.guide.band is not None else ():
            frame = place.frame
            for strip in _strips(guide, place):
                low = frame.held(max(strip.low, frame.domain[0]))
                high = frame.held(min(strip.high, frame.domain[1]))
                if abs(high - low) >= 1e-9:
                    mark = MarkOf(strip.lane, f"guide{number + 1}", "guide")
                    parts.append(frame.rect(mark, low, high, strip.start, strip.end, paint))
    return parts


def guide_lines(layout: Layout, context: FigureContext, letters: Lettering, behind: bool) -> list[ScenePart]:
    """Lines that lie over all marks, or those ``behind`` them."""
    parts: list[ScenePart] = []
    for place in layout.panels:
        frame = place.frame
        for number, item in enumerate(context.guides):
            guide = item.guide
            if guide.band is not None or guide.behind != behind:
                continue
            paint = Paint(stroke=guide.colour or letters.style.muted, stroke_width=guide.weight, dash=guide.dash)
            for strip in _strips(item, place):
                if frame.domain[0] <= strip.low <= frame.domain[1]:
                    mark, at = MarkOf(strip.lane, f"guide{number + 1}", "guide"), frame.along(strip.low)
                    parts.append(frame.line(mark, at, strip.start, at, strip.end, paint))
    return parts


def guide_labels(layout: Layout, context: FigureContext, letters: Lettering, taken: dict[str, LabelPlaces]) -> list[ScenePart]:
    """Labels, which lie over all marks; ``taken`` collects their places by panel."""
    parts: list[ScenePart] = []
    for place in layout.panels:
        through = LabelPlaces(_lines_through(place, context))
        for number, item in enumerate(context.guides):
            labelled = not item.guide.label or named_outside(item)
            for strip in _strips(item, place):
                # Lanes with a line each share one label.
                if not labelled and _in_view(strip, place):
                    label = _label(place, item.label, number, strip, taken[place.panel.key], through, letters)
                    labelled = bool(label)
                    parts += label
        parts += _outside(place, letters)
    return parts


def _outside(place: PanelPlace, letters: Lettering) -> Iterator[ScenePart]:
    """Labels outside a panel, with what joins them to their guides."""
    paint = Paint(stroke=letters.style.muted, stroke_width=0.5)
    for label in place.labels:
        layer = f"guide{label.number + 1}"
        yield place.frame.drawn(MarkOf("", layer, "guide", "pole"), label.pole, paint)
        mark = MarkOf("", layer, "guide-label")
        yield from letters.put_block(mark, place.frame.key, label.block, label.x, label.top, letters.style.muted)


def _in_view(strip: _Strip, place: PanelPlace) -> bool:
    return strip.low <= place.frame.domain[1] and strip.high >= place.frame.domain[0]


def _label(
    place: PanelPlace, written: str, number: int, strip: _Strip, taken: LabelPlaces, lines: LabelPlaces, letters: Lettering
) -> list[ScenePart]:  # fmt: skip
    """In its strip beside its end, at the first place that no label takes, and none of ``lines`` if there is one; over what is
    drawn there on a plate that lets it through. Left out where none is free.
    """
    frame, size = place.frame, letters.style.text_size * SMALL
    room = frame.width * 0.6 if frame.runs == "across" else max(strip.end - strip.start, 40.0)
    block = letters.block(written, room, size, 400, 2)
    spots = list(_places(frame, strip, block))
    for (x, y), avoided in [*((spot, lines) for spot in spots), *((spot, None) for spot in spots)]:
        box = (x, y, x + block.width, y + block.height)
        inside = frame.left <= x and box[2] <= frame.left + frame.width and frame.top - 1 <= y
        inside = inside and box[3] <= frame.top + frame.height + 1 and (avoided is None or avoided.free(box))
        if inside and taken.claim(box):
            layer, ground = f"guide{number + 1}", letters.style.ground
            parts: list[ScenePart] = []
            if ground is not None:
                fields = MarkOf(strip.lane, layer, "guide-label", "plate").fields(frame.key)
                paint = Paint(fill=ground, opacity=_PLATE)
                left, top, wide, high = map(round_coordinate, (x - 1, y, block.width + 2, block.height))
                parts.append(RectPart(**fields, x=left, y=top, width=wide, height=high, paint=paint))
            mark = MarkOf(strip.lane, layer, "guide-label")
            return [*parts, *letters.put_block(mark, frame.key, block, x, y, letters.style.muted)]
    return []


def _places(frame: Frame, strip: _Strip, block: Block) -> Iterator[tuple[float, float]]:
    """Where a label's left upper corner may be: beyond the guide's end, before its beginning, a line further each time."""
    low, high = (frame.held(min(max(end, frame.domain[0]), frame.domain[1])) for end in (strip.low, strip.high))
    step = block.size * LEADING
    for line in range(6):
        if frame.runs == "across":
            yield high + 3, strip.start + 2 + line * step
            yield low - 3 - block.width, strip.start + 2 + line * step
        else:
            x = (strip.start + strip.end - block.width) / 2
            yield x, high - block.height - 1 - line * step
            yield x, low + 1 + line * step


def _lines_through(place: PanelPlace, context: FigureContext) -> list[Box]:
    """Where lines run through a whole panel: no label of a single lane is written over one."""
    frame, result = place.frame, list[Box]()
    for guide in context.guides:
        for strip in _strips(guide, place) if guide.guide.band is None and named_outside(guide) else ():
            if _in_view(strip, place):
                at = frame.along(strip.low)
                across = frame.runs == "across"
                result.append((at - 1, strip.start, at + 1, strip.end) if across else (strip.start, at - 1, strip.end, at + 1))
    return result


def guides_unnamed(layout: Layout, context: FigureContext) -> list[Advice]:
    """Which guides have no label, for want of room."""
    labelled = [place for place in layout.panels if place.labels] or layout.panels[:1]
    gone = dict.fromkeys(label for place in labelled for label in without_label(context, place.frame, place.labels))
    if not gone:
        return []
    named = ", ".join(list(gone)[:4])
    return [advice(context.words, "guides/named", "guides-unnamed", count=len(gone), guides=named)]


def guides_out_of_view(layout: Layout, context: FigureContext) -> list[Advice]:
    """Which guides no panel shows."""
    gone = []
    first = min(place.frame.domain[0] for place in layout.panels)
    last = max(place.frame.domain[1] for place in layout.panels)
    reach: dict[str, float] = {}
    for guide in context.guides:
        result = [(place, strip) for place in layout.panels for strip in _strips(guide, place)]
        if not result or any(_in_view(strip, place) for place, strip in result):
            continue
        low, high = min(strip.low for _, strip in result), max(strip.high for _, strip in result)
        gone.append(guide_name(guide.guide, context.words))
        if low > last:
            reach["to"] = max(reach.get("to", last), high + 0.02 * (high - first))
        elif low > context.transform.least:
            reach["from"] = min(reach.get("from", first), low * 0.98 if low > 0 else low - 0.02 * (last - low))
    if not gone:
        return []
    changes = [(["axis", end], float(f"{value:.6g}")) for end, value in reach.items()]
    remedies = [remedy(context.words, "reach-guides", *changes)] if changes else []
    scale = "linear" if reach else context.transform.name
    named = ", ".join(gone[:4])
    return [advice(context.words, "guides", "guides-out-of-view", remedies=remedies, guides=named, scale=scale)]
