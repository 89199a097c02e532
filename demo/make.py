"""Writes the made-up demo data, the same bytes each time: python -m demo.make FOLDER [--log-rows N]."""

from __future__ import annotations

import csv
from pathlib import Path

import click
import numpy as np

SEED = 20_041
SHIFTS = {"Day": 59, "Evening": 32, "Rotating": 46, "Night": 44}
WARDS = ("Harbour", "Ridge", "Valley")
SAMPLES = {"Waking": 1.0, "+30 min": 1.55, "Noon": 0.52, "Bedtime": 0.094}
WAKING_LEVEL = {"Day": 14.2, "Evening": 12.0, "Night": 7.6}
# How little the people of a shift differ by day; two peaks show only where each is narrow.
LIKE = {"Rotating": 0.66}
LIMIT = 0.4

Row = list[str]


def samples(rng: np.random.Generator) -> tuple[list[Row], list[dict[str, object]]]:
    """The long table of samples, and what is known of each participant."""
    people: list[dict[str, object]] = [{"shift": shift} for shift, n in SHIFTS.items() for _ in range(n)]
    rng.shuffle(people)
    rows: list[Row] = []
    for number, person in enumerate(people, 101):
        shift = str(person["shift"])
        ward = WARDS[int(rng.choice(3, p=[0.39, 0.33, 0.28]))]
        nights = _nights(shift, rng)
        own = float(rng.lognormal(0.0, 0.24))
        person |= {"code": f"P-{number:04d}", "ward": ward, "nights": nights}
        for day in (1, 2):
            for sample, factor in SAMPLES.items():
                level = WAKING_LEVEL.get(shift) or (5.6 if nights >= 3 else 14.6)
                value = (
                    level
                    * factor
                    * (own * float(rng.lognormal(0.0, 0.24))) ** (LIKE.get(shift, 1.0) if sample != "Bedtime" else 1.0)
                )
                if rng.random() < 0.018:
                    value *= float(rng.uniform(2.0, 3.2))
                text = f"{value:.1f}" if value >= LIMIT else f"<{LIMIT}"
                plate = 1 + (len(rows) * 12) // 1448
                rows.append([str(person["code"]), ward, shift, str(day), sample, text, "no", str(nights), str(plate)])
    _spoil(rows, rng)
    return rows, people


def _nights(shift: str, rng: np.random.Generator) -> int:
    if shift == "Rotating":
        return int(rng.choice([0, 1, 3, 4, 5], p=[0.24, 0.24, 0.2, 0.2, 0.12]))
    if shift == "Night":
        return int(rng.choice([2, 3, 4, 5, 6, 7], p=[0.1, 0.25, 0.3, 0.2, 0.1, 0.05]))
    return 0


def _spoil(rows: list[Row], rng: np.random.Generator) -> None:
    """The irregularities that demo/README.md lists."""
    places = rng.permutation(len(rows))
    numeric = [int(p) for p in places if not rows[p][5].startswith("<")]
    for place in numeric[:27]:
        rows[place][5] = "QNS"
    for place in numeric[27:31]:
        rows[place][5] = ""
    slip = next(p for p in numeric[31:] if rows[p][2] == "Night" and rows[p][4] == "Waking" and 5 < float(rows[p][5]) < 6.5)
    rows[slip][5] = f"{float(rows[slip][5]) * 10:.1f}"
    comma = next(p for p in numeric[31:] if rows[p][4] == "Bedtime" and float(rows[p][5]) < 5)
    rows[comma][5] = rows[comma][5].replace(".", ",")
    for place in [p for p in numeric[40:] if rows[p][2] == "Rotating" and rows[p][4] == "Noon"][:3]:
        rows[place][2] = "rotating"
    for place in numeric[60:72]:
        rows[place][6] = "yes"
    for place in numeric[80:84]:
        rows[place][7] = ""


def participants(people: list[dict[str, object]], rng: np.random.Generator) -> list[Row]:
    """One row a participant, to join; three of them are not in the samples, two of the samples are not here."""
    rows = []
    for person in people[2:]:
        age = int(rng.integers(22, 64))
        years = 0.0 if person["shift"] == "Day" else round(float(rng.uniform(0, age - 20)), 1)
        chronotype = ("early", "neither", "late")[int(rng.choice(3, p=[0.3, 0.45, 0.25]))]
        rows.append([str(person["code"]), str(age), f"{years:.1f}", chronotype])
    for extra in (901, 902, 903):
        rows.append([f"P-{extra:04d}", str(int(rng.integers(22, 64))), "0.0", "neither"])
    return rows


def clotting_lots(rng: np.random.Generator) -> list[Row]:
    """Clotting times, one column a reagent lot, of unequal lengths."""
    lots = [
        rng.normal(centre, spread, n)
        for centre, spread, n in ((29.6, 1.5, 40), (30.1, 1.5, 38), (31.9, 2.2, 33), (29.8, 1.4, 25))
    ]
    return [[f"{lot[i]:.1f}" if i < len(lot) else "" for lot in lots] for i in range(max(map(len, lots)))]


def analyser_log(path: Path, rows: int, rng: np.random.Generator) -> None:
    """A log of an analyser: rows × 8 columns, for speed."""
    sites = np.array([f"site {i + 1}" for i in range(12)])
    with path.open("w", newline="") as file:
        file.write("sample,site,channel,run,glucose (mmol/L),flag,temperature (°C),minute\n")
        for start in range(0, rows, 100_000):
            n = min(100_000, rows - start)
            site = rng.integers(0, 12, n)
            glucose = rng.lognormal(1.65 + site * 0.01, 0.22, n)
            columns = zip(
                range(start + 1, start + n + 1), sites[site], rng.integers(1, 5, n), (np.arange(start, start + n) // 384) + 1,
                glucose, rng.random(n) < 0.01, rng.normal(37.0, 0.12, n), np.arange(start, start + n), strict=True,
            )  # fmt: skip
            file.writelines(
                f"S{a:07d},{b},{c},{d},{e:.2f},{'yes' if f else 'no'},{g:.1f},{h}\n" for a, b, c, d, e, f, g, h in columns
            )


def _write(path: Path, header: Row, rows: list[Row]) -> None:
    with path.open("w", newline="", encoding="utf-8") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(header)
        writer.writerows(rows)


@click.command()
@click.argument("folder", type=click.Path(path_type=Path))
@click.option("--log-rows", default=0, help="Also write an analyser log of so many rows.")
def main(folder: Path, log_rows: int) -> None:
    """Write samples.csv, participants.csv and clotting_lots.csv into FOLDER."""
    folder.mkdir(parents=True, exist_ok=True)
    rng = np.random.default_rng(SEED)
    rows, people = samples(rng)
    header = [
        "participant",
        "ward",
        "shift pattern",
        "day",
        "sample",
        "cortisol (nmol/L)",
        "haemolysed",
        "nights in a row",
        "plate",
    ]
    _write(folder / "samples.csv", header, rows)
    header = ["participant", "age (years)", "night work (years)", "chronotype"]
    _write(folder / "participants.csv", header, participants(people, rng))
    lots = ["Lot 2201 (s)", "Lot 2202 (s)", "Lot 2203 (s)", "Lot 2204 (s)"]
    _write(folder / "clotting_lots.csv", lots, clotting_lots(rng))
    if log_rows:
        analyser_log(folder / "analyser_log.csv", log_rows, np.random.default_rng(SEED + 1))


if __name__ == "__main__":
    main()
