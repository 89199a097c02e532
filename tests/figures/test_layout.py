"""No text over another, none off the sheet, whatever the lanes are called."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from echelle.errors import InputError
from echelle.figures.settings import figure_options
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.difference import DifferenceLayer
from echelle.recipes.recipe import FormName
from echelle.recipes.style import Axis, AxisScale, Runs, Size, Words
from echelle.render import scene_of
from echelle.scene.models import PathPart, RectPart, Scene, TextPart
from tests.support.sheets import path_places, texts_keep_apart
from tests.support.tables import box_scene, lanes_table, table_of

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


@settings(max_examples=80, deadline=None)
@given(
    reach=st.sampled_from([1.0, 9.9, 1234.0, 1e6, 3e-7]), runs=st.sampled_from(["across", "up"]),
    scale=st.sampled_from(["linear", "log10"]), mm=st.sampled_from([(60, 60), (84, None), (84, 70), (174, 60)]),
    label=st.text("mean of lv 9%", min_size=3, max_size=120).map(lambda text: f"L{text}"), form=st.sampled_from(list(FORMS)),
    look=st.sampled_from(["house", "slides"]), title=st.booleans(),
)  # fmt: skip
def test_axis_labels_and_words_keep_on_the_sheet(
    reach: float, runs: Runs, scale: AxisScale, mm: tuple[int, int | None], label: str, form: FormName, look: str, title: bool
) -> None:
    if form == "stem":
        return
    recipe = recipe_of_form(form, "level", "group").model_copy(update={
        "axis": Axis(runs=runs, scale=scale), "style": look, "words": Words(measure=label, title="A title" if title else ""),
        "size": Size(width=f"{mm[0]}mm", height=mm[1] and f"{mm[1]}mm"),
    })  # fmt: skip
    lanes = lanes_table({"a": [reach * x for x in (0.2, 0.3, 0.5, 0.7, 0.9, 1.0)], "b": [reach * x for x in (0.1, 0.4, 0.6)]})
    try:
        scene = scene_of(recipe, lanes)
    except InputError as refused:
        assert "too small" in str(refused) or "will not fit" in str(refused)
        return
    texts_keep_apart(scene)


ON_SECOND = {"density": "violin", "bins": "histogram", "cumulative": "cumulative", "normal-curve": "histogram"}


@pytest.mark.parametrize("runs", ["across", "up"])
@pytest.mark.parametrize("side", ["above", "below", "both"])
@pytest.mark.parametrize("place", ["above", "on", "below"])
@pytest.mark.parametrize("kind", ON_SECOND)
def test_marks_as_wide_as_they_go_run_over_no_words(kind: str, place: str, side: str, runs: Runs) -> None:
    offer = next(entry for entry in figure_options().layers if entry.layer == kind)
    told = {"id": "x1", "place": place, "side": side} | {s.path[0]: s.most for s in offer.settings if s.path == ["width"]}
    layer = type(offer.usual).model_validate(
        offer.usual.model_dump() | {key: value for key, value in told.items() if key in type(offer.usual).model_fields}
    )
    recipe = recipe_of_form(ON_SECOND[kind], "level", "group", "part").model_copy(update={  # type: ignore[arg-type]
        "layers": [layer], "axis": Axis(runs=runs), "words": Words(title="A title"), "size": Size(width="174mm"),
    })  # fmt: skip
    values = [1.0, 2.0, 2.5, 3.0, 3.5, 4.5, 7.0, 9.0]
    table = table_of({"group": ["a", "b"] * 8, "part": ["x", "x", "y", "y"] * 4, "level": values * 2})
    scene = scene_of(recipe, table)
    words = [part.box for part in texts(scene) if part.role in ("title", "key-label", "axis-title", "lane-label")]
    for part in scene.walk():
        if not part.layer or not isinstance(part, PathPart | RectPart):
            continue
        if isinstance(part, PathPart):
            xs, ys = path_places(part)
        else:
            xs, ys = [part.x, part.x + part.width], [part.y, part.y + part.height]
        box = (min(xs), min(ys), max(xs), max(ys))
        assert box[0] >= -0.1 and box[1] >= -0.1 and box[2] <= scene.width + 0.1 and box[3] <= scene.height + 0.1
        for entry in words:
            assert box[2] <= entry[0] + 1 or entry[2] <= box[0] + 1 or box[3] <= entry[1] + 1 or entry[3] <= box[1] + 1, (
                box,
                entry,
            )


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


@pytest.mark.parametrize("runs", ["across", "up"])
@pytest.mark.parametrize("spread", [(100.0, 180.0), (-5.0, 5.0), (-7.0, 1e6), (0.001, 0.0022), (96.0, 104.0)])
@pytest.mark.parametrize("mm", [(85, 70), (120, None), (174, 110)])
def test_an_axis_of_differences_keeps_on_the_sheet(runs: Runs, spread: tuple[float, float], mm: tuple[int, int | None]) -> None:
    low, high = spread
    lanes = {name: [low + (high - low) * share for share in (0.0, 0.5, 0.5 + i / 10, 1.0)] for i, name in enumerate("abc")}
    size = Size(width=f"{mm[0]}mm", height=f"{mm[1]}mm" if mm[1] else None)
    layers = [BoxLayer(id="b1"), DifferenceLayer(id="x1", words=False)]
    for style in ("house", "slides"):
        texts_keep_apart(box_scene(lanes, axis=Axis(runs=runs), layers=layers, size=size, style=style))
