"""The log of an analyser network as a folder of Parquet files, one a site and month: python -m demo.network FOLDER."""

from __future__ import annotations

from pathlib import Path

import click
import numpy as np
import polars as pl

from demo.make import SEED

SITES = ("Harbour", "Hill", "Lake", "Meadow", "Mill", "North", "Park", "Quay", "River", "South")
SHIFTS = ("early", "late", "night")
_MONTHS = 4
ROWS = 20_000_000


def write_network(folder: Path, rows: int = ROWS) -> int:
    """Write the files; how many they are. Each depends on its own number alone, so that a folder can grow."""
    per_file = -(-rows // (len(SITES) * _MONTHS))
    number = 0
    for month in range(1, _MONTHS + 1):
        for place, site in enumerate(SITES):
            target = folder / f"month=2026-{month:02}" / f"{site.lower()}.parquet"
            target.parent.mkdir(parents=True, exist_ok=True)
            _file(site, place, month, per_file).write_parquet(target, row_group_size=250_000)
            number += 1
    return number


def _file(site: str, place: int, month: int, rows: int) -> pl.DataFrame:
    rng = np.random.default_rng([SEED, place, month])
    shift = rng.choice(3, rows, p=[0.5, 0.35, 0.15])
    age = rng.integers(18, 96, rows)
    # One site reads high since its new lot, and haemolysed samples make a second hill.
    level = 4.15 + 0.02 * place + (0.25 if place == 6 and month > 2 else 0.0) + 0.04 * (shift == 2)
    potassium = rng.normal(level, 0.42, rows) + np.where(rng.random(rows) < 0.012, rng.gamma(3.0, 0.6, rows), 0.0)
    glucose = rng.lognormal(1.68 + 0.002 * (age - 55), 0.24, rows)
    missing = rng.random(rows) < 0.004
    return pl.DataFrame(
        {
            "site": pl.repeat(site, rows, eager=True),
            "shift": np.array(SHIFTS)[shift],
            "sex": np.array(["female", "male"])[rng.integers(0, 2, rows)],
            "age (years)": age,
            "potassium (mmol/l)": pl.Series(np.round(potassium, 1)).set(pl.Series(missing), None),
            "glucose (mmol/l)": np.round(glucose, 1),
        }
    )


@click.command()
@click.argument("folder", type=click.Path(path_type=Path))
@click.option("--rows", type=click.IntRange(1_000), default=ROWS, show_default=True)
def main(folder: Path, rows: int) -> None:
    """Write the log of an analyser network into FOLDER."""
    click.echo(f"{write_network(folder, rows)} files in {folder}")


if __name__ == "__main__":
    main()
