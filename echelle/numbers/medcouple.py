"""The medcouple, a robust measure of skewness (Brys, Hubert & Struyf 2004), in O(n log n)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.quantiles import Floats

Places = NDArray[np.int64]


def medcouple(ordered: Floats) -> float:
    """The median of h(x, y) = ((y − m) − (m − x)) / (y − x) over x ≤ m ≤ y for rising ``ordered`` (shape (n,), n ≥ 1).

    Pairs of values tied with the median get the sign of their places. The median is found by discarding parts of the
    sorted matrix of h (Johnson & Mizoguchi 1978), never forming it.
    """
    n = len(ordered)
    middle = (ordered[(n - 1) // 2] + ordered[n // 2]) / 2
    z = ordered - middle
    scale = max(abs(float(z[0])), abs(float(z[-1])))
    if scale == 0:
        return 0.0
    z = z / scale
    matrix = _Matrix(z[z >= 0][::-1], z[z <= 0][::-1])
    total = matrix.rows * matrix.columns
    result = [_kth(matrix, rank) for rank in dict.fromkeys([(total - 1) // 2, total // 2])]
    return sum(result) / len(result)


class _Matrix:
    """h over the upper values (rows) and the lower ones (columns), both falling: it falls along rows and columns."""

    def __init__(self, upper: Floats, lower: Floats) -> None:
        self.upper, self.lower = upper, lower
        self.rows, self.columns = len(upper), len(lower)
        self.all_rows = np.arange(self.rows)

    def at(self, i: Places, j: Places) -> Floats:
        """The values at places inside the matrix."""
        a, b = self.upper[i], self.lower[j]
        with np.errstate(invalid="ignore", divide="ignore"):
            value = (a + b) / (a - b)
        # Both tied with the median: −1, 0 or 1 by their places among the ties.
        return np.asarray(np.where((a == 0) & (b == 0), np.sign(self.rows - 1 - i - j), value), dtype=np.float64)

    def beyond(self, pivot: float, strictly: bool) -> Places:
        """For each row how many values stand before those ≤ ``pivot`` (``strictly``: before those < ``pivot``)."""
        if pivot > -1:
            edge = self.upper * ((pivot - 1) / (pivot + 1))
            first = np.searchsorted(-self.lower, -edge, side="left").astype(np.int64)
        else:
            # Above the median h is greater than −1.
            first = np.full(self.rows, self.columns, dtype=np.int64)
        tied = self.upper == 0
        if tied.any():
            step = 0 if pivot > 0 or (pivot == 0 and not strictly) else 1
            least = 1 if strictly else 0
            ahead = self.rows - 1 - self.all_rows[tied] + step
            first[tied] = 0 if pivot > 1 or (pivot == 1 and not least) else ahead
            if pivot < -1 or (pivot == -1 and strictly):
                first[tied] = self.columns
        # The quotient above may round to either side; look at the neighbours.
        for _ in range(3):
            back = first > 0
            back[back] = self._fits(self.all_rows[back], first[back] - 1, pivot, strictly)
            first[back] -= 1
            on = first < self.columns
            on[on] = ~self._fits(self.all_rows[on], first[on], pivot, strictly)
            first[on] += 1
            if not back.any() and not on.any():
                break
        return first

    def _fits(self, i: Places, j: Places, pivot: float, strictly: bool) -> NDArray[np.bool_]:
        values = self.at(i, j)
        return np.asarray(values < pivot if strictly else values <= pivot)


def _kth(matrix: _Matrix, rank: int) -> float:
    """The value of ascending ``rank`` (from 0): rows are narrowed about a weighted median of their middles."""
    goal = matrix.rows * matrix.columns - 1 - rank
    left, right = np.zeros(matrix.rows, dtype=np.int64), np.full(matrix.rows, matrix.columns, dtype=np.int64)
    while (still := int((right - left).sum())) > matrix.rows:
        live = np.flatnonzero(right > left)
        middles = matrix.at(live, (left[live] + right[live]) // 2)
        weights = right[live] - left[live]
        order = np.argsort(middles, kind="stable")
        half = int(np.searchsorted(np.cumsum(weights[order]), weights.sum() / 2))
        pivot = float(middles[order[min(half, len(order) - 1)]])
        larger, at_least = matrix.beyond(pivot, False), matrix.beyond(pivot, True)
        if goal < larger.sum():
            right = np.minimum(right, larger)
        elif goal >= at_least.sum():
            left = np.maximum(left, at_least)
        else:
            return pivot
        if int((right - left).sum()) == still:
            break
    width = np.maximum(right - left, 0)
    row = np.repeat(matrix.all_rows, width)
    place = np.arange(len(row)) - np.repeat(np.cumsum(width) - width, width) + np.repeat(left, width)
    rest = np.sort(matrix.at(row, place))[::-1]
    return float(rest[goal - int(left.sum())])
