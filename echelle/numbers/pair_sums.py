"""Sums of gaussian functions over all pairs of values, by the power spectrum of the sample."""

from __future__ import annotations

import math

import numpy as np

from echelle.numbers.sample import Floats, Sample

# Beyond 10/width a gaussian's spectrum is below 1e-21; images of the sample stand as far apart.
_REACH = 10.0
# Points of the grid on either side, over which each value is spread: 12 digits (Greengard & Lee 2004, SIAM Review 46).
_SPREAD = 12
_MOST = 1 << 20
# So many places a value make a grid on which single values are quicker put one by one.
_SPARSE = 16


class PairSums:
    """Of a sample (values not all equal) for gaussians with a width up to ``widest``."""

    def __init__(self, values: Sample, widest: float) -> None:
        self.n = len(values)
        self._values = values
        self._period = values[-1] - values[0] + _REACH * widest
        self._squares: Floats = np.empty(0)
        self._places: Floats = np.empty(0)

    def reaches(self, width: float) -> bool:
        """Whether a gaussian is wide enough to be summed here."""
        return _REACH / width * self._period / (2 * math.pi) < _MOST

    def derivative(self, width: float, order: int) -> float:
        """The sum over all i and j, i = j too, of the ``order``-th derivative (0, 4, 6) of the gaussian density with this
        width, at the distance of both values.
        """
        count = int(_REACH / width * self._period / (2 * math.pi)) + 2
        self._know(count)
        t = self._places[:count]
        terms = t**order * np.exp(-0.5 * (width * t) ** 2) * self._squares[:count]
        # Frequencies below zero are those above it.
        total = 2 * float(terms[1:].sum()) + float(terms[0])
        return (-1.0) ** (order // 2) * self.n**2 * total / self._period

    def _know(self, count: int) -> None:
        """The spectrum at so many frequencies at least."""
        if count > len(self._squares):
            # As far as it costs little beside the values, so that it is seldom widened.
            count = 1 << (max(count, len(self._values.values) // 4) - 1).bit_length()
            self._places = np.arange(count, dtype=np.float64) * (2 * math.pi / self._period)
            self._squares = _spectrum(self._values, 2 * math.pi / self._period, count)


def _spectrum(values: Sample, turn: float, count: int) -> Floats:
    """|mean of exp(i·k·angle)|² for k below ``count``, angles ``turn`` times the values:
    each spread over a fine grid by a narrow gaussian, a Fourier
    transform, and the gaussian taken off again.
    """
    from scipy import fft

    size, angles = 4 * count, (values.values - values[0]) * turn
    narrow = math.pi * _SPREAD / (size // 2) ** 2 / 3.0
    nearest = np.floor(angles * (size / (2 * math.pi))).astype(np.int64)
    grid = np.zeros(size)
    for step in range(1 - _SPREAD, _SPREAD + 1):
        apart = angles - (nearest + step) * (2 * math.pi / size)
        places, weights = (nearest + step) % size, np.exp(-apart * apart / (4 * narrow)) * values.weights
        if len(places) < size // _SPARSE:
            np.add.at(grid, places, weights)
        else:
            grid += np.bincount(places, weights=weights, minlength=size)
    transform = np.abs(fft.rfft(grid)[:count]) / (len(values) * size)
    k = np.arange(count, dtype=np.float64)
    return np.asarray((transform * math.sqrt(math.pi / narrow) * np.exp(k * k * narrow)) ** 2, dtype=np.float64)
