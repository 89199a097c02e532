"""Lanes set against one another: which pairs, adjusted over all, paired by subject, two factors, the laboratory's questions."""

from __future__ import annotations

import json
from typing import get_args

import numpy as np
import pytest
from click.testing import CliRunner
from hypothesis import given, settings
from hypothesis import strategies as st

from echelle.command_line.describe_options import control_option
from echelle.command_line.main import app
from echelle.comparison import laboratory
from echelle.comparison.laboratory import control_of, limits_of
from echelle.comparison.lane_differences import Step, compare_lanes, compare_stepwise
from echelle.comparison.models import LaneDifferences
from echelle.comparison.text_report import lines_of
from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.numbers.differences.means import mean_difference
from echelle.numbers.differences.reference_limits import LimitMethod
from echelle.recipes.control import Control
from echelle.recipes.differences import ComparedTo, Differences
from echelle.recipes.forms import recipe_of_form
from echelle.tables.table import Table
from tests.support.tables import table_of


def lanes_of(table: Table, groups: str = "shift", subgroups: str | None = None, **asked: object):  # type: ignore[no-untyped-def]
    differences = Differences.model_validate(asked)
    recipe = recipe_of_form("means", "level", groups, subgroups).model_copy(update={"differences": differences})
    return arrange(recipe, table), differences


def visits() -> Table:
    """Forty people, each with a value in the morning and one in the evening, two of them without one, one of them twice."""
    rng = np.random.default_rng(6)
    own = rng.normal(20, 4, 40)
    rows = [(f"P-{i:03d}", "morning", f"{own[i]:.3f}", "AB"[i % 2]) for i in range(40)]
    rows += [(f"P-{i:03d}", "evening", f"{own[i] + 1.5 + rng.normal(0, 0.8):.3f}", "AB"[i % 2]) for i in range(2, 40)]
    rows.append(("P-005", "evening", "30.5", "B"))
    names = ("participant", "shift", "level", "ward")
    return table_of({name: [row[i] for row in rows] for i, name in enumerate(names)})


def three_lanes() -> Table:
    rng = np.random.default_rng(4)
    values = [*rng.normal(10, 2, 30), *rng.normal(11, 2, 30), *rng.normal(14, 2, 30)]
    return table_of({"shift": ["a"] * 30 + ["b"] * 30 + ["c"] * 30, "level": [f"{v:.3f}" for v in values]})


@pytest.mark.parametrize(
    ("to", "expected"),
    [
        ("reference", [("a", "b"), ("a", "c")]),
        ("neighbours", [("a", "b"), ("b", "c")]),
        ("all pairs", [("a", "b"), ("a", "c"), ("b", "c")]),
        ("subgroups", []),
    ],
)
def test_which_lanes_are_compared(to: str, expected: list[tuple[str, str]]) -> None:
    result = compare_lanes(*lanes_of(three_lanes(), to=to))
    assert [(pair.reference, pair.other) for pair in result.pairs] == expected


def test_a_chosen_reference_and_one_that_is_not_there() -> None:
    result = compare_lanes(*lanes_of(three_lanes(), reference="c"))
    assert [(pair.reference, pair.other) for pair in result.pairs] == [("c", "a"), ("c", "b")]
    assert result.pairwise[0].name == "Dunnett: a − c" and len(result.pairwise) == 2
    with pytest.raises(InputError, match="no lane is called “z”"):
        compare_lanes(*lanes_of(three_lanes(), reference="z"))


def test_estimates_are_those_of_the_values_and_p_is_adjusted_over_all_pairs() -> None:
    arrangement, asked = lanes_of(three_lanes(), to="all pairs", margin=5.0)
    result = compare_lanes(arrangement, asked)
    a, _, c = (lane.values for lane in arrangement.lanes)
    pair = result.pairs[1]
    means = mean_difference(a, c)
    assert pair.estimates[0].value == means.value and pair.estimates[0].low == means.low
    ps = [entry.tests[0].p for entry in result.pairs]
    assert [entry.tests[0].name for entry in result.pairs] == ["Welch t"] * 3
    order = np.argsort(np.array(ps, dtype=float))
    holm = np.maximum.accumulate(np.array(ps, dtype=float)[order] * [3, 2, 1])
    assert np.array([entry.tests[0].p_adjusted for entry in result.pairs], dtype=float)[order] == pytest.approx(
        np.minimum(holm, 1)
    )
    assert {entry.name for entry in pair.tests} >= {
        "Mann–Whitney",
        "permutation",
        "Brown–Forsythe",
        "Kolmogorov–Smirnov",
        "equivalence",
    }
    assert [entry.name for entry in result.overall] == [
        "Welch analysis of variance",
        "analysis of variance",
        "Kruskal–Wallis",
        "Brown–Forsythe",
    ]
    assert {entry.name.split(":")[0] for entry in result.pairwise} == {"Games–Howell", "Tukey–Kramer"}


