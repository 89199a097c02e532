"""The distribution of the studentised range (Tukey 1953), for many values at once."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from echelle.numbers.sample import Floats

_NODES = 96
# What lies beyond has less than 1e-15 of the chance.
_TAIL, _Z = 1e-15, 9.0


def range_sf(q: Floats, k: int, df: float) -> Floats:
    """How often the range of k means in units of their SE, which has ``df`` degrees of freedom, is ``q`` (shape (m,)) or more.

    A double integral: over the spread's χ, and over where the least mean lies (Lund & Lund 1983, AS 190).
    """
    from scipy.special import ndtr

    s, weights = _spreads(df)
    at, more = np.polynomial.legendre.leggauss(_NODES)
    z, dz = _Z * at, _Z * more * np.exp(-0.5 * (_Z * at) ** 2) / np.sqrt(2 * np.pi)
    reach = np.multiply.outer(q, s)[..., None]
    # With z the largest of k: the others lie within the range below it.
    inside = k * ((ndtr(z) - ndtr(z - reach)) ** (k - 1) @ dz)
    return np.asarray(np.clip((1.0 - inside) @ weights, 0.0, 1.0), dtype=np.float64)


@lru_cache(64)
def _spreads(df: float) -> tuple[Floats, Floats]:
    """Nodes of the spread as a share of σ, and the weight of each."""
    from scipy.special import chdtri

    at, weights = np.polynomial.legendre.leggauss(_NODES)
    low, high = (float(np.sqrt(chdtri(df, share) / df)) for share in (1 - _TAIL, _TAIL))
    s = low + (high - low) * (at + 1) / 2
    logs = (df - 1) * np.log(s) - df * s * s / 2
    density = weights * np.exp(logs - logs.max())
    return s, density / density.sum()
