"""The axis of the measure: its range, its ticks and their labels."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from echelle.errors import InputError
from echelle.figures.lanes.transforms import TRANSFORMS, Transform
from echelle.numbers.rounding import digits_of_step, with_decimal_mark
from echelle.recipes.style import Axis

MOST_TICKS = 200
_STEPS = (1.0, 2.0, 2.5, 5.0, 10.0)
_IN_A_DECADE = ((1.0,), (1.0, 3.0), (1.0, 2.0, 5.0))


@dataclass(frozen=True)
class Ticks:
    """Places in the measure's unit and how they are written; ``minor`` ones have no number."""

    values: tuple[float, ...]
    labels: tuple[str, ...]
    minor: tuple[float, ...] = ()


def domain_of(extent: tuple[float, float] | None, axis: Axis) -> tuple[float, float]:
    """From where to where the axis looks: what is drawn with a little room, from zero where zero is near.

    Raises InputError where the two ends given in the recipe leave nothing between them, or lie where the scale has no place.
    """
    transform = TRANSFORMS[axis.scale]
    low, high = extent or (0.0, 1.0) if axis.scale == "linear" else extent or (1.0, 10.0)
    if not math.isfinite(high - low):
        raise InputError("the values lie too far apart for a linear axis", where="$.axis.scale", remedy="Keep a part of them.")
    start, end = _with_room(low, high, transform)
    start = axis.start if axis.start is not None else start
    end = axis.end if axis.end is not None else end
    if not start < end:
        raise InputError(
            f"the axis would run from {start:g} to {end:g}", where="$.axis", remedy="Let “from” be less than “to”."
        )
    if start < transform.least or (start == transform.least and not transform.least_in):
        raise InputError(
            f"a {axis.scale} axis cannot begin at {start:g}", where="$.axis.from", remedy="Begin above zero, or choose linear."
        )
    return start, end


def _with_room(low: float, high: float, transform: Transform) -> tuple[float, float]:
    if transform.name in ("log10", "ln"):
        a, b = math.log10(low), math.log10(high)
        room = 0.03 * (b - a) or 0.15
        return 10.0 ** (a - room), 10.0 ** (b + room)
    span = high - low
    if span == 0:
        span = abs(low) * 0.1 or 1.0
        low, high = low - span / 2, high + span / 2
        low = max(low, transform.least)
    start = 0.0 if 0 <= low < 0.4 * span else low - 0.03 * span
    end = 0.0 if 0 >= high > -0.4 * span else high + 0.03 * span
    return max(start, transform.least), end


def ticks_on(
    domain: tuple[float, float], axis: Axis, most: int, edges: Iterable[float] = (), names: Sequence[str] = (),
    whole: bool = False,
) -> Ticks:  # fmt: skip
    """The ticks that the recipe asks for: automatic (at ``whole`` numbers alone where rows are counted) or at multiples of a
    step, at ``edges`` (thinned to true edges; with ``names`` at the middles between them), or at given values.

    Raises InputError for a step that gives more ticks than can be told apart.
    """
    ticks = _ticks_on(domain, axis, most, edges, names, whole)
    labels = tuple(with_decimal_mark(label, axis.decimal_mark) for label in ticks.labels)
    return Ticks(ticks.values, labels, _minor(ticks.values, domain, axis))


def _minor(values: tuple[float, ...], domain: tuple[float, float], axis: Axis) -> tuple[float, ...]:
    """Places that cut the room between two ticks evenly in the measure's unit; before the first and after the last tick too
    where ticks are evenly apart.
    """
    if not axis.minor or len(values) < 2:
        return ()
    gaps = [b - a for a, b in itertools.pairwise(values)]
    ends = [values[0] - gaps[0], *values, values[-1] + gaps[-1]] if max(gaps) - min(gaps) <= 1e-6 * max(gaps) else [*values]
    parts = axis.minor + 1
    between = [a + (b - a) * i / parts for a, b in itertools.pairwise(ends) for i in range(1, parts)]
    return tuple(value for value in between if domain[0] <= value <= domain[1])


def _multiples(start: float, end: float, step: float) -> Ticks:
    first, last = math.ceil(start / step - 1e-9), math.floor(end / step + 1e-9)
    if last - first + 1 > MOST_TICKS:
        raise InputError(
            f"ticks every {step:g} would be {last - first + 1:,}, more than {MOST_TICKS}", where="$.axis.step",
            remedy="Choose a larger step.",
        )  # fmt: skip
    values = tuple(float(f"{i * step:.15g}") for i in range(first, last + 1))
    return Ticks(values, _labels(values, [_plain_step(values, step)] * len(values)))


