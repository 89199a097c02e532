"""Reading a CSV of a million rows against polars' own reader: python -m benchmarks.tables.

Prints the ratio of times (median of interleaved pairs) and the peak of memory as a multiple of the file, each in a
process of its own.
"""

from __future__ import annotations

import resource
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import click

from demo.make import SEED, analyser_log

LIMIT_TIME, LIMIT_MEMORY = 4.0, 6.0


def measure(way: str, path: str) -> None:
    """Read once and print seconds and peak bytes over what the imports took."""
    from echelle.tables.reading.read import read_bytes  # isort: skip
    import polars as pl

    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    began = time.perf_counter()
    if way == "polars":
        pl.read_csv(path)
    else:
        read_bytes(Path(path).read_bytes())
    seconds = time.perf_counter() - began
    click.echo(f"{seconds} {(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) * 1024}")


@click.command()
@click.option("--rows", default=1_000_000)
@click.option("--pairs", default=7)
@click.option("--one", "way", default=None, hidden=True)
@click.option("--path", default="", hidden=True)
def main(rows: int, pairs: int, way: str | None, path: str) -> None:
    """Measure both ways in turn."""
    if way is not None:
        measure(way, path)
        return
    import numpy as np

    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "log.csv"
        analyser_log(file, rows, np.random.default_rng(SEED + 1))
        size = file.stat().st_size
        times: list[float] = []
        memory: list[float] = []
        for _ in range(pairs):
            results = {}
            for name in ("polars", "echelle"):
                words = [sys.executable, "-m", "benchmarks.tables", "--one", name, "--path", str(file)]
                results[name] = [float(w) for w in subprocess.run(words, capture_output=True, check=True).stdout.split()]
            times.append(results["echelle"][0] / results["polars"][0])
            memory.append(results["echelle"][1] / size)
    ratio, peak = statistics.median(times), statistics.median(memory)
    click.echo(f"{rows:,} rows × 8 columns, {size / 1e6:.1f} MB, {pairs} pairs")
    for what, measured_ratio, limit in (
        ("time, times polars.read_csv", ratio, LIMIT_TIME),
        ("memory, times the file", peak, LIMIT_MEMORY),
    ):
        click.echo(
            f"{what:<28} {measured_ratio:5.1f}   limit {limit:g}{'' if measured_ratio <= limit else '   <-- over the limit'}"
        )
    sys.exit(0 if ratio <= LIMIT_TIME and peak <= LIMIT_MEMORY else 1)


if __name__ == "__main__":
    main()
