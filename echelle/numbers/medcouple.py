"""The medcouple, a robust measure of skewness (Brys, Hubert & Struyf 2004), in O(n log n)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.decimals import decimals_of
from echelle.numbers.sample import Counts, Floats, Rising, sample_of

# Offsets that are no whole numbers are taken in so many parts of their range.
_PARTS = 2.0**50
_TURNS = 200
Places = NDArray[np.intp]


def medcouple(ordered: Rising) -> float:
    """The median of h(x, y) = ((y − m) − (m − x)) / (y − x) over x ≤ m ≤ y for rising ``ordered`` (n ≥ 1).

    Pairs of values tied with the median get the sign of their places. h rises with the ratio of the distances y − m and m − x:
    the median's ratio is found between two others (Johnson & Mizoguchi 1978), never forming all pairs; equal values count once,
    with a weight.
    """
    decimals, n = decimals_of(sample_of(ordered)), len(ordered)
    [offsets] = decimals.samples
    whole = offsets if decimals.whole else offsets.moved(lambda parts: np.rint(parts * _PARTS))
    apart = 2 * whole.values - (whole[(n - 1) // 2] + whole[n // 2])
    counts = whole.often
    above, below = apart > 0, apart < 0
    pairs = _Pairs(apart[above], counts[above], -apart[below][::-1], counts[below][::-1])
    tied = int(counts[apart == 0].sum())
    more, fewer = int(pairs.weight_above.sum()), int(pairs.weight_below.sum())
    total = (more + tied) * (fewer + tied)
    least, most = tied * fewer + tied * (tied - 1) // 2, tied * more + tied * (tied - 1) // 2

    def of_rank(rank: int) -> float:
        if rank < least:
            return -1.0
        if rank >= total - most:
            return 1.0
        return pairs.of_rank(rank - least, tied)

    ranks = ((total - 1) // 2, total // 2)
    return of_rank(ranks[0]) if ranks[0] == ranks[1] else (of_rank(ranks[0]) + of_rank(ranks[1])) / 2


@dataclass(frozen=True, eq=False)
class _Pairs:
    """Distances above and below the median, rising and each once, with how many values stand there."""

    above: Floats
    weight_above: Counts
    below: Floats
    weight_below: Counts

    def of_rank(self, rank: int, zeros: int) -> float:
        """h of ascending ``rank`` (from 0) among all pairs and so many zeros."""
        negative, zero = self._up_to(1.0, strictly=True), self._up_to(1.0)
        if negative <= rank < zero + zeros:
            return 0.0
        return self._of_pairs(rank if rank < negative else rank - zeros)

    @cached_property
    def _after(self) -> NDArray[np.int64]:
        """How many values stand at each distance below the median or further."""
        return np.append(np.cumsum(self.weight_below[::-1])[::-1], 0)

    def _first(self, ratio: float, side: Literal["left", "right"] = "left") -> Places:
        """For each distance above the first one below at which their ratio is ``ratio`` or less."""
        return np.searchsorted(self.below, self.above / ratio, side=side)

    def _count(self, first: Places) -> int:
        """How many pairs stand from each ``first`` on."""
        return int((self.weight_above * self._after[first]).sum())

    def _up_to(self, ratio: float, strictly: bool = False) -> int:
        return self._count(self._first(ratio, "right" if strictly else "left"))

    def _of_pairs(self, rank: int) -> float:
        """Two ratios about that of the rank are brought together until few pairs lie between: where a straight line between
        their counts meets a rank a little lower, then a little higher, and now and then half way.
        """
        low = math.log(self.above[0]) - math.log(self.below[-1]) - 1e-9
        high = math.log(self.above[-1]) - math.log(self.below[0]) + 1e-9
        first, last = self._first(math.exp(low)), self._first(math.exp(high))
        counts = [self._count(first), self._count(last)]
        few = len(self.above) + len(self.below)
        for turn in range(_TURNS):
            if int((first - last).sum()) <= few:
                break
            goal = rank + (few // 3 if turn % 2 else -few // 3)
            share = 0.5 if turn % 3 == 2 else (goal - counts[0]) / (counts[1] - counts[0])
            middle = low + (high - low) * min(max(share, 0.001), 0.999)
            if not low < middle < high:
                break
            at = self._first(math.exp(middle))
            count = self._count(at)
            if count > rank:
                high, last, counts[1] = middle, at, count
            else:
                low, first, counts[0] = middle, at, count
        return self._listed(rank, np.maximum(last - 1, 0), np.minimum(first + 1, len(self.below)))

    def _listed(self, rank: int, start: Places, end: Places) -> float:
        """The pair of a rank among those of each distance above with the distances below from ``start`` to ``end``; all before
        have a larger ratio, all behind a smaller one.
        """
        width = end - start
        row = np.repeat(np.arange(len(self.above)), width)
        column = np.arange(len(row)) - np.repeat(np.cumsum(width) - width, width) + np.repeat(start, width)
        a, b = self.above[row], self.below[column]
        h = (a - b) / (a + b)
        order = np.argsort(h, kind="stable")
        smaller = self._count(end)
        counts = np.cumsum((self.weight_above[row] * self.weight_below[column])[order])
        place = int(np.searchsorted(counts, rank - smaller, side="right"))
        return float(h[order[min(place, len(order) - 1)]])
