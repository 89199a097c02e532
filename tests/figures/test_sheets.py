"""Every form, any way it runs, split and panelled, over lanes of any name: texts keep apart and marks in their panels."""

from __future__ import annotations

import itertools
from xml.etree import ElementTree

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from echelle.drawing.svg import to_svg
from echelle.figures.lanes.arrange import arrange
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.guides import Guide
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.roles import Groups, Subgroups
from echelle.recipes.style import Axis, SecondAxis, Size, Words
from echelle.render import scene_of, scene_of_lanes
from echelle.scene.models import Scene
from tests.figures.test_layout import names
from tests.support.sheets import keys_are_unique, marks_stay_in_their_panel, marks_stay_on_the_sheet, texts_keep_apart
from tests.support.tables import many_values, table_of

RNG = np.random.default_rng(5)
N = 240
SPLIT = {
    "group": [f"arm {'ABCD'[i % 4]}" for i in range(N)],
    "day": [("first", "second")[i // 4 % 2] for i in range(N)],
    "site": [("Harbour", "Ridge", "Valley")[i // 8 % 3] for i in range(N)],
    "subject": [f"S-{i // 3:03d}" for i in range(N)],
    "level (mmol/L)": [f"{v:.2f}" for v in RNG.lognormal(1.5, 0.5, N)],
}
TABLE = table_of(SPLIT)


def recipe(form: FormName, runs: str | None = None, **update: object) -> Recipe:
    made = recipe_of_form(form, "level", "group")
    axis = Axis(runs=runs) if runs else made.axis  # type: ignore[arg-type]
    return made.model_copy(update={"axis": axis, **update})


def check(scene: Scene) -> None:
    texts_keep_apart(scene)
    keys_are_unique(scene)
    marks_stay_in_their_panel(scene)
    marks_stay_on_the_sheet(scene)
    root = ElementTree.fromstring(to_svg(scene))
    assert len(list(root.iter())) > 5


@pytest.mark.parametrize(("form", "runs"), list(itertools.product(FORMS, ("across", "up"))))
def test_every_form_runs_both_ways_split_or_not(form: FormName, runs: str) -> None:
    for placed in (None, "beside", "back-to-back", "overlaid", "stacked"):
        split = {} if placed is None else {"subgroups": Subgroups(column="day", placed=placed)}
        scene = scene_of(recipe(form, runs, size=Size(width="150mm"), **split), TABLE)
        check(scene)
        assert scene.form == form
        assert len(scene.lanes) == len(scene.readings) == (4 if placed is None else 8)
        assert sum(readings.n for readings in scene.readings) == N


@pytest.mark.parametrize(("form", "scales"), list(itertools.product(FORMS, ("one", "one-per-line", "each-its-own"))))
def test_every_form_in_panels(form: FormName, scales: str) -> None:
    made = recipe_of_form(form, "level", "group", None, "day", "site")
    panels = made.panels.model_copy(update={"scales": scales})
    scene = scene_of(made.model_copy(update={"panels": panels}), TABLE)
    check(scene)
    assert [panel.name for panel in scene.panels[:2]] == ["Harbour · first", "Ridge · first"] and len(scene.panels) == 6
    domains = {panel.scale.domain for panel in scene.panels}
    assert len(domains) == 1 or scales != "one"


@pytest.mark.parametrize("form", FORMS)
def test_a_miniature_has_marks_and_no_words(form: FormName) -> None:
    made = recipe(form)
    scene = scene_of_lanes(made, arrange(made, TABLE), miniature=True)
    assert (scene.width, scene.height, scene.handles, scene.readings) == (96.0, 64.0, [], [])
    assert not any(part.part == "text" for part in scene.walk())
    assert sum(part.layer != "" for part in scene.walk()) >= 4


@settings(max_examples=80, deadline=None)
@given(
    names=names,
    form=st.sampled_from(list(FORMS)),
    runs=st.sampled_from(["across", "up"]),
    wide=st.sampled_from(["90mm", "174mm"]),
)
@example(names=["LW", "LWW", "LWWW", "LWWWWWWWW"], form="stem", runs="up", wide="90mm")
def test_names_of_any_length_keep_apart(names: list[str], form: FormName, runs: str, wide: str) -> None:
    table = table_of(
        {"group": [f"g{i % len(names)}" for i in range(60)], "level": [f"{(i * 37 % 59) + 0.5}" for i in range(60)]}
    )
    labels = {f"g{i}": name for i, name in enumerate(names)}
    made = recipe(form, runs, size=Size(width=wide), words=Words(title=names[0], subtitle=names[-1]))
    groups = (made.groups or Groups(column="group")).model_copy(update={"labels": labels})
    texts_keep_apart(scene_of(made.model_copy(update={"groups": groups}), table))


@pytest.mark.parametrize("form", FORMS)
def test_lanes_of_no_one_and_two_values(form: FormName) -> None:
    table = table_of({"group": ["a", "b", "c", "c", "d", "d"], "level": ["ND", "2.5", "3.5", "3.5", "1.5", "4.5"]})
    scene = scene_of(recipe(form), table)
    check(scene)
    assert [readings.n for readings in scene.readings] == [0, 1, 2, 2]


@pytest.mark.parametrize("form", [form for form in FORMS if form not in ("stem", "in-order")])
@pytest.mark.parametrize("lanes", [1, 60])
def test_one_lane_and_sixty(form: FormName, lanes: int) -> None:
    scene = scene_of(recipe(form), many_values(600, lanes))
    check(scene)
    assert len(scene.lanes) == lanes


def test_ridges_of_a_hundred_and_fifty_lanes_say_whose_tail_is_covered() -> None:
    scene = scene_of(recipe("ridges"), many_values(6000, 150))
    check(scene)
    assert any("covered" in advice.text for advice in scene.advice)


def test_an_empty_panel_says_so() -> None:
    table = table_of({
        "group": ["a", "b"] * 6, "site": ["x"] * 6 + ["y"] * 6,
        "level": [f"{i}.5" for i in range(6)] + ["ND"] * 6,
    })  # fmt: skip
    made = recipe_of_form("box", "level", "group", None, None, "site")
    notes = [part for part in scene_of(made, table).walk() if part.role == "panel-note"]
    assert [(part.panel, part.text) for part in notes] == [("p2", "no rows")]


@pytest.mark.parametrize("runs", ["across", "up"])
def test_guides_stand_at_their_place_and_their_labels_keep_apart(runs: str) -> None:
    guides = [
        Guide(band=(2.0, 6.0), label="reference interval"), Guide(at=6.1, label="limit of the kit"),
        Guide(at="median", label="median of all"), Guide(at=900.0, label="far away"),
    ]  # fmt: skip
    scene = scene_of(recipe("box", runs, guides=guides), TABLE)
    check(scene)
    drawn = {part.layer for part in scene.walk() if part.role == "guide"}
    assert drawn == {"guide1", "guide2", "guide3"}
    assert any("far away" in advice.text for advice in scene.advice if advice.key == "guides")


def test_a_second_axis_can_be_hidden_and_held() -> None:
    def labels(second: SecondAxis) -> list[str]:
        scene = scene_of(recipe("histogram", second_axis=second), TABLE)
        return [part.text for part in scene.walk() if part.role == "second-label"]

    assert labels(SecondAxis(shown=False)) == []
    assert "100" in labels(SecondAxis(end=100.0)) and "100" not in labels(SecondAxis())
