"""The numbers against NumPy's own passes over a million values: python -m benchmarks.numbers.

Prints medians of interleaved pairs in one run, as ratios, and memory as a multiple of the input.
"""

from __future__ import annotations

import statistics
import sys
import time
import tracemalloc
from collections.abc import Callable

import click
import numpy as np

from echelle.figures.lanes.lane import Lane
from echelle.figures.lanes.readings import ReadingRules, read_lane
from echelle.numbers.bandwidth import bandwidth_of
from echelle.numbers.density import density_curve
from echelle.numbers.medcouple import medcouple

ROWS, LANES = 1_000_000, 12


def density_of(values: np.ndarray) -> None:
    """Silverman's bandwidth and the gaussian density on 512 points, from unsorted values."""
    ordered = np.sort(values)
    bandwidth = bandwidth_of(ordered, "silverman").value
    assert bandwidth is not None
    density_curve(ordered, bandwidth)


def lanes_of(values: np.ndarray, codes: np.ndarray) -> None:
    """Readings with fences and outliers, and the density, of every lane."""
    order = np.argsort(codes, kind="stable")
    ends = np.cumsum(np.bincount(codes, minlength=LANES))
    for number, rows in enumerate(np.split(order, ends[:-1])):
        lane = Lane(
            key=f"g{number}",
            group=None,
            name="",
            values=values[rows],
            rows=rows + 1,
            people=None,
            missing=0,
            censored=0,
            left_out=0,
        )
        read_lane(lane, ReadingRules(), 200)
        bandwidth = bandwidth_of(lane.ordered, "silverman").value
        assert bandwidth is not None
        density_curve(lane.ordered, bandwidth)


def timed(act: Callable[[], object]) -> float:
    began = time.perf_counter()
    act()
    return time.perf_counter() - began


@click.command()
@click.option("--pairs", default=7)
def main(pairs: int) -> None:
    """Measure."""
    rng = np.random.default_rng(7)
    values = rng.lognormal(2.0, 0.5, ROWS)
    codes = rng.integers(0, LANES, ROWS).astype(np.int8)

    def sort() -> object:
        return np.sort(values)

    lines: list[tuple[str, Callable[[], object], Callable[[], object], float | None]] = [
        (
            "density of 1e6 values on 512 points, times numpy.histogram(x, 512)",
            lambda: density_of(values),
            lambda: np.histogram(values, 512),
            3.0,
        ),
        ("readings, density, fences of 12 lanes, times numpy.sort", lambda: lanes_of(values, codes), sort, 8.0),
        ("medcouple of 1e5 values, times numpy.sort of 1e6", lambda: medcouple(np.sort(values[:100_000])), sort, None),
    ]
    failed = False
    for what, ours, theirs, limit in lines:
        ours(), theirs()
        ratios = [timed(ours) / timed(theirs) for _ in range(pairs)]
        ratio = statistics.median(ratios)
        over = limit is not None and ratio > limit
        failed |= over
        click.echo(f"{what:<68} {ratio:6.1f}" + (f"   limit {limit:g}{'   <-- over' if over else ''}" if limit else ""))
    tracemalloc.start()
    density_of(values)
    click.echo(f"memory of the density, times the values {tracemalloc.get_traced_memory()[1] / values.nbytes:34.1f}")
    tracemalloc.stop()
    features = np._core._multiarray_umath.__cpu_features__  # type: ignore[attr-defined]
    click.echo("NumPy's CPU features: " + " ".join(sorted(name for name, there in features.items() if there)))
    sys.exit(int(failed))


if __name__ == "__main__":
    main()
