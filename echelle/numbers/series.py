"""Values over an order: their centre at each place with its spread or interval, their straight line, their running total."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from echelle.numbers.intervals import mean_interval, median_interval
from echelle.numbers.least_squares import StraightLine, least_squares
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import quantiles
from echelle.numbers.sample import Floats, Sample, sample_of_unordered

# Points of a straight line: enough where the axis bends it.
_STOPS = 49


@dataclass(frozen=True, eq=False)
class SeriesLine:
    """A line's places and values (shape (k,)), and the ends of its band there: NaN where it has none. ``fit`` is the straight
    line that it is, ``bare`` the number of places without a band.
    """

    at: Floats
    values: Floats
    low: Floats
    high: Floats
    fit: StraightLine | None = None
    bare: int = 0


def _without_band(at: Floats, values: Floats) -> SeriesLine:
    nothing = np.full(len(at), np.nan)
    return SeriesLine(at, values, nothing, nothing)


def values_in_order(at: Floats, values: Floats) -> SeriesLine:
    """Every value (both of shape (n,)) by its place; those of one place as they come."""
    order = np.argsort(at, kind="stable")
    return _without_band(at[order], values[order])


def running_total(at: Floats, values: Floats) -> SeriesLine:
    """At each place the sum of all values up to it (both of shape (n,))."""
    order = np.argsort(at, kind="stable")
    places = at[order]
    total = np.cumsum(values[order].astype(np.longdouble)).astype(np.float64)
    last = np.flatnonzero(np.append(np.diff(places) > 0, True)) if len(places) else np.empty(0, dtype=np.intp)
    return _without_band(places[last], total[last])


def steps_of(at: Floats, step: float | None) -> Floats:
    """Places gathered to the middles of steps [k · step, (k + 1) · step); as they are without a step."""
    return at if step is None else np.asarray((np.floor(at / step) + 0.5) * step, dtype=np.float64)


def centres_in_order(at: Floats, values: Floats, centre: str, band: str, level: float, step: float | None) -> SeriesLine:
    """The "means" or "medians" of the values at each place (both of shape (n,)), or in each step. The band: "spread", one SD
    about means and from quartile to quartile about medians (type 7), or the "interval" of the centre (t; order statistics).
    """
    order = np.argsort(at, kind="stable")
    values = values[order]
    places, starts = np.unique(steps_of(at[order], step), return_index=True)
    # A value alone is its own centre, without a band.
    columns = np.full((len(places), 3), np.nan)
    columns[:, 0] = values[starts]
    ends = np.append(starts[1:], len(values))
    for place in np.flatnonzero(ends - starts > 1).tolist():
        part = values[starts[place] : ends[place]]
        columns[place] = _centre(sample_of_unordered(part), centre, band, level)
    bare = 0 if band == "none" else int(np.isnan(columns[:, 1]).sum())
    return SeriesLine(places, columns[:, 0], columns[:, 1], columns[:, 2], bare=bare)


def _centre(ordered: Sample, centre: str, band: str, level: float) -> tuple[float, float, float]:
    """A place's centre and the ends of its band."""
    none = float("nan")
    if centre == "means":
        shape = moments(ordered)
        mean = none if shape.mean is None else shape.mean
        if band == "spread" and shape.sd is not None:
            return mean, mean - shape.sd, mean + shape.sd
        interval = mean_interval(ordered, level) if band == "interval" else None
        return (mean, none, none) if interval is None else (mean, interval.low, interval.high)
    q1, median, q3 = quantiles(ordered, (0.25, 0.5, 0.75), 7)
    if band == "spread" and len(ordered) > 1:
        return median, q1, q3
    interval = median_interval(ordered, level) if band == "interval" else None
    return (median, none, none) if interval is None else (median, interval.low, interval.high)


def straight_line(at: Floats, values: Floats, band: str, level: float) -> SeriesLine | None:
    """The line by least squares over where its values lie (both of shape (n,)), with the band of single values ("spread") or of
    itself ("interval"); None for fewer than three values or two places.
    """
    if len(at) < 3 or at.min() == at.max():
        return None
    fit = least_squares(at, values)
    places = np.linspace(at.min(), at.max(), _STOPS)
    line = fit.line(places)
    reach = np.full(_STOPS, np.nan) if band == "none" else fit.reach(places, level, single=band == "spread")
    return SeriesLine(places, line, line - reach, line + reach, fit)
