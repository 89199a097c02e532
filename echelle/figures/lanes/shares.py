"""The share of a value in each lane: zeros, "none", what is below a limit."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.numbers.proportion import score_interval
from echelle.numbers.rounding import fixed_decimals
from echelle.recipes.style import BEYOND_A_LIMIT
from echelle.scene.models import LaneReadings, NamedReading

SHARE_LEVEL = 0.95


@dataclass(frozen=True)
class ValueShare:
    """How many of a lane's rows have the value, of how many whose value is known or known by a limit."""

    count: int
    total: int

    @property
    def interval(self) -> tuple[float, float]:
        """Of the share, at 95 % (Wilson 1927)."""
        return score_interval(self.count, self.total, SHARE_LEVEL)


def share_of(value: str, lane: Lane, column: str) -> ValueShare | None:
    """The share of a value as it is written in the measure's column; a number is the same however it is written. None for a
    lane without rows, and for one of a table of summaries.
    """
    if lane.given is not None:
        return None
    total = lane.n + lane.censored
    if not total:
        return None
    if value == BEYOND_A_LIMIT:
        return ValueShare(lane.censored, total)
    extra = lane.extras.get(column)
    if extra is not None and extra.numbers is None:
        code = extra.levels.index(value) if value in extra.levels else -2
        return ValueShare(int(np.count_nonzero(extra.codes == code)), total)
    try:
        number = float(value)
    except ValueError:
        return ValueShare(0, total)
    return ValueShare(lane.ordered.searchsorted(number, "right") - lane.ordered.searchsorted(number, "left"), total)


def with_shares(
    values: list[str], arrangement: Arrangement, readings: dict[str, LaneReadings], words: Catalogue
) -> dict[str, LaneReadings]:
    """Readings with the shares of values that the ledger asks for."""
    result = dict(readings)
    for lane in arrangement.lanes if values else ():
        named = [_reading(value, share, words) for value in values if (share := share_of(value, lane, arrangement.name))]
        result[lane.key] = result[lane.key].model_copy(update={"named": named})
    return result


def _reading(value: str, share: ValueShare, words: Catalogue) -> NamedReading:
    low, high = share.interval
    ends = words.ends(fixed_decimals(100 * low, 0), fixed_decimals(100 * high, 0))
    part = fixed_decimals(100 * share.count / share.total, 0)
    return NamedReading(
        reading="shares", name=words.say("reading-share", value=value), value=share.count / share.total, low=low, high=high,
        text=f"{share.count} · {part} % ({ends})",
    )  # fmt: skip
