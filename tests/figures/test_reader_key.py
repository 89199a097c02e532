"""The reader's key: every mark is numbered and said, in words that forestall the usual misreadings."""

from __future__ import annotations

import itertools
from typing import get_args

import numpy as np
import pytest

from echelle.catalogue.catalogue import catalogue
from echelle.drawing.svg import to_svg
from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.lane_pairs import lanes_shown
from echelle.figures.layers.base import NoteContext
from echelle.figures.layers.measure import measure_figure
from echelle.figures.layers.registry import layer_of
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.layers import Layer
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.difference import DifferenceLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.style import ReaderKey, Words
from echelle.render import reader_key_of, scene_of
from echelle.scene.models import GroupPart, PathPart, PointsPart, Scene, ScenePart, TextPart, unpack
from echelle.scene.translate import translate
from echelle.tables.steps.conditions import OneOf
from tests.support.tables import lanes_table, table_of

RNG = np.random.default_rng(3)
LANES = {"a": RNG.normal(10, 2, 30).round(2).tolist(), "b": [*RNG.normal(14, 2, 60).round(2).tolist(), 40.0], "c": [11.0, 12.0]}
TABLE = lanes_table(LANES)


def keyed(form: FormName = "box", placed: str = "below", lane: str | None = None, **update: object) -> Recipe:
    recipe = recipe_of_form(form, "level", "group")
    words = Words(key=ReaderKey.model_validate({"placed": placed, "lane": lane}), title="A title")
    return recipe.model_copy(update={"words": words, **update})


def said(scene: Scene) -> str:
    return " ".join(part.text for part in scene.walk() if isinstance(part, TextPart) and part.role == "key-words")


def numbers(scene: Scene, where: str) -> list[str]:
    parts = [part for part in scene.walk() if isinstance(part, TextPart) and part.role == "key-number"]
    return [part.text for part in parts if f"/{where}" in part.key]


@pytest.mark.parametrize("form", FORMS)
def test_every_form_has_a_key_whose_numbers_all_stand_at_a_mark(form: FormName) -> None:
    plain, scene = scene_of(keyed(form, "none"), TABLE), scene_of(keyed(form), TABLE)
    assert numbers(scene, "list") == numbers(scene, "mark") != []
    assert numbers(scene, "list") == [str(i + 1) for i in range(len(numbers(scene, "list")))]
    assert scene.height > plain.height and scene.width == plain.width
    for part in scene.walk():
        if isinstance(part, TextPart):
            assert part.box[0] >= -0.5 and part.box[2] <= scene.width + 0.5 and part.box[3] <= scene.height + 0.5, part.text
    assert scene.lanes == plain.lanes and [p.box for p in scene.panels] == [p.box for p in plain.panels]
    keys = [part.key for part in scene.walk()]
    assert len(set(keys)) == len(keys)


@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize("placed", ["below", "beside"])
def test_no_number_stands_on_a_word_or_on_another(form: FormName, placed: str) -> None:
    scene = scene_of(keyed(form, placed), TABLE)
    texts = [part for part in scene.walk() if isinstance(part, TextPart)]
    badges = [part for part in texts if part.role == "key-number" and "/mark" in part.key]
    discs = [(x - 4.9, y - 4.9, x + 4.9, y + 4.9) for x, y in ((sum(p.box[::2]) / 2, p.y - 2.34) for p in badges)]
    others = [part.box for part in texts if part.role != "key-number"]
    for entry, other in [*itertools.combinations(discs, 2), *itertools.product(discs, others)]:
        assert min(entry[2], other[2]) <= max(entry[0], other[0]) or min(entry[3], other[3]) <= max(entry[1], other[1])
    assert all(box[0] >= 0 and box[1] >= 0 and box[2] <= scene.width and box[3] <= scene.height for box in discs)


def test_counted_subjects_are_told_from_rows() -> None:
    table = table_of({"group": ["a"] * 6, "level": [1.0] * 6, "subject": ["S1", "S1", "S2", "S2", "S3", "S3"]})
    assert table.column("subject").kind == "identifier"
    assert "number of different subjects" in said(scene_of(keyed("counts"), table))
    assert "subjects" not in said(scene_of(keyed("counts"), TABLE))


def test_the_usual_misreadings_are_forestalled() -> None:
    words = said(scene_of(keyed("raincloud"), TABLE))
    misread = ("It is not the mean", "no confidence interval", "no percentile, and not the fence", "not a number of points")
    for clause in misread:
        assert clause in words, words
    assert "means nothing" in words and "does not make it wrong" in words


