"""Everything around the marks: titles, key, axes, names."""

from __future__ import annotations

import numpy as np

from echelle.figures.geometry.frame import Band, Frame, MarkOf
from echelle.figures.geometry.guide_labels import flags_height
from echelle.figures.geometry.lettering import LEADING, Block, Lettering
from echelle.figures.geometry.secondary_axis import SecondaryAxis
from echelle.figures.lanes.lane import Lane
from echelle.figures.layers.base import LaneView
from echelle.figures.layout.layout_model import GAP, MARGIN, Layout, PanelPlace, bare_counts, stands_beside
from echelle.figures.layout.legend import SWATCH, Key
from echelle.recipes.layers.base import RisingLayer
from echelle.scene.models import Paint, PointsPart, RectPart, Role, ScenePart, point_columns, round_coordinate

_SMALL = 0.85


def rulings(layout: Layout, letters: Lettering) -> list[ScenePart]:
    """Hairlines at the ticks of the measure."""
    paint = Paint(stroke=letters.style.hairline, stroke_width=0.6)
    return [
        frame.line(MarkOf("", "", "ruling", str(i)), at, frame.sides[0], at, frame.sides[1], paint)
        for place in layout.panels
        for frame in (place.frame,)
        for i, at in enumerate(map(frame.along, place.ticks.values))
    ]  # fmt: skip


def titles_and_axes(layout: Layout, letters: Lettering) -> list[ScenePart]:
    """Title, key, source, credit, and what stands around each panel."""
    style = letters.style
    parts: list[ScenePart] = []
    top = MARGIN
    for role, block, colour, gap in (
        ("title", layout.texts.title, style.ink, GAP),
        ("subtitle", layout.texts.subtitle, style.muted, GAP),
    ):
        if block:
            parts += letters.put_block(MarkOf("", "", role), "", block, MARGIN, top, colour)  # type: ignore[arg-type]
            top += block.height + gap
    if layout.key and style.key == "above":
        parts += _key(layout.key, letters, top)
        top += layout.key.height + GAP
    across = layout.frame.runs == "across"
    lane_titles: tuple[tuple[Role, Block | None], ...] = (
        ("groups-title", layout.texts.groups_title),
        ("second-title", layout.texts.second_title),
    )
    for role, block in lane_titles if across else ():
        if block:
            parts += letters.put_block(MarkOf("", "", role), "", block, MARGIN, top, style.muted)
            top += block.height + 2
    at = layout.height - MARGIN
    for role, block, colour in (
        ("credit", layout.texts.credit, style.muted), ("source", layout.texts.source, style.muted),
        ("method-note", layout.texts.note, style.muted), ("caption", layout.texts.caption, style.ink),
    ):  # fmt: skip
        if block:
            at -= block.height
            parts += letters.put_block(MarkOf("", "", role), "", block, MARGIN, at, colour)  # type: ignore[arg-type]
            at -= GAP
    if layout.key and style.key == "below":
        at -= layout.key.height
        parts += _key(layout.key, letters, at)
        at -= GAP
    frames = [place.frame for place in layout.panels]
    middle = (min(frame.left for frame in frames) + max(frame.left + frame.width for frame in frames)) / 2
    for role, block in () if across else lane_titles:
        if block and role == "second-title" and stands_beside(block, layout.ledger):
            lowest = max(frame.top + frame.height for frame in frames)
            x = min(frame.left for frame in frames) - 6
            parts += letters.put_block(MarkOf("", "", role), "", block, x, lowest + 3, style.muted, 1.0)
        elif block:
            at -= block.height
            half = block.width / 2
            held = max(MARGIN + half, min(middle, layout.width - MARGIN - half))
            parts += letters.put_block(MarkOf("", "", role), "", block, held, at, style.muted, 0.5)
            at -= 2
    for place in layout.panels:
        parts += _panel(place, layout, letters)
    return [*parts, *_axis_title(layout, letters)]


