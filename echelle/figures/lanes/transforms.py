"""Axis scales: how values are bent before they are drawn evenly."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from echelle.numbers.sample import Floats, Rising
from echelle.recipes.style import AxisScale

Bend = Callable[[Floats], Floats]


@dataclass(frozen=True)
class Transform:
    """A rising function and its inverse; ``least`` is the value that it begins at, itself in or out."""

    name: AxisScale
    forward: Bend
    back: Bend
    least: float = -np.inf
    least_in: bool = True

    def reached(self, values: Floats) -> Floats:
        """``forward``, with −∞ for values that it has no place for."""
        if self.least == -np.inf:
            return self.forward(values)
        with np.errstate(divide="ignore"):
            bent = self.forward(np.maximum(values, self.least))
        return np.where(values < self.least, -np.inf, bent)

    def holds(self, value: float) -> bool:
        """Whether it has a place for a value."""
        return value > self.least or (value == self.least and self.least_in)

    def refuses(self, values: Rising) -> int:
        """How many of ``values`` (rising) it has no place for."""
        return int(values.searchsorted(self.least, "left" if self.least_in else "right"))


def _same(values: Floats) -> Floats:
    return values


def _powers_of_ten(values: Floats) -> Floats:
    return np.asarray(10.0**values, dtype=np.float64)


def _squares(values: Floats) -> Floats:
    """Below zero there is nothing to come back to: tails of curves end at zero."""
    return np.square(np.maximum(values, 0.0))


LINEAR = Transform("linear", _same, _same)
TRANSFORMS: dict[AxisScale, Transform] = {
    "linear": LINEAR,
    "log10": Transform("log10", np.log10, _powers_of_ten, 0.0, False),
    "ln": Transform("ln", np.log, np.exp, 0.0, False),
    "square-root": Transform("square-root", np.sqrt, _squares, 0.0, True),
}
