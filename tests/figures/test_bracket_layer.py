"""Brackets over pairs: which lanes they join, what stands over them, and that none goes through another."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from echelle.numbers.differences import hypothesis_tests as evidence
from echelle.numbers.differences.hypothesis_tests import p_words
from echelle.numbers.differences.means import mean_difference
from echelle.numbers.differences.multiple_comparisons import adjust_p_values
from echelle.recipes.differences import Differences
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.bracket import BracketLayer
from echelle.recipes.style import Axis, Size
from echelle.render import scene_of
from echelle.scene.models import LinePart, Scene, TextPart
from tests.support.tables import lanes_table, table_of

RNG = np.random.default_rng(8)
LANES = {name: np.round(RNG.normal(middle, 2, 25), 2) for name, middle in (("a", 10), ("b", 11.2), ("c", 15), ("d", 12))}
TABLE = lanes_table({name: values.tolist() for name, values in LANES.items()})


def drawn(
    to: str = "all pairs", runs: str = "up", scale: str = "linear", size: Size | None = None, **settings: object
) -> Scene:  # fmt: skip
    recipe = recipe_of_form("box", "level", "group").model_copy(update={"size": size or Size()})
    layers = [*recipe.layers, BracketLayer.model_validate({"id": "k1", **settings})]
    axis = recipe.axis.model_copy(update={"runs": runs, "scale": scale})
    asked = Differences.model_validate({"to": to})
    return scene_of(recipe.model_copy(update={"layers": layers, "axis": axis, "differences": asked}), TABLE)


def brackets(scene: Scene) -> list[LinePart]:
    return [part for part in scene.walk() if isinstance(part, LinePart) and part.layer == "k1" and part.key.endswith("line")]


def texts(scene: Scene) -> list[TextPart]:
    return [part for part in scene.walk() if isinstance(part, TextPart) and part.layer == "k1"]


@pytest.mark.parametrize("scale", ["linear", "log10"])
def test_no_bracket_goes_through_another_and_all_stand_over_the_values(scale: str) -> None:
    scene = drawn(scale=scale)
    result = brackets(scene)
    assert len(result) == 6 == len(texts(scene))
    for entry, other in itertools.combinations(result, 2):
        overlap = min(entry.x2, other.x2) - max(entry.x1, other.x1)
        assert entry.y1 != other.y1 or overlap < 0
    left, top, width, _ = scene.panels[0].box
    scale_of = scene.panels[0].scale
    highest = max(reading.max or 0 for reading in scene.readings)
    share = (highest - scale_of.domain[0]) / (scale_of.domain[1] - scale_of.domain[0])
    if scale == "linear":
        at = scale_of.range[0] + share * (scale_of.range[1] - scale_of.range[0])
        assert all(line.y1 < at for line in result)
    assert all(left <= line.x1 < line.x2 <= left + width and line.y1 > top for line in result)
    assert all(part.box[1] >= top - 1 for part in texts(scene))


def test_words_are_the_differences_of_the_lanes() -> None:
    scene = drawn("reference", words="estimate, interval and p")
    pairs = [("a", other) for other in "bcd"]
    ps = adjust_p_values([evidence.welch_t(LANES[a], LANES[b]).p for a, b in pairs], "Holm")
    for (a, b), p, text in zip(pairs, ps, texts(scene), strict=True):
        result = mean_difference(LANES[a], LANES[b])
        assert result.value is not None and p is not None
        assert text.text.startswith(f"{result.value:+.3f}".replace("-", "−")[:5]) and text.text.endswith(f"{p_words(p)} (Holm)")
    assert "p of Welch t, adjusted for 3 pairs by Holm" in scene.note and "(Welch's t)" in scene.note
    assert texts(drawn("reference", words="p"))[0].text == f"{p_words(ps[0] or 0.0)} (Holm)"
    assert "(" not in texts(drawn("reference", words="estimate"))[0].text


def test_across_they_stand_at_the_right_and_words_run_up() -> None:
    scene = drawn(runs="across")
    assert all(line.x1 == line.x2 for line in brackets(scene)) and all(text.turn == -90 for text in texts(scene))


@pytest.mark.parametrize("to", ["all pairs", "neighbours", "reference"])
@pytest.mark.parametrize("runs", ["up", "across"])
@pytest.mark.parametrize("words", ["estimate and interval", "estimate, interval and p", "p"])
@pytest.mark.parametrize(("width", "height"), [(174, 110), (85, 60), (114, 45), (60, 140)])
def test_words_never_stand_over_one_another(to: str, runs: str, words: str, width: int, height: int) -> None:
    scene = drawn(to, runs, size=Size(width=f"{width}mm", height=f"{height}mm"), words=words)
    boxes = [part.box for part in texts(scene)]
    lines = [(part.x1, part.y1, part.x2, part.y2) for part in brackets(scene)]
    for entry, other in [*itertools.combinations(boxes, 2), *itertools.product(boxes, lines)]:
        assert (
            min(entry[2], other[2]) - max(entry[0], other[0]) < 0.2 or min(entry[3], other[3]) - max(entry[1], other[1]) < 0.2
        )
    worded = {part.key.split("/note/")[1].split("/")[0] for part in texts(scene)}
    bare = len(brackets(scene)) - len(worded)
    assert [entry.text.split()[0] for entry in scene.advice if entry.key == "k1/words"] == ([str(bare)] if bare else [])
    left, top, wide, _ = scene.panels[0].box
    assert all(top - 1.5 <= box[1] and box[2] <= left + wide + 1.5 for box in boxes)
    if (width, height) == (174, 110):
        assert not bare


def test_brackets_keep_under_an_end_that_was_chosen() -> None:
    low = Size(width="114mm", height="60mm")
    every = np.concatenate(list(LANES.values()))
    end = float(every.max() + 0.5 * (every.max() - every.min()))
    recipe = recipe_of_form("box", "level", "group").model_copy(update={"size": low, "axis": Axis(runs="up", end=end)})
    layers = [*recipe.layers, BracketLayer(id="k1")]
    ended = recipe.model_copy(update={"layers": layers, "differences": Differences(to="all pairs")})
    assert drawn(size=low).panels[0].scale.domain[1] > end and len(brackets(scene_of(ended, TABLE))) == 6


def test_words_that_find_no_room_in_one_line_stand_in_two() -> None:
    result = texts(drawn("neighbours", words="estimate, interval and p", size=Size(width="155mm", height="110mm")))
    assert len(result) == 6 and {part.size for part in result} == {7.0}
    assert [part.text.startswith("p ") for part in result] == [False, True] * 3


@pytest.mark.parametrize(("of", "said"), [("shift", "Hodges–Lehmann shifts"), ("medians", "bootstrap BCa, seed 41")])
def test_the_note_says_what_they_are(of: str, said: str) -> None:
    assert said in drawn("neighbours", of=of).note


def test_too_many_pairs_are_said() -> None:
    many = lanes_table({f"g{i}": RNG.normal(i, 1, 6).round(2).tolist() for i in range(8)})
    recipe = recipe_of_form("box", "level", "group")
    layers = [*recipe.layers, BracketLayer(id="k1")]
    scene = scene_of(recipe.model_copy(update={"layers": layers, "differences": Differences(to="all pairs")}), many)
    assert len(brackets(scene)) == 15
    assert any("28 pairs are too many" in entry.text for entry in scene.advice)


def test_within_subjects_they_are_paired() -> None:
    people = [f"P{i}" for i in range(12)]
    before = RNG.normal(20, 4, 12).round(2)
    after = (before + 2 + RNG.normal(0, 0.3, 12)).round(2)
    when, level = ["before"] * 12 + ["after"] * 12, [*before.tolist(), *after.tolist()]
    table = table_of({"who": people * 2, "when": when, "level": level})
    recipe = recipe_of_form("box", "level", "when")
    layers = [*recipe.layers, BracketLayer(id="k1", words="p")]
    scene = scene_of(recipe.model_copy(update={"layers": layers, "differences": Differences(paired_by="who")}), table)
    assert texts(scene)[0].text == "p < 0.001" and "mean differences within who" in scene.note and "paired t" in scene.note


def test_pairs_without_subjects_in_both_lanes_have_no_bracket() -> None:
    table = table_of({"who": list("abcdef"), "when": ["x", "x", "x", "y", "y", "y"], "level": [1.0, 2.0, 4.0, 3.0, 5.0, 6.5]})
    recipe = recipe_of_form("box", "level", "when")
    layers = [*recipe.layers, BracketLayer(id="k1")]
    scene = scene_of(recipe.model_copy(update={"layers": layers, "differences": Differences(paired_by="who")}), table)
    assert brackets(scene) == [] and [entry.text for entry in scene.advice if entry.key == "k1/none"] == [
        "y to x: no difference to draw."
    ]
