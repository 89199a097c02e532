"""Rounding for reading: how many decimals the data carry, and how many a reader needs."""

from __future__ import annotations

import math

import numpy as np

from echelle.numbers.quantiles import Floats


def decimals_of(values: Floats, most: int = 6) -> int:
    """The least number of decimals (0 to ``most``) that writes each of the first 2 000 values in full."""
    sample = values[:2000]
    sample = sample[np.isfinite(sample)]
    for places in range(most):
        if bool(np.all(np.abs(np.round(sample, places) - sample) <= 1e-9 * np.maximum(1.0, np.abs(sample)))):
            return places
    return most


def as_read(value: float | None, places: int) -> str:
    """A number for the reader, with a true minus sign; "–" stands for none."""
    if value is None:
        return "–"
    if value != 0 and (abs(value) >= 1e7 or abs(value) < 10.0 ** (-places - 2)):
        text = f"{value:.3g}"
    else:
        text = f"{value:.{places}f}"
    if float(text) == 0:
        text = text.lstrip("-")
    return text.replace("-", "−")


def digits_of_step(step: float) -> int:
    """Decimals that show multiples of ``step`` exactly (a step of 1, 2, 2.5 or 5 times a power of ten)."""
    for places in range(16):
        if abs(round(step, places) - step) <= 1e-9 * abs(step):
            return places
    return max(0, -math.floor(math.log10(abs(step))) + 1)
