"""The method note: how everything drawn was computed, made from the resolved values, so that it is never wrong about them."""

from __future__ import annotations

import re

import numpy as np

from echelle.figures.geometry.count_axis import only_counts, only_means
from echelle.figures.geometry.secondary_axis import MeasuredLayers
from echelle.figures.lanes.figure_context import FigureContext, Measurement
from echelle.figures.lanes.guide_values import guide_notes
from echelle.figures.lanes.lane import Arrangement, SubstitutedLimits
from echelle.figures.layers.base import NoteContext
from echelle.figures.layers.registry import layer_of
from echelle.plurals import list_words, plural
from echelle.recipes.markup import plain
from echelle.recipes.recipe import Recipe
from echelle.tables.steps.conditions import condition_words

_MOST_NAMED = 12
_AMERICAN = {"colour": "color", "centre": "center", "grey": "gray", "colours": "colors", "centres": "centers"}


def method_note(context: FigureContext, measured: MeasuredLayers) -> str:
    """What is drawn, by the recipe's choice of length and English. Names of the data stay as they are."""
    return " ".join(note_clauses(context, measured))


def note_clauses(context: FigureContext, measured: MeasuredLayers) -> list[str]:
    """The sentences of the method note."""
    recipe, arrangement = context.recipe, context.arrangement
    choice = recipe.words.note
    clauses = _full(context, measured) if choice.length == "full" else [_short(recipe, arrangement)]
    if choice.english == "British":
        return clauses
    names = _names(recipe, arrangement)
    return [_american(clause, names) for clause in clauses]


def points_shown(recipe: Recipe) -> bool:
    """Whether a points layer draws every value, outliers among them."""
    return any(layer.draws_rows for layer in recipe.shown_layers)


def _full(context: FigureContext, measured: MeasuredLayers) -> list[str]:
    recipe, arrangement = context.recipe, context.arrangement
    by_id = {layer.id: measurement for layer, measurement in measured}
    clauses: list[str] = []
    for layer in recipe.shown_layers:
        measurement = by_id[layer.id]
        clauses += [*layer_of(layer).note(layer, NoteContext(context, measurement)), *_stand_ins(measurement)]
    if arrangement.differs and recipe.differences is not None:
        how = "median" if recipe.differences.repeats == "median" else "mean"
        whose = arrangement.differs.replace(": difference", ": differences")
        clauses.insert(0, f"Values{whose}; several rows of one subject reduced to their {how} first.")
    if recipe.axis.scale != "linear" and any(layer.bends_with_axis for layer in recipe.shown_layers):
        clauses.append(f"Shapes are computed on the axis' scale ({recipe.axis.scale}).")
    return [
        *clauses,
        *guide_notes(context.guides, recipe, arrangement),
        *_counted(arrangement),
        *_left_aside(recipe, arrangement),
    ]


def _stand_ins(measurement: Measurement[object]) -> list[str]:
    """For which lanes a rule had no answer, and what was done."""
    return [f"{list_words(names)}: {what}." for what, names in measurement.stand_ins.items()]


def _short(recipe: Recipe, arrangement: Arrangement) -> str:
    brief = "; ".join(layer_of(layer).brief(layer) for layer in recipe.shown_layers)
    aside = sum(arrangement.missing_by.values()) + arrangement.censored + arrangement.left_out
    beside = f"; {aside} set aside" if aside else ""
    return f"{brief[:1].upper()}{brief[1:]}; n = {arrangement.used}{beside}."


def _counted(arrangement: Arrangement) -> list[str]:
    """How many values each lane holds."""
    lanes = [lane for lane in arrangement.lanes if lane.given is None]
    if not lanes:
        return []
    if len(lanes) > _MOST_NAMED or len(arrangement.panels) > 1:
        return [f"n = {arrangement.used} in {plural(len(lanes), 'lane')}."]
    return [f"n: {', '.join(f'{lane.name} {lane.n}' for lane in lanes)}."]


