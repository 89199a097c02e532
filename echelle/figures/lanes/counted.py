"""Lanes that were counted: which of their values are drawn one by one, and what counts cannot give."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.figures.lanes.figure_context import cache_on_lane
from echelle.figures.lanes.lane import Arrangement, Extra, Lane
from echelle.numbers.fences import Fences
from echelle.numbers.sample import Floats
from echelle.recipes.differences import Differences
from echelle.recipes.recipe import Recipe

# On each side so many different values beyond a fence are drawn.
_MOST_TAIL = 200
_WITHIN = ("paired_by", "by_row", "runs", "limits", "control")


def needs_rows(what: str, where: str) -> InputError:
    """The error of what needs rows and gets counts."""
    return InputError(
        f"a far table is counted, and {what} would need its rows one by one", where=where,
        remedy="Choose another form, or bring a part of the table as a file.",
    )  # fmt: skip


def refuse_of_counts(recipe: Recipe, arrangement: Arrangement) -> None:
    """Raises InputError for what a figure of counted rows cannot draw."""
    if arrangement.account.parts is None:
        return
    for place, layer in enumerate(recipe.layers):
        if layer.shown and layer.follows_rows():
            raise needs_rows(layer.marks or layer.title, f"$.layers[{place}]")
    if recipe.measure.limits == "in order":
        raise needs_rows("limits in their order", "$.measure.limits")
    if recipe.differences is not None:
        refuse_differences_of_counts(recipe.differences, arrangement)


def with_tails(lane: Lane, fences: Fences | None) -> Lane:
    """A counted lane whose values that are drawn one by one are, beyond its fences, each different one once: of all values and
    not of those few whose rows are at hand. Rows below 0 stand for no single row.
    """
    if lane.tally is None or fences is None:
        return lane
    return cache_on_lane(lane, ("tails", fences), lambda: _with_tails(lane, lane.ordered.values, fences), long=True)


def _with_tails(lane: Lane, values: Floats, fences: Fences) -> Lane:
    beyond = np.concatenate([_some(values[values < fences.low]), _some(values[values > fences.high])])
    inside = np.flatnonzero((lane.values >= fences.low) & (lane.values <= fences.high))
    known = dict(zip(lane.values.tolist(), lane.rows.tolist(), strict=True))
    rows = [known.get(value, -place) for place, value in enumerate(beyond.tolist(), 1)]
    extras = {name: _more(extra, inside, len(beyond)) for name, extra in lane.extras.items()}
    return replace(
        lane, values=np.concatenate([lane.values[inside], beyond]), extras=extras,
        rows=np.concatenate([lane.rows[inside], np.array(rows, dtype=np.int64)]),
    )  # fmt: skip


def _some(values: Floats) -> Floats:
    """Rising values, or so many of them, evenly, both ends among them."""
    if len(values) <= _MOST_TAIL:
        return values
    return values[np.unique(np.linspace(0, len(values) - 1, _MOST_TAIL).astype(np.int64))]


def _more(extra: Extra, inside: NDArray[np.intp], count: int) -> Extra:
    """What another column says of the rows kept, and nothing of ``count`` more."""
    codes = np.concatenate([extra.codes[inside], np.full(count, -1, dtype=np.int32)])
    numbers = None if extra.numbers is None else np.concatenate([extra.numbers[inside], np.full(count, np.nan)])
    return Extra(codes, extra.levels, numbers)


def refuse_differences_of_counts(differences: Differences, arrangement: Arrangement) -> None:
    """Raises InputError for what a comparison of counted rows cannot compute."""
    asked = next((name for name in _WITHIN if getattr(differences, name)), None)
    if asked is not None and arrangement.account.parts is not None:
        raise needs_rows(asked.replace("_", " "), f"$.differences.{asked}")
