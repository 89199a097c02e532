"""Brackets over pairs of lanes, with the difference in words: its size, its interval, its p-value."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.geometry.axes import domain_of
from echelle.figures.geometry.frame import MarkOf
from echelle.figures.lanes.figure_context import FigureContext, Measurement, hull
from echelle.figures.lanes.lane_pairs import LanePair, pairs_of
from echelle.figures.lanes.pair_estimates import Way, pair_estimate, pair_test
from echelle.figures.layers.base import Explanation, LaneView, Layer, NoteContext, PanelView
from echelle.figures.layers.between import difference_words, level_words, method_words, size_words
from echelle.figures.layers.bracket_words import FOOT, BracketPlace, draw_words, place_words, word_room
from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.differences.hypothesis_tests import p_words
from echelle.numbers.differences.multiple_comparisons import Adjustment, adjust_p_values, level_of_each
from echelle.numbers.rounding import decimals_of
from echelle.recipes.differences import Differences
from echelle.recipes.layers.bracket import BracketLayer
from echelle.recipes.style import points
from echelle.scene.advice import advice
from echelle.scene.models import Advice, Paint, ScenePart

MOST_BRACKETS = 15
_USUAL = Differences()
# How far brackets stand over the values and, at least and at most, over one another, as shares of what the values span.
_OVER, _APART, _FURTHEST = 0.07, 0.11, 0.35
# What a sheet needs for names and axis words, about, in points.
_AROUND = {"across": 110.0, "up": 55.0}
# Neighbours on one level do not touch.
_INSET = 2.5


@dataclass(frozen=True, eq=False)
class Bracket:
    """From a lane (its key), at which value, what stands over it, how the pair was compared and at which level."""

    reference: str
    at: float
    words: str
    way: Way
    level: float


def _measure(layer: BracketLayer, context: FigureContext) -> Measurement[list[Bracket]]:
    differences = context.recipe.differences or _USUAL
    arrangement = context.arrangement
    pairs = pairs_of(arrangement, differences)
    remarks = []
    if len(pairs) > MOST_BRACKETS:
        remarks.append(advice(context.words, f"{layer.id}/many", "many-brackets", pairs=len(pairs), most=MOST_BRACKETS))
    level = level_of_each(layer.level, len(pairs), differences.together)
    # Adjusted over all pairs that are compared, drawn or not.
    adjusted = dict(zip(pairs, _adjusted(layer, differences, pairs), strict=True))
    compared = [(pair, pair_estimate(pair, differences, layer.of, level, layer.seed)) for pair in pairs[:MOST_BRACKETS]]
    known = [(pair, result.estimate) for pair, result in compared if result.estimate.value is not None]
    if len(known) < len(compared):
        names = [
            context.words.say("bracket-pair", lane=pair.other.name, reference=pair.reference.name)
            for pair, result in compared
            if result.estimate.value is None
        ]
        paired = "yes" if any(result.way != "rows" for _, result in compared) else "no"
        remarks.append(advice(context.words, f"{layer.id}/none", "no-bracket", pairs=names, paired=paired))
    by = differences.adjusted if len(pairs) > 1 else "none"
    decimals = decimals_of(arrangement.excerpt) + 1
    texts = (_bracket_words(layer, estimate, adjusted[pair], by, decimals, context.words) for pair, estimate in known)
    words = [context.written(text) for text in texts]
    ways = {pair.other.key: result.way for pair, result in compared}
    pairs = [pair for pair, _ in known]
    levels = _levels(context, pairs)
    distance = _level_distance(layer, context, max(levels, default=0))
    heights = [_height(context, level, distance) for level in levels]
    brackets: dict[str, list[Bracket]] = {}
    for pair, at, said in zip(pairs, heights, words, strict=True):
        brackets.setdefault(pair.other.key, []).append(Bracket(pair.reference.key, at, said, ways[pair.other.key], level))
    extents = {arrangement.lanes[0].key: (min(heights), _top(context, max(levels), distance))} if heights else {}
    return Measurement(lanes=dict(brackets), extents=extents, remarks=remarks)


def _adjusted(layer: BracketLayer, differences: Differences, pairs: Sequence[LanePair]) -> list[float | None]:
    """The p of each pair; None where it is not shown."""
    if not layer.words.endswith("p"):
        return [None] * len(pairs)
    return adjust_p_values([pair_test(pair, differences, layer.of).p for pair in pairs], differences.adjusted)


def _bracket_words(
    layer: BracketLayer, estimate: Estimate, p: float | None, by: Adjustment, decimals: int, words: Catalogue
) -> str:  # fmt: skip
    said = [] if layer.words == "p" else [size_words(estimate, decimals, words, "interval" in layer.words)]
    if layer.words.endswith("p"):
        said.append(words.say("no-p") if p is None else words.say("p-adjusted", p=p_words(p), adjusted=by))
    return ", ".join(said)


def _base(context: FigureContext) -> tuple[float, float]:
    """From where to where the values reach, on the axis' scale."""
    low, high = hull([lane.extent for lane in context.arrangement.lanes]) or (0.0, 1.0)
    a, b = context.transform.forward(np.array([low, high])).tolist()
    return float(a), float(b)


