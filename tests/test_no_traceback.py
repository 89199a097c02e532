"""Whatever is asked of whatever table: an answer, or exit 2 with one line that names the place and the remedy."""

from __future__ import annotations

import random
import sys
import traceback
from collections.abc import Callable
from pathlib import Path

import orjson
import pytest

from echelle.command_line.main import main
from echelle.errors import InputError
from echelle.figures.settings import figure_options
from echelle.numbers.bandwidth import BANDWIDTH_RULES
from echelle.numbers.bins import BIN_RULES
from echelle.tables.reading.read import read_bytes
from scripts.drawn_digests import random_recipe

# Names that clash with words of the program or with one another, and cells of every kind.
NAMES = [
    "count",
    "value",
    "index",
    "row",
    "n",
    "group",
    "literal",
    "Group",
    "=1+1",
    "[/b]",
    "[red]x",
    "<b>",
    "{n}",
    "$.layers",
    "5",
    "5.0",
    "é\u0301",
    "quantiles",
]
CELLS = {
    "numbers": ["1.5", "2.25", "3", "-4", "1e3", "2.25"], "same": ["7", "7", "7"],
    "limits": ["<0.4", "1.5", ">90", "2.5", "3.5"],
    "huge": ["1e200", "-1e200", "3e199", "1e-200"], "words": ["a", "[/b]", "", "=2+3"], "codes": ["0", "1", "1", "2"],
    "blank": [""],
    "dates": ["2026-01-31", "2026-02-28", "2027-12-01"], "far": ["0", "0", "0", "1e9"], "inf": ["inf", "1", "2", "-inf"],
}  # fmt: skip


def table(chance: random.Random) -> str:
    names = chance.sample(NAMES, chance.randint(2, 7))
    kinds = [chance.choice(list(CELLS)) for _ in names]
    rows = chance.choice([0, 1, 2, 3, 9, 40])
    lines = [",".join(names)] + [
        ",".join(CELLS[kind][(i * (k + 1)) % len(CELLS[kind])] for k, kind in enumerate(kinds)) for i in range(rows)
    ]
    return "\n".join(lines) + "\n"


def asked(chance: random.Random, names: list[str]) -> list[str]:
    """describe or compare with random options."""
    column = lambda: chance.choice([*names, "gone"])  # noqa: E731
    if chance.random() < 0.5:
        words = ["describe", "--measure", column()]
        options = [
            ["--groups", column()], ["--subgroups", column()], ["--quantile-type", str(chance.randint(1, 9))],
            ["--all-readings"],
            ["--bins", chance.choice([*BIN_RULES, "7", "width:0.1", "edges:0,1,inf", "width:-1", "x"])], ["--limits-in-order"],
            ["--bandwidth", chance.choice([*BANDWIDTH_RULES, "0.5", "0", "1e-300"])], ["--common-bins"],
            ["--quantiles", chance.choice(["0.1,0.5", "0,1", "2"])], ["--kernel", "triangular", "--density-at", "0,1e300"],
        ]  # fmt: skip
    else:
        words = ["compare", "--measure", column(), "--groups", column()]
        options = [
            ["--to", chance.choice(["reference", "neighbours", "all pairs", "subgroups"])], ["--paired-by", column()],
            ["--limits", chance.choice(["non-parametric", "robust", "log-normal", "Box–Cox"])], ["--subgroups", column()],
            ["--runs", column()], ["--control", chance.choice(["own", "5,0.3", "1-20", "x"])], ["--margin", "1"],
            ["--repeats", "mixed model"], ["--reference", "a"], ["--together"], ["--lots", column()],
        ]  # fmt: skip
    return [
        *words,
        *(word for option in chance.sample(options, chance.randint(0, 4)) for word in option),
        *["--json"] * chance.randint(0, 1),
    ]


Run = Callable[..., str]


@pytest.fixture
def fault(monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> Run:
    """Run a command; what is wrong with how it ended, "" for nothing."""

    def run(*words: object) -> str:
        monkeypatch.setattr(sys, "argv", ["echelle", *map(str, words)])
        try:
            main()
        except SystemExit as ended:
            said = capsys.readouterr()
            lines = said.err.strip().splitlines()
            fine = ended.code in (0, None) or (ended.code == 2 and len(lines) == 1 and said.out == "")
            return "" if fine else f"exit {ended.code}: {said.err}"
        except Exception as error:
            return "".join(traceback.format_exception(error)[-9:])
        capsys.readouterr()
        return ""

    return run


@pytest.mark.parametrize("seed", range(8))
def test_describe_and_compare_answer_or_say_why(seed: int, tmp_path: Path, fault: Run) -> None:
    chance = random.Random(seed)
    for turn in range(12):
        file = tmp_path / f"{turn}.csv"
        file.write_text(table(chance))
        try:
            names = [column.name for column in read_bytes(file.read_bytes()).table.columns] or ["x"]
        except InputError:
            names = ["x"]
        command, *options = asked(chance, names)
        assert not (said := fault(command, file, *options)), (file.read_text(), command, options, said)


@pytest.mark.parametrize("seed", range(8))
def test_draw_answers_or_says_why(seed: int, tmp_path: Path, fault: Run) -> None:
    chance, options = random.Random(f"draw{seed}"), figure_options()
    for turn in range(8):
        file, recipe = tmp_path / f"{turn}.csv", tmp_path / f"{turn}.json"
        file.write_text(table(chance))
        names = file.read_text().partition("\n")[0].split(",")
        record = orjson.dumps(random_recipe(chance, options, read_bytes(b"a,b\n1,x\n").table)).decode()
        for column in ("cortisol", "participant", "shift pattern", "sample", "ward", "haemolysed", "nights in a row", "day"):
            record = record.replace(f'"{column}"', orjson.dumps(chance.choice(names)).decode())
        recipe.write_text(record)
        ending = chance.choice(["svg", "json", "png", "pdf"])
        said = fault("draw", recipe, "--table", file, "--out", tmp_path / f"{turn}.{ending}")
        assert not said, (file.read_text(), record, said)
