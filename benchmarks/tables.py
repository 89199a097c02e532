"""Reading large tables against polars' own readers: python -m benchmarks.tables.

Prints ratios of times (medians of interleaved pairs) and the peak of memory as a multiple of the file, each in a process of its
own, and the seconds that a table of 1 700 columns takes.
"""

from __future__ import annotations

import re
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import click
import numpy as np

from demo.make import SEED, analyser_log

_CSV, _PARQUET, _LANES = "log.csv", "log.parquet", "lanes.csv"
_SORTED = "import polars, numpy, sys; numpy.sort(polars.read_csv(sys.argv[1])['level'].to_numpy())"
_DESCRIBE = "from echelle.command_line.main import main; main()"
_WIDE = (24, 1_700)
_LIMITS = {
    "log.csv, times polars": 4.0,
    "log.csv, memory, times the file": 6.0,
    "log.parquet, times polars": 1.5,
    "describe of 12 lanes, times reading and sorting": 3.0,
    "24 rows × 1 700 columns, seconds": 1.0,
}


def measure(way: str, path: str) -> None:
    """Read once and print seconds and peak bytes over what the imports took."""
    from echelle.tables.reading.read import read_bytes  # isort: skip
    import polars as pl

    before = peak_bytes()
    began = time.perf_counter()
    if way == "polars":
        pl.read_parquet(path) if path.endswith(".parquet") else pl.read_csv(path)
    else:
        read_bytes(Path(path).read_bytes())
    seconds = time.perf_counter() - began
    click.echo(f"{seconds} {peak_bytes() - before}")


def peak_bytes() -> int:
    """The most memory that this process had (what getrusage says counts its parent's too)."""
    match = re.search(r"VmHWM:\s+(\d+) kB", Path("/proc/self/status").read_text())
    assert match is not None
    return int(match[1]) * 1024


def in_process(way: str, path: Path) -> tuple[float, float]:
    """Seconds and bytes of reading in a process of its own."""
    words = [sys.executable, "-m", "benchmarks.tables", "--one", way, "--path", str(path)]
    seconds, peak = subprocess.run(words, capture_output=True, check=True).stdout.split()
    return float(seconds), float(peak)


def whole_process(words: list[str]) -> float:
    """The seconds of a command."""
    began = time.perf_counter()
    subprocess.run([sys.executable, *words], capture_output=True, check=True)
    return time.perf_counter() - began


def tables_in(folder: Path, rows: int) -> bytes:
    """A log as CSV and as Parquet, a table of 12 lanes, and the bytes of a wide one."""
    import polars as pl

    rng = np.random.default_rng(SEED + 1)
    analyser_log(folder / _CSV, rows, rng)
    pl.read_csv(folder / _CSV).write_parquet(folder / _PARQUET)
    groups = np.array([f"lane {place}" for place in range(12)])[rng.integers(0, 12, rows)]
    pl.DataFrame({"group": groups, "level": np.round(rng.lognormal(2, 0.5, rows), 2)}).write_csv(folder / _LANES)
    height, width = _WIDE
    wide = {f"gene {place}": np.round(rng.lognormal(1, 1, height), 3) for place in range(width)}
    return pl.DataFrame({"sample": [f"S{row}" for row in range(height)]} | wide).write_csv().encode()


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
    from echelle.tables.reading.read import read_bytes

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        wide = tables_in(folder, rows)
        size = (folder / _CSV).stat().st_size
        measured: dict[str, list[float]] = {what: [] for what in _LIMITS}
        for _ in range(pairs):
            for file in (_CSV, _PARQUET):
                (plain, _), (ours, peak) = (in_process(way, folder / file) for way in ("polars", "echelle"))
                measured[f"{file}, times polars"].append(ours / plain)
                if file == _CSV:
                    measured[f"{file}, memory, times the file"].append(peak / size)
            words = ["-c", _DESCRIBE, "describe", str(folder / _LANES), "--measure", "level", "--groups", "group"]
            plain = whole_process(["-c", _SORTED, str(folder / _LANES)])
            measured["describe of 12 lanes, times reading and sorting"].append(whole_process(words) / plain)
            began = time.perf_counter()
            read_bytes(wide)
            measured["24 rows × 1 700 columns, seconds"].append(time.perf_counter() - began)
    click.echo(f"{rows:,} rows × 8 columns, {size / 1e6:.1f} MB, {pairs} pairs")
    failed = False
    for what, limit in _LIMITS.items():
        ratio = statistics.median(measured[what])
        failed |= ratio > limit
        click.echo(f"{what:<50} {ratio:5.1f}   limit {limit:g}{'' if ratio <= limit else '   <-- over the limit'}")
    sys.exit(int(failed))


if __name__ == "__main__":
    main()
