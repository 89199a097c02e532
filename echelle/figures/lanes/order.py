"""Where values stand that are drawn in an order: that of the rows, or another column's."""

from __future__ import annotations

import numpy as np

from echelle.figures.lanes.figure_context import FigureContext, Order
from echelle.figures.lanes.lane import Lane
from echelle.numbers.sample import Floats

# How much of the lane the order takes.
ORDER_WIDTH = 0.94


def orders(against: str | None, context: FigureContext) -> dict[str, Order]:
    """The range of each lane's order: one for all where a column gives it."""
    lanes = context.arrangement.lanes
    if against is None:
        return {
            lane.key: Order(0.5, max(lane.n, 1) + 0.5, False, context.words.say("axis-order"), whole=True) for lane in lanes
        }
    if any(lane.extras[against].numbers is None for lane in lanes):
        levels = max((lane.extras[against].levels for lane in lanes), key=len, default=())
        return {lane.key: Order(-0.5, max(len(levels), 1) - 0.5, False, against, whole=True, levels=levels) for lane in lanes}
    known = [n[np.isfinite(n)] for lane in lanes if (n := lane.extras[against].numbers) is not None]
    known = [numbers for numbers in known if len(numbers)]
    low, high = (min(n.min() for n in known), max(n.max() for n in known)) if known else (0.0, 1.0)
    room = 0.03 * (high - low) or 0.5
    dates = any(level[4:5] == "-" for lane in lanes for level in lane.extras[against].levels[:1])
    return {lane.key: Order(float(low) - room, float(high) + room, dates, against) for lane in lanes}


def order_shares(numbers: Floats, order: Order, turned: bool) -> Floats:
    """Places of numbers in their order, as shares of the lane from its middle: from the top down, or from left to right. What
    has no number stands at the start.
    """
    share = (np.nan_to_num(numbers, nan=order.low) - order.low) / (order.high - order.low or 1.0)
    return (share - 0.5) * (-ORDER_WIDTH if turned else ORDER_WIDTH)


def numbers_in_order(lane: Lane, column: str | None) -> Floats:
    """What gives each value its place (shape (n,)): its rank by row, or the column's number, or the place of its level; NaN
    for none.
    """
    if column is None:
        return np.arange(1, lane.n + 1, dtype=np.float64)
    extra = lane.extras[column]
    if extra.numbers is not None:
        return extra.numbers
    return np.where(extra.codes >= 0, extra.codes.astype(np.float64), np.nan)
