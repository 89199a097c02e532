"""Readings of a lane that are computed only when somebody asks for them."""

from __future__ import annotations

from typing import Any

from echelle.catalogue.catalogue import catalogue
from echelle.figures.lanes.lane import Lane
from echelle.numbers.bandwidth import BandwidthRule, bandwidth_of
from echelle.numbers.density import density_curve, peaks_of
from echelle.numbers.dip import dip, dip_p
from echelle.numbers.intervals import Interval, mean_interval, median_interval
from echelle.numbers.kernels import KernelName
from echelle.numbers.moments import coefficient_of_variation, geometric
from echelle.numbers.normality import anderson_darling, shapiro_wilk

_MOST_DIP = 100_000


def extra_readings(
    lane: Lane, bandwidth: BandwidthRule | float = "silverman", kernel: KernelName = "gaussian", level: float = 0.95
) -> dict[str, Any]:
    """CV, geometric mean and SD, the peaks of the density, intervals of mean and median, and evidence on the shape.

    What has no value is None; a test says in ``remark`` why it has none, or how far it can be trusted.
    """
    ordered = lane.ordered
    logs = geometric(ordered)
    chosen = bandwidth_of(ordered, bandwidth).value
    mean, median = mean_interval(ordered, level), median_interval(ordered, level)
    tests = {"shapiro_wilk": shapiro_wilk(ordered), "anderson_darling": anderson_darling(ordered)}
    result: dict[str, Any] = {
        "cv": coefficient_of_variation(lane.moments),
        "geometric_mean": logs and logs.mean,
        "geometric_sd": logs and logs.sd,
        "peaks": None if chosen is None else [vars(peak) for peak in peaks_of(density_curve(ordered, chosen, kernel))],
        "mean_interval": _ends(mean),
        "median_interval": _ends(median),
        **{name: {**vars(test), "remark": catalogue().remark(test.remark)} for name, test in tests.items()},
    }
    return result | {"dip": _dip(lane)}


def _dip(lane: Lane) -> dict[str, Any]:
    n = lane.n
    if n < 4 or n > _MOST_DIP:
        return {"statistic": None, "p": None, "remark": f"needs 4 to {_MOST_DIP:,} values"}
    statistic = dip(lane.ordered)
    return {"statistic": statistic, "p": dip_p(statistic, n), "remark": ""}


def _ends(interval: Interval | None) -> dict[str, float] | None:
    return None if interval is None else {"low": interval.low, "high": interval.high, "level": interval.level}
