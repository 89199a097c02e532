"""How long comparisons, limits and resampling take: python -m benchmarks.differences.

The interval of the median and the medcouple as ratios to numpy.sort of the same values, all else in seconds; medians of several
runs, each beside its limit.
"""

from __future__ import annotations

import statistics
import sys
import time
from collections.abc import Callable
from functools import partial

import click
import numpy as np

from echelle.comparison.lane_differences import compare_lanes
from echelle.figures.lanes.arrange import arrange
from echelle.numbers.bandwidth import bandwidth_of
from echelle.numbers.differences.anova import anova_of_ranks
from echelle.numbers.differences.mixed import mixed_difference
from echelle.numbers.differences.paired import within_subjects
from echelle.numbers.differences.reference_limits import reference_limits
from echelle.numbers.intervals import median_interval
from echelle.numbers.medcouple import medcouple
from echelle.numbers.point_spread import swarm
from echelle.recipes.differences import Differences
from echelle.recipes.forms import recipe_of_form
from echelle.tables.column_builders import measure_of, words_of
from echelle.tables.table import Table

RNG = np.random.default_rng(11)
Effort = tuple[str, Callable[[], object], float]


def timed(act: Callable[[], object]) -> float:
    began = time.perf_counter()
    act()
    return time.perf_counter() - began


def efforts() -> list[Effort]:
    """What is done, and how many seconds it may take."""
    import polars as pl

    values = np.round(RNG.lognormal(2, 0.5, 15_500), 2)
    groups = pl.Series([f"g{code}" for code in RNG.integers(0, 9, len(values))], dtype=pl.String)
    table = Table((measure_of("level", values), words_of("group", "category", groups)), len(values))
    lanes = arrange(recipe_of_form("means", "level", "group"), table)
    normal = np.sort(RNG.normal(size=5_000))
    people = RNG.integers(0, 3_000, 20_000).astype(np.int32)
    rows = np.round(10 + RNG.normal(size=3_000)[people] + RNG.normal(size=20_000), 2)
    many = np.round(RNG.normal(37, 1, 1_000_000), 1)
    subjects = RNG.integers(0, 100_000, len(many)).astype(np.int32)
    half = len(many) // 2
    right = np.round(RNG.gamma(5, 2, 1_000_000), 2) + 0.01
    return [
        ("compare of 15 500 rows in 9 groups, to a reference", lambda: compare_lanes(lanes, Differences()), 2.0),
        ("the same, all 36 pairs", lambda: compare_lanes(lanes, Differences(to="all pairs")), 4.0),
        ("reference limits without a distribution of 1e6 values", lambda: reference_limits(right), 1.0),
        ("robust limits of 300 values", lambda: reference_limits(right[:300], "robust"), 0.3),
        ("robust limits of 1e5 values", lambda: reference_limits(right[:100_000], "robust"), 3.0),
        ("Box–Cox limits of 1e5 values", lambda: reference_limits(right[:100_000], "Box–Cox"), 1.0),
        ("cross-validated bandwidth of 5 000 values", lambda: bandwidth_of(normal, "cross-validation"), 0.3),
        ("Sheather–Jones bandwidth of 5 000 values", lambda: bandwidth_of(normal, "sheather-jones"), 0.2),
        ("ranks in two factors of 20 000 rows", lambda: anova_of_ranks(rows, people % 4, people // 4 % 5, ("a", "b")), 1.0),
        (
            "mixed model of 20 000 rows",
            lambda: mixed_difference(rows[:10_000], people[:10_000], rows[10_000:], people[10_000:]), 2.0,
        ),
        (
            "medians of 1e5 subjects, 1e6 rows",
            lambda: within_subjects(many[:half], subjects[:half], many[half:], subjects[half:], "median"), 1.0,
        ),
        ("a swarm of 3 000 points", lambda: swarm(150 + 30 * normal[:3_000], np.arange(3_000), 3.0, 40.0), 0.3),
    ]  # fmt: skip


@click.command()
@click.option("--runs", default=3)
def main(runs: int) -> None:
    """Measure."""
    failed = False

    def tell(what: str, value: float, limit: float, unit: str) -> None:
        nonlocal failed
        failed |= value > limit
        click.echo(f"{what:<60} {value:8.2f} {unit:<2} limit {limit:g}{'   <-- over' if value > limit else ''}")

    many = np.sort(RNG.normal(size=1_000_000))
    tied = np.sort(np.where(RNG.random(100_000) < 0.6, 0.0, RNG.lognormal(size=100_000)))
    shuffled = {len(values): RNG.permutation(values) for values in (many, tied)}
    for what, act, values, limit in (
        ("interval of the median of 1e6 values, times numpy.sort", lambda: median_interval(many), many, 2.0),
        ("medcouple of 1e5 values with ties, times numpy.sort", lambda: medcouple(tied), tied, 60.0),
    ):
        act()
        mixed = shuffled[len(values)]
        ratios = [timed(act) / timed(partial(np.sort, mixed)) for _ in range(7)]
        tell(what, statistics.median(ratios), limit, "×")
    for what, act, limit in efforts():
        act()
        tell(what, statistics.median(timed(act) for _ in range(runs)), limit, "s")
    sys.exit(int(failed))


if __name__ == "__main__":
    main()
