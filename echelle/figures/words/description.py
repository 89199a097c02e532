"""Sentences about a figure: its title and its description."""

from __future__ import annotations

from echelle.catalogue.catalogue import Catalogue, catalogue
from echelle.figures.lanes.lane import Arrangement
from echelle.numbers.rounding import display_number
from echelle.recipes.markup import without_marks
from echelle.recipes.recipe import Recipe
from echelle.scene.models import LaneReadings

_MOST = 24


def title_of(recipe: Recipe, arrangement: Arrangement) -> str:
    """The figure's own title, or what it compares."""
    words = catalogue(recipe.words.note.english)
    across = words.say("title-across", groups=arrangement.groups) if arrangement.groups else ""
    split = words.say("title-split", subgroups=arrangement.subgroups) if arrangement.subgroups else ""
    panelled = words.say("and").join(arrangement.panelled)
    panels = words.say("title-panels", panels=panelled) if panelled else ""
    return without_marks(recipe.words.title) or f"{arrangement.name}{across}{split}{panels}"


def description(arrangement: Arrangement, readings: list[LaneReadings], decimals: int, words: Catalogue) -> str:
    """The figure in words, from its readings."""
    names = {lane.key: arrangement.full_name(lane) for lane in arrangement.lanes}
    known = sorted((r for r in readings if r.median is not None), key=lambda r: -(r.median or 0.0))
    heading = arrangement.within(arrangement.heading, words)
    if arrangement.counted:
        counts = [f"{names[reading.lane]} {reading.n}" for reading in readings]
        return words.say("description-counts", heading=heading, lanes=counts)
    if not known:
        means = ", ".join(f"{names[r.lane]} {display_number(r.mean, decimals)}" for r in readings[:_MOST] if r.mean is not None)
        empty = words.say("description-empty", heading=heading)
        return words.say("description-means", heading=heading, means=means) if means else empty
    medians = ", ".join(
        words.say("description-lane", lane=names[r.lane], median=display_number(r.median, decimals), n=r.n)
        for r in known[:_MOST]
    )
    more = max(0, len(known) - _MOST)
    first = words.say("description-medians", heading=heading, medians=medians, count=len(readings), more=more)
    odd = ", ".join([f"{names[r.lane]} {r.beyond}" for r in readings if r.beyond][:_MOST])
    beyond = words.say("description-beyond", lanes=odd) if odd else words.say("description-none-beyond")
    return " ".join([first, *_spreads(known, names, decimals, words), *_skews(known, names, words), beyond])


def _spreads(known: list[LaneReadings], names: dict[str, str], decimals: int, words: Catalogue) -> list[str]:
    """Which lane is widest, and which is narrowest."""
    wide = sorted((r for r in known if r.iqr is not None), key=lambda r: r.iqr or 0.0)
    if len(wide) < 2 or wide[0].iqr == wide[-1].iqr:
        return []
    most, least = (
        words.say("description-spread", lane=names[r.lane], iqr=display_number(r.iqr, decimals)) for r in (wide[-1], wide[0])
    )
    return [words.say("description-spreads", most=most, least=least)]


def _skews(known: list[LaneReadings], names: dict[str, str], words: Catalogue) -> list[str]:
    """Which lanes lean far to one side."""
    sentences = []
    for way, side in (("up", 1), ("down", -1)):
        leaning = [names[r.lane] for r in known if r.skewness is not None and r.n >= 8 and side * r.skewness > 1]
        if leaning:
            sentences.append(words.say("description-skew", way=way, lanes=", ".join(leaning[:12])))
    return sentences
