"""echelle describe: every option, as a person types it, against the definitions."""

from __future__ import annotations

import io
import json
import sys
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np
import pytest
from scipy import stats

from demo.make import SEED
from echelle.command_line.main import main

TABLE = (
    "arm,visit,level (mg/L)\n"
    "B,1,1\nB,1,2\nB,2,2\nB,2,4\nA,1,3\nA,1,<0.5\nA,2,7\n,1,9\nA,,11\nC,1,ND\n\"B\nx\",1,5\n"
)  # fmt: skip


@pytest.fixture(scope="module")
def file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("describe") / "table.csv"
    path.write_text(TABLE)
    return path


@dataclass
class Done:
    """What a command wrote, and its exit code."""

    returncode: int
    stdout: bytes
    stderr: bytes


def run(*words: str) -> Done:
    """The command in this process: what it does as a process of its own is tested with the other commands."""
    out, err = (io.TextIOWrapper(io.BytesIO(), encoding="utf-8", write_through=True) for _ in range(2))
    with patch.object(sys, "argv", ["echelle", "describe", *words]), redirect_stdout(out), redirect_stderr(err):
        with pytest.raises(SystemExit) as ended:
            main()
        out.flush()
        written, said = (stream.buffer.getvalue() for stream in (out, err))  # type: ignore[attr-defined]
    return Done(int(ended.value.code or 0), written, said)


def described(file: Path, *words: str) -> dict[str, Any]:
    made = run(str(file), "--measure", "level", *words, "--json")
    assert made.returncode == 0, made.stderr
    result: dict[str, Any] = json.loads(made.stdout)
    return result


def test_lanes_in_order_of_appearance_with_empty_ones(file: Path) -> None:
    result = described(file, "--groups", "arm")
    assert [lane["group"] for lane in result["lanes"]] == ["B", "A", "C", "B\nx"]
    assert (result["measure"], result["rows"], result["ungrouped"], result["remarks"]) == ("level", 11, 1, [])
    b, a, c, _ = result["lanes"]
    assert (b["n"], b["median"], b["mean"], b["subgroup"]) == (4, 2.0, 2.25, None)
    assert (a["n"], a["censored"], a["missing"], a["min"]) == (3, 1, 0, 3.0)
    assert (c["n"], c["missing"], c["median"], c["sd"]) == (0, 1, None, None)
    assert b["quantiles"] is b["bins"] is b["density"] is None


def test_subgroups_give_the_pairs_that_the_file_holds(file: Path) -> None:
    result = described(file, "--groups", "arm", "--subgroups", "visit")
    pairs = [(lane["group"], lane["subgroup"], lane["n"]) for lane in result["lanes"]]
    assert pairs == [("B", "1", 2), ("B", "2", 2), ("A", "1", 1), ("A", "2", 1), ("C", "1", 0), ("B\nx", "1", 1)]
    assert result["ungrouped"] == 2


def test_quantiles_keep_the_text_as_typed(file: Path) -> None:
    result = described(file, "--quantiles", "0.10,.5,1", "--quantile-type", "6")
    values = np.array([1, 2, 2, 4, 3, 7, 9, 11, 5], dtype=float)
    expected = {text: np.quantile(values, float(text), method="weibull") for text in ("0.10", ".5", "1")}
    assert result["lanes"][0]["quantiles"] == pytest.approx(expected)


