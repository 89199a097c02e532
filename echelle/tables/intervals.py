"""Numbers cut into intervals between edges: in which each lies, and what they are called."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray

from echelle.catalogue.catalogue import catalogue
from echelle.numbers.bins import Closed
from echelle.numbers.sample import Floats
from echelle.tables.column_builders import format_numbers


def interval_places(numbers: Floats, edges: Floats, closed: Closed) -> NDArray[np.intp]:
    """For each number (shape (n,)) how many rising ``edges`` lie below it: an edge belongs to the interval above it where
    intervals are closed on the left, else to the one below. NaN lies above all.
    """
    return np.searchsorted(edges, numbers, side="right" if closed == "left" else "left")


def interval_names(edges: Floats, closed: Closed, *, lanes: bool, open_low: bool = True, open_high: bool = True) -> list[str]:
    """What the intervals are called, from the lowest: those between edges, and the open ones at either end.

    Recipes and preparations name levels by these words: those of ``lanes`` and those of a column stay as they began.
    """
    words, written = catalogue(), format_numbers(edges).to_list()
    if lanes:
        written = [text.replace("-", "−") for text in written]
    of = {"closed": closed, "of": "lanes" if lanes else "column"}
    middle = [words.say("interval-middle", low=low, high=high, **of) for low, high in itertools.pairwise(written)]
    low = [words.say("interval-low", edge=written[0], **of)] if open_low else []
    high = [words.say("interval-high", edge=written[-1], **of)] if open_high else []
    return low + middle + high
