"""Statistics of resamples: as many values as a sample has, drawn from it with repeats (Efron 1979).

Their quantiles are drawn from their exact distribution, their sums by how often each different value is drawn where few differ:
the resamples themselves are drawn where neither serves.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from echelle.numbers.quantiles import on_the_way, position
from echelle.numbers.sample import Floats, Sample
from echelle.progress import step

_BLOCK = 4_000_000
# A binomial number costs as much as so many picked values.
_DRAW_COST = 10


def resampled_quantiles(ordered: Sample, ps: Sequence[float], resamples: int, rng: np.random.Generator) -> Floats:
    """Type-7 quantiles of resamples of a sample, shape (len(ps), resamples).

    The k-th smallest of n draws stands where the k-th smallest of n uniform numbers does; those follow beta distributions,
    one given the one before (David & Nagaraja 2003, 2.5).
    """
    n = len(ordered)
    places = [position(n, p) for p in ps]
    ranks = sorted({rank for below, _ in places for rank in (below, min(below + 1, n))})
    at: dict[int, Floats] = {}
    before, last = np.zeros(resamples), 0
    for rank in ranks:
        before = before + (1 - before) * rng.beta(rank - last, n - rank + 1, resamples)
        last = rank
        at[rank] = ordered.at(np.minimum((before * n).astype(np.int64), n - 1))
    return np.array([on_the_way(at[below], at[min(below + 1, n)], share) for below, share in places])


def picked_values(sample: Sample) -> int:
    """What a sum of one resample costs, in values that are picked."""
    return min(len(sample), _DRAW_COST * len(sample.values))


def resampled_sums(offsets: Sample, resamples: int, rng: np.random.Generator) -> tuple[Floats, Floats]:
    """Sums of resamples and of their squares, shape (resamples,) each; exact where offsets are whole numbers."""
    n, values, out = len(offsets), offsets.values, np.empty((2, resamples))
    few = picked_values(offsets) < n
    repeats = None if few else offsets.repeats
    block = max(1, _BLOCK // (len(values) if few else n))
    for start in range(0, resamples, block):
        part = out[:, start : start + block]
        size = part.shape[1]
        step()
        if repeats is None:
            drawn = rng.multinomial(n, offsets.often / n, size)
            part[:] = drawn @ values, drawn @ (values * values)
        else:
            picked = repeats[rng.integers(0, n, (size, n))]
            part[:] = picked.sum(axis=1), np.einsum("ij,ij->i", picked, picked)
    return out[0], out[1]