def _left_aside(recipe: Recipe, arrangement: Arrangement) -> list[str]:
    clauses = []
    if recipe.keep:
        kept = "; ".join(map(condition_words, recipe.keep))
        clauses.append(f"Rows kept: {kept}.")
    if arrangement.missing_by:
        by = ", ".join(f"{count} {name}" for name, count in arrangement.missing_by.items())
        clauses.append(f"{'Without a partner' if arrangement.differs else 'Without a value'}: {by.removesuffix('.')}.")
    if arrangement.censored:
        drawn = _drawn(recipe, arrangement.censored, "arrow")
        clauses.append(f"{plural(arrangement.censored, 'value')} beyond a detection limit, not in n{drawn}.")
    clauses += _standing(arrangement.stand_ins)
    if out := _out_of_view(recipe, arrangement):
        clauses.append(f"{plural(out, 'value')} out of view, in n.")
    if arrangement.left_out:
        told = (f"row {entry.row}: {entry.reason}" if entry.row else entry.reason for entry in recipe.left_out)
        reasons = "; ".join(dict.fromkeys(told))
        drawn = _drawn(recipe, arrangement.left_out, "faint cross")
        clauses.append(f"{plural(arrangement.left_out, 'row')} left out ({reasons}){drawn}.")
    if arrangement.dropped:
        clauses.append(f"{plural(arrangement.dropped, 'row')} of levels that are not shown.")
    if arrangement.ungrouped:
        clauses.append(f"{plural(arrangement.ungrouped, 'row')} without a group.")
    return clauses


def _drawn(recipe: Recipe, count: int, mark: str) -> str:
    """How rows that stand in no number are drawn, where a layer draws them."""
    shown = any(layer.draws_outliers for layer in recipe.shown_layers)
    marks = f"a{'n' if mark[0] in 'aeiou' else ''} {mark}" if count == 1 else f"{mark}es" if mark.endswith("s") else f"{mark}s"
    return f", drawn as {marks}" if shown else ""


def _standing(stood: SubstitutedLimits | None) -> list[str]:
    """Which numbers stand for limits, and how many come from such ones."""
    clauses = []
    if stood is not None and stood.count:
        at = " to ".join(dict.fromkeys(f"{end:g}" for end in (stood.low, stood.high)))
        stand = "stands" if stood.count == 1 else "stand"
        clauses.append(f"{plural(stood.count, 'value')} beyond a detection limit {stand} at {at}, in n.")
    if stood is not None and stood.computed:
        clauses.append(f"{plural(stood.computed, 'value')} computed from others that stand for a detection limit.")
    return clauses


def _out_of_view(recipe: Recipe, arrangement: Arrangement) -> int:
    """How many values the axis was told to leave out, where the figure draws values."""
    start, end = recipe.axis.start, recipe.axis.end
    if only_means(recipe) or only_counts(recipe) or (start is None and end is None):
        return 0
    low, high = -np.inf if start is None else start, np.inf if end is None else end
    return sum(int(np.count_nonzero((lane.values < low) | (lane.values > high))) for lane in arrangement.lanes)


def _names(recipe: Recipe, arrangement: Arrangement) -> set[str]:
    """What the data are called: no spelling of ours."""
    roles = (arrangement.name, arrangement.groups, arrangement.subgroups, *arrangement.panelled, *arrangement.extras)
    kept = [word for condition in recipe.keep for word in re.split(r"[=:,;]", condition_words(condition))]
    reasons = [entry.reason for entry in recipe.left_out]
    found = {
        *(lane.name for lane in arrangement.lanes),
        *(role for role in roles if role),
        *reasons,
        *(plain(guide.label) for guide in recipe.guides),
    }
    return {name.strip() for name in [*found, *kept, *arrangement.missing_by] if name.strip()}


def _american(text: str, names: set[str]) -> str:
    """American spelling of our own words."""
    words = "|".join(sorted(_AMERICAN, key=len, reverse=True))
    held = "|".join(re.escape(name) for name in sorted(names, key=len, reverse=True))
    ours = rf"\b(?P<word>{words})\b"
    pattern = re.compile(rf"(?<!\w)(?P<name>{held})(?!\w)|{ours}" if held else ours, re.IGNORECASE)

    def spelled(found: re.Match[str]) -> str:
        word = found.group("word")
        if word is None:
            return found.group(0)
        new = _AMERICAN[word.lower()]
        return new.capitalize() if word[0].isupper() else new

    return pattern.sub(spelled, text)