def test_intervals_that_hold_together_are_wider() -> None:
    alone, both = (compare_lanes(*lanes_of(three_lanes(), to="all pairs", together=t)) for t in (False, True))
    entry, other = alone.pairs[0].estimates[0], both.pairs[0].estimates[0]
    assert entry.low is not None and other.low is not None and other.low < entry.low
    assert other.level == pytest.approx(1 - 0.05 / 3) and "hold together" in " ".join(both.remarks)


def test_pairs_by_subject_leave_out_how_subjects_differ() -> None:
    table = visits()
    apart = compare_lanes(*lanes_of(table, reference="morning"))
    [pair] = compare_lanes(*lanes_of(table, reference="morning", paired_by="participant")).pairs
    assert pair.paired and pair.estimates[0].name == "mean paired difference"
    for words in ("38 pairs by participant", "2 subjects stand in one lane only", "mean (1 row fewer)"):
        assert words in pair.note
    low, high = pair.estimates[0].low, pair.estimates[0].high
    wide = apart.pairs[0].estimates[0]
    assert low is not None and high is not None and wide.low is not None and wide.high is not None
    assert high - low < (wide.high - wide.low) / 2 and {entry.name for entry in pair.tests} == {
        "paired t",
        "Wilcoxon signed rank",
    }
    assert "counted as independent" in " ".join(apart.guide.why)
    with pytest.raises(InputError, match="dose"):
        compare_lanes(*lanes_of(table, paired_by="dose"))


def test_two_factors_have_a_difference_of_differences() -> None:
    result = compare_lanes(*lanes_of(visits(), subgroups="ward", to="subgroups"))
    assert [(pair.reference, pair.other) for pair in result.pairs] == [
        ("morning · A", "morning · B"),
        ("evening · A", "evening · B"),
    ]
    assert result.two_factors is not None
    [line] = result.two_factors.differences
    assert line.name == "(B − A) in evening less that in morning" and line.low is not None
    means = {pair.reference.split(" ")[0]: pair.estimates[0].value for pair in result.pairs}
    assert line.value == pytest.approx((means["evening"] or 0) - (means["morning"] or 0))
    assert [entry.source for entry in result.two_factors.variance] == ["shift", "ward", "shift × ward", "residual"]
    assert len(result.two_factors.ranks) == 3 and result.overall == []


def test_the_guide_follows_shape_and_spread() -> None:
    rng = np.random.default_rng(3)
    plain = compare_lanes(*lanes_of(three_lanes())).guide
    assert plain.fits[0] == "difference of means" and "neither how large" in plain.not_said
    values = [*rng.lognormal(1, 0.9, 60), *rng.lognormal(3, 0.9, 60)]
    skewed = table_of({"shift": ["a"] * 60 + ["b"] * 60, "level": [f"{v:.3f}" for v in values]})
    guide = compare_lanes(*lanes_of(skewed)).guide
    assert {"difference of medians", "ratio of geometric means", "ratio of SDs"} <= set(guide.fits)
    few = table_of({"shift": ["a"] * 8 + ["b"] * 8, "level": [f"{v:.3f}" for v in rng.lognormal(1, 1.4, 16)]})
    assert compare_lanes(*lanes_of(few)).guide.fits[0] == "Hodges–Lehmann shift"


def test_limits_components_and_control_rules_of_lanes() -> None:
    rng = np.random.default_rng(9)
    runs = np.repeat(np.arange(12), 12)
    level = 50 + rng.normal(0, 2, 12)[runs] + rng.normal(0, 1, 144)
    level[100:104] = 60
    table = table_of({"lot": ["L1"] * 144, "run": [f"r{r}" for r in runs], "level": [f"{v:.3f}" for v in level]})
    result = compare_lanes(*lanes_of(table, "lot", runs="run", limits="robust"))
    assert result.components is not None and [part.name for part in result.components.parts] == [
        "within run",
        "between runs",
        "total",
    ]
    assert result.limits is not None and result.limits.limits[0].method == "robust" and result.limits.partitions == []
    arrangement, _ = lanes_of(table, "lot")
    fixed = Control.model_validate({"target": {"mean": 50.0, "sd": 2.5}})
    hits = control_of(arrangement, fixed)
    assert any(hit.rule == "1-3s" and set(hit.rows) <= {101, 102, 103, 104} for hit in hits.hits)
    [own] = control_of(arrangement, Control()).targets
    assert (own.mean, own.sd) == pytest.approx((float(level.round(3).mean()), float(level.round(3).std(ddof=1))))
    answer = compare_lanes(*lanes_of(table, "lot", control=fixed))
    assert answer.control == hits and any(line.startswith("  L1, 1-3s: row") for line in lines_of(answer, 2))
    by_run = compare_lanes(*lanes_of(table, "lot", control={"lots": "run"}))
    assert by_run.control is not None and [line.lot for line in by_run.control.targets] == [f"r{r}" for r in range(12)]
    assert "  L1, lot r1 (values 13 to 24): target" in "\n".join(lines_of(by_run, 2))
    negative = table_of({"lot": ["a"] * 5, "level": [str(v) for v in (-1, 2, 3, 4, 5)]})
    none = limits_of(lanes_of(negative, "lot")[0], "log-normal").limits[0]
    assert none.lower is None and "no limits" in none.remark


