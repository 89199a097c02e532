"""What tests need of lanes: how many values, their mean and their sum of squares, exact for decimals."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from echelle.numbers.decimals import Decimals, decimals_of, mean_and_squares, rounded
from echelle.numbers.sample import Floats, Sample, Values, sample_of_unordered


@dataclass(frozen=True)
class LaneSums:
    """Of a lane's offsets: how many (1 at least), their mean, and the sum of squared deviations from it."""

    n: int
    mean: Fraction
    squares: Fraction

    @property
    def variance(self) -> Fraction:
        """With n − 1 below; n is 2 at least."""
        return self.squares / (self.n - 1)

    @property
    def error(self) -> float:
        """The variance of the mean."""
        return rounded(self.variance / self.n)


@dataclass(frozen=True)
class DifferenceSums:
    """Of differences that are not all the same: their mean in steps of their last place, and their sums."""

    mean: float
    sums: LaneSums


def sums_of_differences(differences: Floats) -> DifferenceSums | None:
    """Of differences within subjects (shape (n,)): without a unit, so that ratios keep every bit in another; None for fewer
    than two, or without spread.
    """
    if len(differences) < 2:
        return None
    decimals, [sums] = lane_sums(differences)
    if sums.squares == 0:
        return None
    return DifferenceSums(rounded(decimals.pivot / decimals.step + sums.mean), sums)


def lane_sums(*lanes: Values) -> tuple[Decimals[Sample], list[LaneSums]]:
    """Lanes (each with a value at least) as offsets of one pivot and step, and the sums of each."""
    decimals = decimals_of(*map(sample_of_unordered, lanes))
    return decimals, [LaneSums(len(lane), *mean_and_squares(lane, decimals.whole)) for lane in decimals.samples]
