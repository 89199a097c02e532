"""Counting a folder of Parquet files against a plain streaming scan of the same columns: python -m benchmarks.far [--rows N …].

Wall and processor time as ratios, medians of interleaved pairs in one run, each in a process of its own; the peak of memory;
and how long figures take of what was counted. In steps of a tenth, and in no steps: then every number of the ledger is exact,
by a second pass over the files.
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
import numpy as np

from demo.network import write_network

LIMITS = {"steps": 4.0, "floats": 10.0}
_FILES = 40


def write_floats(folder: Path, rows: int) -> None:
    """Values in no steps, of twelve sites in every file."""
    import polars as pl

    folder.mkdir(parents=True)
    for place in range(_FILES):
        rng = np.random.default_rng([41, place])
        site = rng.integers(0, 12, rows // _FILES)
        values = rng.gamma(4.0, 2.0 + 0.1 * site)
        frame = pl.DataFrame({"site": np.array([f"Site {name}" for name in "ABCDEFGHIJKL"])[site], "glucose (mmol/l)": values})
        frame.write_parquet(folder / f"part-{place:02}.parquet", row_group_size=250_000)


def scan(folder: Path) -> None:
    """Every value of the two columns is read and looked at once."""
    import polars as pl

    frame = pl.scan_parquet(folder / "**/*.parquet", hive_partitioning=False)
    frame.select(pl.col("site").str.len_bytes().sum(), pl.col("glucose (mmol/l)").sum()).collect(engine="streaming")


def count(folder: Path) -> None:
    """Every file is counted, what came of them made one table, and that described."""
    from echelle.command_line.lane_readings import describe_lanes
    from echelle.command_line.rows import rows_for

    describe_lanes(rows_for(folder, None, 0), ["glucose"], "site")


def drawn(folder: Path) -> float:
    """The median time of a scene with twelve forms' worth of curves, drawn again of what was counted."""
    from echelle.far.far_table import FarTable
    from echelle.recipes.forms import recipe_of_form
    from echelle.render import scene_of

    far, recipe = FarTable.at(str(folder)), recipe_of_form("raincloud", "glucose", "site")
    table = far.count({"glucose": far.question("glucose", ["site"])}, lambda rows: scene_of(recipe, rows))
    times = []
    for _ in range(9):
        began = time.perf_counter()
        scene_of(recipe, table)
        times.append(time.perf_counter() - began)
    return statistics.median(times)


WAYS = {"scan": scan, "count": count}


def one(way: str, folder: Path) -> None:
    """Do it once to load what it needs, then print wall, processor and peak of a second time."""
    WAYS[way](folder)
    before, began = _cpu(), time.perf_counter()
    WAYS[way](folder)
    wall, cpu = time.perf_counter() - began, _cpu() - before
    click.echo(f"{wall} {cpu} {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024}")


def _cpu() -> float:
    used = resource.getrusage(resource.RUSAGE_SELF)
    return used.ru_utime + used.ru_stime


@click.command()
@click.option("--rows", "sizes", multiple=True, type=int, default=(1_000_000, 10_000_000), show_default=True)
@click.option("--pairs", default=3, show_default=True)
@click.option("--one", "way", default=None, hidden=True)
@click.option("--folder", type=click.Path(path_type=Path), default=None, help="Where files are made, or lie already.")
def main(sizes: tuple[int, ...], pairs: int, way: str | None, folder: Path | None) -> None:
    """Measure both ways in turn, for each number of rows."""
    if way is not None:
        assert folder is not None, "one way is measured of a folder"
        one(way, folder)
        return
    worst = 0.0
    for kind, limit in LIMITS.items():
        for rows in sizes:
            with tempfile.TemporaryDirectory() as made:
                place = (folder or Path(made)) / f"{kind}-{rows}"
                if not place.exists():
                    (write_network if kind == "steps" else write_floats)(place, rows)
                worst = max(worst, _measure(kind, rows, place, pairs) / limit)
    sys.exit(0 if worst <= 1 else 1)


def _measure(kind: str, rows: int, folder: Path, pairs: int) -> float:
    results: dict[str, list[list[float]]] = {name: [] for name in WAYS}
    for _ in range(pairs):
        for name in WAYS:
            words = [sys.executable, "-m", "benchmarks.far", "--one", name, "--folder", str(folder)]
            results[name].append(
                [float(word) for word in subprocess.run(words, capture_output=True, check=True).stdout.split()]
            )
    wall, cpu = (
        statistics.median(mine[at] / other[at] for mine, other in zip(results["count"], results["scan"], strict=True))
        for at in (0, 1)
    )
    seconds, peak = (statistics.median(run[at] for run in results["count"]) for at in (0, 2))
    click.echo(
        f"{rows:>13,} rows, {kind}: in {seconds:.2f} s, {wall:.1f} × the scan’s wall, {cpu:.1f} × its processor time "
        f"(limit {LIMITS[kind]:g}), peak {peak:.0f} MB; a raincloud of it {1000 * drawn(folder):.0f} ms"
    )
    return wall


if __name__ == "__main__":
    main()
