"""What stands for a missing cell: among numbers every usual mark, among words only a mark that stands apart from them."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence

MISSING_MARKS = frozenset(
    ["NA", "N/A", "n/a", "na", "NaN", "nan", "NULL", "null", "ND", "nd", "n.d.", "QNS", "qns", "-", "–", "—", ".", "..",
     "#N/A", "#NA", "?", "missing", "Missing", "NR", "--", "---", "***", "<NA>", "N.A.", "n.a.", "k.A.", "k. A."]
)  # fmt: skip
ERROR_CELLS = frozenset(
    ["#DIV/0!", "#REF!", "#VALUE!", "#NAME?", "#NUM!", "#NULL!", "#N/A N/A", "#SPILL!", "#CALC!", "#WERT!", "#BEZUG!",
     "#ZAHL!", "#NV", "#VALOR!", "#NOM?", "#NOMBRE?", "#VALEUR!", "#####", "########"]
)  # fmt: skip
_ENOUGH = 2
_SIGNS = frozenset(["+", "++", "+++", "(+)", "±", "+/-"])


def is_missing_mark(text: str) -> bool:
    """Whether a cell among numbers means that there is none."""
    return text in MISSING_MARKS or text in ERROR_CELLS


def marks_among(levels: Sequence[str], evidence: Collection[str] = ()) -> set[str]:
    """Those of a word column's distinct texts that mean missing.

    Error cells always do. A mark of letters does unless other levels are written like it: "NA" and "ND" among the codes of
    states are states. Where few levels are, ``evidence`` (marks that stand among numbers of the same file) decides. A dash
    beside "+" is a result.
    """
    result = {text for text in levels if text in ERROR_CELLS}
    for mark in (text for text in levels if text in MISSING_MARKS):
        if mark[0] in "-–—" and any(level in _SIGNS for level in levels):
            continue
        if mark.isalpha() and mark.lower() not in ("missing", "null", "nan"):
            alike = [level for level in levels if level not in MISSING_MARKS and _shape(level) == _shape(mark)]
            many = len(alike) >= _ENOUGH and len(alike) >= 0.5 * (len(levels) - 1)
            if many and (len(alike) >= 8 or mark not in evidence):
                continue
        result.add(mark)
    return result


def _shape(text: str) -> str:
    return re.sub("[A-ZÄÖÜ]", "A", re.sub("[a-zäöüß]", "a", text))
