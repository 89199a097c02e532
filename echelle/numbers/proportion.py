"""The interval of a share."""

from __future__ import annotations

import math


def score_interval(count: int, total: int, level: float = 0.95) -> tuple[float, float]:
    """Both ends for ``count`` of ``total`` (> 0): the shares that a score test at the level does not refuse (Wilson 1927)."""
    from scipy.special import ndtri

    z = float(ndtri((1 + level) / 2))
    share, extra = count / total, z * z / total
    middle = (share + extra / 2) / (1 + extra)
    half = z * math.sqrt(share * (1 - share) / total + extra / (4 * total)) / (1 + extra)
    # At 0 and 1 the ends are exact; rounding must not leave them.
    low = 0.0 if count == 0 else middle - half
    return low, 1.0 if count == total else middle + half