def test_words_follow_the_settings() -> None:
    ranged = keyed(layers=[BoxLayer.model_validate({"id": "b1", "holds": 0.8, "fence": {"rule": "full range"}})])
    words = said(scene_of(ranged, TABLE))
    assert "central 80 %" in words and "smallest and the largest" in words and "diamond" not in words
    spread = said(scene_of(keyed(layers=[MeanLayer(id="m1", interval="SD")]), TABLE))
    assert "the spread of values, not how sure the mean is" in spread
    sure = said(scene_of(keyed(layers=[MeanLayer(id="m1", interval="confidence")]), TABLE))
    assert "not where values lie" in sure
    hidden = said(scene_of(keyed(layers=[BoxLayer(id="b1"), PointsLayer(id="p1", shown=False)]), TABLE))
    assert "point" not in hidden


def test_every_layer_is_explained() -> None:
    for model in get_args(get_args(Layer)[0]):
        recipe = keyed(layers=[model(id="x1")])
        context, [(settings, measured)] = measure_figure(recipe, lanes_shown(recipe, arrange(recipe, TABLE)), 0)
        words = [text for _, text in layer_of(settings).explain(settings, NoteContext(context, measured, catalogue()))]
        assert words and all(text.endswith(".") and len(text) < 200 for text in words)


def test_it_shows_the_chosen_lane_or_the_fullest_one() -> None:
    def lane_of(scene: Scene) -> list[str]:
        texts = [part for part in scene.walk() if isinstance(part, TextPart) and part.role == "lane-label"]
        return [part.text for part in texts if part.layer == "key"]

    assert lane_of(scene_of(keyed(), TABLE)) == ["b"] and lane_of(scene_of(keyed(lane="a"), TABLE)) == ["a"]
    assert lane_of(scene_of(keyed(lane="gone"), TABLE)) == ["b"]


def test_beside_it_widens_the_sheet_and_alone_it_is_a_page() -> None:
    plain, beside = scene_of(keyed(placed="none"), TABLE), scene_of(keyed(placed="beside"), TABLE)
    texts = [part.x for part in beside.walk() if isinstance(part, TextPart) and part.layer == "key"]
    assert beside.width > plain.width and min(texts) > plain.width
    page = reader_key_of(keyed(placed="none"), arrange(keyed(placed="none"), TABLE))
    assert page.title == "How to read this figure" and "A title" not in to_svg(page).decode()
    assert page.panels == [] and page.readings == []
    nobody = keyed(keep=[OneOf(column="group", values=["z"])])
    with pytest.raises(InputError, match="no lane has values"):
        reader_key_of(nobody, arrange(nobody, TABLE))


def test_what_goes_from_lane_to_lane_is_said_without_a_number() -> None:
    scene = scene_of(keyed(layers=[BoxLayer(id="b1"), DifferenceLayer(id="x1")]), TABLE)
    assert "speak against no difference" in said(scene)
    assert not [part for part in scene.walk() if part.key.startswith("key/") and part.role == "interval"]


def places(parts: list[ScenePart]) -> list[tuple[float, float]]:
    result: list[tuple[float, float]] = []
    for part in parts:
        if isinstance(part, GroupPart):
            result += places(part.parts)
        elif isinstance(part, PointsPart):
            result += list(zip(unpack(part.columns.x, "<f4").tolist(), unpack(part.columns.y, "<f4").tolist(), strict=True))
        elif isinstance(part, PathPart):
            words = part.d.translate(str.maketrans("MLCZ", "    ")).split()
            result += list(zip(map(float, words[::2]), map(float, words[1::2]), strict=True))
        elif isinstance(part, TextPart):
            result += [(part.x, part.y), part.box[:2], part.box[2:]]
        else:
            result.append((part.x, part.y) if part.part == "rect" else (part.x1, part.y2))
    return result


@pytest.mark.parametrize("form", ["raincloud", "histogram", "violin", "cumulative"])
def test_moved_parts_are_the_same_further_on(form: FormName) -> None:
    scene = scene_of(recipe_of_form(form, "level", "group"), TABLE)
    before, after = places(scene.parts), places(translate(scene.parts, 30.5, -12.25, "x"))
    assert np.allclose(np.array(before) + np.array([30.5, -12.25]), np.array(after), atol=2e-3)
    flat = translate(scene.parts, 0, 0, "x")
    assert all(part.key.startswith("x/") and part.panel == "" for part in flat)
