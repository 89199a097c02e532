"""An estimate of how two lanes differ, with its interval."""

from __future__ import annotations

from dataclasses import dataclass

from echelle.numbers.remarks import Remark


@dataclass(frozen=True, kw_only=True)
class Estimate:
    """A difference or ratio of the second sample to the first (the reference). Ends are None where there is no interval,
    and ``remark`` says why. ``spread`` and ``df`` give the t density of an estimate that has one; ``t`` is the
    estimate in spreads, which no unit changes.
    """

    name: str
    value: float | None
    low: float | None
    high: float | None
    level: float
    method: str
    n: tuple[int, int]
    spread: float | None = None
    df: float | None = None
    t: float | None = None
    remark: Remark | None = None


def t_reach(df: float, level: float) -> float:
    """The t quantile that both ends of a central interval stand at."""
    from scipy.special import stdtrit

    return float(stdtrit(df, (1 + level) / 2))


def nothing(name: str, level: float, n: tuple[int, int], remark: Remark) -> Estimate:
    """An estimate that the values do not allow."""
    return Estimate(name=name, value=None, low=None, high=None, level=level, method="", n=n, remark=remark)