def _height(context: FigureContext, level: float, distance: float) -> float:
    """The value at which brackets of a level stand."""
    low, high = _base(context)
    place = high + (_OVER + distance * level) * ((high - low) or 1.0)
    return float(context.transform.back(np.array([place]))[0])


def _top(context: FigureContext, highest: int, distance: float) -> float:
    """The value over which no words reach: neighbours on one level may need two lines."""
    return _height(context, highest + (0.7 if highest else 1.0), distance)


def _levels(context: FigureContext, pairs: Sequence[LanePair]) -> list[int]:
    """The level each bracket stands on, from 0: short ones lowest, none through another."""
    places = {lane.key: i for i, lane in enumerate(context.arrangement.lanes)}
    spans = [sorted((places[pair.reference.key], places[pair.other.key])) for pair in pairs]
    levels: dict[int, int] = {}
    for i in sorted(range(len(pairs)), key=lambda i: (spans[i][1] - spans[i][0], spans[i][0])):
        over = [levels[j] for j in levels if spans[j][0] < spans[i][1] and spans[i][0] < spans[j][1]]
        levels[i] = next(level for level in range(len(pairs)) if level not in over and level > max(over, default=-1))
    return [levels[i] for i in range(len(pairs))]


def _level_distance(layer: BracketLayer, context: FigureContext, highest: int) -> float:
    """How far levels stand apart, as a share of what the values span: on a low sheet further, for their words. An axis whose
    end was chosen does not grow with them.
    """
    axis, size, panels = context.recipe.axis, context.recipe.size, context.arrangement.panels
    if axis.end is not None:
        return _APART
    along = points(size.width if axis.runs == "across" else size.height or "110mm") - _AROUND[axis.runs]
    beside = 1 + max((panel.column if axis.runs == "across" else panel.row for panel in panels), default=0)
    needed, distance = word_room(layer.size) * beside / max(along, 1.0), _APART
    low, high = _base(context)
    while distance < _FURTHEST:
        ends = context.transform.back(np.array([low, high])).tolist()[0], _top(context, highest, distance)
        start, end = context.transform.forward(np.array(domain_of(ends, axis)))
        if distance * (high - low) >= needed * (end - start):
            break
        distance += 0.02
    return distance


def _standing(views: Sequence[LaneView[list[Bracket]]]) -> dict[str, BracketPlace]:
    """The brackets of one panel, by their number in it."""
    by_key = {view.band.lane.key: view for view in views}
    places: dict[str, BracketPlace] = {}
    for number, (last, item) in enumerate((view, bracket) for view in views for bracket in view.data or ()):
        first, frame = by_key.get(item.reference), last.frame
        if first is not None and frame.domain[0] <= item.at <= frame.domain[1]:
            a, b = sorted((first.band.across(0.0), last.band.across(0.0)))
            places[str(number)] = BracketPlace(frame.along(item.at), a + _INSET, b - _INSET, item.words)
    return places


