"""How often each 95 % interval holds the true difference, by simulation: python -m benchmarks.coverage [--tries N].

Two lanes of n values each from a normal, a skewed (log-normal) and a tied (rounded normal) population; the second lane is
shifted or scaled. Seeded; prints a table for docs/differences.md and marks what falls short of 93.5 to 96.5 %.
"""

from __future__ import annotations

import time
from collections.abc import Callable

import click
import numpy as np

from echelle.numbers.differences.bootstrap import iqr_ratio, percentile_difference, sd_ratio
from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.differences.means import geometric_ratio, hedges_g, mean_difference, mean_ratio
from echelle.numbers.differences.paired import paired_mean, paired_median
from echelle.numbers.differences.ranks import hodges_lehmann, superiority
from echelle.numbers.sample import Floats

SIZES = (10, 30, 100)
KEPT = (0.935, 0.965)
_LARGE = 400_001
_RESAMPLES = 1_000
Draw = Callable[[np.random.Generator, int], Floats]
Interval = Callable[[Floats, Floats, int], Estimate]
Truth = Callable[[Floats, Floats], float]


def _normal(rng: np.random.Generator, n: int) -> Floats:
    return rng.normal(20.0, 2.0, n)


def _skewed(rng: np.random.Generator, n: int) -> Floats:
    return rng.lognormal(2.0, 0.5, n)


def _tied(rng: np.random.Generator, n: int) -> Floats:
    return np.maximum(1.0, np.round(rng.normal(10.0, 2.0, n)))


POPULATIONS: dict[str, Draw] = {"normal": _normal, "skewed": _skewed, "tied": _tied}


def _superiority(a: Floats, b: Floats) -> float:
    ordered = np.sort(a)
    below, above = np.searchsorted(ordered, b, "left"), np.searchsorted(ordered, b, "right")
    return float((below + above).mean() / 2 / len(a))


def _pooled(a: Floats, b: Floats) -> float:
    return float((b.mean() - a.mean()) / np.sqrt((a.var() + b.var()) / 2))


ESTIMATES: dict[str, tuple[Interval, Truth]] = {
    "difference of means": (lambda a, b, s: mean_difference(a, b), lambda a, b: float(b.mean() - a.mean())),
    "ratio of means": (lambda a, b, s: mean_ratio(a, b), lambda a, b: float(b.mean() / a.mean())),
    "ratio of geometric means": (
        lambda a, b, s: geometric_ratio(a, b), lambda a, b: float(np.exp(np.log(b).mean() - np.log(a).mean())),
    ),
    "Hedges g": (lambda a, b, s: hedges_g(a, b), _pooled),
    "Hodges–Lehmann shift": (
        lambda a, b, s: hodges_lehmann(a, b), lambda a, b: float(np.median(b[:2000, None] - a[None, :2000])),
    ),
    "probability of superiority": (lambda a, b, s: superiority(a, b), _superiority),
    "difference of medians": (
        lambda a, b, s: percentile_difference(a, b, 0.5, resamples=_RESAMPLES, seed=s).estimate,
        lambda a, b: float(np.median(b) - np.median(a)),
    ),
    "difference of 90 % percentiles": (
        lambda a, b, s: percentile_difference(a, b, 0.9, resamples=_RESAMPLES, seed=s).estimate,
        lambda a, b: float(np.quantile(b, 0.9) - np.quantile(a, 0.9)),
    ),
    "ratio of SDs": (
        lambda a, b, s: sd_ratio(a, b, resamples=_RESAMPLES, seed=s).estimate, lambda a, b: float(b.std() / a.std()),
    ),
    "ratio of IQRs": (
        lambda a, b, s: iqr_ratio(a, b, resamples=_RESAMPLES, seed=s).estimate,
        lambda a, b: float(np.subtract(*np.quantile(b, (0.75, 0.25))) / np.subtract(*np.quantile(a, (0.75, 0.25)))),
    ),
    "mean paired difference": (lambda a, b, s: paired_mean(b - a), lambda a, b: float(b.mean() - a.mean())),
    "median paired difference": (lambda a, b, s: paired_median(b - a), lambda a, b: float(np.median(b - a))),
}  # fmt: skip


def coverage(name: str, population: str, n: int, tries: int) -> float:
    """The share of intervals that hold the truth; one that does not exist holds nothing."""
    draw = POPULATIONS[population]
    interval, truth = ESTIMATES[name]
    rng = np.random.default_rng([71, n, list(POPULATIONS).index(population), list(ESTIMATES).index(name)])
    shift = 2.0 if population != "skewed" else 0.0
    factor = 1.0 if population != "skewed" else 1.3
    large = truth(draw(rng, _LARGE), draw(rng, _LARGE) * factor + shift)
    held = 0
    for seed in range(tries):
        estimate = interval(draw(rng, n), draw(rng, n) * factor + shift, seed)
        if estimate.low is not None and estimate.high is not None:
            held += estimate.low - 1e-9 <= large <= estimate.high + 1e-9
    return held / tries


@click.command()
@click.option("--tries", default=1_000)
def main(tries: int) -> None:
    """Print the table."""
    began = time.perf_counter()
    head = [f"{population}, {n}" for population in POPULATIONS for n in SIZES]
    click.echo("| 95 % interval of | " + " | ".join(head) + " |")
    click.echo("|---|" + "---|" * len(head))
    for name in ESTIMATES:
        cells = []
        for population in POPULATIONS:
            for n in SIZES:
                share = coverage(name, population, n, tries)
                mark = "" if KEPT[0] <= share <= KEPT[1] else " *"
                cells.append(f"{100 * share:.1f}{mark}")
        click.echo(f"| {name} | " + " | ".join(cells) + " |")
    click.echo(f"\n{tries} tries a cell, * outside {100 * KEPT[0]} to {100 * KEPT[1]} %; {time.perf_counter() - began:.0f} s")


if __name__ == "__main__":
    main()
