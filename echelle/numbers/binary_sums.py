"""Sums of float64 numbers and of their squares, exact, so that sums of parts come to the same however the parts are made."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np

from echelle.numbers.sample import Counts, Floats

# Numbers within 2^32 of the largest have 85 bits at most below its first: five digits; those nearer have fewer.
_REACH, _BITS = 32, 53
# Sums of products of digits (below 2^40, where numbers are counted 2^34) over so many numbers stay below 2^53, which float64
# holds exactly.
_DIGIT, _COUNTED_DIGIT, _BLOCK, _LARGEST_COUNT = 20, 17, 1 << 13, 1 << 18
# Powers of two below this are products of float64, also of numbers far smaller.
_PLAIN = 900


def binary_sums(values: Floats, counts: Counts | None = None) -> tuple[Fraction, Fraction]:
    """The sum and the sum of squares of finite values (shape (n,)), each so often as ``counts`` says, without any rounding."""
    first, second = Fraction(0), Fraction(0)
    if counts is not None:
        often = counts > _LARGEST_COUNT
        for value, count in zip(values[often].tolist(), counts[often].tolist(), strict=True):
            exact = Fraction(value)
            first, second = first + count * exact, second + count * exact * exact
        values, counts = values[~often], counts[~often]
    while len(values):
        low, high = float(values.min()), float(values.max())
        largest = max(-low, high)
        if not largest:
            break
        power = math.frexp(largest)[1]
        # Above zero, also where the power is below the smallest number.
        bound = math.ldexp(1.0, power - _REACH - 1) or math.ulp(0.0)
        if low >= bound or high <= -bound:
            sums = _near_sums(values, counts, math.frexp(min(abs(low), abs(high)))[1], power)
            return first + sums[0], second + sums[1]
        away = np.abs(values)
        near = away >= bound
        sums = _near_sums(values[near], None if counts is None else counts[near], power - _REACH, power)
        first, second = first + sums[0], second + sums[1]
        # What is smaller comes next; zeros add nothing.
        rest = ~near & (away > 0)
        values, counts = values[rest], None if counts is None else counts[rest]
    return first, second


def _near_sums(values: Floats, counts: Counts | None, least: int, power: int) -> tuple[Fraction, Fraction]:
    """The same of values between 2^(least − 1), 33 powers below at most, and 2^power."""
    digit_bits = _DIGIT if counts is None else _COUNTED_DIGIT
    count = -(-(_BITS + power - least) // digit_bits)
    ends = np.arange(0, len(values), _BLOCK) if counts is None else _starts(counts)
    sums, products = [0] * count, [0] * (2 * count - 1)
    step = math.ldexp(1.0, digit_bits)
    # The last row counts the numbers, so that one product of matrices gives both sums.
    held = np.ones((count + 1, int(np.diff(ends, append=len(values)).max())))
    for start, end in zip(ends.tolist(), [*ends[1:].tolist(), len(values)], strict=True):
        rest = values[start:end] * 2.0**-power if abs(power) < _PLAIN else np.ldexp(values[start:end], -power)
        digits = held[:, : len(rest)]
        for digit in digits[: count - 1]:
            rest *= step
            np.trunc(rest, out=digit)
            rest -= digit
        np.multiply(rest, step, out=digits[count - 1])
        counted = digits if counts is None else digits * counts[start:end]
        for place, row in enumerate((counted[:count] @ digits.T).tolist()):
            sums[place] += int(row[count])
            for other, summed in enumerate(row[:count]):
                products[place + other] += int(summed)
    lowest = power - digit_bits * count
    return _placed(sums, digit_bits, lowest), _placed(products, digit_bits, 2 * lowest)


def _starts(counts: Counts) -> Counts:
    """Where blocks of values begin whose counts come to about a block."""
    ends = np.cumsum(counts)
    return np.flatnonzero(np.diff((ends - counts) // _BLOCK, prepend=-1))


def _placed(digits: list[int], bits: int, power: int) -> Fraction:
    """Digits of so many bits from the highest on as one number whose lowest digit counts 2^power."""
    whole = 0
    for digit in digits:
        whole = (whole << bits) + digit
    return Fraction(whole << power) if power >= 0 else Fraction(whole, 1 << -power)
