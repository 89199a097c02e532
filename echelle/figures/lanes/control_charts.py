"""A lane under control rules: its runs of lots with their targets, and the rules that its values break."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from echelle.errors import InputError
from echelle.figures.lanes.figure_context import cache_on_lane
from echelle.figures.lanes.lane import Extra, Lane
from echelle.figures.lanes.order import numbers_in_order
from echelle.numbers.differences.control_rules import LotRun, RuleViolation, hits_of_runs, lot_runs
from echelle.numbers.sample import Floats
from echelle.recipes.control import Control, ControlStretch, ControlTarget

_PATH = "$.differences.control"


@dataclass(frozen=True, eq=False)
class ControlChart:
    """Values in order: ``places`` are those of the lane's values (shape (n,)), ``numbers`` what they are ordered by; runs and
    hits count along that order.
    """

    places: NDArray[np.intp]
    numbers: Floats
    runs: list[LotRun]
    hits: list[RuleViolation]


def control_chart(lane: Lane, control: Control) -> ControlChart:
    """Runs and hits of a lane. Raises InputError for a column of lots or of the order that lanes do not carry, or one without
    an order.
    """

    def make() -> ControlChart:
        if control.order is not None and extra_of(lane, control.order, f"{_PATH}.order").numbers is None:
            remedy = "Choose a column of dates or numbers."
            raise InputError(f"“{control.order}” has no order", where=f"{_PATH}.order", remedy=remedy)
        numbers = numbers_in_order(lane, control.order)
        places = np.argsort(numbers, kind="stable")
        lots = None if control.lots is None else extra_of(lane, control.lots, f"{_PATH}.lots").codes[places]
        target = control.target
        fixed = (target.mean, target.sd) if isinstance(target, ControlTarget) else None
        stretch = slice(target.first - 1, target.last) if isinstance(target, ControlStretch) else None
        runs = lot_runs(lane.values[places], lots, fixed, stretch)
        return ControlChart(places, numbers[places], runs, list(hits_of_runs(lane.values[places], runs)))

    return cache_on_lane(lane, ("controlled", control.model_dump_json()), make)


def extra_of(lane: Lane, column: str, where: str) -> Extra:
    """What a column says of a lane's rows. Raises InputError for one that lanes do not carry."""
    extra = lane.extras.get(column)
    if extra is None:
        raise InputError(f"there is no column “{column}”", where=where, remedy="Choose a column of the table.")
    return extra
