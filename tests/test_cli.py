"""The command line as a person runs it: what it says, exit codes, one line on stderr."""

from __future__ import annotations

import csv
import json
import os
import re
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pypdf
import pytest

from echelle.command_line.main import main
from tests.support.command import run

ROOT = Path(__file__).resolve().parent.parent
SAMPLES = ROOT / "demo" / "samples.csv"


@pytest.fixture
def refused(monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> Callable[..., str]:
    """Run a command that must be refused, and give its one line."""

    def run_here(*words: object) -> str:
        monkeypatch.setattr(sys, "argv", ["echelle", *map(str, words)])
        with pytest.raises(SystemExit) as ended:
            main()
        said = capsys.readouterr()
        assert ended.value.code == 2 and said.out == "" and said.err.count("\n") == 1, said
        return said.err

    return run_here


def test_describe_agrees_with_a_count_by_hand() -> None:
    result = json.loads(run("describe", SAMPLES, "--measure", "cortisol", "--groups", "shift pattern", "--json").stdout)
    rows = list(csv.DictReader(SAMPLES.open(encoding="utf-8")))
    assert result["rows"] == len(rows) == 1448 and result["measure"] == "cortisol" and result["ungrouped"] == 0
    for lane in result["lanes"]:
        cells = [row["cortisol (nmol/L)"] for row in rows if row["shift pattern"] == lane["group"]]
        values = [float(c.replace(",", ".")) for c in cells if c not in ("", "QNS") and not c.startswith("<")]
        assert lane["n"] == len(values) and lane["missing"] + lane["censored"] == len(cells) - len(values)
        q1, median, q3 = np.quantile(values, [0.25, 0.5, 0.75])
        assert [lane["q1"], lane["median"], lane["q3"]] == pytest.approx([q1, median, q3], rel=1e-14)
        assert lane["sd"] == pytest.approx(np.std(values, ddof=1), rel=1e-12)
        for outlier in lane["outliers"]:
            assert float(rows[outlier["row"] - 1]["cortisol (nmol/L)"].replace(",", ".")) == outlier["value"]
            assert not lane["fence_low"] <= outlier["value"] <= lane["fence_high"]


def test_describe_as_a_table_and_with_either_spelling() -> None:
    plain = run("describe", SAMPLES, "--measure", "cortisol (nmol/L)", "--groups", "ward").stdout.decode()
    assert plain.splitlines()[1].split()[:2] == ["lane", "n"] and "Harbour" in plain
    two = json.loads(
        run("describe", ROOT / "demo/clotting_lots.csv", "--measure", "Lot 2201", "--measure", "Lot 2203", "--json").stdout
    )
    assert [(lane["group"], lane["n"]) for lane in two["lanes"]] == [("Lot 2201", 40), ("Lot 2203", 33)]


def test_draw_by_form_and_by_recipe(tmp_path: Path) -> None:
    words = ["draw", "--form", "box", "--measure", "cortisol", "--groups", "ward", "--table", SAMPLES, "--size", "120mmx80mm"]
    scene = tmp_path / "s.json"
    assert run(*words, "--out", scene).returncode == 0
    drawn = json.loads(scene.read_text())
    assert [lane["name"] for lane in drawn["lanes"]] == ["Valley", "Harbour", "Ridge"] and drawn["height"] == pytest.approx(
        226.772
    )
    for name in ("f.svg", "f.pdf", "f.png"):
        assert run(*words, "--out", tmp_path / name, "--dpi", 72).returncode == 0
        assert (tmp_path / name).stat().st_size > 1000


def test_draw_splits_and_panels(tmp_path: Path, refused: Callable[..., str]) -> None:
    words = ["draw", "--form", "violin", "--measure", "cortisol", "--table", SAMPLES, "--out", tmp_path / "s.json"]
    assert (
        run(*words, "--groups", "shift pattern", "--subgroups", "haemolysed", "--down", "day", "--across", "ward").returncode
        == 0
    )
    drawn = json.loads((tmp_path / "s.json").read_text())
    assert len(drawn["panels"]) == 6 and {panel["name"] for panel in drawn["panels"]} >= {"Harbour · 1", "Ridge · 2"}
    assert {lane["subgroup"] for lane in drawn["lanes"]} == {"no", "yes"} and drawn["form"] == "violin"
    assert sum(lane["n"] for lane in drawn["readings"]) == drawn["counts"]["used"]
    assert "--subgroups: subgroups need groups" in refused(*words, "--subgroups", "ward")
    assert "--across" in refused(*words, "--groups", "ward", "--across", "wards")
    assert "--down" in refused(*words, "--down", "sampel")


def test_schema_is_the_published_one() -> None:
    assert run("schema").stdout == (ROOT / "docs" / "recipe.schema.json").read_bytes()


def test_what_is_wrong_is_one_line(tmp_path: Path, refused: Callable[..., str]) -> None:
    wide, empty, header, binary, words = (tmp_path / f"{n}.csv" for n in ("wide", "empty", "header", "binary", "words"))
    wide.write_text(",".join(f"c{i}" for i in range(20_000)) + "\n")
    empty.write_text("")
    header.write_text("a,b\n")
    binary.write_bytes(b"\x7fELF\r\n\x1a\n\x00\x00")
    words.write_text("a,b\nx,y\nz,w\n")
    many = tmp_path / "many.csv"
    many.write_text("who,level\n" + "".join(f"name {chr(97 + i % 26)} {i} x,{i}.5\n" for i in range(1_001)))
    bad = tmp_path / "bad.json"
    bad.write_text('{"echelle": 1, "measure": {"columns": ["cortisol"]}, "layers": [{"id": "b", "layer": "box", "colour": 3}]}')
    measured = ["--measure", "b"]
    assert "20,000 columns" in refused("describe", wide, *measured)
    assert "empty" in refused("describe", empty, *measured)
    assert "no rows below the header" in refused("describe", header, *measured)
    assert "NUL" in refused("describe", binary, *measured)
    assert "no column of numbers" in refused("describe", words, *measured)
    assert "1,001 levels" in refused("describe", many, "--measure", "level", "--groups", "who")
    assert "no such file" in refused("describe", tmp_path / "none.csv", *measured)
    assert "“cortisol”" in refused("describe", SAMPLES, "--measure", "cortisl")
    assert "--measure" in refused("describe", SAMPLES)
    assert "--fence" in refused("describe", SAMPLES, "--measure", "cortisol", "--fence", "-1")
    assert "$.layers[0].colour" in refused("draw", bad, "--table", SAMPLES, "--out", tmp_path / "f.svg")
    assert ".gif" in refused("draw", "--form", "box", "--measure", "cortisol", "--table", SAMPLES, "--out", tmp_path / "f.gif")
    assert "no table" in refused("draw", "--out", tmp_path / "f.svg")
    assert "174mm" in refused(
        "draw", "--form", "box", "--measure", "cortisol", "--table", SAMPLES, "--out", tmp_path / "f.svg", "--size", "9"
    )
    assert not (tmp_path / "f.svg").exists()
    done = run("describe", empty, *measured)
    assert done.returncode == 2 and done.stdout == b"" and done.stderr.count(b"\n") == 1


def test_a_table_alone_is_read_with_its_first_question_and_drawn(tmp_path: Path) -> None:
    account = json.loads(run("read", SAMPLES, "--json").stdout)
    assert account["question"] == "Compare cortisol across shift pattern"
    cells = account["cells"]
    assert cells["filled"] == cells["values"] + cells["named"] and cells["named"] == 27
    assert all(column["filled"] == column["values"] + column["named"] for column in account["columns"])
    said = run("read", SAMPLES).stdout.decode()
    assert account["question"] in said and f"{cells['filled']} cells filled = {cells['values']} with a value + 27" in said
    drawn = {}
    for name, words in {"alone": [], "violin": ["--form", "violin"], "measure": ["--measure", "nights in a row"]}.items():
        assert run("draw", "--table", SAMPLES, *words, "--out", tmp_path / f"{name}.json").returncode == 0
        drawn[name] = json.loads((tmp_path / f"{name}.json").read_text())
    assert drawn["alone"]["form"] == "box" and drawn["violin"]["form"] == "violin"
    assert len(drawn["alone"]["lanes"]) == len(drawn["violin"]["lanes"]) == 5
    words = tmp_path / "words.csv"
    words.write_text("arm,improved\na,some\na,none\nb,none\n")
    assert run("draw", "--table", words, "--out", tmp_path / "words.json").returncode == 0
    assert json.loads((tmp_path / "words.json").read_text())["form"] == "counts"


def test_the_demo_is_made_by_its_script_and_the_example_runs(tmp_path: Path) -> None:
    subprocess.run([sys.executable, "-m", "demo.make", tmp_path, "--log-rows", "1000"], cwd=ROOT, check=True)
    for name in ("samples.csv", "participants.csv", "clotting_lots.csv"):
        assert (tmp_path / name).read_bytes() == (ROOT / "demo" / name).read_bytes(), name
    assert len((tmp_path / "analyser_log.csv").read_text().splitlines()) == 1001
    done = subprocess.run([sys.executable, "-m", "demo.example", tmp_path / "out"], cwd=ROOT, capture_output=True, check=True)
    assert b"9 figures" in done.stdout and len(list((tmp_path / "out").iterdir())) == 12


def test_a_terminal_that_knows_few_letters_gets_what_it_can(tmp_path: Path) -> None:
    (tmp_path / "µ.csv").write_text("côté,µg/L\nà,1.5\nb,2.5\n")
    words = [sys.executable, "-m", "echelle.command_line", "read", str(tmp_path / "µ.csv")]
    env = {**os.environ, "LC_ALL": "POSIX", "PYTHONUTF8": "0", "PYTHONCOERCECLOCALE": "0"}
    done = subprocess.run(words, capture_output=True, cwd=ROOT, env=env, check=False)
    assert done.returncode == 0, done.stderr
    assert b"1.5" in done.stdout or b"2 rows" in done.stdout


def test_a_table_says_names_as_they_are_written(tmp_path: Path) -> None:
    """Whatever a terminal's markup may make of them; wide letters take two places."""
    names = ["[/b]", "[red]x", "名前", "e\u0301", "two  blanks"]
    file = tmp_path / "names.csv"
    file.write_text("g,v\n" + "".join(f"{name},{place}.5\n{name},{place}\n" for place, name in enumerate(names)))
    lines = run("describe", str(file), "--measure", "v", "--groups", "g").stdout.decode().splitlines()
    assert [line.split("  ")[0] for line in lines[2 : 2 + len(names)]] == [" ".join(name.split()) for name in names]
    ends = [line[: line.rindex("0")] for line in lines[2 : 2 + len(names)]]
    assert len(ends[0]) == len(ends[1]) == len(ends[2]) + 2 == len(ends[3]) - 1


def test_every_number_that_is_told_has_one_minus_sign(tmp_path: Path) -> None:
    source = tmp_path / "falling.csv"
    source.write_text("day,level\n" + "\n".join(f"{'ab'[i % 2]},{i * 0.37 % 3 - 7 * (i % 2):.2f}" for i in range(40)))
    told = run("compare", str(source), "--measure", "level", "--groups", "day").stdout.decode()
    assert "Welch t: −" in told and not re.search(r"(?<!\d)-\d", told)


def test_many_lanes_are_drawn_on_pages(tmp_path: Path, refused: Callable[..., str]) -> None:
    (tmp_path / "levels.csv").write_text("who,level\n" + "".join(f"P-{i:03d},{i / 7:.2f}\n" for i in range(150)))
    words = [
        "draw",
        "--table",
        tmp_path / "levels.csv",
        *["--form", "box", "--measure", "level", "--groups", "who", "--pages", "--out"],
    ]
    run(*words, tmp_path / "levels.pdf")
    assert len(pypdf.PdfReader(tmp_path / "levels.pdf").pages) > 1
    assert "Choose one of pdf" in refused(*words, tmp_path / "levels.svg")
    assert "one page" in refused(*words, tmp_path / "levels.pdf", "--reader-key")
