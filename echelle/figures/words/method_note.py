"""The method note: how everything drawn was computed, made from the resolved values, so that it is never wrong about them."""

from __future__ import annotations

import numpy as np

from echelle.catalogue.catalogue import Catalogue, catalogue
from echelle.figures.geometry.count_axis import only_counts, only_means
from echelle.figures.geometry.secondary_axis import MeasuredLayers
from echelle.figures.lanes.figure_context import FigureContext, Measurement
from echelle.figures.lanes.guide_values import guide_notes
from echelle.figures.lanes.lane import Arrangement, SubstitutedLimits
from echelle.figures.layers.base import NoteContext
from echelle.figures.layers.registry import layer_of
from echelle.numbers.fences import Fences, count_beyond
from echelle.recipes.recipe import Recipe
from echelle.tables.gathered import NO_GRID, Gathered
from echelle.tables.steps.conditions import condition_words

_MOST_NAMED = 12


def method_note(context: FigureContext, measured: MeasuredLayers) -> str:
    """What is drawn, by the recipe's choice of length and English. Names of the data stay as they are."""
    return " ".join(note_clauses(context, measured))


def note_clauses(context: FigureContext, measured: MeasuredLayers) -> list[str]:
    """The sentences of the method note."""
    choice = context.recipe.words.note
    words = catalogue(choice.english)
    if choice.length == "full":
        return _full(context, measured, words)
    return [_short(context, measured, words)]


def points_shown(recipe: Recipe) -> bool:
    """Whether a points layer draws every value, outliers among them."""
    return any(layer.draws_rows for layer in recipe.shown_layers)


def _full(context: FigureContext, measured: MeasuredLayers, words: Catalogue) -> list[str]:
    recipe, arrangement = context.recipe, context.arrangement
    by_id = {layer.id: measurement for layer, measurement in measured}
    clauses: list[str] = []
    if arrangement.differs and recipe.differences is not None:
        repeats = "none" if recipe.differences.paired_by is None else recipe.differences.repeats.replace(" ", "-")
        reference, by = arrangement.differs.reference or "none", arrangement.differs.by
        clauses.append(words.say("note-within", reference=reference, by=by, repeats=repeats))
    for layer in recipe.shown_layers:
        measurement = by_id[layer.id]
        clauses += layer_of(layer).note(layer, NoteContext(context, measurement, words))
        clauses += _stand_ins(measurement, words)
    if recipe.axis.scale != "linear" and any(layer.bends_with_axis for layer in recipe.shown_layers):
        clauses.append(words.say("note-bent", scale=recipe.axis.scale))
    return [
        *clauses,
        *guide_notes(context.guides, recipe, arrangement, words),
        *_n_clauses(arrangement, words),
        *_counted_clauses(recipe, arrangement, words),
        *_left_aside(recipe, arrangement, words),
    ]


def _stand_ins(measurement: Measurement[object], words: Catalogue) -> list[str]:
    """For which lanes a rule had no answer, and what was done."""
    return [
        words.say("note-stand-in", lanes=words.names(names), what=words.remark(what))
        for what, names in measurement.stand_ins.items()
    ]


def _short(context: FigureContext, measured: MeasuredLayers, words: Catalogue) -> str:
    arrangement = context.arrangement
    brief = "; ".join(layer_of(layer).brief(layer, NoteContext(context, measurement, words)) for layer, measurement in measured)
    aside = sum(arrangement.account.missing_by.values()) + arrangement.account.censored + arrangement.account.left_out
    beside = words.say("note-short-aside", count=aside) if aside else ""
    return words.say("note-short", layers=f"{brief[:1].upper()}{brief[1:]}", n=arrangement.used, aside=beside)


def _n_clauses(arrangement: Arrangement, words: Catalogue) -> list[str]:
    """How many values each lane holds."""
    lanes = [lane for lane in arrangement.lanes if lane.given is None]
    if not lanes:
        return []
    if len(lanes) > _MOST_NAMED or len(arrangement.panels) > 1:
        return [words.say("note-n-all", n=arrangement.used, lanes=words.say("count-lanes", count=len(lanes)))]
    # "1 17" would be a number of its own.
    sign = ":" if any(lane.name[-1:].isdigit() for lane in lanes) else ""
    return [words.say("note-n-lanes", lanes=", ".join(f"{lane.name}{sign} {lane.n}" for lane in lanes))]


