"""The formula language: what it computes, what becomes missing, where its errors point."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.errors import InputError
from echelle.tables.formulas.evaluate import Evaluation
from tests.support.steps import after, cells, read, replayed

TABLE = read(
    "a,b,night work,plate,taken,back,ok\n"
    "1.5,2,3.5,p,2026-01-05,2026-01-07,yes\n"
    "0,4,1.5,p,2026-02-10,2026-02-10,no\n"
    "-2,,0.5,q,2026-12-31,2027-01-01,\n"
)


def numbers(formula: str) -> list[float]:
    """A formula's numbers over the table."""
    result = Evaluation(formula, TABLE).value().numbers
    assert result is not None
    return np.broadcast_to(result, (3,)).tolist()


@pytest.mark.parametrize(
    ("formula", "expected"),
    [
        ("a + 2 * b", [5.5, 8.0, math.nan]),
        ("(a + 2) × b ÷ 4", [1.75, 2.0, math.nan]),
        ("-a ^ 2", [-2.25, 0.0, -4.0]),
        ("2 ^ 3 ^ 2", [512.0] * 3),
        ("1 - 2 − 3", [-4.0] * 3),
        ('"night work" / 0.5', [7.0, 3.0, 1.0]),
        ("abs(a)", [1.5, 0.0, 2.0]),
        ("round(a / 7, 2)", [0.21, 0.0, -0.29]),
        ("max(a, b)", [2.0, 4.0, -2.0]),
        ("mean(a, b)", [1.75, 2.0, -2.0]),
        ("sum(a, b)", [3.5, 4.0, -2.0]),
        ("count(a, b)", [2.0, 2.0, 1.0]),
        ("mean(a within plate)", [0.75, 0.75, -2.0]),
        ("a - median(a within plate)", [0.75, -0.75, 0.0]),
        ("SD(a within plate)", [math.sqrt(1.125), math.sqrt(1.125), math.nan]),
        ("count(b within plate)", [2.0, 2.0, 0.0]),
        ("if a > 1 then 10 else 20", [10.0, 20.0, 20.0]),
        ("if plate = 'p' and not (b ≥ 4) then 1 else 0", [1.0, 0.0, 0.0]),
        ("if b is missing then 0 else b", [2.0, 4.0, 0.0]),
        ("if b is not missing or a < 0 then 1 else 0", [1.0, 1.0, 1.0]),
        ("if ok then 1 else 0", [1.0, 0.0, math.nan]),
        ("year(back) - year(taken)", [0.0, 0.0, 1.0]),
        ("days(taken, back)", [2.0, 0.0, 1.0]),
        ("if taken < '2026-02-01' then 1 else 0", [1.0, 0.0, 0.0]),
    ],
)
def test_what_formulas_compute(formula: str, expected: list[float]) -> None:
    assert numbers(formula) == pytest.approx(expected, nan_ok=True, rel=1e-15)


def test_words_dates_and_truths_become_columns_of_their_kind() -> None:
    table = after(
        TABLE,
        {"step": "derive", "to": "day", "formula": "weekday(taken)"},
        {"step": "derive", "to": "high", "formula": "a >= 0"},
        {"step": "derive", "to": "side", "formula": "if a > 0 then 'up' else plate"},
        {"step": "derive", "to": "double", "formula": "2 * a", "unit": "mg"},
    )
    assert cells(table, "day") == ["Monday", "Tuesday", "Thursday"]
    assert cells(table, "high") == ["yes", "yes", "no"] and table.column("high").kind == "yes/no"
    assert cells(table, "side") == ["up", "p", "q"] and table.column("double").heading == "double (mg)"


def test_what_cannot_be_computed_is_missing_and_counted() -> None:
    result = replayed(TABLE, {"step": "derive", "to": "log", "formula": "log10(a)"})
    assert cells(result.table, "log")[1:] == [None, None] and result.results[0].note == "2 without an answer"
    guarded = replayed(TABLE, {"step": "derive", "to": "log", "formula": "if a > 0 then log10(a) else 0"})
    assert guarded.results[0].note == "3 values"
    assert replayed(TABLE, {"step": "derive", "to": "x", "formula": "1 / b"}).results[0].note == "2 values"
    limits = replayed(read("a,l\nx,<0.5\ny,2\nz,3\n"), {"step": "derive", "to": "x", "formula": "2 * l"})
    assert limits.results[0].note == "1 limit taken as missing"


@pytest.mark.parametrize(
    ("formula", "character", "says"),
    [
        ("a +", 4, "ends too early"),
        ("2 3", 3, "“3” does not fit"),
        ("a & b", 3, "“&” does not fit"),
        ("a + plate", 5, "a number is needed, this is a text"),
        ("a + who", 5, "no column “who”"),
        ("fold(a)", 1, "no function “fold”"),
        ("mean(a)", 1, "needs a category"),
        ("log10(a within plate)", 1, "has no “within”"),
        ("if a then 1 else 2", 4, "a comparison is needed"),
        ("if a > 1 then 1 else 'x'", 1, "else a text"),
        ("a = 'x'", 1, "compared"),
        ("year(a)", 1, "takes 1 date"),
        ("__import__('os')", 1, "no function"),
    ],
)
def test_errors_point_at_the_character(formula: str, character: int, says: str) -> None:
    with pytest.raises(InputError) as caught:
        Evaluation(formula, TABLE).value()
    assert caught.value.where == f"formula, character {character}" and says in caught.value.what and caught.value.remedy


NUMBERS = st.floats(-1e6, 1e6).map(lambda x: round(x, 3))


def arithmetic(depth: int) -> st.SearchStrategy[tuple[str, str]]:
    """A formula over x and y, and the same in Python."""
    leaf = st.one_of(st.sampled_from([("x", "x"), ("y", "y")]), NUMBERS.map(lambda n: (f"({n!r})", f"({n!r})")))
    if depth == 0:
        return leaf
    deeper = arithmetic(depth - 1)
    signs = st.sampled_from([("+", "+"), ("−", "-"), ("×", "*"), ("·", "*")])
    parts = st.tuples(deeper, signs, deeper)
    both = parts.map(lambda t: (f"({t[0][0]} {t[1][0]} {t[2][0]})", f"({t[0][1]} {t[1][1]} {t[2][1]})"))
    return st.one_of(leaf, both, deeper.map(lambda pair: (f"-{pair[0]}", f"-{pair[1]}")))


@given(arithmetic(3), NUMBERS, NUMBERS)
def test_arithmetic_is_that_of_the_numbers(pair: tuple[str, str], x: float, y: float) -> None:
    table = read(f"x,y,w\n{x!r},{y!r},a\n0.5,1.5,b\n")
    result = Evaluation(pair[0], table).value().numbers
    assert result is not None and result[0] == eval(pair[1], {}, {"x": x, "y": y})
