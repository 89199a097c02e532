"""The question that a new table opens with, over made-up tables of the kinds that laboratories have."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.recipes.default_recipe import default_recipe, question
from echelle.recipes.forms import form_of
from echelle.recipes.other_questions import other_questions
from echelle.render import scene_of
from echelle.tables.column_summary import ColumnSummary, summary_of
from echelle.tables.reading.read import read_bytes
from echelle.tables.summary_statistics_tables import summary_columns

ROWS = 48


def asked(data: bytes) -> str:
    """The first question of a file, which can be drawn."""
    table = read_bytes(data).table
    columns = [summary_of(column) for column in table.columns]
    recipe = default_recipe(columns, summary_columns(columns, table.rows))
    assert scene_of(recipe, table).parts
    return question(recipe)


def table_of(**columns: object) -> bytes:
    """A table; a column is a list of levels that take turns, or "measure", "whole", "few", "counter" or "year"."""
    made = {
        "measure": lambda i: f"{0.37 + (i * 7.31) % 11.7:.2f}",
        "whole": lambda i: str((i * 37) % 97),
        "few": lambda i: str((i * i) % 7),
        "counter": lambda i: str(i + 1),
        "year": lambda i: str(1980 + i),
    }
    lines = [",".join(columns)]
    for i in range(ROWS):
        cells = [made[kind](i) if isinstance(kind, str) else kind[i % len(kind)] for kind in columns.values()]  # type: ignore[index]
        lines.append(",".join(cells))
    return ("\n".join(lines) + "\n").encode()


SEX, ARM, YES, BLOCK = ["f", "m", "m"], ["placebo", "low", "high"], ["yes", "no", "no", "no"], ["b1", "b2", "b3", "b4"]
CODES = ["0", "1", "1"]
QUESTIONS = {
    "the arm before sex, the outcome before age": (
        table_of(patient_id="counter", sex=SEX, age="whole", arm=ARM, glucose="measure"), "Compare glucose across arm"),
    "never the row numbers": (table_of(rownames="counter", sex=SEX, level="measure"), "Compare level across sex"),
    "never the row numbers under no name": (
        table_of(**{"": "counter", "sex": SEX, "level": "measure"}), "Compare level across sex"),
    "a unit before the last column": (
        table_of(**{"ward": BLOCK, "Ferritin (µg/L)": "measure", "remark_no": "whole"}), "Compare Ferritin across ward"),
    "the outcome's own word": (
        table_of(method=["a", "b"], response="measure", ph="measure", salinity="measure"), "Compare response across method"),
    "baseline gives way": (
        table_of(treatment=ARM, change="measure", baseline_score="measure"), "Compare change across treatment"),
    "pre and post": (
        table_of(treatment=ARM, pre_weight="measure", post_weight="measure"), "Compare post_weight across treatment"),
    "time with an event": (table_of(rx=["a", "b"], time="measure", status=CODES, age="whole"), "Compare time across rx"),
    "time without an event gives way": (table_of(diet=ARM, weight="measure", time="measure"), "Compare weight across diet"),
    "species before sex and site": (
        table_of(site=BLOCK, sex=SEX, species=["x", "y", "z"], length="measure"), "Compare length across species"),
    "a block where nothing else is": (table_of(block=BLOCK, yield_t="measure"), "Compare yield_t across block"),
    "an event where nothing else is": (table_of(dead=YES, marker="measure"), "Compare marker across dead"),
    "partner status is no event": (
        table_of(**{"partner.status": ["low", "high"], "smoker": CODES, "score": "measure"}),
        "Compare score across partner.status"),
    "the logarithm gives way": (table_of(union=YES, wage="measure", lwage="measure"), "Compare wage across union"),
    "lanes that share a stem": (table_of(lot1="measure", lot2="measure", lot3="measure"), "Compare lot1, lot2, lot3"),
    "lanes beside a counter": (table_of(run="counter", air="measure", helium="measure"), "Compare air, helium"),
    "never a year among lanes": (table_of(year="year", north="measure", south="measure"), "Compare north, south"),
    "nothing to group by": (table_of(id="counter", level="measure"), "Compare level"),
    "the richest codes where nothing is measured": (
        table_of(arm=ARM, rating=["1", "2", "3", "4", "5"], done=YES), "Compare rating across arm"),
    "counts where all are words": (table_of(arm=ARM, improved=["none", "some"]), "Count the rows across arm"),
    "counts of one column": (b"answer\nfavour\nagainst\nfavour\n", "Count the rows across answer"),
}  # fmt: skip


@pytest.mark.parametrize("name", QUESTIONS)
def test_the_first_question_is_what_an_analyst_would_ask(name: str) -> None:
    data, expected = QUESTIONS[name]
    assert asked(data) == expected


@given(
    st.lists(
        st.sampled_from(["measure", "whole", "few", "counter", "year", "sex", "arm", "yes", "block"]), min_size=1, max_size=7
    ),
    st.permutations(["time", "status", "id", "x", "level", "group", "year", "age", "n", "count", "rate"]),
)
def test_no_table_is_refused(kinds: list[str], names: list[str]) -> None:
    given_levels: dict[str, object] = {"sex": SEX, "arm": ARM, "yes": YES, "block": BLOCK}
    columns = {name: given_levels.get(kind, kind) for name, kind in zip(names, kinds, strict=False)}
    assert asked(table_of(**columns)).startswith(("Compare ", "Count the rows"))


def others(data: bytes) -> list[tuple[list[str], str | None, str | None]]:
    """Other likely questions of a file, which can all be drawn: measures, groups, subgroups."""
    table = read_bytes(data).table
    columns = [summary_of(column) for column in table.columns]
    recipes = other_questions(columns, summary_columns(columns, table.rows))
    assert all(scene_of(recipe, table).parts for recipe in recipes)
    return [(r.measure.columns, r.groups and r.groups.column, r.subgroups and r.subgroups.column) for r in recipes]


def test_other_questions_are_of_other_outcomes_and_other_groups_and_never_the_first() -> None:
    data = table_of(arm=["verum", "placebo"], site=["north", "south", "west"], crp="measure", ldl="measure", age="whole")
    result = others(data)
    assert len(result) == 5 and len({str(entry) for entry in result}) == 5
    first = asked(data)
    assert first == "Compare ldl across arm"
    assert (["ldl"], "arm", None) not in result
    assert (["ldl"], "site", None) in result and (["crp"], "arm", None) in result and (["ldl"], None, None) in result
    assert (["ldl"], "arm", "site") in result


def test_tables_with_little_to_ask_are_asked_no_more() -> None:
    assert others(table_of(crp="measure")) in ([], [(["crp"], None, None)])
    assert others(table_of(arm=["verum", "placebo"])) == []


def test_groups_of_few_values_open_as_points() -> None:
    def form(levels: int) -> str:
        table = read_bytes(table_of(arm=[f"arm {i}" for i in range(levels)], crp="measure")).table
        return str(form_of(default_recipe([summary_of(column) for column in table.columns])))

    assert (form(3), form(12)) == ("box", "strip")


def test_single_values_with_names_of_their_own_are_asked_in_their_order() -> None:
    rows = "".join(f"S{i:02d},{('north', 'south')[i % 2]},{(i * 37) % 23 + 0.5}\n" for i in range(20))
    table = read_bytes(f"site code,region,dose rate\n{rows}".encode()).table
    asked = other_questions([summary_of(column) for column in table.columns])
    named = next(recipe for recipe in asked if recipe.groups and recipe.groups.column == "site code")
    assert named.groups and named.groups.sorted == "by median" and scene_of(named, table).lanes[0].name == "S18"
    twice = read_bytes(f"site code,region,dose rate\n{rows}{rows}".encode()).table
    again = other_questions([summary_of(column) for column in twice.columns])
    assert not any(recipe.groups and recipe.groups.column == "site code" for recipe in again)


def test_a_wide_table_is_asked_without_holding_each_column_against_all() -> None:
    class Alone(ColumnSummary):
        __hash__ = None  # type: ignore[assignment]

        def __eq__(self, other: object) -> bool:
            raise AssertionError("a column was held against another")

    genes = {f"gene{place}": "measure" for place in range(30)}
    table = read_bytes(table_of(arm=ARM, sex=SEX, **genes)).table
    columns = [Alone(**vars(summary_of(column))) for column in table.columns]
    # Of several alike the last is the outcome, and the first of what they may be compared by the groups.
    recipe = default_recipe(columns, None)
    assert recipe.groups is not None and recipe.groups.column == "arm" and recipe.measure.columns[-1] == "gene29"