def _counted_clauses(recipe: Recipe, arrangement: Arrangement, words: Catalogue) -> list[str]:
    """Of a far table: from how many files its rows were counted, and which of its values are drawn one by one."""
    parts = arrangement.account.parts
    if parts is None:
        return []
    done, of = parts
    rows = words.say("count-rows", count=arrangement.account.read)
    clauses = [words.say("note-counted", rows=rows, done=done, of=of, whole="yes" if done == of else "no")]
    gathered = arrangement.account.gathered
    if gathered is not None:
        clauses.append(words.say("note-cells", cell=f"{gathered.width:.2g}", known=_known_values(arrangement, gathered)))
    drawn = sum(int(np.count_nonzero(lane.rows > 0)) for lane in arrangement.lanes)
    if drawn < arrangement.used and any(layer.draws_rows or layer.draws_outliers for layer in recipe.shown_layers):
        clauses.append(words.say("note-examples", drawn=drawn, count=arrangement.used))
    return clauses


def _known_values(arrangement: Arrangement, gathered: Gathered) -> str:
    """Which numbers are of values that gathered into cells themselves, and not of the cells' middles."""
    if not gathered.known:
        return "none"
    samples = [lane.tally for lane in arrangement.lanes if lane.tally is not None]
    summed = all(
        sample.sums is not None for sample in samples if sample.cells is not None and (sample.cells.ids != NO_GRID).any()
    )
    return "all" if summed else "ranks"


def _left_aside(recipe: Recipe, arrangement: Arrangement, words: Catalogue) -> list[str]:
    account, clauses = arrangement.account, []
    if account.prepared:
        steps = [
            words.say("note-step-leaves-out", step=change.step, count=change.before - change.after) if change.leaves_out
            else words.say("note-step-makes", step=change.step, rows=words.say("count-rows", count=change.after))
            for change in account.prepared
        ]  # fmt: skip
        clauses.append(words.say("note-prepared", rows=words.say("count-rows", count=account.read), steps="; ".join(steps)))
    if recipe.keep:
        conditions = "; ".join(condition_words(condition, words) for condition in recipe.keep)
        clauses.append(words.say("note-kept", conditions=conditions, count=arrangement.unkept))
    if account.missing_by:
        by = ", ".join(f"{count} {name}" for name, count in account.missing_by.items())
        clauses.append(words.say("note-missing", within="yes" if arrangement.differs else "no", by=by.removesuffix(".")))
    if account.censored:
        values, drawn = (
            _values(account.censored, words),
            _drawn_as(recipe, account.censored, "arrow", words),
        )
        clauses.append(words.say("note-censored", values=values, drawn=drawn))
    clauses += _substitute_clauses(account.stand_ins, words)
    if out := _out_of_view(recipe, arrangement):
        clauses.append(words.say("note-out-of-view", values=_values(out, words)))
    if account.left_out:
        reasons = (
            words.say("note-left-out-row", row=entry.row, reason=entry.reason) if entry.row else entry.reason
            for entry in recipe.left_out
        )  # fmt: skip
        drawn = _drawn_as(recipe, account.left_out, "cross", words)
        rows = words.say("count-rows", count=account.left_out)
        clauses.append(words.say("note-left-out", rows=rows, reasons="; ".join(dict.fromkeys(reasons)), drawn=drawn))
    if account.dropped:
        clauses.append(words.say("note-dropped", rows=words.say("count-rows", count=account.dropped)))
    if account.ungrouped:
        clauses.append(words.say("note-ungrouped", rows=words.say("count-rows", count=account.ungrouped)))
    return clauses


def _values(count: int, words: Catalogue) -> str:
    return words.say("count-values", count=count)


def _drawn_as(recipe: Recipe, count: int, mark: str, words: Catalogue) -> str:
    """How rows that stand in no number are drawn, where a layer draws them."""
    shown = any(layer.draws_aside() for layer in recipe.shown_layers)
    return words.say("note-drawn", mark=mark, count=count) if shown else ""


def _substitute_clauses(limits: SubstitutedLimits | None, words: Catalogue) -> list[str]:
    """Which numbers stand for limits, and how many come from such ones."""
    clauses = []
    if limits is not None and limits.count:
        at = words.ends(f"{limits.low:g}", f"{limits.high:g}")
        clauses.append(words.say("note-stand-ins", values=_values(limits.count, words), count=limits.count, at=at))
    if limits is not None and limits.computed:
        clauses.append(words.say("note-stand-ins-computed", values=_values(limits.computed, words)))
    return clauses


def _out_of_view(recipe: Recipe, arrangement: Arrangement) -> int:
    """How many values the axis was told to leave out, where the figure draws values."""
    start, end = recipe.axis.start, recipe.axis.end
    if only_means(recipe) or only_counts(recipe) or (start is None and end is None):
        return 0
    ends = Fences(-np.inf if start is None else start, np.inf if end is None else end)
    return sum(count_beyond(lane.ordered, ends) for lane in arrangement.lanes)
