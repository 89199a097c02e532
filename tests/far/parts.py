"""Made-up tables in many files."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from pathlib import Path

import numpy as np
import polars as pl

MEASURE = "potassium"


def log(rows: int, seed: int = 3) -> pl.DataFrame:
    """An analyser's log: ward, sex, age, a measure in steps of 0.1 with gaps."""
    rng = np.random.default_rng(seed)
    ward = rng.integers(0, 5, rows)
    values = np.round(rng.normal(4 + 0.2 * ward, 0.5, rows), 1)
    values[rng.random(rows) < 0.002] += 4.0
    return pl.DataFrame(
        {
            "ward": [f"Ward {'ABCDE'[code]}" for code in ward],
            "potassium (mmol/l)": pl.Series(values).set(pl.Series(rng.random(rows) < 0.03), None),
            "sex": np.array(["female", "male"])[rng.integers(0, 2, rows)],
            "age": rng.integers(18, 90, rows),
        }
    )


def write_parts(frame: pl.DataFrame, folder: Path, cuts: Sequence[int], file_format: str = "parquet") -> Path:
    """The frame cut at some rows into files of its order."""
    folder.mkdir(parents=True, exist_ok=True)
    ends = [0, *sorted(cuts), frame.height]
    for place, (start, end) in enumerate(pairwise(ends)):
        part = frame.slice(start, end - start)
        if file_format == "csv":
            part.write_csv(folder / f"part-{place:03}.csv")
        else:
            part.write_parquet(folder / f"part-{place:03}.parquet", row_group_size=500)
    return folder
