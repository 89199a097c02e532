"""The method note: how everything drawn was computed, made from the resolved values, so that it is never wrong about them."""

from __future__ import annotations

import re

from echelle.figures.guide_places import guide_notes
from echelle.figures.lanes import Arrangement
from echelle.figures.layers.base import Told
from echelle.figures.layers.registry import kind_of
from echelle.figures.second import MeasuredLayers
from echelle.figures.study import Study
from echelle.recipes.layers import BinsLayer, DensityLayer, NormalCurveLayer, PointsLayer
from echelle.recipes.markup import plain
from echelle.recipes.models import Recipe
from echelle.tables.counting import said
from echelle.tables.steps.conditions import condition_words

_SHAPES = (BinsLayer, DensityLayer, NormalCurveLayer)
_MOST_NAMED = 12
_AMERICAN = {"colour": "color", "centre": "center", "grey": "gray", "colours": "colors", "centres": "centers"}


def method_note(study: Study, measured: MeasuredLayers) -> str:
    """What is drawn, by the recipe's choice of length and English. Names of the data stay as they are."""
    recipe, arrangement = study.recipe, study.arrangement
    choice = recipe.words.note
    clauses = _full(study, measured) if choice.length == "full" else [_short(recipe, arrangement)]
    note = " ".join(clauses)
    return _american(note, _names(recipe, arrangement)) if choice.english == "American" else note


def points_are_shown(recipe: Recipe) -> bool:
    """Whether a points layer draws every value, outliers among them."""
    return any(isinstance(layer, PointsLayer) and layer.shown for layer in recipe.layers)


def _full(study: Study, measured: MeasuredLayers) -> list[str]:
    recipe, arrangement = study.recipe, study.arrangement
    points_shown = points_are_shown(recipe)
    of_recipe = {layer.id: found for layer, found in measured}
    told = [(layer, Told(study, of_recipe[layer.id], points_shown)) for layer in recipe.layers if layer.shown]
    clauses = [clause for layer, one in told for clause in kind_of(layer).note(layer, one)]
    if arrangement.differs and recipe.differences is not None:
        how = "median" if recipe.differences.repeats == "median" else "mean"
        whose = arrangement.differs.replace(": difference", ": differences")
        clauses.insert(0, f"Values{whose}; several rows of one subject reduced to their {how} first.")
    if recipe.axis.scale != "linear" and any(isinstance(layer, _SHAPES) and layer.shown for layer in recipe.layers):
        clauses.append(f"Shapes are computed on the axis' scale ({recipe.axis.scale}).")
    return [
        *clauses,
        *guide_notes(study.guides, recipe, arrangement),
        *_counted(arrangement),
        *_left_aside(recipe, arrangement),
    ]


def _short(recipe: Recipe, arrangement: Arrangement) -> str:
    brief = "; ".join(kind_of(layer).brief(layer) for layer in recipe.layers if layer.shown)
    aside = sum(arrangement.missing_by.values()) + arrangement.censored + arrangement.left_out
    beside = f"; {aside} set aside" if aside else ""
    return f"{brief[:1].upper()}{brief[1:]}; n = {arrangement.used}{beside}."


def _counted(arrangement: Arrangement) -> list[str]:
    """How many values each lane holds."""
    lanes = [lane for lane in arrangement.lanes if lane.given is None]
    if not lanes:
        return []
    if len(lanes) > _MOST_NAMED or len(arrangement.panels) > 1:
        return [f"n = {arrangement.used} in {said(len(lanes), 'lane')}."]
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
        clauses.append(f"{said(arrangement.censored, 'value')} beyond a detection limit, not in n.")
    if arrangement.left_out:
        told = (f"row {entry.row}: {entry.reason}" if entry.row else entry.reason for entry in recipe.left_out)
        reasons = "; ".join(dict.fromkeys(told))
        clauses.append(f"{said(arrangement.left_out, 'row')} left out ({reasons}).")
    if arrangement.dropped:
        clauses.append(f"{said(arrangement.dropped, 'row')} of levels that are not shown.")
    if arrangement.ungrouped:
        clauses.append(f"{said(arrangement.ungrouped, 'row')} without a group.")
    return clauses


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
