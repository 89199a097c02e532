"""Control rules against targets of lots: which values they are held against, and that rules begin anew."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.numbers.differences.control_rules import control_hits, hits_of_runs, lot_runs


def codes(text: str) -> np.ndarray[tuple[int], np.dtype[np.int32]]:
    return np.array([ord(c) - ord("a") if c != "." else -1 for c in text], dtype=np.int32)


def test_a_lot_that_comes_back_has_the_target_it_had() -> None:
    values = np.array([10.0, 12.0, 20.0, 24.0, 11.0, 13.0, 50.0])
    runs = lot_runs(values, codes("aabbaa."), None, None)
    assert [(run.lot, run.first, run.end) for run in runs] == [(0, 0, 2), (1, 2, 4), (0, 4, 6), (-1, 6, 7)]
    assert runs[0].mean == runs[2].mean == 11.5 and runs[1].mean == 22.0
    assert runs[0].sd == pytest.approx(np.std([10, 12, 11, 13], ddof=1))
    assert runs[3].mean is None and runs[3].sd is None
    assert [(run.mean, run.sd) for run in lot_runs(values, codes("aabbaa."), (15.0, 2.0), None)] == [(15.0, 2.0)] * 4


def test_a_stretch_is_of_each_lot() -> None:
    values = np.array([1.0, 3.0, 100.0, 5.0, 9.0, 100.0])
    first, second = lot_runs(values, codes("aaabbb"), None, slice(0, 2))
    assert (first.mean, second.mean) == (2.0, 7.0)
    [whole] = lot_runs(values, None, None, slice(1, 4))
    assert whole.mean == pytest.approx(36.0) and (whole.first, whole.end) == (0, 6)


def test_rules_begin_anew_with_each_lot() -> None:
    # Ten above the mean in a row, but five of each lot.
    values = np.concatenate([np.full(5, 1.2), np.full(5, 1.2)])
    [entry] = lot_runs(values, None, (1.0, 1.0), None)
    assert [hit.rule for hit in hits_of_runs(values, [entry])] == ["10-x"]
    assert list(hits_of_runs(values, lot_runs(values, codes("aaaaabbbbb"), (1.0, 1.0), None))) == []


def test_nothing_has_no_runs_and_one_value_no_target() -> None:
    assert lot_runs(np.empty(0), None, None, None) == []
    [single] = lot_runs(np.array([5.0]), None, None, None)
    assert single.sd is None and list(hits_of_runs(np.array([5.0]), [single])) == []


@given(st.lists(st.tuples(st.sampled_from("abc."), st.floats(-50, 50)), min_size=1, max_size=60))
def test_runs_cover_all_values_and_hits_are_those_of_each_run(rows: list[tuple[str, float]]) -> None:
    values, lots = np.array([value for _, value in rows]), codes("".join(lot for lot, _ in rows))
    runs = lot_runs(values, lots, (0.0, 10.0), None)
    assert [place for run in runs for place in range(run.first, run.end)] == list(range(len(values)))
    assert all(len(set(lots[run.first : run.end].tolist())) == 1 for run in runs)
    apart = [hit for run in runs for hit in control_hits(values[run.first : run.end], 0.0, 10.0)]
    together = list(hits_of_runs(values, runs))
    assert [hit.rule for hit in together] == [hit.rule for hit in apart]
    assert all(abs(values[place]) > 20 for hit in together if hit.rule in ("1-2s", "1-3s") for place in hit.places)
