"""Two factors: the difference of differences, and analysis of variance with a companion by ranks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from echelle.numbers.differences.estimate import Estimate, nothing
from echelle.numbers.differences.means import welch_estimate
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import Floats
from echelle.numbers.remarks import remark


def difference_of_differences(cells: tuple[Floats, Floats, Floats, Floats], level: float = 0.95) -> Estimate:
    """(d − c) − (b − a) of the means of four cells a, b, c, d: how much the second pair differs more than the first. Variances
    apart, degrees of freedom by Satterthwaite (1946).
    """
    name = "difference of differences"
    n = (len(cells[0]) + len(cells[1]), len(cells[2]) + len(cells[3]))
    shapes = [moments(cell) for cell in cells]
    if min(map(len, cells)) < 2:
        return nothing(name, level, n, remark("needs-two-in-each-cell"))
    a, b, c, d = (shape.mean or 0.0 for shape in shapes)
    parts = tuple((shape.variance or 0.0) / len(cell) for shape, cell in zip(shapes, cells, strict=True))
    counts = tuple(map(len, cells))
    note = remark("no-spread-in-any-cell")
    return welch_estimate(name, (d - c) - (b - a), parts, counts, level=level, n=n, no_spread=note)


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
    from scipy import stats

    a, b = _design_columns(first), _design_columns(second)
    rows, columns = a.max(initial=-1) + 1, b.max(initial=-1) + 1
    cell = a * columns + b
    cells = rows * columns
    n = len(values)
    if rows < 2 or columns < 2 or len(np.unique(cell)) < cells or n <= cells:
        return []
    left = {
        "a": _residual(values, [a]), "b": _residual(values, [b]), "ab": _residual(values, [a, b]), 
        "cells": _residual(values, [cell]),
    }  # fmt: skip
    df_residual = n - cells
    residual = left["cells"] / df_residual
    lines = [
        (names[0], left["b"] - left["ab"], rows - 1),
        (names[1], left["a"] - left["ab"], columns - 1),
        (f"{names[0]} × {names[1]}", left["ab"] - left["cells"], (rows - 1) * (columns - 1)),
    ]
    result = []
    for source, squares, df in lines:
        square = max(0.0, squares) / int(df)
        f = square / residual if residual > 0 else None
        p = None if f is None else float(stats.f.sf(f, int(df), df_residual))
        result.append(VarianceLine(source, max(0.0, squares), int(df), square, f, p))
    return [*result, VarianceLine("residual", left["cells"], df_residual, residual, None, None)]


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
    mean, of_a, of_b, of_cell = values.mean(), _means(values, a), _means(values, b), _means(values, cell)
    inside = values - of_cell
    effects = (of_a - mean, of_b - mean, of_cell - of_a - of_b + mean)
    result = []
    for place, effect in enumerate(effects):
        # Equal sums differ in their last digits: they are ties.
        aligned = np.round(inside + effect, 10)
        result.append(anova_two(rankdata(aligned), first, second, names)[place])
    return result


def _design_columns(codes: NDArray[np.int32]) -> NDArray[np.intp]:
    return np.asarray(np.unique(codes, return_inverse=True)[1], dtype=np.intp)


def _means(values: Floats, codes: NDArray[np.intp]) -> Floats:
    return np.asarray((np.bincount(codes, values) / np.bincount(codes))[codes], dtype=np.float64)


def _residual(values: Floats, factors: list[NDArray[np.intp]]) -> float:
    """The sum of squares that a model of main effects leaves."""
    columns = [np.ones((len(values), 1))]
    for codes in factors:
        columns.append((codes[:, None] == np.arange(1, codes.max() + 1)[None, :]).astype(np.float64))
    design = np.hstack(columns)
    fitted, _, _, _ = np.linalg.lstsq(design, values, rcond=None)
    return float(((values - design @ fitted) ** 2).sum())