def _key(key: Key, letters: Lettering, top: float) -> list[ScenePart]:
    size, style = letters.style.text_size, letters.style
    parts: list[ScenePart] = []
    for number, (entry, text, x, y) in enumerate(key.entries):
        left, middle = MARGIN + x, top + y + size * LEADING / 2
        if entry.shape is None:
            parts += letters.put_block(MarkOf("", "", "key-title"), "", text, left, top + y, style.muted)
            continue
        mark = MarkOf("", "", "key-swatch", str(number))
        if entry.shape == "square":
            fields = mark.fields("")
            parts.append(
                RectPart(
                    **fields, x=round_coordinate(left), y=round_coordinate(middle - SWATCH / 2), width=SWATCH, height=SWATCH,
                    paint=Paint(fill=entry.colour),
                )
            )  # fmt: skip
        else:
            columns = point_columns(np.array([left + SWATCH / 2]), np.array([middle]), np.zeros(1, dtype=np.int64))
            parts.append(
                PointsPart(
                    **mark.fields(""), shape=entry.shape, size=SWATCH * 0.9, paint=Paint(fill=entry.colour), columns=columns
                )
            )
        label = MarkOf("", "", "key-label", str(number))
        parts += letters.put_block(label, "", text, left + SWATCH + 4, top + y, style.ink)
    return parts


def _panel(place: PanelPlace, layout: Layout, letters: Lettering) -> list[ScenePart]:
    style, frame, size = letters.style, place.frame, letters.style.text_size
    parts: list[ScenePart] = []
    if place.title:
        over = frame.top - place.rise - flags_height(place.labels, frame, place.rise) - place.title.height - 2
        if place.counted and frame.runs == "up":
            over -= size * _SMALL * LEADING + 2
        parts += letters.put_block(MarkOf("", "", "panel-title"), frame.key, place.title, frame.left, over, style.ink)
    if not any(band.lane.filled or band.lane.given for band in place.bands):
        x, y = frame.left + frame.width / 2, frame.top + frame.height / 2 + size / 3
        mark = MarkOf("", "", "panel-note")
        parts.append(letters.put(mark, frame.key, "no rows", x, y, size, style.muted, anchor=0.5))
    parts += _axis(place, letters)
    parts += _names(place, letters)
    parts += _ledger(place, layout, letters)
    return parts + (_counts(place, letters) if place.counted else [])


def _ledger(place: PanelPlace, layout: Layout, letters: Lettering) -> list[ScenePart]:
    """Readings at the right, each line level with its lane, under headings with a line."""
    if not layout.ledger:
        return []
    if layout.frame.runs == "up":
        return _ledger_lines(place, layout, letters)
    frame, style = place.frame, letters.style
    edge, size = frame.left + frame.width, style.text_size
    over = frame.top - place.rise - flags_height(place.labels, frame, place.rise) - 3
    parts: list[ScenePart] = []
    for number, placed in enumerate(layout.ledger):
        x, heading = edge + placed.at, placed.heading
        mark = MarkOf("", "", "ledger-heading", str(number))
        parts += letters.put_block(mark, frame.key, heading, x, over - heading.height, style.muted, 1.0)
        for band in place.bands:
            text = placed.column.texts.get(band.lane.key, "")
            low = band.centre(0.0) + size * 0.34
            cell = MarkOf(band.lane.key, "", "ledger", str(number))
            parts.append(letters.put(cell, frame.key, text, x, low, size, style.ink, anchor=1.0))
    right = edge + layout.ledger[-1].at
    rule = f"M{edge + 6:.2f} {over + 1.5:.2f}L{right:.2f} {over + 1.5:.2f}"
    parts.append(frame.drawn(MarkOf("", "", "ledger-rule"), rule, Paint(stroke=style.muted, stroke_width=0.8)))
    return parts


def _ledger_lines(place: PanelPlace, layout: Layout, letters: Lettering) -> list[ScenePart]:
    """Readings under lanes that run up and their names, a line for each, its heading at the left."""
    frame, style = place.frame, letters.style
    over = frame.top + frame.height + 5 + max((name.height for name in place.names), default=0.0)
    over += style.text_size * LEADING if place.second else 0.0
    parts: list[ScenePart] = []
    for number, placed in enumerate(layout.ledger):
        low, heading = over + placed.at, placed.heading
        mark = MarkOf("", "", "ledger-heading", str(number))
        parts += letters.put_block(mark, frame.key, heading, MARGIN, low - heading.height, style.muted)
        for band in place.bands:
            text = placed.column.texts.get(band.lane.key, "")
            cell = MarkOf(band.lane.key, "", "ledger", str(number))
            base = low - heading.height / 2 + placed.size * 0.34
            parts.append(letters.put(cell, frame.key, text, band.across(0.0), base, placed.size, style.ink, anchor=0.5))
    right = frame.left + frame.width
    rule = f"M{MARGIN:.2f} {over + 2:.2f}L{right:.2f} {over + 2:.2f}"
    parts.append(frame.drawn(MarkOf("", "", "ledger-rule"), rule, Paint(stroke=style.muted, stroke_width=0.8)))
    return parts