def test_bins_by_rule_count_width_and_edges(file: Path) -> None:
    def bins(what: str, *more: str) -> dict[str, Any]:
        result: dict[str, Any] = described(file, "--bins", what, *more)["lanes"][0]["bins"]
        return result

    assert bins("sturges")["edges"] == [1.0, 3.0, 5.0, 7.0, 9.0, 11.0] and bins("sturges")["counts"] == [3, 2, 1, 1, 2]
    assert bins("2")["counts"] == [6, 3]
    assert bins("width:4")["edges"] == [0.0, 4.0, 8.0, 12.0] and bins("width:4")["counts"] == [4, 3, 2]
    assert bins("edges:2,5,9") == {"edges": [2.0, 5.0, 9.0], "counts": [4, 3], "below": 1, "above": 1}
    both = described(file, "--groups", "arm", "--bins", "2", "--common-bins")["lanes"]
    assert both[0]["bins"]["edges"] == both[1]["bins"]["edges"] == [1.0, 6.0, 11.0]
    own = described(file, "--groups", "arm", "--bins", "2")["lanes"]
    assert own[0]["bins"]["edges"] == [1.0, 2.5, 4.0] and own[2]["bins"] is None


def test_density_at_any_places(file: Path) -> None:
    result = described(file, "--density-at", "-1,0,5", "--bandwidth", "1.5")["lanes"][0]["density"]
    values = np.array([1, 2, 2, 4, 3, 7, 9, 11, 5], dtype=float)
    expected = [stats.norm.pdf((at - values) / 1.5).mean() / 1.5 for at in (-1, 0, 5)]
    assert result["values"] == pytest.approx(expected, rel=1e-12) and (result["bandwidth"], result["kernel"]) == (
        1.5,
        "gaussian",
    )
    assert described(file, "--density-at=-1,0,5", "--bandwidth", "1.5")["lanes"][0]["density"] == result
    usual = described(file, "--kernel", "triangular")["lanes"][0]["density"]
    assert len(usual["at"]) == 512 and np.trapezoid(usual["values"], usual["at"]) == pytest.approx(1, abs=1e-3)


def test_a_rule_without_an_answer_says_so_and_succeeds(file: Path) -> None:
    result = described(file, "--groups", "arm", "--bandwidth", "sheather-jones", "--bins", "scott")
    assert any(remark.startswith("B\nx: no density") for remark in result["remarks"])
    assert result["lanes"][3]["density"]["bandwidth"] is None and result["lanes"][3]["bins"]["counts"] == [1]


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["--measure", "level", "--subgroups", "visit"], "--subgroups"),
        (["--measure", "level", "--groups", "arms"], "--groups"),
        (["--measure", "level", "--groups", "arm", "--subgroups", "vist"], "“visit”"),
        (["--measure", "level", "--fence=-1"], "--fence"),
        (["--measure", "level", "--quantiles", "0.5,2"], "“2” is no probability"),
        (["--measure", "level", "--bins", "edges:3,1"], "edges rise"),
        (["--measure", "level", "--bins", "width:0"], "above zero"),
        (["--measure", "level", "--bins", "many"], "“many” names no bins"),
        (["--measure", "level", "--bandwidth", "nan"], "“nan” is no bandwidth"),
        (["--measure", "level", "--kernel", "box"], "--kernel"),
        (["--measure", "level", "--density-at", "1,x"], "“x” is no number"),
    ],
)
def test_wrong_options_are_one_line(file: Path, words: list[str], says: str) -> None:
    made = run(str(file), *words)
    assert made.returncode == 2 and says in made.stderr.decode() and made.stderr.count(b"\n") == 1 and not made.stdout


def test_hard_numbers_keep_their_digits(tmp_path: Path) -> None:
    rng = np.random.default_rng(SEED)
    for scale, shift in ((1e-300, 0.0), (1e300, 0.0), (0.125, 1e15)):
        values = rng.integers(1, 9, 20) * scale + shift
        (tmp_path / "hard.csv").write_text("x (mg)\n" + "".join(f"{v!r}\n" for v in values.tolist()))
        made = run(str(tmp_path / "hard.csv"), "--measure", "x", "--json")
        lane = json.loads(made.stdout)["lanes"][0]
        plain = (values - shift) / scale
        assert lane["sd"] == pytest.approx(float(np.std(plain, ddof=1)) * scale, rel=1e-12)
        assert lane["skewness"] == pytest.approx(float(stats.skew(plain, bias=False)), rel=1e-9)
        assert lane["max"] == values.max()


