"""Stem and leaf (Tukey 1977, chapter 1)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.decimals import decimal
from echelle.numbers.fences import beyond_fence, quartile_fences
from echelle.numbers.quantiles import quantiles
from echelle.numbers.rounding import digits_of_step, fixed_decimals
from echelle.numbers.sample import Floats

Split = Literal[1, 2, 5]


@dataclass(frozen=True)
class StemLine:
    """One line: where it stands on the measure (the end of its stem nearest zero), its label and its leaves.

    Lines of values set aside are labelled "low" and "high".
    """

    at: float
    label: str
    leaves: str

    @property
    def aside(self) -> bool:
        """Whether it holds values set aside, in full."""
        return self.label in ("low", "high")


def stem_and_leaf(ordered: Floats, unit: float | None = None, split: Split = 1, set_aside: bool = True) -> list[str]:
    """Lines of text, lowest stem first; a leaf is one digit of ``unit``, values are cut and not rounded.

    ``split`` gives each stem one, two or five lines. Values beyond the fences (k = 1.5) stand on lines of their own, "low"
    and "high", in full. ``unit`` is chosen so that about ten to twenty stems appear where it is not given.
    """
    unit = unit or usual_unit(ordered, set_aside)
    lines = stem_lines(ordered, unit, split, set_aside)
    width = max((len(line.label) for line in lines if not line.aside), default=1)
    texts = [f"{line.label if line.aside else line.label.rjust(width)} | {line.leaves}" for line in lines]
    return [*texts, f"unit {unit:g}: {leaf_example(ordered, unit, set_aside)}"]


def stem_lines(ordered: Floats, unit: float, split: Split = 1, set_aside: bool = True) -> list[StemLine]:
    """The lines of a display with a given unit, lowest first."""
    body, low, high = _body(ordered, set_aside)
    size = 10 // split
    leaves = _leaves(body, unit, size)
    # Below zero the values rise while their leaves fall.
    lines = [
        StemLine((-1 if row[0] else 1) * row[1] * size * unit, _label(row, size), leaves.get(row, ""))
        for row in _between(leaves)
    ]
    if len(low):
        lines.insert(0, StemLine(float(low[0]), "low", ", ".join(f"{v:g}" for v in low)))
    if len(high):
        lines.append(StemLine(float(high[-1]), "high", ", ".join(f"{v:g}" for v in high)))
    return lines


def usual_unit(ordered: Floats, set_aside: bool = True) -> float:
    """A power of ten that gives about ten to twenty stems."""
    return _unit(_body(ordered, set_aside)[0])


def _body(ordered: Floats, set_aside: bool) -> tuple[Floats, Floats, Floats]:
    """The values on stems, and those below and above the fences."""
    if not set_aside or len(ordered) < 4:
        return ordered, ordered[:0], ordered[:0]
    q1, q3 = quantiles(ordered, (0.25, 0.75), 7)
    odd = beyond_fence(ordered, quartile_fences(q1, q3))
    aside = ordered[odd]
    return np.delete(ordered, odd), aside[aside < q1], aside[aside > q3]


def _cut(body: Floats, unit: float) -> NDArray[np.int64]:
    """Values in whole units, cut and not rounded; a few ulps below a whole number of units is that number."""
    scaled = body / unit
    near = np.round(scaled)
    cut = np.where(np.abs(scaled - near) <= 1e-9 * np.maximum(1.0, np.abs(near)), near, np.trunc(scaled))
    return np.asarray(cut, dtype=np.int64)


def _leaves(body: Floats, unit: float, size: int) -> dict[tuple[bool, int], str]:
    """The leaves of each row, in the order of the values."""
    whole = np.abs(_cut(body, unit))
    stem, leaf = np.divmod(whole, 10)
    rows = stem * (10 // size) + leaf // size
    digits = (leaf + ord("0")).astype(np.uint8)
    negative = body < 0
    result: dict[tuple[bool, int], str] = {}
    for sign in (True, False):
        here = np.flatnonzero(negative == sign)
        order = here[np.argsort(rows[here], kind="stable")]
        starts = np.flatnonzero(np.diff(rows[order], prepend=-1))
        for part in np.split(order, starts[1:]) if len(order) else []:
            result[sign, int(rows[part[0]])] = digits[part].tobytes().decode("ascii")
    return result


def _unit(body: Floats) -> float:
    span = float(body[-1] - body[0]) if len(body) else 0.0
    return 10.0 ** (math.floor(math.log10(span / 1.2)) - 1) if span > 0 else 1.0


def _between(leaves: dict[tuple[bool, int], str]) -> list[tuple[bool, int]]:
    """Every row from the lowest to the highest; −0 comes before 0."""
    if not leaves:
        return []
    below = [row for negative, row in leaves if negative]
    above = [row for negative, row in leaves if not negative]
    rows: list[tuple[bool, int]] = []
    if below:
        rows += [(True, row) for row in range(max(below), (0 if above else min(below)) - 1, -1)]
    if above:
        rows += [(False, row) for row in range(0 if below else min(above), max(above) + 1)]
    return rows


def _label(row: tuple[bool, int], size: int) -> str:
    return ("−" if row[0] else "") + str(row[1] // (10 // size))


def leaf_example(ordered: Floats, unit: float, set_aside: bool = True) -> str:
    """What a stem and a leaf stand for, of the middle value that is not set aside: "5 | 1 = 51"; "" without one."""
    body = _body(ordered, set_aside)[0]
    if not len(body):
        return ""
    middle = float(body[len(body) // 2])
    whole = abs(int(_cut(np.array([middle]), unit)[0]))
    sign = "−" if middle < 0 else ""
    value = fixed_decimals(float(Fraction(whole) * decimal(unit)), digits_of_step(unit))
    return f"{sign}{whole // 10} | {whole % 10} = {sign}{value}"