def _axis(place: PanelPlace, letters: Lettering) -> list[ScenePart]:
    """The line that spans the data (or the panel), and the labels of the ticks; a label that would touch the one before is left
    out.
    """
    style, frame, size = letters.style, place.frame, letters.style.text_size
    across = frame.runs == "across"
    edge = frame.top + frame.height if across else frame.left
    parts: list[ScenePart] = []
    extent = frame.domain if style.axis_line == "whole" else place.spans
    if extent and style.axis_line != "none":
        low, high = frame.held(extent[0]), frame.held(extent[1])
        line = Paint(stroke=style.muted, stroke_width=1.0)
        parts.append(frame.line(MarkOf("", "", "axis-line"), low, edge, high, edge, line))
    if not place.labelled:
        return parts
    short = Paint(stroke=style.muted, stroke_width=0.6)
    for i, value in enumerate(place.ticks.minor):
        mark, at = MarkOf("", "", "axis-line", f"minor{i}"), frame.along(value)
        end = f"{at:.2f} {edge + 3:.2f}" if across else f"{edge - 3:.2f} {at:.2f}"
        drawn = f"M{at:.2f} {edge:.2f}L{end}" if across else f"M{edge:.2f} {at:.2f}L{end}"
        parts.append(frame.drawn(mark, drawn, short))
    taken: tuple[float, float] | None = None
    for i, (value, label) in enumerate(zip(place.ticks.values, place.ticks.labels, strict=True)):
        mark, at = MarkOf("", "", "axis-label", str(i)), frame.along(value)
        x, y, anchor = (at, edge + 4 + size * 0.9, 0.5) if across else (edge - 5, at + size * 0.33, 1.0)
        half, apart = (letters.width(label, size) / 2, 3.0) if across else (size * 0.4, 0.0)
        if taken and at - half < taken[1] + apart and at + half > taken[0] - apart:
            continue
        taken = (at - half, at + half)
        parts.append(letters.put(mark, frame.key, label, x, y, size, style.muted, anchor=anchor))
    return parts


def _axis_title(layout: Layout, letters: Lettering) -> list[ScenePart]:
    """Once, under the lowest panels or at the left of all."""
    style, size = letters.style, letters.style.text_size
    frames = [place.frame for place in layout.panels]
    left, right = min(f.left for f in frames), max(f.left + f.width for f in frames)
    upper, lower = min(f.top for f in frames), max(f.top + f.height for f in frames)
    mark = MarkOf("", "", "axis-title")
    if layout.frame.runs == "across":
        under = lower + 4 + size * LEADING + 2
        return list(letters.put_block(mark, layout.frame.key, layout.axis_title, (left + right) / 2, under, style.ink, 0.5))
    parts: list[ScenePart] = []
    start = MARGIN
    if layout.ledger:
        # Headings of the ledger leave room at the left: the words stay at their axis.
        widest = max((letters.width(label, size) for place in layout.panels for label in place.ticks.labels), default=0.0)
        start = max(MARGIN, left - 9 - widest - layout.axis_title.height)
    for i, words in enumerate(layout.axis_title.lines):
        title_size = layout.axis_title.size
        x = start + title_size * (0.96 + LEADING * i)
        numbered = MarkOf("", "", "axis-title", str(i or ""))
        at = (upper + lower) / 2
        parts.append(letters.put(numbered, layout.frame.key, words, x, at, title_size, style.ink, anchor=0.5, turned=True))
    return parts


def _names(place: PanelPlace, letters: Lettering) -> list[ScenePart]:
    """Group names, at the middle of all their lanes."""
    style, frame = letters.style, place.frame
    parts: list[ScenePart] = []
    second = letters.style.text_size * LEADING if place.second and frame.runs == "up" else 0.0
    lanes_of = _lanes_by_slot(place)
    for name in place.names:
        lanes = lanes_of.get(name.slot, [])
        middle = name_middle(place, name.slot)
        if frame.runs == "across":
            x, top, anchor = frame.left - GAP - 2 - place.second_room, middle - name.height / 2, 1.0
        else:
            x, top, anchor = middle, frame.top + frame.height + 5 + second, 0.5
        key = lanes[0].key if len(lanes) == 1 else f"slot{name.slot + 1}"
        parts += letters.put_block(MarkOf(key, "", "lane-label"), frame.key, name.name, x, top, style.ink, anchor)
        if name.count:
            under = top + name.name.height
            parts += letters.put_block(MarkOf(key, "", "lane-count"), frame.key, name.count, x, under, style.muted, anchor)
    return parts


