"""A straight line by least squares: y = a + b · x."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from echelle.numbers.sample import Floats


@dataclass(frozen=True)
class StraightLine:
    """The line through (``middle``, ``centre``), both means, with its slope; of n pairs whose residual SD (n − 2) is ``spread``
    and whose Σ(x − mean)² is ``sxx``.
    """

    slope: float
    middle: float
    centre: float
    spread: float
    sxx: float
    n: int

    def line(self, x: Floats) -> Floats:
        """The line's height at places (shape (k,))."""
        return np.asarray(self.centre + self.slope * (x - self.middle), dtype=np.float64)

    def reach(self, x: Floats, level: float, single: bool = False) -> Floats:
        """Half the height of the confidence band at places (shape (k,)); of the band of ``single`` new values (t, n − 2)."""
        own = 1.0 if single else 0.0
        share = np.sqrt(own + 1 / self.n + (x - self.middle) ** 2 / self.sxx)
        return np.asarray(self._t(level) * self.spread * share, dtype=np.float64)

    def slope_reach(self, level: float) -> float:
        """Half the length of the slope's confidence interval (t, n − 2)."""
        return self._t(level) * self.spread / math.sqrt(self.sxx)

    def _t(self, level: float) -> float:
        from scipy.special import stdtrit

        return float(stdtrit(self.n - 2, (1 + level) / 2))


def least_squares(x: Floats, y: Floats) -> StraightLine:
    """The line of y on x (both of shape (n,), n > 2, x not all equal); sums are rounded once (Gauss 1809)."""
    n = len(x)
    middle, centre = math.fsum(x) / n, math.fsum(y) / n
    across, up = x - middle, y - centre
    sxx = math.fsum(across * across)
    slope = math.fsum(across * up) / sxx
    rest = up - slope * across
    return StraightLine(slope, middle, centre, math.sqrt(math.fsum(rest * rest) / (n - 2)), sxx, n)
