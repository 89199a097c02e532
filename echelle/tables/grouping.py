"""Rows that agree."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from echelle.tables.table import Table


def groups_of(table: Table, names: list[str]) -> tuple[NDArray[np.int64], int]:
    """Each row's group (rows that agree in every column), numbered by first appearance; and how many groups there are.

    Missing cells agree with one another.
    """
    codes = np.zeros(table.rows, dtype=np.int64)
    for name in names:
        column = table.column(name)
        here = column.codes.astype(np.int64) + 1
        joined = codes * (len(column.levels) + 1) + here
        _, codes = np.unique(joined, return_inverse=True)
    firsts = np.unique(codes, return_index=True)[1]
    rank = np.empty(len(firsts), dtype=np.int64)
    rank[np.argsort(firsts, kind="stable")] = np.arange(len(firsts))
    return rank[codes], len(firsts)
