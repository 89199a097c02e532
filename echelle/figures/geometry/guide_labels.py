"""Labels of guides that hold for all lanes of a panel, outside it: over lanes that run across as flags, each on a pole of its
own, and at the right of lanes that run up as tags. No label covers a mark, another label or another's pole.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from echelle.figures.geometry.frame import Frame
from echelle.figures.geometry.lettering import Block, Lettering
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.lanes.guide_values import Ends, PlacedGuide
from echelle.recipes.style import Runs

SMALL = 0.9
_GAP = 4.0
_POLE = 3.0
_TAG = 8.0
_LINES = 3
# Between a panel's edge and the bracket of a band, and from bracket to bracket.
_STEP = 2.5


class Spot(NamedTuple):
    """Where a flag's pole stands and how wide its text is, in points."""

    at: float
    width: float


class Flag(NamedTuple):
    """A row, counted from the panel upwards, and whether the text reaches leftwards from its pole."""

    row: int
    leftwards: bool


class _LabelledGuide(NamedTuple):
    """A guide in view: its ends and its middle as coordinates, which of the panel's bands it is (None for a line)."""

    number: int
    label: str
    low: float
    high: float
    band: int | None

    @property
    def at(self) -> float:
        return (self.low + self.high) / 2


@dataclass(frozen=True)
class GuideLabel:
    """A guide's label at ``x`` and ``top``, and the path that joins it to its guide, with a bracket over a band; in points."""

    number: int
    block: Block
    x: float
    top: float
    pole: str


def flag_rows(spots: Sequence[Spot], high: float) -> list[Flag]:
    """Rows for flags of which none crosses another's pole or text. Those that would reach beyond ``high`` turn leftwards,
    and with them all at their right.
    """
    order = sorted(range(len(spots)), key=lambda i: spots[i].at)
    turned = next(cut for cut in range(len(order), -1, -1) if _holds(spots, order[:cut], order[cut:], high))
    leftwards = set(order[turned:])
    spans = [_span(spot, i in leftwards) for i, spot in enumerate(spots)]
    rows: dict[int, int] = {}
    # A text that lies over other poles stands above their texts: those first.
    waiting = order[turned:] + order[:turned][::-1]
    while waiting:
        item = next(i for i in waiting if not any(_covers(spans[i], spots[j], i in leftwards) for j in waiting if j != i))
        waiting.remove(item)
        over = [rows[j] for j in rows if _covers(spans[item], spots[j], item in leftwards)]
        beside = {rows[j] for j in rows if spans[item][0] < spans[j][1] and spans[j][0] < spans[item][1]}
        rows[item] = next(row for row in range(max(over, default=-1) + 1, len(spots) + 1) if row not in beside)
    return [Flag(rows[i], i in leftwards) for i in range(len(spots))]


def _span(spot: Spot, leftwards: bool) -> tuple[float, float]:
    """From where to where a flag takes its row: pole, text and a gap."""
    reach = _POLE + spot.width + _GAP
    return (spot.at - reach, spot.at) if leftwards else (spot.at, spot.at + reach)


def _covers(span: tuple[float, float], spot: Spot, leftwards: bool) -> bool:
    """Whether a text lies over a pole; at the same place the flag that is placed later stands higher."""
    return span[0] < spot.at < span[1] or (leftwards and span[0] == spot.at)


def _holds(spots: Sequence[Spot], right: Sequence[int], left: Sequence[int], high: float) -> bool:
    """Whether flags can reach rightwards and leftwards so: inside the sheet, and no two over each other's pole."""
    if any(spots[i].at + _POLE + spots[i].width > high for i in right):
        return False
    spans = {i: _span(spots[i], False) for i in right} | {j: _span(spots[j], True) for j in left}
    return not any(spans[i][1] > spots[j].at and spans[j][0] < spots[i].at for i in right for j in left)


def spread_out(centres: Sequence[float], heights: Sequence[float], low: float, high: float) -> list[float]:
    """Centres moved as little as it takes for things of these heights to keep apart in their order, inside low to high where
    there is room.
    """
    order = sorted(range(len(centres)), key=lambda i: centres[i])
    # Groups that touch: their members, and where their top edge would like to be.
    groups: list[tuple[list[int], float, float]] = []
    for item in order:
        members, size = [item], heights[item]
        top = _inside(centres[item] - size / 2, size, low, high)
        while groups and groups[-1][1] + groups[-1][2] > top:
            members = [*groups.pop()[0], *members]
            size = sum(heights[i] for i in members)
            wish, above = 0.0, 0.0
            for i in members:
                wish += centres[i] - heights[i] / 2 - above
                above += heights[i]
            top = _inside(wish / len(members), size, low, high)
        groups.append((members, top, size))
    result = [0.0] * len(centres)
    for members, top, _ in groups:
        for i in members:
            result[i] = top + heights[i] / 2
            top += heights[i]
    return result


def _inside(top: float, size: float, low: float, high: float) -> float:
    return max(low, min(top, high - size))


def flags(
    context: FigureContext, frame: Frame, letters: Lettering, sheet: tuple[float, float], rise: float, most: float
) -> tuple[GuideLabel, ...]:
    """Flags over a panel whose lanes run across; ``sheet`` is from where to where they may reach, ``rise`` how far marks rise
    over the panel. Where they would be higher than ``most``, the last guides go without.
    """
    shown = _labelled_guides(context, frame)
    result = _flags(shown, frame, letters, sheet, rise)
    while result and flags_height(result, frame, rise) > most:
        shown.pop()
        result = _flags(shown, frame, letters, sheet, rise)
    return result


