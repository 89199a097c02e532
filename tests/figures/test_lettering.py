"""Wrapping and shrinking of words, with the real fonts."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.drawing.fonts.typesetter import set_line
from echelle.figures.geometry.frame import MarkOf
from echelle.figures.geometry.lettering import LEADING, SMALLEST, Lettering
from echelle.recipes.style import Style

words = st.lists(st.text("abcdefWM.µ", min_size=1, max_size=24), min_size=1, max_size=10).map(" ".join)


@given(text=words, room=st.floats(30, 300), size=st.floats(6, 12), most=st.integers(1, 4))
def test_lines_fit_their_room_and_lose_nothing_unless_cut(text: str, room: float, size: float, most: int) -> None:
    letters = Lettering(set_line, Style())
    block = letters.block(text, room, size, 600, most)
    assert 1 <= len(block.lines) <= most and SMALLEST <= block.size <= size
    assert all(letters.width(line, block.size, 600) <= room + 0.01 for line in block.lines)
    kept = "".join(block.lines).replace(" ", "")
    if block.cut:
        assert block.lines[-1].endswith("…") and text.replace(" ", "").startswith(kept[:-1])
    else:
        assert kept == text.replace(" ", "")
    assert block.height == pytest.approx(len(block.lines) * block.size * LEADING)


def test_a_word_wider_than_the_room_is_broken() -> None:
    letters = Lettering(set_line, Style())
    block = letters.block("Hypercholesterolaemia", 40, 8)
    assert len(block.lines) > 1 and "".join(block.lines) == "Hypercholesterolaemia"


@pytest.mark.parametrize(("anchor", "left"), [(0.0, 100.0), (1.0, None), (0.5, None)])
def test_anchors_and_turned_text(anchor: float, left: float | None) -> None:
    letters = Lettering(set_line, Style())
    width = letters.width("cortisol", 8)
    part = letters.put(MarkOf("", "", "axis-title"), "p1", "cortisol", 100, 50, 8, "#000000", anchor=anchor)
    assert part.box[0] == pytest.approx(100 - anchor * width, abs=0.001)
    assert left is None or part.box[0] == left
    turned = letters.put(MarkOf("", "", "axis-title"), "p1", "cortisol", 100, 50, 8, "#000000", anchor=anchor, turned=True)
    assert turned.turn == -90 and turned.box[3] == pytest.approx(50 + anchor * width, abs=0.001)
    assert turned.box[3] - turned.box[1] == pytest.approx(width, abs=0.002)
