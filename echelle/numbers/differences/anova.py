"""Two factors: the difference of differences, and analysis of variance with a companion by ranks."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.decimals import decimals_of, mean_and_squares, rounded
from echelle.numbers.differences.estimate import Estimate, nothing
from echelle.numbers.differences.lane_sums import lane_sums
from echelle.numbers.differences.means import welch_estimate
from echelle.numbers.remarks import remark
from echelle.numbers.sample import Floats

# Levels of the smaller factor up to which the additive model is solved in fractions.
_MOST_EXACT = 12


def difference_of_differences(cells: tuple[Floats, Floats, Floats, Floats], level: float = 0.95) -> Estimate:
    """(d − c) − (b − a) of the means of four cells a, b, c, d: how much the second pair differs more than the first. Variances
    apart, degrees of freedom by Satterthwaite (1946).
    """
    name = "difference of differences"
    n = (len(cells[0]) + len(cells[1]), len(cells[2]) + len(cells[3]))
    if min(map(len, cells)) < 2:
        return nothing(name, level, n, remark("needs-two-in-each-cell"))
    decimals, sums = lane_sums(*cells)
    note = remark("no-spread-in-any-cell")
    return welch_estimate(name, decimals, sums, (1, -1, -1, 1), level=level, n=n, no_spread=note)


@dataclass(frozen=True)
class VarianceLine:
    """One line of an analysis of variance; F and p are None for the residual line."""

    source: str
    squares: float
    df: int
    mean_square: float | None
    f: float | None
    p: float | None


def anova_two(
    values: Floats, first: NDArray[np.int32], second: NDArray[np.int32], names: tuple[str, str]
) -> list[VarianceLine]:
    """Analysis of variance of two crossed factors, type II sums of squares (each main effect after the other, the interaction
    after both; Langsrud 2003). Empty where a cell has no value or nothing is left for the residual.
    """
    from scipy.special import fdtrc

    table = _CellTable.of(values, first, second)
    if table is None:
        return []
    df_residual = table.n - table.counts.size
    rows, columns = table.counts.shape
    residual = table.within / df_residual
    of_a, of_b, both = table.of_rows, table.of_columns, table.together
    effects = (
        (names[0], table.between - both - of_b, rows - 1),
        (names[1], table.between - both - of_a, columns - 1),
        (f"{names[0]} × {names[1]}", both, (rows - 1) * (columns - 1)),
    )
    unit, lines = table.unit, []
    for source, squares, df in effects:
        square = max(Fraction(0), squares) / df
        f = None if residual == 0 else rounded(square / residual)
        p = None if f is None else float(fdtrc(df, df_residual, f))
        lines.append(VarianceLine(source, rounded(square * df * unit), df, rounded(square * unit), f, p))
    return [*lines, VarianceLine("residual", rounded(table.within * unit), df_residual, rounded(residual * unit), None, None)]


@dataclass(frozen=True, eq=False)
class _CellTable:
    """Values in crossed cells: how many and their sums (both of shape (rows, columns)), and sums of squares in squared steps:
    within the cells, and between them; ``unit`` is the square of a step.
    """

    n: int
    counts: NDArray[np.int64]
    sums: list[list[Fraction]]
    within: Fraction
    between: Fraction
    unit: Fraction

    @staticmethod
    def of(values: Floats, first: NDArray[np.int32], second: NDArray[np.int32]) -> _CellTable | None:
        """None where a factor has one level, a cell no value, or nothing is left for the residual."""
        a, b = _design_columns(first), _design_columns(second)
        rows, columns, n = int(a.max(initial=-1)) + 1, int(b.max(initial=-1)) + 1, len(values)
        if rows < 2 or columns < 2:
            return None
        cell = a * columns + b
        counts = np.bincount(cell, minlength=rows * columns)
        if not counts.all() or n <= rows * columns:
            return None
        decimals = decimals_of(values)
        [offsets] = decimals.samples
        order = np.argsort(cell, kind="stable")
        parts = [mean_and_squares(part, decimals.whole) for part in np.split(offsets[order], np.cumsum(counts)[:-1])]
        means, within = [mean for mean, _ in parts], sum((squares for _, squares in parts), Fraction(0))
        sums = [mean * int(count) for mean, count in zip(means, counts, strict=True)]
        whole = sum(sums, Fraction(0)) ** 2 / n
        between = sum((each * mean for each, mean in zip(sums, means, strict=True)), Fraction(0)) - whole
        lines = [sums[row * columns : (row + 1) * columns] for row in range(rows)]
        return _CellTable(n, counts.reshape(rows, columns), lines, within, between, decimals.step**2)

    def _main(self, axis: int) -> Fraction:
        """The sum of squares of one factor before the other; axis 1 for the rows."""
        sums = [sum(line, Fraction(0)) for line in (self.sums if axis else zip(*self.sums, strict=True))]
        counts = self.counts.sum(axis=axis).tolist()
        return sum((each**2 / count for each, count in zip(sums, counts, strict=True)), -(sum(sums, Fraction(0)) ** 2) / self.n)

    @property
    def of_rows(self) -> Fraction:
        """Of the first factor alone."""
        return self._main(1)

    @property
    def of_columns(self) -> Fraction:
        """Of the second factor alone."""
        return self._main(0)

    @cached_property
    def together(self) -> Fraction:
        """What both factors, added, leave between the cells: exact where a factor has few levels, else by least squares."""
        counts, sums = self.counts.tolist(), self.sums
        if len(counts) < len(counts[0]):
            counts, sums = ([list(line) for line in zip(*table, strict=True)] for table in (counts, sums))
        if len(counts[0]) > _MOST_EXACT:
            return self._by_least_squares()
        ends = _additive_fit(counts, sums)
        rows = [
            (sum(line, Fraction(0)) - sum((n * end for n, end in zip(numbers, ends, strict=True)), Fraction(0))) / sum(numbers)
            for numbers, line in zip(counts, sums, strict=True)
        ]
        return sum(
            (
                (each / n - row - end) ** 2 * n
                for row, numbers, line in zip(rows, counts, sums, strict=True)
                for n, each, end in zip(numbers, line, ends, strict=True)
            ),
            Fraction(0),
        )

    def _by_least_squares(self) -> Fraction:
        rows, columns = self.counts.shape
        means = np.array([[rounded(each) for each in line] for line in self.sums]) / self.counts
        weights = np.sqrt(self.counts).ravel()
        design = np.hstack([np.repeat(np.eye(rows), columns, axis=0), np.tile(np.eye(columns)[:, 1:], (rows, 1))])
        wanted = (means - means.mean()).ravel()
        fitted = design @ np.linalg.lstsq(design * weights[:, None], wanted * weights, rcond=None)[0]
        return Fraction(float(((weights * (wanted - fitted)) ** 2).sum()))


def _additive_fit(counts: list[list[int]], sums: list[list[Fraction]]) -> list[Fraction]:
    """The effects of the columns (the first is 0) in the model that adds rows and columns, by the normal equations from which
    the rows are eliminated.
    """
    width = len(counts[0])
    matrix = [[Fraction(0)] * width for _ in range(width)]
    for numbers, line in zip(counts, sums, strict=True):
        n, whole = sum(numbers), sum(line, Fraction(0))
        for i in range(1, width):
            for j in range(1, width):
                matrix[i][j] += Fraction(numbers[i] if i == j else 0) - Fraction(numbers[i] * numbers[j], n)
            matrix[i][0] += line[i] - numbers[i] * whole / n
    return _solve(matrix)


def _solve(matrix: list[list[Fraction]]) -> list[Fraction]:
    """Elimination: the right side stands in column 0, whose own unknown is 0."""
    width = len(matrix)
    for pivot in range(1, width):
        for row in range(1, width):
            if row != pivot:
                factor = matrix[row][pivot] / matrix[pivot][pivot]
                matrix[row] = [a - factor * b for a, b in zip(matrix[row], matrix[pivot], strict=True)]
    return [Fraction(0), *(matrix[i][0] / matrix[i][i] for i in range(1, width))]


def anova_of_ranks(
    values: Floats, first: NDArray[np.int32], second: NDArray[np.int32], names: tuple[str, str]
) -> list[VarianceLine]:
    """The companion by ranks: each effect is aligned (the others taken off), ranked and tested (Higgins & Tashtoush 1994)."""
    from scipy.stats import rankdata

    a, b = _design_columns(first), _design_columns(second)
    plain = anova_two(values, first, second, names)
    if not plain:
        return []
    columns = b.max() + 1
    cell = a * columns + b
    decimals = decimals_of(values)
    [values] = decimals.samples
    mean, of_a, of_b, of_cell = values.mean(), _means(values, a), _means(values, b), _means(values, cell)
    inside = values - of_cell
    effects = (of_a - mean, of_b - mean, of_cell - of_a - of_b + mean)
    result = []
    for place, effect in enumerate(effects):
        # Equal sums differ in their last digits: they are ties.
        aligned = np.round(inside + effect, 9 if decimals.whole else 12)
        result.append(anova_two(rankdata(aligned), first, second, names)[place])
    return result


def _design_columns(codes: NDArray[np.int32]) -> NDArray[np.intp]:
    return np.asarray(np.unique(codes, return_inverse=True)[1], dtype=np.intp)


def _means(values: Floats, codes: NDArray[np.intp]) -> Floats:
    return np.asarray((np.bincount(codes, values) / np.bincount(codes))[codes], dtype=np.float64)
