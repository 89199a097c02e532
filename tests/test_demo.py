"""The demo holds the irregularities that demo/README.md promises."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from demo.example import recipes
from echelle.figures.lanes.arrange import arrange
from echelle.tables.reading.read import read_file

DEMO = Path(__file__).resolve().parent.parent / "demo"


def test_the_samples_are_as_promised() -> None:
    reading = read_file(DEMO / "samples.csv")
    table = reading.table
    cortisol = table.column("cortisol")
    assert table.rows == 1448 and cortisol.unit == "nmol/L"
    assert cortisol.absent == {"QNS": 27, "": 4} and cortisol.censored == 14
    assert {c.name: c.kind for c in table.columns} == {
        "participant": "identifier", "ward": "category", "shift pattern": "category", "day": "category", "sample": "category",
        "cortisol": "measure", "haemolysed": "yes/no", "nights in a row": "measure", "plate": "category",
    }  # fmt: skip
    codes = table.column("participant").codes
    assert np.unique(np.bincount(codes)).tolist() == [8] and len(np.unique(codes)) == 181
    assert table.column("haemolysed").texts.to_list().count("yes") == 12
    said = " ".join(remark.text for remark in reading.remarks)
    assert (
        "another decimal mark" in said
        and "“rotating” (3 rows)" in said
        and [r.row is not None for r in reading.remarks] == [True, True, False, False, False]
    )


def test_rotating_has_two_peaks_that_nights_tell_apart() -> None:
    table = read_file(DEMO / "samples.csv").table
    rotating = next(lane for lane in arrange(recipes()["waking-by-shift"], table).lanes if lane.name == "Rotating")
    nights = table.column("nights in a row").numbers
    assert nights is not None
    many = nights[rotating.rows - 1] >= 3
    few, more = rotating.values[~many], rotating.values[many]
    assert np.median(few) > 2 * np.median(more) and len(few) > 30 and len(more) > 30


def test_the_other_tables_are_remarked_for_their_units_alone() -> None:
    lots = read_file(DEMO / "clotting_lots.csv")
    assert [(c.kind, c.unit) for c in lots.table.columns] == [("measure", "s")] * 4 and len(lots.remarks) == 1
    people = read_file(DEMO / "participants.csv")
    assert [c.kind for c in people.table.columns] == ["identifier", "measure", "measure", "category"] and len(
        people.remarks
    ) == 1
