"""Method note, description and advice say what is drawn, and follow every setting."""

from __future__ import annotations

import pytest

from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.base import Fence
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.render import scene_of
from echelle.scene.models import TextPart
from echelle.tables.steps.conditions import OneOf
from echelle.tables.steps.left_out import LeftOut
from tests.support.tables import box_scene, table_of

LANES = {"day": [1.5, 2.5, 3.5, 4.5, 30.5], "night": [2.5, 4.5, 6.5, 7.5, 9.5]}


@pytest.mark.parametrize(
    ("layers", "says", "not_says"),
    [
        ([BoxLayer(id="b1")], ["quartiles (type 7);", "within 1.5 ×", "; diamonds lie beyond"], ["open", "seed"]),
        ([BoxLayer(id="b1", fence=Fence(k=2.25))], ["within 2.25 ×"], ["1.5"]),
        ([BoxLayer(id="b1", quantile_type=6)], ["quartiles (type 6)"], []),
        ([BoxLayer(id="b1"), PointsLayer(id="p1", seed=7)], ["open diamonds", "jitter, seed 7"], []),
        ([PointsLayer(id="p1", spread="line")], ["on one line"], ["Boxes", "jitter", "seed"]),
        ([BoxLayer(id="b1", shown=False), PointsLayer(id="p1")], ["Points: every value"], ["Boxes"]),
    ],
)
def test_the_note_follows_the_layers(layers: list, says: list[str], not_says: list[str]) -> None:
    note = box_scene(LANES, layers=layers).note
    assert all(words in note for words in says) and not any(words in note for words in not_says), note


def test_a_missing_mark_that_ends_in_a_point_ends_the_sentence() -> None:
    table = table_of({"ward": list("aab"), "level": ["1.5", "n.d.", "3.5"]})
    assert (
        "Without a value: 1 n.d." in (note := scene_of(recipe_of_form("box", "level", "ward"), table).note) and ".." not in note
    )


def test_the_note_says_what_is_left_aside() -> None:
    table = table_of({"ward": list("aabbab"), "kind": list("xxxxxy"), "level": ["1.5", "QNS", "", "<0.4", "3.5", "9.5"]})
    recipe = recipe_of_form("box", "level", "ward").model_copy(
        update={"keep": [OneOf(column="kind", values=["x"])], "left_out": [LeftOut(row=5, reason="slip of the pen")]}
    )
    note = scene_of(recipe, table).note
    assert "Rows kept: kind = x (1 not kept)." in note and "Without a value: 1 empty, 1 QNS." in note.replace(
        "1 QNS, 1 empty", "1 empty, 1 QNS"
    )
    assert "1 value beyond a detection limit" in note and "1 row left out (row 5: slip of the pen)" in note


def test_the_description_orders_the_medians() -> None:
    text = box_scene(LANES).description
    assert "level (mmol/L) in 2 lanes" in text and "night 6.5 (n = 5), day 3.5 (n = 5)" in text
    assert "Most spread: night (interquartile range 3.0); least: day" in text and text.endswith("beyond the fences: day 1.")


@pytest.mark.parametrize(
    ("name", "entry", "many"),
    [
        ("participant", "person", "people"), ("patient_id", "person", "people"), ("donorId", "person", "people"),
        ("Animal no", "animal", "animals"),
        ("Subject", "subject", "subjects"), ("Barcode", "Barcode", "× Barcode"),
    ],
)  # fmt: skip
def test_those_are_called_as_the_identifier_names_them(name: str, entry: str, many: str) -> None:
    table = table_of(
        {name: [f"P-{i // 2:03d}" for i in range(40)], "group": ["a", "b"] * 20, "level": [i + 0.5 for i in range(40)]}
    )
    scene = scene_of(recipe_of_form("box", "level", "group"), table)
    assert scene.counts.called == many
    [repeated] = [advice for advice in scene.advice if advice.key == "repeated-people"]
    assert f"20 {many}." in repeated.text and f"one {entry} resemble" in repeated.why
    assert repeated.remedies[0].words == f"One mean value per {entry}, in the table"
    alone = recipe_of_form("box", "level")
    assert f"n = 40, 20 {many}" in [part.text for part in scene_of(alone, table).walk() if isinstance(part, TextPart)]


def test_people_are_told_from_rows() -> None:
    table = table_of({
        "participant": [f"P-{i // 2:03d}" for i in range(40)], "ward": ["a", "b"] * 20, "level": [i + 0.5 for i in range(40)],
    })  # fmt: skip
    scene = scene_of(recipe_of_form("box", "level", "ward"), table)
    assert scene.counts.people == 20 and [r.people for r in scene.readings] == [20, 20]
    assert "40 rows come from 20 people." in [advice.text for advice in scene.advice]
