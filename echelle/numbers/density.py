"""Kernel densities: direct sums, binning with a Fourier transform, and window sums for kernels of bounded support."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.kernels import REACH, KernelName, kernel
from echelle.numbers.sample import Floats, Rising, Sample, sample_of

Ends = Literal["stop", "run past", "fold"]
DensitySize = Literal["equal area", "equal width", "by n"]
_DIRECT = 4_000_000
# A step of bandwidth/100 serves where the curve bends little; a value between two points of a grid of bandwidth/300 errs by
# at most 1/(16·300²) of the kernel's maximum, below 1e-6 for any values.
_COARSE, _STEPS = 100, 300
# The smoothed curve holds no frequency above 8.6/bandwidth, so every fourth point of the grid is enough of it.
_THIN, _HIGHEST = 4, 8.6
_ALLOWED = 5e-7
_MOST_GRID = 1 << 21


@dataclass(frozen=True, eq=False)
class Density:
    """A curve: ``values`` (per unit of the measure) at ``at``, both of shape (m,)."""

    at: Floats
    values: Floats
    bandwidth: float
    kernel: KernelName


@dataclass(frozen=True)
class Peak:
    """A local maximum of a curve."""

    at: float
    height: float


def density_at(
    ordered: Rising, at: Floats, bandwidth: float, name: KernelName = "gaussian", low: float | None = None,
    high: float | None = None,
) -> Floats:  # fmt: skip
    """The density of ``ordered`` (rising, finite, n ≥ 1) at ``at`` (shape (m,), any order).

    With ``low`` or ``high`` the curve is folded there (Silverman 1986, 2.10): what would lie beyond is added back, and
    beyond it the density is 0. The gaussian is a direct sum truncated at 8.6 bandwidths, or for many values linear binning
    (Jones & Lotwick 1984) with a step of bandwidth/100 or less and a Fourier transform, within 1e-6 of the curve's maximum; the
    other kernels are exact window sums over the sorted values.
    """
    places = [at]
    if low is not None:
        places.append(2.0 * low - at)
    if high is not None:
        places.append(2.0 * high - at)
    total = _density(sample_of(ordered), np.concatenate(places), bandwidth, name).reshape(len(places), len(at)).sum(axis=0)
    inside = np.ones(len(at), dtype=np.bool_)
    if low is not None:
        inside &= at >= low
    if high is not None:
        inside &= at <= high
    return np.where(inside, total, 0.0)


def density_curve(
    ordered: Rising, bandwidth: float, name: KernelName = "gaussian", points: int = 512, ends: Ends = "run past",
    low: float | None = None, high: float | None = None,
) -> Density:  # fmt: skip
    """The density over an even grid: to the data's ends, past them by the kernel's reach (gaussian: 3.5), or to the fold."""
    first, last = float(ordered[0]), float(ordered[-1])
    if ends != "stop":
        reach = reach_past(bandwidth, name)
        first, last = first - reach, last + reach
    if ends == "fold":
        first = first if low is None else max(first, low)
        last = last if high is None else min(last, high)
    folds = (low, high) if ends == "fold" else (None, None)
    at = np.linspace(first, last, points)
    return Density(at, density_at(ordered, at, bandwidth, name, *folds), bandwidth, name)


def reach_past(bandwidth: float, name: KernelName) -> float:
    """How far a curve runs past the data."""
    return bandwidth * min(REACH[name], 3.5)


def size_factors(curves: Sequence[Density | None], counts: Sequence[int], size: DensitySize) -> list[float]:
    """What each curve's height is multiplied by before all are drawn to one scale; 0 where there is no curve.

    ``equal area`` leaves densities as they are (each has area 1), ``equal width`` brings every highest point to 1, ``by n``
    gives each curve the area of its number of values.
    """
    if size == "equal width":
        return [0.0 if c is None or not c.values.max() else 1.0 / float(c.values.max()) for c in curves]
    shares = [1.0 if size == "equal area" else float(n) for n in counts]
    return [0.0 if curve is None else share for curve, share in zip(curves, shares, strict=True)]


def peaks_of(curve: Density) -> list[Peak]:
    """The local maxima of a curve, from left to right; a plateau counts once, in its middle."""
    values = curve.values
    if len(values) == 0:
        return []
    change = np.flatnonzero(np.diff(values) != 0)
    starts = np.concatenate([[0], change + 1])
    ends = np.concatenate([change, [len(values) - 1]])
    heights = values[starts]
    higher = np.concatenate([[-np.inf], heights, [-np.inf]])
    tops = np.flatnonzero((higher[1:-1] > higher[:-2]) & (higher[1:-1] > higher[2:]) & (heights > 0))
    return [Peak(float((curve.at[starts[i]] + curve.at[ends[i]]) / 2), float(heights[i])) for i in tops]


def _density(ordered: Sample, at: Floats, bandwidth: float, name: KernelName) -> Floats:
    if name != "gaussian":
        return _windows(ordered, at, bandwidth, name)
    span = ordered[-1] - ordered[0]
    small = len(ordered.values) * len(at) <= _DIRECT
    if small or not span / bandwidth * _STEPS < _MOST_GRID:
        return _direct(ordered, at, bandwidth)
    return _by_transform(ordered, at, bandwidth)


def _direct(ordered: Sample, at: Floats, bandwidth: float) -> Floats:
    """A sum over the values within reach of each place."""
    n, reach, values, counts = len(ordered), REACH["gaussian"] * bandwidth, ordered.values, ordered.counts
    starts, ends = np.searchsorted(values, at - reach), np.searchsorted(values, at + reach, side="right")
    out = np.empty(len(at))
    for i, (start, end) in enumerate(zip(starts.tolist(), ends.tolist(), strict=True)):
        heights = kernel("gaussian", (at[i] - values[start:end]) / bandwidth)
        out[i] = heights.sum() if counts is None else (heights * counts[start:end]).sum()
    return out / (n * bandwidth)


def _by_transform(ordered: Sample, at: Floats, bandwidth: float) -> Floats:
    """Linear binning, the gaussian in the frequency domain, cubic interpolation between grid points."""
    from scipy import fft

    for steps in (_COARSE, _STEPS):
        first, step, spectrum, size = _binned_spectrum(ordered, bandwidth, bandwidth / steps)
        kept = min(len(spectrum), int(_HIGHEST * size / (2.0 * np.pi * steps)) + 2)
        turns = np.arange(kept) * (2.0 * np.pi / (size * step))
        # Splitting a value over two points adds between 0 and step²/4 to its variance: half of that is taken off for all.
        smooth = spectrum[:kept] * np.exp(-0.5 * turns * turns * (bandwidth * bandwidth - step * step / 8))
        curve = fft.irfft(smooth, size // _THIN)
        if steps == _COARSE:
            bend = float(np.abs(fft.irfft(smooth * turns * turns, size // _THIN)).max())
            if bend * step * step / 16 > _ALLOWED * float(curve.max()):
                continue
        break
    return np.maximum(_cubic(curve / (_THIN * len(ordered) * step), (at - first) / (_THIN * step)), 0.0)


def _binned_spectrum(ordered: Sample, bandwidth: float, step: float) -> tuple[float, float, NDArray[np.complex128], int]:
    """The grid's start, its step, the transform of the counts on it, and its size."""
    from scipy import fft

    pad = REACH["gaussian"] * bandwidth
    first = ordered[0] - pad
    length = int(np.ceil((ordered[-1] + pad - first) / step)) + 2
    size = _THIN * fft.next_fast_len(-(-length // _THIN), real=True)
    place = ordered.values - first
    place /= step
    left = place.astype(np.int64)
    place -= left
    if ordered.counts is not None:
        place *= ordered.counts
    counts = np.bincount(left, weights=ordered.counts, minlength=size).astype(np.float64)
    shares = np.bincount(left, weights=place, minlength=size)
    counts -= shares
    counts[1:] += shares[:-1]
    return first, step, fft.rfft(counts), size


def _cubic(curve: Floats, place: Floats) -> Floats:
    """Cubic interpolation of an even grid; 0 outside."""
    inside = (place >= 1) & (place < len(curve) - 3)
    safe = np.where(inside, place, 1.0)
    i = safe.astype(np.int64)
    t = safe - i
    a, b, c, d = curve[i - 1], curve[i], curve[i + 1], curve[i + 2]
    value = (
        -t * (t - 1) * (t - 2) / 6 * a
        + (t + 1) * (t - 1) * (t - 2) / 2 * b
        - (t + 1) * t * (t - 2) / 2 * c
        + (t + 1) * t * (t - 1) / 6 * d
    )
    return np.asarray(np.where(inside, value, 0.0), dtype=np.float64)


def _windows(ordered: Sample, at: Floats, bandwidth: float, name: KernelName) -> Floats:
    """Kernels of bounded support from running sums over the sorted values: no binning, no truncation."""
    reach = REACH[name] * bandwidth
    lo = np.searchsorted(ordered.values, at - reach, side="left")
    hi = np.searchsorted(ordered.values, at + reach, side="right")
    scale, n = len(ordered) * reach, np.append(0, ordered.ends)
    if name == "uniform":
        return np.asarray(0.5 * (n[hi] - n[lo]) / scale, dtype=np.float64)
    if name == "raised-cosine":
        angle = (ordered.values - ordered[0]) * (np.pi / reach)
        turn = (at - ordered[0]) * (np.pi / reach)
        cosines, sines = _running(np.cos(angle) * ordered.weights), _running(np.sin(angle) * ordered.weights)
        waves = np.cos(turn) * (cosines[hi] - cosines[lo]) + np.sin(turn) * (sines[hi] - sines[lo])
        return np.asarray(np.maximum(0.5 * (n[hi] - n[lo] + waves), 0.0) / scale, dtype=np.float64)
    return np.maximum(_polynomials(ordered, at, reach, lo, hi, name), 0.0) / scale


def _running(values: Floats) -> Floats:
    return np.concatenate([[0.0], np.cumsum(values)])


def _polynomials(
    ordered: Sample, at: Floats, reach: float, lo: NDArray[np.intp], hi: NDArray[np.intp], name: KernelName
) -> Floats:
    """Sums of a polynomial kernel over windows, cell by cell.

    Cells are as wide as the reach and powers are taken about each cell's centre, so that they stay below 1 and running
    sums lose no digits.
    """
    least = ordered[0]
    cell = np.floor((ordered.values - least) / reach)
    centre = least + (cell + 0.5) * reach
    t = (ordered.values - centre) / reach
    sums = [_running(t**p * ordered.weights) for p in range(5 if name == "biweight" else 3)]
    first = np.floor((at - reach - least) / reach)
    middle = np.searchsorted(ordered.values, at, side="left")
    total = np.zeros(len(at))
    for shift in range(4):
        k = first + shift
        start = np.clip(np.searchsorted(cell, k, side="left"), lo, hi)
        end = np.clip(np.searchsorted(cell, k, side="right"), lo, hi)
        d = (at - (least + (k + 0.5) * reach)) / reach
        if name == "triangular":
            split = np.clip(middle, start, end)
            total += _powers(sums, start, split, [1.0 - d, np.ones_like(d)])
            total += _powers(sums, split, end, [1.0 + d, -np.ones_like(d)])
        elif name == "epanechnikov":
            total += 0.75 * _powers(sums, start, end, [1.0 - d * d, 2.0 * d, -np.ones_like(d)])
        else:
            a = 1.0 - d * d
            weights = [a * a, 4.0 * a * d, 4.0 * d * d - 2.0 * a, -4.0 * d, np.ones_like(d)]
            total += 0.9375 * _powers(sums, start, end, weights)
    return total


def _powers(sums: list[Floats], start: NDArray[np.intp], end: NDArray[np.intp], weights: list[Floats]) -> Floats:
    parts = [w * (sums[p][end] - sums[p][start]) for p, w in enumerate(weights)]
    return np.asarray(np.sum(parts, axis=0), dtype=np.float64)