def test_limits_in_order_are_limits_and_no_numbers(tmp_path: Path) -> None:
    file = tmp_path / "limits.csv"
    file.write_text("arm,level\n" + "A,<0.4\nA,<0.4\nA,1\nA,2\nA,>200\n" + "B,3\nB,4\n")
    plain, ordered = (
        described(file, "--groups", "arm"),
        described(file, "--groups", "arm", "--limits-in-order", "--quantiles", "0,0.5"),
    )
    assert (plain["lanes"][0]["median"], plain["lanes"][0]["censored"]) == (1.5, 3)
    a, b = ordered["lanes"]
    assert (a["q1"], a["median"], a["q3"], a["max"], a["iqr"], a["n"]) == ("<0.4", 1.0, 2.0, ">200", None, 2)
    assert a["quantiles"] == {"0": "<0.4", "0.5": 1.0}
    assert (b["median"], b["quantiles"]["0"], b["iqr"]) == (3.5, 3.0, 0.5)
    readable = run(str(file), "--measure", "level", "--groups", "arm", "--limits-in-order").stdout.decode()
    assert "<0.4" in readable and ">200" in readable


def test_open_bins_have_no_edge(file: Path) -> None:
    [lane] = described(file, "--bins", "edges:-inf,2,5,inf")["lanes"]
    assert lane["bins"] == {"edges": [None, 2.0, 5.0, None], "counts": [1, 4, 4], "below": 0, "above": 0}


def test_all_readings_agree_with_their_definitions(file: Path) -> None:
    [lane] = described(file, "--all-readings")["lanes"]
    values = np.array([1, 2, 2, 4, 3, 7, 9, 11, 5.0])
    assert lane["cv"] == pytest.approx(values.std(ddof=1) / values.mean())
    assert lane["geometric_mean"] == pytest.approx(stats.gmean(values))
    assert lane["geometric_sd"] == pytest.approx(stats.gstd(values))
    half = stats.t.ppf(0.975, 8) * stats.sem(values)
    ends = (lane["mean_interval"]["low"], lane["mean_interval"]["high"])
    assert ends == pytest.approx((values.mean() - half, values.mean() + half))
    # Ranks 2 and 8 of nine values hold the median with 1 − 2·10/512.
    assert lane["median_interval"] == {"low": 2.0, "high": 9.0, "level": 1 - 20 / 512}
    assert len(lane["peaks"]) == 1 and 2 < lane["peaks"][0]["at"] < 5
    assert lane["shapiro_wilk"]["p"] == pytest.approx(stats.shapiro(values).pvalue)
    assert lane["dip"]["p"] > 0.3


def test_several_measures_are_described_in_each_group(tmp_path: Path) -> None:
    path = tmp_path / "two.csv"
    path.write_text("arm,ldl,hdl\na,1.5,9.5\nb,2.5,8.5\na,3.5,7.25\nb,4.5,6.5\n")

    def lanes(*words: str) -> dict[tuple[str, str | None], float]:
        made = run(str(path), *words, "--groups", "arm", "--json")
        assert made.returncode == 0, made.stderr
        return {(lane["group"], lane["subgroup"]): lane["median"] for lane in json.loads(made.stdout)["lanes"]}

    both = lanes("--measure", "ldl", "--measure", "hdl")
    assert both == {("a", "ldl"): 2.5, ("b", "ldl"): 3.5, ("a", "hdl"): 8.375, ("b", "hdl"): 7.5}
    assert lanes("--measure", "hdl") == {(group, None): median for (group, name), median in both.items() if name == "hdl"}
    refused = run(str(path), "--measure", "ldl", "--measure", "hdl", "--groups", "arm", "--subgroups", "arm")
    assert refused.returncode == 2 and b"where subgroups would" in refused.stderr
