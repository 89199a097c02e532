"""A sample as its different values, each with how often it occurs: the one form in which numbers are computed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from typing import Literal, overload

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Counts = NDArray[np.int64]
Side = Literal["left", "right"]
# The exact sum of all values, and of their squares.
Sums = tuple[Fraction, Fraction]
# More ranks or limits at once draw a curve, and ask for no values.
_MOST_LOOKED, _MOST_WANTED = 1_024, 20_000
# Fences move by so many cells where the quartiles behind them become known.
_NEAR = 5


@dataclass(frozen=True, eq=False)
class Cells:
    """Which values of a sample stand for a cell of a grid that many fell into: the cells' ``ids`` (shape (k,)), below 0 where a
    value is itself. ``wanted`` collects the cells in which a rank or a limit lies that somebody looked for.
    """

    ids: Counts
    wanted: set[int]

    def want(self, places: slice | Counts) -> None:
        """The values of the cells at some places are looked for."""
        if len(self.wanted) < _MOST_WANTED:
            ids = self.ids[places]
            self.wanted.update(ids[ids >= 0].tolist())

    def around(self, places: int | Counts) -> None:
        """The same of the cells next to limits that lie below the values at some places."""
        if isinstance(places, int):
            if (self.ids[max(places - 1, 0) : places + 1] >= 0).any():
                self.want(slice(max(places - _NEAR, 0), places + _NEAR))
        elif len(places) <= _MOST_LOOKED:
            self.want(np.unique(np.clip(np.concatenate([places - 1, places]), 0, len(self.ids) - 1)))


@dataclass(frozen=True, eq=False)
class Sample:
    """``values`` (shape (k,)) rise strictly; ``counts`` (shape (k,), 1 or more) say how often each occurs, None where each
    occurs once. Length, places and ranks are those of the sorted values with their repeats, shape (n,). Where some values
    stand for ``cells``, ``sums`` are those of what fell into them.
    """

    values: Floats
    counts: Counts | None = None
    cells: Cells | None = None
    sums: Sums | None = None

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
        if self.counts is None and self.cells is None:
            return float(self.values[rank])
        if not -len(self) <= rank < len(self):
            raise IndexError("a rank lies within the sample")
        return float(self.at(np.array([rank % len(self)]))[0])

    @overload
    def searchsorted(self, at: float, side: Side = "left") -> int: ...
    @overload
    def searchsorted(self, at: Floats, side: Side = "left") -> Counts: ...
    def searchsorted(self, at: float | Floats, side: Side = "left") -> int | Counts:
        """How many values lie below ``at`` ("left"), or at or below it ("right")."""
        places = np.searchsorted(self.values, at, side)
        if self.cells is not None:
            self.cells.around(places if np.ndim(at) else int(places))
        if self.counts is None:
            return places
        return np.append(self.ends, 0)[np.asarray(places) - 1] if np.ndim(at) else int(self.ends[places - 1]) if places else 0

    def at(self, ranks: Counts) -> Floats:
        """The values of ranks from 0, which lie within the sample."""
        places = ranks if self.counts is None else np.searchsorted(self.ends, ranks, side="right")
        if self.cells is not None and len(ranks) <= _MOST_LOOKED:
            self.cells.want(places)
        return self.values[places]

    @property
    def weights(self) -> Counts | float:
        """What each different value counts: 1 where each occurs once."""
        return 1.0 if self.counts is None else self.counts

    @property
    def often(self) -> Counts:
        """How often each different value occurs, shape (k,); not to be changed."""
        return np.broadcast_to(np.int64(1), self.values.shape) if self.counts is None else self.counts

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
        return tallied(way(self.values), self.counts, self.cells)

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


def tallied(rising: Floats, counts: Counts | None, cells: Cells | None = None, sums: Sums | None = None) -> Sample:
    """The sample of values (shape (k,)) that rise or stay, each with its count, and its cell."""
    new = np.empty(len(rising), dtype=np.bool_)
    new[:1] = True
    np.not_equal(rising[1:], rising[:-1], out=new[1:])
    if new.all():
        return Sample(rising, None if counts is None or bool((counts == 1).all()) else counts, cells, sums)
    starts = np.flatnonzero(new)
    often = np.diff(starts, append=len(rising)) if counts is None else np.add.reduceat(counts, starts)
    if cells is not None:
        cells = Cells(np.maximum.reduceat(cells.ids, starts), cells.wanted)
    return Sample(rising[starts], often.astype(np.int64), cells, sums)


def tally_of(values: Floats, counts: Counts, cells: Cells | None = None, sums: Sums | None = None) -> Sample:
    """The sample of values in any order, each with its count, and its cell; shapes (k,)."""
    order = np.argsort(values, kind="stable")
    if cells is not None:
        cells = Cells(cells.ids[order], cells.wanted)
    return tallied(values[order], counts[order], cells, sums)


def less(sample: Sample, values: Floats) -> Sample:
    """The sample without some of its values, each as often as it stands among them."""
    if not len(values):
        return sample
    counts = sample.often.copy()
    places, cells, sums = np.searchsorted(sample.values, values), sample.cells, sample.sums
    if cells is not None:
        cells.around(places)
    np.subtract.at(counts, np.minimum(places, len(counts) - 1), 1)
    held = counts > 0
    if cells is not None:
        cells = Cells(cells.ids[held], cells.wanted)
    if sums is not None:
        exact = [Fraction(value) for value in values.tolist()]
        sums = sums[0] - sum(exact), sums[1] - sum(value * value for value in exact)
    return Sample(sample.values[held], counts[held], cells, sums)


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
    counts = np.concatenate([part.often for part in parts])
    return tallied(values[order], counts[order], _merged_cells(parts, order))


def _merged_cells(parts: Sequence[Sample], order: Counts) -> Cells | None:
    wanted = next((part.cells.wanted for part in parts if part.cells is not None), None)
    if wanted is None:
        return None
    ids = [np.full(len(part.values), -1) if part.cells is None else part.cells.ids for part in parts]
    return Cells(np.concatenate(ids)[order], wanted)