def _brackets(layer: BracketLayer, panel: PanelView[list[Bracket]]) -> list[ScenePart]:
    """Of the pairs of one panel: a line over both lanes with short ends, and the words on its middle."""
    frame, style, letters = panel.frame, panel.lanes[0].style, panel.lanes[0].letters
    standing = _standing(panel.lanes)
    paint, foot = Paint(stroke=style.ink, stroke_width=layer.line), -FOOT if frame.runs == "across" else FOOT
    parts: list[ScenePart] = []
    for number, item in standing.items():
        at, a, b = item.at, item.start, item.end
        for place, ends in (("line", (at, a, at, b)), ("start", (at, a, at + foot, a)), ("end", (at, b, at + foot, b))):
            parts.append(frame.line(MarkOf("", layer.id, "join", f"{number}{place}"), *ends, paint))
    if letters is not None:
        words = place_words(list(standing.values()), frame, letters, layer.size)
        for (number, item), placed in zip(standing.items(), words, strict=True):
            if placed is not None:
                parts += draw_words(placed, item, frame, letters, MarkOf("", layer.id, "note", number), style.ink)
    return parts


def _after(layer: BracketLayer, views: Sequence[LaneView[list[Bracket]]]) -> list[Advice]:
    """Brackets whose words find no room."""
    bare = 0
    for key in dict.fromkeys(view.frame.key for view in views):
        here = [view for view in views if view.frame.key == key]
        if here[0].letters is not None:
            words = place_words(list(_standing(here).values()), here[0].frame, here[0].letters, layer.size)
            bare += words.count(None)
    if not bare:
        return []
    return [advice(views[0].context.words, f"{layer.id}/words", "bare-brackets", count=bare)]


def _note(layer: BracketLayer, note: NoteContext[list[Bracket]]) -> list[str]:
    brackets = [bracket for of_lane in note.measured.lanes.values() for bracket in of_lane]
    if not brackets:
        return []
    words, ways = note.words, _ways(note)
    level = level_words(layer.level, brackets[0].level, words)
    how = method_words(ways, layer.of, layer.seed, words)
    intervals = words.say("note-bracket-intervals", level=level, how=how) if "interval" in layer.words else ""
    tested = _test_words(layer, ways, note) if layer.words.endswith("p") else ""
    return [words.say("note-bracket", what=_what(layer, note), intervals=intervals, test=tested)]


def _ways(note: NoteContext[list[Bracket]]) -> list[Way]:
    """How the pairs were compared, each way once."""
    return list(dict.fromkeys(bracket.way for of_lane in note.measured.lanes.values() for bracket in of_lane))


def _what(layer: BracketLayer, note: NoteContext[list[Bracket]]) -> str:
    return difference_words(_ways(note) or ["rows"], layer.of, note.context.recipe.differences or _USUAL, note.words)


def _test_words(layer: BracketLayer, ways: Sequence[Way], note: NoteContext[list[Bracket]]) -> str:
    differences, words, means = note.context.recipe.differences or _USUAL, note.words, layer.of == "means"
    tests: dict[Way, str] = {
        "rows": "welch-t" if means else "mann-whitney", "subjects": "paired-t" if means else "wilcoxon", "mixed model": "mixed"
    }  # fmt: skip
    said = words.say("and").join(words.say("pair-test", test=tests[way]) for way in ways)
    pairs = len(pairs_of(note.context.arrangement, differences))
    return words.say("note-bracket-test", tests=said, adjusted=differences.adjusted if pairs > 1 else "none", pairs=pairs)


def _brief(layer: BracketLayer, note: NoteContext[list[Bracket]]) -> str:
    return note.words.say("brief-bracket", differences=_what(layer, note))


def _explain(layer: BracketLayer, note: NoteContext[list[Bracket]]) -> Iterator[Explanation]:
    yield None, note.words.say("key-bracket")


LAYER = Layer[BracketLayer, list[Bracket]](
    settings=BracketLayer,
    draw_over=_brackets,
    remarks=_after,
    measure=_measure,
    note=_note,
    brief=_brief,
    explain=_explain,
)
