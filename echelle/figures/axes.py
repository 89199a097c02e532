"""The axis of the measure: its range, its ticks and their labels."""

from __future__ import annotations

import math
from dataclasses import dataclass

from echelle.errors import InputError
from echelle.numbers.quantiles import Floats
from echelle.numbers.rounding import digits_of_step
from echelle.recipes.models import Axis

_STEPS = (1.0, 2.0, 2.5, 5.0, 10.0)


@dataclass(frozen=True)
class Ticks:
    """Places in the measure's unit and how they are written."""

    values: tuple[float, ...]
    labels: tuple[str, ...]


def domain_of(values: Floats, axis: Axis) -> tuple[float, float]:
    """From where to where the axis looks: the data with a little room, from zero where zero is near.

    ``values`` has shape (n,). Raises InputError where the two ends given in the recipe leave nothing between them.
    """
    low, high = (float(values.min()), float(values.max())) if len(values) else (0.0, 1.0)
    if not math.isfinite(high - low):
        raise InputError("the values lie too far apart for a linear axis", where="$.axis.scale", remedy="Keep a part of them.")
    span = high - low
    if span == 0:
        span = abs(low) * 0.1 or 1.0
        low, high = low - span / 2, high + span / 2
    start = 0.0 if 0 <= low < 0.4 * span else low - 0.03 * span
    end = 0.0 if 0 >= high > -0.4 * span else high + 0.03 * span
    start = axis.start if axis.start is not None else start
    end = axis.end if axis.end is not None else end
    if not start < end:
        raise InputError(
            f"the axis would run from {start:g} to {end:g}", where="$.axis", remedy="Let “from” be less than “to”."
        )
    return start, end


def ticks_of(start: float, end: float, most: int) -> Ticks:
    """At most ``most`` (≥ 2) round places inside [start, end], evenly spaced by 1, 2, 2.5 or 5 times a power of ten."""
    span = end - start
    rough = span / max(most, 2)
    power = 10.0 ** math.floor(math.log10(rough))
    for factor in _STEPS:
        step = factor * power
        first = math.ceil(start / step - 1e-9)
        last = math.floor(end / step + 1e-9)
        if last - first + 1 <= max(most, 2):
            break
    values = tuple(i * step for i in range(first, last + 1))
    return Ticks(values, tuple(_label(value, step) for value in values))


def _label(value: float, step: float) -> str:
    if value == 0:
        return "0"
    if abs(value) >= 1e6 or step < 1e-4:
        exponent = math.floor(math.log10(abs(value)) + 1e-12)
        body = f"{value / 10.0**exponent:.6g}".replace("-", "−")
        raised = str(exponent).translate(str.maketrans("-0123456789", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹"))
        return f"{body} × 10{raised}"
    text = f"{value:,.{digits_of_step(step)}f}".replace("-", "−")
    # A thin no-break space groups thousands; four digits stand together.
    return text.replace(",", "" if abs(value) < 10_000 else "\u202f")
