"""Tallied tables made whole, and repeats summed: against the rows that were tallied, and exact fractions."""

from __future__ import annotations

from collections import Counter
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from echelle.errors import InputError
from echelle.recipes.forms import recipe_of_form
from echelle.render import scene_of
from tests.support.steps import after, cells, ids, read

ROWS = st.lists(st.tuples(st.sampled_from("abc"), st.integers(-20, 20)), min_size=2, max_size=40)
STEP = {"step": "repeat", "times": "count"}


@settings(max_examples=40, deadline=None)
@given(ROWS)
def test_a_tally_made_whole_gives_the_numbers_of_the_rows_behind_it(rows: list[tuple[str, int]]) -> None:
    plain = read("arm,level\n" + "".join(f"{arm},{level / 10}\n" for arm, level in rows))
    tally = Counter(rows)
    tallied = read("arm,level,count\n" + "".join(f"{arm},{level / 10},{n}\n" for (arm, level), n in tally.items()))
    whole = after(tallied, STEP)
    assert whole.rows == len(rows) and [column.name for column in whole.columns] == ["arm", "level"]
    assert len(set(ids(whole))) == len(rows)
    recipe = recipe_of_form("box", "level", "arm")

    def numbers(table):  # type: ignore[no-untyped-def]
        kept = {"lane", "outliers", "inside", "named", "people"}
        return {lane.group: lane.model_dump(exclude=kept) for lane in scene_of(recipe, table).readings}

    assert numbers(whole) == numbers(plain)


def test_rows_keep_their_ids_and_what_counts_none_is_gone() -> None:
    whole = after(read("arm,level,count\na,1.5,2\nb,2.5,0\nc,3.5,\nd,4.5,1\n"), STEP)
    assert cells(whole, "level") == ["1.5", "1.5", "4.5"]
    written = [whole.row_ids.written(key) for key in whole.row_ids.keys.tolist()]
    assert written == ["1", "1 · 2", "4"]
    left = after(
        read("arm,level,count\na,1.5,3\n"), STEP, {"step": "leave out", "rows": [{"row": 1, "part": "2", "reason": "spilt"}]}
    )
    assert left.in_use == 2


@pytest.mark.parametrize(
    ("count", "said"), [("1.5", "row 2 counts 1.5"), ("-1", "row 2 counts -1"), ("3000000", "adds up to 3,000,002 rows")]
)
def test_counts_that_are_none_are_refused_with_their_row(count: str, said: str) -> None:
    with pytest.raises(InputError, match=said):
        after(read(f"arm,level,count\na,1.5,2\nb,2.5,{count}\n"), STEP)


@settings(max_examples=40, deadline=None)
@given(ROWS)
def test_repeats_are_summed_as_the_decimals_they_are(rows: list[tuple[str, int]]) -> None:
    table = after(
        read("who,level\n" + "".join(f"{who},{level / 10}\n" for who, level in rows)),
        {"step": "combine", "by": ["who"], "how": "sum"},
    )
    sums = {who: sum(Fraction(level, 10) for other, level in rows if other == who) for who, _ in rows}
    assert table.column("level").numbers is not None
    assert dict(zip(cells(table, "who"), table.column("level").numbers.tolist(), strict=True)) == {  # type: ignore[union-attr]
        who: float(total) for who, total in sums.items()
    }
