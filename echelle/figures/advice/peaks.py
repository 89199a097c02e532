"""Advice that takes time: lanes with more than one peak, what tells the peaks apart, and bins that show other peaks."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray

from echelle.figures.advice.question import Question
from echelle.figures.lanes.lane import Lane, Rows
from echelle.figures.layers import bins
from echelle.numbers.bandwidth import bandwidth_of
from echelle.numbers.density import density_curve, peaks_of
from echelle.numbers.dip import dip, dip_p
from echelle.numbers.rounding import display_number, fixed_decimals
from echelle.numbers.sample import Floats, Sample
from echelle.numbers.variance_explained import best_cut, variance_explained
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.density import DensityLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.roles import Cut, Groups, Levels, Panels, Subgroups
from echelle.scene.models import Advice, Remedy
from echelle.tables.table import Column, Table

_FEWEST = 25
_MOST = 2_000
_RARE = 0.05
_COMMON = 0.5
_TELLS = 0.3
_MOST_LANES = 60
_SIMULATED = 200
_MOST_LEVELS = 8
# Of a longer lane every so many rows tell as much.
_MOST_TOLD = 20_000


def peak_advice(question: Question, table: Callable[[], Table]) -> list[Advice]:
    """Everything on peaks: evidence by the dip, places by the density, and the columns that explain them."""
    lanes = [lane for lane in question.lanes[:_MOST_LANES] if lane.n >= _FEWEST]
    chance = {lane.key: _chance(lane.ordered) for lane in lanes}
    result = [_of_lane(question, table, lane) for lane in lanes if chance[lane.key] < _RARE]
    return [*(advice for advice in result if advice), *_bins(question, lanes, chance)]


def _chance(ordered: Sample) -> float:
    """How often one peak alone would have such a dip; of long lanes every so many values are looked at."""
    part = ordered.at(np.arange(0, len(ordered), -(-len(ordered) // _MOST)))
    return dip_p(dip(part) * math.sqrt(len(part) / _SIMULATED), _SIMULATED)


def _of_lane(question: Question, table: Callable[[], Table], lane: Lane) -> Advice | None:
    words, high = question.words, _peaks(lane)
    if len(high) < 2:
        return None
    decimals = 0 if abs(high[-1]) >= 100 else 1
    places = words.say("and").join(display_number(at, decimals) for at in high[:5])
    hidden = not any(layer.shows_shape for layer in question.recipe.shown_layers) and (
        question.draws(BoxLayer) or question.draws(MeanLayer)
    )
    why = [words.say("peaks-hidden")] if hidden else []
    remedies = []
    teller = _best_teller(question, table(), lane)
    if teller is not None:
        column, cut, share = teller
        edge = "none" if cut is None else f"{cut:g}"
        why.append(words.say("peaks-cause", column=column.name, edge=edge, share=fixed_decimals(100 * share, 0)))
        remedies.append(_split_by(question, column, cut))
    if hidden:
        density = DensityLayer(id="peaks1", size="equal width", fill=0.35).model_dump(mode="json")
        rest = [layer.model_dump(mode="json") for layer in question.recipe.layers]
        remedies.append(question.remedy("density", (["layers"], [density, *rest])))
    return question.advice(
        f"peaks-{lane.key}", "peaks", remedies=remedies, why=" ".join(why), lane=lane.name, count=len(high), places=places
    )


def _best_teller(question: Question, table: Table, lane: Lane) -> tuple[Column, float | None, float] | None:
    """The column whose levels, or whose cut in two, explain most of the lane's variance; None where none says much."""
    recipe = question.recipe
    roles = (recipe.groups, recipe.subgroups, recipe.panels.down, recipe.panels.across, recipe.panels.wrapped)
    taken = {*recipe.measure.columns, *(role.column for role in roles if role)}
    every = max(1, -(-len(lane.values) // _MOST_TOLD))
    places, values = _places(table, lane.rows[::every]), lane.values[::every]
    best: tuple[Column, float | None, float] | None = None
    for column in table.columns:
        if {column.name, column.heading} & taken or column.kind in ("identifier", "text"):
            continue
        cut, share = _tells(column, places, values)
        if share >= max(_TELLS, best[2] if best else 0.0):
            best = column, cut, share
    return best


def _tells(column: Column, places: NDArray[np.intp], values: Floats) -> tuple[float | None, float]:
    """Where a column is cut (None for its levels as they are), and the share that it explains."""
    if column.numbers is not None:
        return best_cut(values, column.numbers[places]) or (None, 0.0)
    codes = column.codes[places]
    if len(np.unique(codes[codes >= 0])) > _MOST_LEVELS:
        return None, 0.0
    return None, variance_explained(values, codes)


def _places(table: Table, rows: Rows) -> NDArray[np.intp]:
    """Where rows stand in the table."""
    keys = table.row_ids.keys
    order = np.argsort(keys, kind="stable")
    return np.asarray(order[np.searchsorted(keys[order], rows)], dtype=np.intp)


def _split_by(question: Question, column: Column, cut: float | None) -> Remedy:
    """The column as the first role that is free: groups, subgroups, panels."""
    recipe = question.recipe
    asks = {"column": column.name, "cut": None if cut is None else Cut(edges=[cut])}
    if recipe.groups is None and len(recipe.measure.columns) == 1:
        return question.remedy("split", (["groups"], Groups.model_validate(asks).model_dump(mode="json")), column=column.name)
    if recipe.subgroups is None and recipe.groups is not None:
        return question.remedy(
            "split", (["subgroups"], Subgroups.model_validate(asks).model_dump(mode="json")), column=column.name
        )
    panels = Panels(wrapped=Levels.model_validate(asks))
    return question.remedy("panels", (["panels"], panels.model_dump(mode="json")), column=column.name)


def _peaks(lane: Lane) -> list[float]:
    """Where the density has its peaks, but for small ones."""
    width = bandwidth_of(lane.ordered, "silverman").value
    peaks = [] if width is None else peaks_of(density_curve(lane.ordered, width * 0.8))
    return sorted(peak.at for peak in peaks if peak.height > 0.1 * max(other.height for other in peaks))


def _bins(question: Question, lanes: list[Lane], chance: dict[str, float]) -> Iterator[Advice]:
    """Bins too wide for peaks that are there, or so narrow that chance makes some."""
    for place, layer, result in question.measured_by(bins.LAYER):
        if layer.edges is not None or layer.cumulative:
            continue
        path: list[str | int] = ["layers", place]
        usual = question.remedy(
            "usual-bins",
            ([*path, "rule"], "freedman-diaconis"), ([*path, "count"], None), ([*path, "width_of_bins"], None),
        )  # fmt: skip
        tops = {lane.key: _tops(result.lanes[lane.key].bins.counts) for lane in lanes if lane.key in result.lanes}
        # Values that tie have a dip too: what bins could hide are peaks that the density has.
        hidden = [lane for lane in lanes if chance[lane.key] < _RARE and tops.get(lane.key) == 1]
        hides = [lane.name for lane in hidden if len(_peaks(lane)) > 1]
        invents = [lane.name for lane in lanes if chance[lane.key] > _COMMON and tops.get(lane.key, 0) >= 3]
        for names, key, message in ((hides, "hides", "hidden-peaks"), (invents, "shows", "chance-peaks")):
            if names:
                yield question.advice(f"{layer.id}/{key}-peaks", message, remedies=[usual], lanes=names)


def _tops(counts: NDArray[np.int64]) -> int:
    """How many hills the columns make, each parted from the next by a dip deeper than twice its square root."""
    hills, rising, low, high = 0, True, 0.0, 0.0
    for count in [*counts.tolist(), 0]:
        if rising:
            high = max(high, count)
            if high - count > 2 * math.sqrt(max(high, 1)):
                hills, rising, low = hills + 1, False, count
        else:
            low = min(low, count)
            if count - low > 2 * math.sqrt(max(count, 1)):
                rising, high = True, count
    return max(hills, 1)
