"""Rounding for reading: how many decimals the data carry, and how many a reader needs."""

from __future__ import annotations

import math
import re
from decimal import ROUND_HALF_UP, Context, Decimal
from typing import Literal

import numpy as np

from echelle.numbers.sample import Floats

# Digits enough for any float64 written out.
_EXACT = Context(prec=1_100)
DecimalMark = Literal["point", "comma"]
_POINT = re.compile(r"(?<=\d)\.(?=\d)")
# Readings are seldom written with more decimals.
_RECORDED = 3


def decimals_of(values: Floats, most: int = 6) -> int:
    """The least number of decimals (0 to ``most``) that writes each of the first 2 000 values in full; of computed values,
    which go on and on, as many as tell four digits of their range.
    """
    sample = values[:2000]
    sample = sample[np.isfinite(sample)]
    for places in range(most):
        if bool(np.all(np.abs(np.round(sample, places) - sample) <= 1e-9 * np.maximum(1.0, np.abs(sample)))):
            break
    else:
        places = most
    span = float(np.ptp(sample)) if len(sample) else 0.0
    if places <= _RECORDED or span == 0:
        return places
    return min(places, max(0, 3 - math.floor(math.log10(span)))) if math.isfinite(span) else 0


def display_number(value: float | None, places: int) -> str:
    """A number for the reader, with a true minus sign; "–" stands for none. Very large and very small ones have three
    digits. The page writes the same text.
    """
    if value is None:
        return "–"
    far = math.isfinite(value) and value != 0 and (abs(value) >= 1e7 or abs(value) < 10.0 ** (-places - 2))
    text = _three_digits(value) if far else fixed_decimals(value, places)
    return text.replace("-", "−")


def fixed_decimals(value: float, places: int) -> str:
    """With so many decimals; the exact value of the float is rounded, half away from zero, and no zero has a sign."""
    if not math.isfinite(value):
        return str(value)
    text = f"{_round(Decimal(value), -places):f}"
    return text.lstrip("-") if float(text) == 0 else text


def three_digits(value: float) -> str:
    """A number for the reader with three digits, whatever its size, with a true minus sign."""
    if not math.isfinite(value) or value == 0:
        return display_number(value, 0)
    power = math.floor(math.log10(abs(value)))
    text = _three_digits(value) if power < -5 or power >= 7 else fixed_decimals(value, max(0, 2 - power))
    return text.replace("-", "−")


def _three_digits(value: float) -> str:
    """Three digits; as a power of ten from 1 000 on and below 0.000 001."""
    result = _round(Decimal(value), Decimal(value).adjusted() - 2)
    if len(result.as_tuple().digits) > 3:
        result = _round(result, result.adjusted() - 2)
    power = result.adjusted()
    if -7 < power < 3:
        return f"{result:f}"
    sign, (first, *rest), _ = result.as_tuple()
    return f"{'-' if sign else ''}{first}.{''.join(map(str, rest))}e{'-' if power < 0 else '+'}{abs(power)}"


def _round(value: Decimal, power: int) -> Decimal:
    """To a power of ten."""
    return value.quantize(Decimal(1).scaleb(power), ROUND_HALF_UP, _EXACT)


def with_decimal_mark(text: str, mark: DecimalMark) -> str:
    """A text that holds numbers as they are written here, and no one's own words, with another decimal mark."""
    return text if mark == "point" else _POINT.sub(",", text)


def digits_of_step(step: float) -> int:
    """Decimals that show multiples of ``step`` exactly (a step of 1, 2, 2.5 or 5 times a power of ten)."""
    for places in range(16):
        if abs(round(step, places) - step) <= 1e-9 * abs(step):
            return places
    return max(0, -math.floor(math.log10(abs(step))) + 1)


def round_step(span: float) -> float:
    """A step that a hand can aim at: a round number near a two-hundredth of the span."""
    return round_up(span / 200) if span > 0 else 0.01


def round_up(length: float) -> float:
    """The next of 1, 2, 5, 10, 20 … that is no shorter, at any power of ten; ``length`` is above 0."""
    power = 10.0 ** math.floor(math.log10(length))
    return float(f"{next((k * power for k in (1, 2, 5) if k * power >= length), 10 * power):.6g}")