def _flags(
    shown: Sequence[_LabelledGuide], frame: Frame, letters: Lettering, sheet: tuple[float, float], rise: float
) -> tuple[GuideLabel, ...]:
    low, high = sheet
    size = letters.style.text_size * SMALL
    blocks = [letters.block(guide.label, 0.45 * (high - low), size, 400, 2) for guide in shown]
    rows = flag_rows([Spot(guide.at, block.width) for guide, block in zip(shown, blocks, strict=True)], high)
    heights = [max(block.height for block, f in zip(blocks, rows, strict=True) if f.row == row) for row in _rows(rows)]
    edge = frame.top - rise
    base = edge - 2 - _STEP * _bands(shown)
    result = []
    for item, block, flag in zip(shown, blocks, rows, strict=True):
        x = item.at - _POLE - block.width if flag.leftwards else item.at + _POLE
        foot = base - sum(heights[: flag.row])
        begins, bracket = frame.top, ""
        if item.band is not None:
            begins = edge - _STEP * (item.band + 1)
            bracket = f"M{item.low:.2f} {begins:.2f}L{item.high:.2f} {begins:.2f}"
        pole = f"{bracket}M{item.at:.2f} {begins:.2f}L{item.at:.2f} {foot - block.height + 1:.2f}"
        result.append(GuideLabel(item.number, block, max(low, x), foot - block.height, pole))
    return tuple(result)


def _bands(shown: Sequence[_LabelledGuide]) -> int:
    return sum(guide.band is not None for guide in shown)


def _rows(rows: list[Flag]) -> range:
    return range(max((flag.row for flag in rows), default=-1) + 1)


def flags_height(labels: Sequence[GuideLabel], frame: Frame, rise: float) -> float:
    """How much room flags take above a panel."""
    return max((frame.top - rise - label.top + 2 for label in labels), default=0.0)


def tags(context: FigureContext, frame: Frame, letters: Lettering, room: float, far: float) -> tuple[GuideLabel, ...]:
    """Tags at the right of a panel whose lanes run up, ``far`` beyond its edge and ``room`` wide. Where there are more than the
    panel is high, the last guides go without.
    """
    size = letters.style.text_size * SMALL
    shown = _labelled_guides(context, frame)
    reach = _STEP * _bands(shown)
    blocks = [letters.block(guide.label, room - _TAG - reach, size, 400, _LINES) for guide in shown]
    while sum(block.height for block in blocks) > frame.height + 8:
        blocks.pop()
    shown = shown[: len(blocks)]
    middles, heights = [guide.at for guide in shown], [block.height for block in blocks]
    centres = spread_out(middles, heights, frame.top - 4, frame.top + frame.height + 4)
    edge = frame.left + frame.width
    bend = edge + far + reach
    result = []
    for item, block, centre in zip(shown, blocks, centres, strict=True):
        begins, bracket = edge, ""
        if item.band is not None:
            begins = edge + far + _STEP * (item.band + 1)
            bracket = f"M{begins:.2f} {item.low:.2f}L{begins:.2f} {item.high:.2f}"
        pole = f"{bracket}M{begins:.2f} {item.at:.2f}L{bend:.2f} {item.at:.2f}L{bend + _TAG - 2:.2f} {centre:.2f}"
        result.append(GuideLabel(item.number, block, bend + _TAG, centre - block.height / 2, pole))
    return tuple(result)


def tags_room(context: FigureContext, domains: Mapping[str, Ends], letters: Lettering, width: float) -> float:
    """How wide tags are, at most a quarter of the sheet; 0 where there are none. ``domains`` are the panels', by key."""
    size, most = letters.style.text_size * SMALL, 0.25 * width
    shown = {
        number: guide for key, domain in domains.items() for number, guide, _ in _guides_in_view(context, key, domain, "up")
    }
    widths = [letters.block(guide.label, most, size, 400, _LINES).width for guide in shown.values()]
    bands = sum(guide.guide.band is not None for guide in shown.values())
    return max(widths) + _TAG + _STEP * bands + 0.5 if widths else 0.0


def without_label(context: FigureContext, frame: Frame, labels: Sequence[GuideLabel]) -> list[str]:
    """Labels of guides that a panel shows but had no room to name."""
    named = {label.number for label in labels}
    return [guide.label for guide in _labelled_guides(context, frame) if guide.number not in named]


def named_outside(guide: PlacedGuide) -> bool:
    """Whether a guide's label stands outside the panel: it holds for all lanes, at one place or at each lane's own."""
    return guide.guide.group is None


def _guides_in_view(context: FigureContext, panel: str, domain: Ends, runs: Runs) -> Iterator[tuple[int, PlacedGuide, Ends]]:
    """Guides to name outside a panel, with their ends; of each lane's own, those of the lane at the edge where labels stand."""
    lanes = sorted(context.arrangement.of_panel(panel), key=lambda lane: (lane.slot, lane.part), reverse=runs == "up")
    for number, guide in enumerate(context.guides):
        own = next((guide.own[lane.key] for lane in lanes if lane.key in guide.own), None)
        ends = own if guide.guide.own else guide.ends
        shown = ends is not None and ends[0] <= domain[1] and ends[1] >= domain[0]
        if guide.guide.label and named_outside(guide) and shown and ends is not None:
            yield number, guide, ends


def _labelled_guides(context: FigureContext, frame: Frame) -> list[_LabelledGuide]:
    """Guides with a label that the panel shows, as far as it shows them."""
    shown_bands: list[_LabelledGuide] = []
    for number, item, ends in _guides_in_view(context, frame.key, frame.domain, frame.runs):
        low, high = (frame.held(min(max(end, frame.domain[0]), frame.domain[1])) for end in ends)
        band = None if item.guide.band is None else _bands(shown_bands)
        shown_bands.append(_LabelledGuide(number, item.label, low, high, band))
    return shown_bands