def _lanes_by_slot(place: PanelPlace) -> dict[int, list[Lane]]:
    result: dict[int, list[Lane]] = {}
    for band in place.bands:
        result.setdefault(band.lane.slot, []).append(band.lane)
    return result


def name_middle(place: PanelPlace, slot: int) -> float:
    """The coordinate across of the middle of a group's strip."""
    (start, end), (a, b) = place.frame.sides, place.slots.ends[slot]
    return start + (a + b) / 2 * (end - start)


def _counts(place: PanelPlace, letters: Lettering) -> list[ScenePart]:
    """n of each group in a gutter of the panel, where names stand beside several panels."""
    frame, size = place.frame, letters.style.text_size * _SMALL
    parts: list[ScenePart] = []
    if frame.runs == "across":
        x = frame.left + frame.width + 6
        parts.append(
            letters.put(MarkOf("", "", "lane-count", "n"), frame.key, "n", x, frame.top - 3, size, letters.style.muted)
        )
    lanes_of = _lanes_by_slot(place) if place.names_apart else {0: [band.lane for band in place.bands]}
    for slot, lanes in sorted(lanes_of.items()):
        if not lanes:
            continue
        words = bare_counts(lanes, place.parts)
        middle = name_middle(place, slot)
        mark = MarkOf(f"slot{slot + 1}", "", "lane-count")
        if frame.runs == "across":
            x, y, anchor = frame.left + frame.width + 6, middle + size / 3, 0.0
        else:
            x, y, anchor = middle, frame.top - 3, 0.5
            a, b = place.slots.ends[slot]
            if letters.width(words, size) > (b - a) * frame.width:
                continue
        parts.append(letters.put(mark, frame.key, words, x, y, size, letters.style.muted, anchor=anchor))
    return parts


def second_parts(
    place: PanelPlace, views: list[LaneView[object]], seconds: dict[str, SecondaryAxis], letters: Lettering
) -> list[ScenePart]:
    """The second axis of each strip of lanes: ticks and labels at its outer edge."""
    frame, style, size = place.frame, letters.style, letters.style.text_size * _SMALL
    parts: list[ScenePart] = []
    if not place.second:
        return parts
    drawn: set[tuple[float, float]] = set()
    for view in views:
        band = view.band
        axis = seconds.get(band.lane.key)
        if axis is None or (band.start, band.end) in drawn:
            continue
        drawn.add((band.start, band.end))
        parts += _second_axis(frame, band, view, axis, letters, size, style.muted)
    return parts


def _second_axis(
    frame: Frame, band: Band, view: LaneView[object], axis: SecondaryAxis, letters: Lettering, size: float, colour: str
) -> list[ScenePart]:  # fmt: skip
    parts: list[ScenePart] = []
    order = (0.47, -0.47) if band.turned else (-0.47, 0.47)
    base, tip = view.region(axis.layer) if isinstance(axis.layer, RisingLayer) else order
    room = abs(tip - base) * band.width
    across = frame.runs == "across"
    most = int(room / (size * 1.5)) if across else int(room / (3 * size))
    if most < 2:
        return parts
    ticks = axis.ticks(min(most, 5))
    edge = frame.left if across else frame.top + frame.height
    end, line = -1e9, Paint(stroke=letters.style.hairline, stroke_width=0.6)
    for number, (share, label) in enumerate(ticks):
        if not -1e-9 <= share <= 1 + 1e-9:
            continue
        at = band.across(base + share * (tip - base))
        mark = MarkOf(band.lane.key, "", "second-label", str(number))
        tick = MarkOf(band.lane.key, "", "second-axis", str(number))
        if across:
            parts.append(frame.drawn(tick, f"M{edge - 3:.2f} {at:.2f}L{edge:.2f} {at:.2f}", line))
            parts.append(letters.put(mark, frame.key, label, edge - 4.5, at + size * 0.34, size, colour, anchor=1.0))
            continue
        half = letters.width(label, size) / 2
        low, high = sorted((at - half, at + half))
        if low < end + 2 or high > frame.left + frame.width + MARGIN - 1:
            continue
        end = high
        parts.append(frame.drawn(tick, f"M{at:.2f} {edge:.2f}L{at:.2f} {edge + 3:.2f}", line))
        parts.append(letters.put(mark, frame.key, label, at, edge + 4 + size * 0.9, size, colour, anchor=0.5))
    return parts
