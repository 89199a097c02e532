"""Quantiles "in order" with values known only by their limit."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from echelle.numbers.quantiles import QuantileType, quantile
from echelle.numbers.sample import Floats


@dataclass(frozen=True)
class Limit:
    """A quantile that falls among limits: below ``below`` ("<0.4"), or above ``above`` (">200")."""

    below: float | None = None
    above: float | None = None

    def __str__(self) -> str:
        return f"<{_plain(self.below)}" if self.below is not None else f">{_plain(self.above)}"


def _plain(value: float | None) -> str:
    return repr(value).removesuffix(".0")


def quantile_in_order(values: Floats, below: Floats, above: Floats, p: float, definition: QuantileType = 7) -> float | Limit:
    """A quantile of all records (one at least), limits standing at their limit: "<0.4" below every equal number, ">200" above.

    Where one of the two order statistics it lies between is a limit, it has no number but that limit.
    """
    keys = np.concatenate([below, values, above])
    kinds = np.concatenate([np.full(len(below), -1), np.zeros(len(values)), np.full(len(above), 1)])
    order = np.lexsort((kinds, keys))
    ranks = np.arange(len(keys), dtype=np.float64)
    place = quantile(ranks, p, definition)
    first, last = order[int(np.floor(place))], order[int(np.ceil(place))]
    for item in (first, last):
        if kinds[item] < 0:
            return Limit(below=float(keys[item]))
        if kinds[item] > 0:
            return Limit(above=float(keys[item]))
    return quantile(keys[order], p, definition)
