"""Readings are decimals: 5.8 is 58 tenths. Samples as whole offsets from a pivot, in steps of their last place.

Whatever does not depend on place and unit is computed from the offsets, so that a shift or another unit changes no bit.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from typing import Generic, TypeVar

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.binary_sums import binary_sums
from echelle.numbers.pieces import pieces_of
from echelle.numbers.sample import Counts, Floats, Sample, Sums

Held = TypeVar("Held", Floats, Sample)
# The powers of ten that float64 holds exactly end here.
_MOST_PLACES = 22
_LARGEST = 10**15
_SAMPLE = 24
_ROUNDS = 6
_ROOT_BITS = 256
_ROOT_PARTS = 10**25
_BLOCK = 1 << 12
# Whole numbers below this are float64 too, and so are their sums.
EXACT = 1 << 53
_FEW = 2_000


def decimal(value: float) -> Fraction:
    """The decimal that a finite float64 stands for: the shortest that reads back as it."""
    return Fraction(Decimal(repr(float(value))))


def root(value: Fraction) -> float:
    """The square root of a fraction (0 or more), rounded once."""
    return rounded(_root(value))


def exact_root(value: Fraction) -> Fraction:
    """The square root of a fraction (0 or more): exact where it has one of up to 25 digits, else to 38 digits."""
    result = _root(value)
    near = result.limit_denominator(_ROOT_PARTS)
    return near if near * near == value else result


def _root(value: Fraction) -> Fraction:
    if value <= 0:
        return Fraction(0)
    shift = max(0, (_ROOT_BITS - value.numerator.bit_length() + value.denominator.bit_length() + 1) // 2)
    return Fraction(math.isqrt((value.numerator << 2 * shift) // value.denominator), 1 << shift)


@dataclass(frozen=True, eq=False)
class Decimals(Generic[Held]):
    """Samples, or values of shape (n,), as offsets: a value is ``pivot`` + ``step`` · offset.

    ``whole`` says that offsets are whole numbers from 0 without a common divisor; else they lie within −1 and 1, and the step
    is a power of two.
    """

    samples: tuple[Held, ...]
    pivot: Fraction
    step: Fraction
    whole: bool

    def place(self, offset: float | Fraction) -> float:
        """The value at an offset, rounded once."""
        return rounded(self.pivot + self.step * Fraction(offset))

    def length(self, apart: float | Fraction) -> float:
        """A distance of offsets in the unit of the values, rounded once."""
        return rounded(self.step * Fraction(apart)) if math.isfinite(apart) else float(apart)

    def lengths(self, apart: Floats, parts: Floats | float = 1.0) -> Floats:
        """Distances of offsets, each the ``parts``-th part of ``apart``, in the unit of the values."""
        above, below = self.step.numerator, self.step.denominator
        if not self.whole:
            return np.ldexp(apart / parts, above.bit_length() - below.bit_length())
        return np.asarray((apart * float(above)) / (parts * float(below)), dtype=np.float64)


def decimals_of(*samples: Held) -> Decimals[Held]:
    """Samples of finite values over one pivot and one step: their least value, and the largest step of which all are whole
    multiples away from it. Where there is none with 15 digits (computed values), a power of two is the step.
    """
    listed = [sample.values if isinstance(sample, Sample) else sample for sample in samples]
    values = listed[0] if len(listed) == 1 else np.concatenate(listed)
    if not len(values):
        return Decimals(samples, Fraction(0), Fraction(1), True)
    offsets, pivot, step, whole = _offsets(np.asarray(values, dtype=np.float64))
    parts = np.split(offsets, np.cumsum([len(part) for part in listed])[:-1]) if len(samples) > 1 else [offsets]
    held = tuple(
        Sample(part, sample.counts, sums=_moved_sums(sample, pivot, step)) if isinstance(sample, Sample) else part
        for part, sample in zip(parts, samples, strict=True)
    )
    return Decimals(held, pivot, step, whole)


def _moved_sums(sample: Sample, pivot: Fraction, step: Fraction) -> Sums | None:
    if sample.sums is None:
        return None
    (first, second), n = sample.sums, len(sample)
    return (first - n * pivot) / step, (second - 2 * pivot * first + n * pivot * pivot) / (step * step)


def _offsets(values: Floats) -> tuple[Floats, Fraction, Fraction, bool]:
    ends = float(values.min()), float(values.max())
    units = _units(values, max(-ends[0], ends[1]))
    if units is None:
        return (*_binary(values, *ends), False)
    whole, places = units
    least = float(np.rint(ends[0] * 10.0**places))
    whole -= least
    divisor = _divisor(whole)
    if divisor > 1:
        whole /= float(divisor)
    return whole, Fraction(int(least), 10**places), Fraction(divisor, 10**places), True


def _units(values: Floats, largest: float) -> tuple[Floats, int] | None:
    """The values in units of their last decimal place, and how many places; None beyond 15 digits."""
    if not math.isfinite(largest) or largest > _LARGEST:
        return None
    places, rest = 0, values[:_SAMPLE]
    for _ in range(_ROUNDS):
        for value in rest[:_SAMPLE].tolist():
            places = max(places, _own_places(value))
            if places > _MOST_PLACES or largest * 10.0**places > _LARGEST:
                return None
        whole = np.empty(len(values))
        rest = scaled(values, 10.0**places, whole)
        if not len(rest):
            return whole, places
    return None


def scaled(values: Floats, power: float, whole: Floats) -> Floats:
    """Values times a power of ten as whole numbers, put into ``whole``; the first of the values that are none, if any."""
    for part, out in zip(pieces_of(values), pieces_of(whole), strict=True):
        np.multiply(part, power, out=out)
        np.rint(out, out=out)
        wrong = out / power != part
        if wrong.any():
            return np.asarray(part[wrong], dtype=np.float64)
    return whole[:0]


def _own_places(value: float) -> int:
    exponent = Decimal(repr(value)).normalize().as_tuple().exponent
    return max(0, -exponent) if isinstance(exponent, int) else 0


def _divisor(whole: Floats) -> int:
    """What divides all whole offsets; 1 where all are 0."""
    divisor, rest = 0, whole[:_SAMPLE]
    while divisor != 1 and len(rest):
        divisor = math.gcd(divisor, int(np.gcd.reduce(rest[:_SAMPLE].astype(np.int64))))
        if divisor < 2:
            break
        left = whole / float(divisor)
        rest = whole[left != np.rint(left)]
    return divisor or (1 if not whole.any() else int(np.gcd.reduce(whole.astype(np.int64))))


def _binary(values: Floats, least: float, largest: float) -> tuple[Floats, Fraction, Fraction]:
    """Offsets by powers of two, so that nothing overflows or vanishes and no values become one: from the least value where all
    are near it, else from 0.
    """
    power = math.frexp(max(abs(least), abs(largest)))[1]
    scaled = _shifted(values, -power)
    # Then the difference is exact (Sterbenz 1974).
    near = (least > 0 and largest <= 2 * least) or (largest < 0 and least >= 2 * largest)
    if not near:
        return scaled, Fraction(0), Fraction(2) ** power
    scaled -= math.ldexp(least, -power)
    more = math.frexp(math.ldexp(largest, -power) - math.ldexp(least, -power))[1]
    return _shifted(scaled, -more), Fraction(least), Fraction(2) ** (power + more)


def _shifted(values: Floats, power: int) -> Floats:
    """Values times a power of two; by a product where that power is a number."""
    return np.asarray(values * 2.0**power if -1_000 < power < 1_000 else np.ldexp(values, power), dtype=np.float64)


def exact_sums(offsets: Floats | Sample) -> tuple[int, int]:
    """The sum and the sum of squares of whole offsets (shape (n,), 0 or more, below 2^53), exact."""
    if isinstance(offsets, Sample) and offsets.counts is not None:
        return _counted_sums(offsets.values, offsets.counts, len(offsets))
    whole = offsets.values if isinstance(offsets, Sample) else offsets
    n = len(whole)
    if not n:
        return 0, 0
    largest = int(whole.max())
    if largest * largest * n < EXACT:
        return int(whole.sum()), int((whole * whole).sum())
    numbers = whole.astype(np.int64)
    if largest * largest * n < 1 << 63:
        return int(numbers.sum()), int(np.dot(numbers, numbers))
    high, low = numbers >> 26, numbers & ((1 << 26) - 1)
    starts = np.arange(0, n, _BLOCK)

    def blocks(part: NDArray[np.int64]) -> int:
        return sum(np.add.reduceat(part, starts).tolist())

    squares = (blocks(high * high) << 52) + (blocks(high * low) << 27) + blocks(low * low)
    return (blocks(high) << 26) + blocks(low), squares


def _counted_sums(whole: Floats, counts: Counts, n: int) -> tuple[int, int]:
    largest = int(whole[-1])
    if largest * largest * n < 1 << 63:
        numbers = whole.astype(np.int64)
        times = numbers * counts
        return int(times.sum()), int(np.dot(times, numbers))
    pairs = list(zip(map(int, whole.tolist()), counts.tolist(), strict=True))
    return sum(count * number for number, count in pairs), sum(count * number * number for number, count in pairs)


def mean_and_squares(offsets: Floats | Sample, whole: bool) -> tuple[Fraction, Fraction]:
    """The mean of offsets (shape (n,), n ≥ 1) and the sum of squared deviations from it, exact."""
    n = len(offsets)
    if isinstance(offsets, Sample) and offsets.sums is not None:
        summed, squares = offsets.sums
    elif whole:
        first, second = exact_sums(offsets)
        return Fraction(first, n), Fraction(n * second - first * first, n)
    else:
        summed, squares = binary_sums(offsets.values, offsets.counts) if isinstance(offsets, Sample) else binary_sums(offsets)
    return summed / n, squares - summed * summed / n


def squared_deviations(offsets: Floats | Sample, whole: bool) -> Fraction:
    """The sum of squared deviations alone; quick where they are not whole."""
    return mean_and_squares(offsets, whole)[1] if whole else _squares_about(offsets, float(offsets.mean()))


def _squares_about(offsets: Floats | Sample, middle: float) -> Fraction:
    """About the mean, from the deviations from a number near it."""
    if isinstance(offsets, Sample):
        if offsets.counts is not None:
            n, away = len(offsets), offsets.values - middle
            lost = quick_total(away * offsets.counts)
            return Fraction(max(0.0, quick_total(away * away * offsets.counts) - lost * lost / n))
        offsets = offsets.values
    n, apart = len(offsets), offsets - middle
    lost = quick_total(apart)
    np.multiply(apart, apart, out=apart)
    return Fraction(max(0.0, quick_total(apart) - lost * lost / n))


def quick_total(values: Floats) -> float:
    """The sum, rounded once for few values alone."""
    return math.fsum(values.tolist()) if len(values) <= _FEW else float(values.sum())


def finite(value: Fraction) -> float | None:
    """The nearest float64; None beyond what float64 holds."""
    nearest = rounded(value)
    return nearest if math.isfinite(nearest) else None


def rounded(value: Fraction) -> float:
    """The nearest float64, infinite beyond the largest."""
    try:
        return float(value)
    except OverflowError:
        return math.inf if value > 0 else -math.inf