def _ticks_on(
    domain: tuple[float, float], axis: Axis, most: int, edges: Iterable[float], names: Sequence[str], whole: bool
) -> Ticks:
    start, end = domain
    if names and axis.ticks == "bin edges":
        pairs = [((a + b) / 2, name) for (a, b), name in zip(itertools.pairwise(sorted(edges)), names, strict=False)]
        shown = [(value, name) for value, name in pairs if start <= value <= end]
        return Ticks(tuple(value for value, _ in shown), tuple(name for _, name in shown))
    if axis.ticks == "automatic":
        result = None if axis.step is None else _multiples(start, end, axis.step)
        if axis.scale in ("log10", "ln"):
            result = result or _logarithmic(start, end, most)
        result = result or (_bent(start, end, most) if axis.scale == "square-root" else ticks_of(start, end, most, whole))
        values, step = result.values, None
        labels = result.labels
        if axis.decimals is None and axis.thousands:
            return result
    else:
        given = sorted(edges) if axis.ticks == "bin edges" else sorted(set(axis.ticks))
        inside = [v for v in given if start <= v <= end]
        values = tuple(inside[:: max(1, -(-len(inside) // max(most, 1)))])
        step = min((b - a for a, b in itertools.pairwise(values)), default=abs(end - start) / 4 or 1.0)
        labels = _labels(values, [_plain_step(values, step)] * len(values))
    if axis.decimals is not None:
        least = _least_grouped(values)
        labels = tuple(_group_digits(f"{v:,.{axis.decimals}f}", v, least if axis.thousands else math.inf) for v in values)
    elif not axis.thousands:
        labels = tuple(label.replace("\u202f", "") for label in labels)
    return Ticks(tuple(values), labels)


def _plain_step(values: tuple[float, ...], step: float) -> float:
    """A step whose decimals write every value in full."""
    for digits in range(7):
        if all(abs(round(v, digits) - v) <= 1e-9 * max(1.0, abs(v)) for v in values):
            return 10.0**-digits
    return step


def ticks_of(start: float, end: float, most: int, whole: bool = False) -> Ticks:
    """At most ``most`` (≥ 2) round places inside [start, end], evenly spaced by 1, 2, 2.5 or 5 times a power of ten; only
    ``whole`` numbers where asked.
    """
    span = end - start
    rough = span / max(most, 2)
    power = 10.0 ** math.floor(math.log10(rough))
    for factor in _STEPS:
        step = max(factor * power, 1.0) if whole else factor * power
        if whole and step != round(step):
            continue
        first = math.ceil(start / step - 1e-9)
        last = math.floor(end / step + 1e-9)
        if last - first + 1 <= max(most, 2):
            break
    values = tuple(i * step for i in range(first, last + 1))
    return Ticks(values, _labels(values, [step] * len(values)))


def _logarithmic(start: float, end: float, most: int) -> Ticks | None:
    """Powers of ten, with 3 or with 2 and 5 between them where there is room; None where that gives fewer than two."""
    low, high = math.floor(math.log10(start)) - 1, math.ceil(math.log10(end)) + 1
    best: tuple[float, ...] = ()
    for factors in _IN_A_DECADE:
        every = 1
        while True:
            result = tuple(
                v
                for e in range(low, high + 1)
                if e % every == 0
                for v in (f * 10.0**e for f in factors)
                if start * (1 - 1e-12) <= v <= end * (1 + 1e-12)
            )
            if len(result) <= max(most, 2) or len(factors) > 1:
                break
            every += 1
        if len(result) <= max(most, 2) and len(result) > len(best):
            best = result
    return Ticks(best, _labels(best, [10.0 ** math.floor(math.log10(v)) for v in best])) if len(best) > 1 else None


def _bent(start: float, end: float, most: int) -> Ticks:
    """Round values whose square roots stand about evenly: from the tops of even steps, the nearest round value."""
    roots = np.linspace(math.sqrt(start), math.sqrt(end), max(most, 2) + 1)
    step = ticks_of(start, end, max(most, 2) * 4).values
    unit = step[1] - step[0] if len(step) > 1 else (end - start)
    values = sorted({round(float(r * r) / unit) * unit for r in roots})
    inside = tuple(v for v in values if start <= v <= end)
    return Ticks(inside, _labels(inside, [unit] * len(inside))) if len(inside) > 1 else ticks_of(start, end, most)


def _labels(values: Sequence[float], steps: Sequence[float]) -> tuple[str, ...]:
    least = _least_grouped(values)
    return tuple(tick_label(value, step, least) for value, step in zip(values, steps, strict=True))


def _least_grouped(values: Sequence[float]) -> float:
    """From which size on thousands are set apart: four digits stand together unless five stand beside them."""
    return 1_000.0 if any(abs(value) >= 10_000 for value in values) else 10_000.0


def tick_label(value: float, step: float, least: float = 10_000.0) -> str:
    """A tick's value with the decimals of its step; a power of ten where it is very large or very small. Thousands are set
    apart from ``least`` on.
    """
    if value == 0:
        return "0"
    if abs(value) >= 1e6 or step < 1e-4:
        exponent = math.floor(math.log10(abs(value)) + 1e-12)
        body = f"{value / 10.0**exponent:.6g}".replace("-", "−")
        raised = str(exponent).translate(str.maketrans("-0123456789", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹"))
        return f"{body} × 10{raised}"
    return _group_digits(f"{value:,.{digits_of_step(step)}f}", value, least)


def _group_digits(text: str, value: float, least: float) -> str:
    """With a thin no-break space between thousands, from ``least`` on."""
    return text.replace("-", "−").replace(",", "\u202f" if abs(value) >= least else "")