def test_each_pair_and_each_lanes_limits_are_a_step_of_the_way(monkeypatch: pytest.MonkeyPatch) -> None:
    sought: list[int] = []
    real = laboratory.reference_limits
    monkeypatch.setattr(
        laboratory, "reference_limits", lambda values, *asked: (sought.append(len(values)), real(values, *asked))[1]
    )
    at = [(step, len(sought)) for step in compare_stepwise(*lanes_of(three_lanes(), to="all pairs", limits="robust"))]
    steps = [(step.done, step.of, seen) for step, seen in at if isinstance(step, Step)]
    assert steps == [(1, 6, 0), (2, 6, 0), (3, 6, 0), (4, 6, 1), (5, 6, 2), (6, 6, 3)]
    # The answer seeks none of them anew.
    answer, seen = at[-1]
    assert isinstance(answer, LaneDifferences) and answer.limits is not None and len(answer.limits.limits) == seen == 3


def test_the_command_prints_sizes_first_and_json_with_full_digits() -> None:
    words = [
        "compare",
        "demo/samples.csv",
        "--measure",
        "cortisol",
        "--groups",
        "shift pattern",
        "--reference",
        "Day",
        "--limits",
        "robust",
    ]
    text = CliRunner().invoke(app, words)
    assert text.exit_code == 0, text.output
    lines = text.output.splitlines()
    assert lines[0] == "cortisol (nmol/L) across shift pattern" and lines[3].startswith("  difference of means: ")
    assert "95 % interval" in lines[3] and any(line.startswith("What fits here: ") for line in lines)
    result = json.loads(CliRunner().invoke(app, [*words, "--json"]).output)
    assert set(result) == {
        "measure", "unit", "groups", "asked", "pairs", "overall", "pairwise", "two_factors", "limits",
        "components", "control", "guide", "remarks",
    }  # fmt: skip
    assert result["pairs"][0]["estimates"][0]["name"] == "difference of means" and result["asked"]["reference"] == "Day"


def test_the_command_names_the_option_that_is_wrong() -> None:
    words = ["compare", "demo/samples.csv", "--measure", "cortisol", "--groups", "shift pattern", "--reference", "Nigth"]
    failed = CliRunner().invoke(app, words)
    assert isinstance(failed.exception, InputError) and failed.exception.where == "--reference"


@pytest.mark.parametrize(
    ("typed", "target"), [("own", "own"), ("5.2,0.3", {"mean": 5.2, "sd": 0.3}), ("1-20", {"first": 1, "last": 20})]
)
def test_a_control_target_as_it_is_typed(typed: str, target: object) -> None:
    assert control_option(typed, "lot") == {"target": target, "lots": "lot"}
    assert Control.model_validate(control_option(typed, None)).lots is None and control_option(None, "lot") is None


@pytest.mark.parametrize("typed", ["5.2", "5.2,0", "5.2,-1", "five,1", "1,2,3", "20-1", "0-5"])
def test_a_bad_control_target_names_the_option(typed: str) -> None:
    with pytest.raises(InputError) as fault:
        control_option(typed, None)
    assert fault.value.where == "--control"


def test_lines_say_what_has_no_value() -> None:
    table = table_of({"shift": ["a", "a", "b"], "level": ["1.5", "2.5", "3.5"]})
    lines = list(lines_of(compare_lanes(*lanes_of(table)), 1))
    assert any("needs two values in each lane" in line for line in lines)


@settings(max_examples=60, deadline=None)
@given(
    rows=st.lists(
        st.tuples(st.sampled_from("ab"), st.sampled_from("xy"), st.sampled_from(["<1", "", "2", "3.5", "1000000000"])),
        min_size=1, max_size=12,
    ),
    to=st.sampled_from(get_args(ComparedTo)), paired=st.booleans(), level=st.sampled_from([0.5, 0.95, 0.999]),
    limits=st.sampled_from([None, *get_args(LimitMethod)]),
)  # fmt: skip
def test_few_and_odd_values_get_an_answer_or_a_reason(
    rows: list[tuple[str, str, str]], to: str, paired: bool, level: float, limits: str | None
) -> None:
    columns = {"group": [g for g, _, _ in rows], "part": [p for _, p, _ in rows], "level": [v for _, _, v in rows]}
    table = table_of(columns | {"participant": [f"P-{i % 3:03d}" for i in range(len(rows))]})
    told = {"to": to, "level": level, "together": True, "resamples": 500, "limits": limits, "control": {}}
    asked = Differences.model_validate(told | {"paired_by": "participant" if paired else None})
    try:
        result = compare_lanes(arrange(recipe_of_form("box", "level", "group", "part"), table), asked)
    except InputError as refused:
        assert refused.remedy
        return
    assert "nan" not in "\n".join(lines_of(result, 2)).lower()
    for pair in result.pairs:
        assert all(entry.value is not None or entry.remark for entry in pair.estimates)
