"""No text over another, none off the sheet, whatever the lanes are called."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from echelle.figures.scene import Scene, TextPart
from echelle.recipes.looks import Axis, Size, Words
from tests.figures.sheets import texts_keep_apart
from tests.tabling import box_scene

letters = st.text("abcdefghij mnopqrW µ²Ω-", min_size=1, max_size=70).map(lambda t: f"L{t}".strip())
names = st.lists(letters, min_size=1, max_size=9, unique_by=lambda t: "".join(t.lower().split()))


def texts(scene: Scene) -> list[TextPart]:
    return [part for part in scene.walk() if isinstance(part, TextPart)]


@settings(max_examples=60, deadline=None)
@given(names=names, runs=st.sampled_from(["across", "up"]), title=letters, height=st.sampled_from([None, "90mm"]))
def test_names_of_any_length_keep_apart(names: list[str], runs: str, title: str, height: str | None) -> None:
    lanes = {name: [1.0 + i, 2.0 + i, 4.0 + i, 9.5] for i, name in enumerate(names)}
    words = Words(title=title, source=title, credit=title, groups="groups")
    texts_keep_apart(box_scene(lanes, axis=Axis(runs=runs), words=words, size=Size(height=height)))


def test_lanes_turn_across_where_names_would_collide_and_say_so() -> None:
    lanes = {f"a rather long name of level number {i}": [1.5, 2.5, 3.5] for i in range(14)}
    scene = box_scene(lanes, axis=Axis(runs="up"))
    assert scene.panels[0].scale.direction == "x"
    assert [advice.key for advice in scene.advice if advice.key == "turned"]
    texts_keep_apart(scene)


def test_a_character_without_a_glyph_is_a_remark() -> None:
    scene = box_scene({"ordinary": [1.5, 2.5], "odd \U0001f9ea": [2.5, 3.5]})
    assert "\U0001f9ea" in next(a.text for a in scene.advice if a.key == "unwritable")


@pytest.mark.parametrize("count", [60, 400])
def test_many_lanes_keep_their_names_apart(count: int) -> None:
    scene = box_scene({f"site {i}": [i + 0.5, i + 1.5] for i in range(count)})
    labels = [part for part in texts(scene) if part.role == "lane-label"]
    assert len(labels) == count
    assert all(a.box[3] <= b.box[1] + 0.32 * a.size for a, b in pairwise(labels))
