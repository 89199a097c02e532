"""Lines of many thousand places, with no more of them than a sheet shows."""

from __future__ import annotations

import numpy as np

from echelle.numbers.sample import Floats

# A line with more places is drawn with fewer; strips this wide (points) look the same as what lies in them.
_MANY, _STRIP = 10_000, 0.1


def places_seen(along: Floats, across: Floats) -> tuple[Floats, Floats]:
    """A line's coordinates, shape (n,) each; of a long one the first, lowest, highest and last of those that follow one another
    in a strip across.
    """
    if len(along) <= _MANY:
        return along, across
    strip = np.floor(across / _STRIP)
    starts = np.flatnonzero(np.diff(strip, prepend=np.nan) != 0)
    lengths = np.diff(starts, append=len(strip))
    kept = [starts, starts + lengths - 1]
    for extreme in (np.minimum, np.maximum):
        hits = np.flatnonzero(along == np.repeat(extreme.reduceat(along, starts), lengths))
        kept.append(hits[np.unique(np.searchsorted(starts, hits, side="right"), return_index=True)[1]])
    places = np.unique(np.concatenate(kept))
    return along[places], across[places]
