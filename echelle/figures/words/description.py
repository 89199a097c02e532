"""Sentences about a figure: its title and its description."""

from __future__ import annotations

from echelle.figures.lanes.lane import Arrangement
from echelle.numbers.rounding import display_number
from echelle.plurals import plural
from echelle.recipes.markup import unmarked
from echelle.recipes.recipe import Recipe
from echelle.scene.models import LaneReadings


def title_of(recipe: Recipe, arrangement: Arrangement) -> str:
    """The figure's own title, or what it compares."""
    across = f" across {arrangement.groups}" if arrangement.groups else ""
    split = f", split by {arrangement.subgroups}" if arrangement.subgroups else ""
    panels = f", a panel per {' and '.join(arrangement.panelled)}" if arrangement.panelled else ""
    return unmarked(recipe.words.title) or f"{arrangement.name}{across}{split}{panels}"


def description(arrangement: Arrangement, readings: list[LaneReadings], decimals: int) -> str:
    """The figure in words, from its readings."""
    names = {lane.key: lane.name for lane in arrangement.lanes}
    known = sorted((r for r in readings if r.median is not None), key=lambda r: -(r.median or 0.0))
    heading = arrangement.heading + arrangement.differs
    if not known:
        means = ", ".join(f"{names[r.lane]} {display_number(r.mean, decimals)}" for r in readings[:24] if r.mean is not None)
        return f"{heading}: means {means}." if means else f"{heading}: no rows."
    medians = ", ".join(f"{names[r.lane]} {display_number(r.median, decimals)} (n = {r.n})" for r in known[:24])
    more = f" and {len(known) - 24} more" if len(known) > 24 else ""
    odd = [f"{names[r.lane]} {r.beyond}" for r in readings if r.beyond]
    beyond = f"Values beyond the fences: {', '.join(odd[:24])}." if odd else "No value beyond the fences."
    return " ".join(
        [
            f"{heading} in {plural(len(readings), 'lane')}. Medians from the highest: {medians}{more}.",
            *_spreads(known, names, decimals), *_skews(known, names), beyond,
        ]
    )  # fmt: skip


def _spreads(known: list[LaneReadings], names: dict[str, str], decimals: int) -> list[str]:
    """Which lane is widest, and which is narrowest."""
    wide = sorted((r for r in known if r.iqr is not None), key=lambda r: r.iqr or 0.0)
    if len(wide) < 2 or wide[0].iqr == wide[-1].iqr:
        return []
    most, least = (f"{names[r.lane]} (interquartile range {display_number(r.iqr, decimals)})" for r in (wide[-1], wide[0]))
    return [f"Most spread: {most}; least: {least}."]


def _skews(known: list[LaneReadings], names: dict[str, str]) -> list[str]:
    """Which lanes lean far to one side."""
    sentences = []
    for words, side in (("upward", 1), ("downward", -1)):
        leaning = [names[r.lane] for r in known if r.skewness is not None and r.n >= 8 and side * r.skewness > 1]
        if leaning:
            sentences.append(f"Skewed {words}: {', '.join(leaning[:12])}.")
    return sentences
