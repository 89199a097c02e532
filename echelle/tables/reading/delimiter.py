"""Which character separates the cells."""

from __future__ import annotations

import csv
import io
from collections import Counter

DELIMITERS = ("\t", ";", ",", "|")
_SAMPLE_LINES = 200


def delimiter_of(text: str) -> str:
    """The separator under which most lines hold the same number of cells, more than one.

    Ties go to the one earlier in :data:`DELIMITERS`; a table of one column gets a comma.
    """
    sample = "\n".join(text.split("\n")[:_SAMPLE_LINES])
    best, best_score = ",", 0.0
    for delimiter in DELIMITERS:
        if delimiter not in sample:
            continue
        widths = Counter(len(row) for row in csv.reader(io.StringIO(sample), delimiter=delimiter) if any(row))
        width, lines = max(widths.items(), key=lambda item: (item[1], item[0]))
        if width < 2:
            continue
        score = lines / widths.total()
        if score > best_score + 1e-9:
            best, best_score = delimiter, score
    return best
