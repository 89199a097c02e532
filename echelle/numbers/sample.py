"""A sample as its different values, each with how often it occurs: the one form in which numbers are computed."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import Literal, overload

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Counts = NDArray[np.int64]
Side = Literal["left", "right"]


@dataclass(frozen=True, eq=False)
class Sample:
    """``values`` (shape (k,)) rise strictly; ``counts`` (shape (k,), 1 or more) say how often each occurs, None where each
    occurs once. Length, places and ranks are those of the sorted values with their repeats, shape (n,).
    """

    values: Floats
    counts: Counts | None = None

    @cached_property
    def ends(self) -> Counts:
        """How many values are at or below each different one."""
        return np.arange(1, len(self.values) + 1) if self.counts is None else np.cumsum(self.counts)

    def __len__(self) -> int:
        if self.counts is None or not len(self.values):
            return len(self.values)
        return int(self.ends[-1])

    def __getitem__(self, rank: int) -> float:
        """The value of a rank from 0, or from the end where it is negative."""
        if self.counts is None:
            return float(self.values[rank])
        place = rank + len(self) if rank < 0 else rank
        if not 0 <= place < len(self):
            raise IndexError("a rank lies within the sample")
        return float(self.values[np.searchsorted(self.ends, place, side="right")])

    @overload
    def searchsorted(self, at: float, side: Side = "left") -> int: ...
    @overload
    def searchsorted(self, at: Floats, side: Side = "left") -> Counts: ...
    def searchsorted(self, at: float | Floats, side: Side = "left") -> int | Counts:
        """How many values lie below ``at`` ("left"), or at or below it ("right")."""
        places = np.searchsorted(self.values, at, side)
        if self.counts is None:
            return places
        return np.append(self.ends, 0)[np.asarray(places) - 1] if np.ndim(at) else int(self.ends[places - 1]) if places else 0

    def at(self, ranks: Counts) -> Floats:
        """The values of ranks from 0, which lie within the sample."""
        return self.values[ranks if self.counts is None else np.searchsorted(self.ends, ranks, side="right")]

    @property
    def weights(self) -> Counts | float:
        """What each different value counts: 1 where each occurs once."""
        return 1.0 if self.counts is None else self.counts

    def total(self, of: Floats) -> float:
        """The sum of a number (shape (k,)) for each value, with the repeats."""
        return float(of.sum()) if self.counts is None else float((of * self.counts).sum())

    def mean(self, of: Floats | None = None) -> float:
        """The mean of the values, or of a number for each of them."""
        return self.total(self.values if of is None else of) / len(self)

    def sd(self, less: int = 0) -> float:
        """The root of the squared deviations over n − ``less``."""
        return float(np.sqrt(self.total((self.values - self.mean()) ** 2) / (len(self) - less)))

    def moved(self, way: Callable[[Floats], Floats]) -> Sample:
        """The sample after a rising function; what rounding brings together is one value then."""
        return tallied(way(self.values), self.counts)

    @property
    def repeats(self) -> Floats:
        """The sorted values with their repeats, shape (n,)."""
        return self.values if self.counts is None else np.repeat(self.values, self.counts)


# Values in whatever order, or as a sample; and values that rise.
Values = Floats | Sample
Rising = Floats | Sample


def sample_of(values: Rising) -> Sample:
    """The sample of rising values, shape (n,); a sample is itself."""
    return values if isinstance(values, Sample) else tallied(values, None)


def sample_of_unordered(values: Floats | Sample) -> Sample:
    """The sample of values in any order, shape (n,); a sample is itself."""
    return values if isinstance(values, Sample) else tallied(np.sort(values), None)


def tallied(rising: Floats, counts: Counts | None) -> Sample:
    """The sample of values (shape (k,)) that rise or stay, each with its count."""
    new = np.empty(len(rising), dtype=np.bool_)
    new[:1] = True
    np.not_equal(rising[1:], rising[:-1], out=new[1:])
    if new.all():
        return Sample(rising, None if counts is None or bool((counts == 1).all()) else counts)
    starts = np.flatnonzero(new)
    sums = np.diff(starts, append=len(rising)) if counts is None else np.add.reduceat(counts, starts)
    return Sample(rising[starts], sums.astype(np.int64))


def tally_of(values: Floats, counts: Counts) -> Sample:
    """The sample of values in any order, each with its count; shapes (k,)."""
    order = np.argsort(values, kind="stable")
    return tallied(values[order], counts[order])


def less(sample: Sample, values: Floats) -> Sample:
    """The sample without some of its values, each as often as it stands among them."""
    if not len(values):
        return sample
    counts = np.broadcast_to(np.asarray(sample.weights, dtype=np.int64), sample.values.shape).copy()
    np.subtract.at(counts, np.searchsorted(sample.values, values), 1)
    held = counts > 0
    return Sample(sample.values[held], counts[held])


def merged(samples: Iterable[Sample]) -> Sample:
    """Several samples as one."""
    parts = [part for part in samples if len(part.values)]
    if not parts:
        return Sample(np.empty(0))
    if len(parts) == 1:
        return parts[0]
    values = np.concatenate([part.values for part in parts])
    order = np.argsort(values, kind="stable")
    if all(part.counts is None for part in parts):
        return tallied(values[order], None)
    counts = np.concatenate([np.broadcast_to(part.weights, part.values.shape).astype(np.int64) for part in parts])
    return tallied(values[order], counts[order])
