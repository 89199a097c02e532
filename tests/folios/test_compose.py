"""Folios: letters, one axis, rows that stand level, pages, one note and one key for all."""

from __future__ import annotations

import numpy as np
import pytest

from echelle.drawing.fonts.typesetter import set_line
from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.folios.compose import FolioFigure, compose_folio
from echelle.folios.models import PAGES, FolioPage
from echelle.folios.notes import note_of
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import FormName
from echelle.recipes.style import MethodNote, Runs, Words
from echelle.scene.models import PathPart, Scene, TextPart
from tests.support.sheets import path_places
from tests.support.tables import lanes_table

RNG = np.random.default_rng(5)


def figure(form: FormName = "box", low: float = 10.0, lanes: int = 3) -> FolioFigure:
    table = lanes_table({f"g{i}": RNG.normal(low, 2, 20).round(2).tolist() for i in range(lanes)})
    recipe = recipe_of_form(form, "level", "group")
    return FolioFigure(recipe, arrange(recipe, table))


def pages(*figures: FolioFigure, **page: object) -> list[Scene]:
    return compose_folio(FolioPage.model_validate(page), figures, set_line)


def texts(scene: Scene, role: str, prefix: str = "") -> list[TextPart]:
    return [part for part in scene.walk() if isinstance(part, TextPart) and part.role == role and prefix in part.key]


@pytest.mark.parametrize("name", PAGES)
def test_figures_keep_inside_every_page(name: str) -> None:
    for scene in pages(figure(), figure("raincloud"), figure("violin"), figure("means", lanes=5), page=name, columns=1):
        assert (scene.width, scene.height) == (PAGES[name][0], PAGES[name][1] or scene.height)  # type: ignore[index]
        for part in scene.walk():
            if isinstance(part, TextPart):
                assert part.box[0] >= -0.5 and part.box[2] <= scene.width + 0.5, part.text
                # Where the page ends with its figures, words still keep off its edges.
                edge = 4.0 if PAGES[name][1] is None else -0.5  # type: ignore[index]
                assert part.box[1] >= edge and part.box[3] <= scene.height - edge, part.text
        keys = [part.key for part in scene.walk()]
        assert len(keys) == len(set(keys))


@pytest.mark.parametrize(("letters", "wanted"), [("A", ["A", "B", "C"]), ("a", ["a", "b", "c"]), ("none", [])])
def test_letters_stand_at_the_corner_of_their_figure(letters: str, wanted: list[str]) -> None:
    [scene] = pages(figure(), figure(), figure(), letters=letters)
    result = [part for part in texts(scene, "title", "folio/title") if len(part.text) == 1]
    assert [part.text for part in result] == wanted
    if wanted:
        assert result[0].y == result[1].y < result[2].y and result[0].x == result[2].x < result[1].x


def test_figures_in_a_row_are_as_high_as_the_highest() -> None:
    [scene] = pages(figure(lanes=2), figure(lanes=8), note=False)
    titles = texts(scene, "axis-title")
    assert titles[0].y == pytest.approx(titles[1].y, abs=1.0)


def test_one_axis_for_figures_of_one_measure() -> None:
    def labels(**page: object) -> list[set[str]]:
        [scene] = pages(figure(low=10), figure(low=50), **page)
        return [{part.text for part in texts(scene, "axis-label", f"/f{n}/")} for n in (0, 1)]

    apart, shared = labels(), labels(one_axis=True)
    assert apart[0] != apart[1] and shared[0] == shared[1]


@pytest.mark.parametrize("others", [2, 11])
def test_curves_that_rise_over_their_panel_stay_on_the_page_beside_a_higher_figure(others: int) -> None:
    [scene] = pages(worded(figure("ridges", lanes=4), title="Above"), figure(lanes=others), page="A4", note=False)
    feet = [max(part.y for part in texts(scene, "axis-label", f"/f{n}/")) for n in range(2)]
    assert feet[0] == pytest.approx(feet[1], abs=0.6)
    heading = max(part.box[3] for part in texts(scene, "title", "/f0/"))
    tops = [min(path_places(part)[1]) for part in scene.walk() if isinstance(part, PathPart) and part.role == "density"]
    assert min(tops) > heading


def test_counts_share_an_axis_with_counts_and_never_with_their_measure() -> None:
    figures = [figure("counts", low=300.0), figure(low=300.0), figure("counts", lanes=1)]
    long = arrange(figures[0].recipe, lanes_table({"g0": [1.5, 2.5] * 90}))
    figures[0] = FolioFigure(figures[0].recipe, long)

    def labels(**page: object) -> list[set[str]]:
        [scene] = pages(*figures, columns=3, **page)
        return [{part.text for part in texts(scene, "axis-label", f"/f{n}/")} for n in range(3)]

    apart, shared = labels(), labels(one_axis=True)
    assert shared[:2] == apart[:2] and apart[2] != shared[2] == shared[0]


def worded(entry: FolioFigure, **words: str) -> FolioFigure:
    return FolioFigure(entry.recipe.model_copy(update={"words": Words(**words)}), entry.lanes)  # type: ignore[arg-type]


@pytest.mark.parametrize("runs", ["across", "up"])
def test_lanes_of_a_row_stand_level_whatever_stands_over_and_under_them(runs: Runs) -> None:
    def along(entry: FolioFigure) -> FolioFigure:
        axis = entry.recipe.axis.model_copy(update={"runs": runs})
        return FolioFigure(entry.recipe.model_copy(update={"axis": axis}), entry.lanes)

    bare, low = along(figure(lanes=4)), along(figure("strip", lanes=4))
    full = worded(bare, title="A title", subtitle="and more", caption="A caption " * 40, source="someone")
    [scene] = pages(full, bare, low, columns=3, note=False)
    lanes = [{part.text: part.y for part in texts(scene, "lane-label", f"/f{n}/")} for n in range(3)]
    assert len(lanes[0]) == 4
    for name, y in lanes[0].items():
        assert lanes[1][name] == pytest.approx(y, abs=0.02) and lanes[2][name] == pytest.approx(y, abs=0.02)
    if runs == "across":
        ends = [max(part.y for part in texts(scene, "axis-label", f"/f{n}/")) for n in range(3)]
        assert ends == pytest.approx([ends[0]] * 3, abs=0.02)
    heading = min(part.box[1] for part in texts(scene, "title", "/f0/"))
    assert heading < min(part.box[3] for part in texts(scene, "title", "folio/title")) + 25


def test_what_notes_have_in_common_is_said_once() -> None:
    assert note_of({"A": ["Boxes."], "B": ["Boxes."]}) == "Boxes."
    assert note_of({"A": ["Boxes."], "B": ["Dots."], "C": ["Boxes."]}) == "A, C: Boxes. B: Dots."
    three = {"A": ["One.", "All.", "Two."], "B": ["Three.", "All."], "C": ["All.", "Two."]}
    assert note_of(three) == "All. A, C: Two. A: One. B: Three."
    same = figure()
    [scene] = pages(same, figure("means"), same)
    note = " ".join(part.text for part in texts(scene, "method-note"))
    assert note.startswith("n: g0: 20, g1: 20, g2: 20. A, C: Boxes:") and " B: Dots:" in note
    [bare] = pages(same, same, note=False)
    assert not texts(bare, "method-note")


def test_keys_explain_the_marks_of_every_figure_with_as_few_lanes_as_it_takes() -> None:
    def headings(*figures: FolioFigure) -> list[str]:
        [scene] = pages(*figures, key=True, note=False)
        return [part.text for part in texts(scene, "title", "folio-key")]

    assert headings(figure(), figure("raincloud"), figure()) == ["How to read these figures"]
    assert headings(figure(), figure("histogram"), figure()) == ["How to read these figures", "And figure B"]
    assert headings(figure("means")) == ["How to read this figure"]


def test_the_note_keeps_the_length_that_figures_chose() -> None:
    plain = figure()
    words = plain.recipe.words.model_copy(update={"note": MethodNote(length="short", under=True)})
    short = FolioFigure(plain.recipe.model_copy(update={"words": words}), plain.lanes)
    [scene] = pages(short, short)
    assert "".join(part.text for part in texts(scene, "method-note")).endswith("n = 60.")
    assert len({part.layer for part in texts(scene, "method-note")}) == 1


def test_more_than_a_page_flows_on_and_the_title_stands_on_the_first() -> None:
    result = pages(*[figure("raincloud", lanes=4) for _ in range(6)], page="A4", columns=1, title="All of it")
    assert len(result) > 2
    assert [sum(part.text == "All of it" for part in texts(scene, "title")) for scene in result] == [1] + [0] * (
        len(result) - 1
    )
    assert result[1].description == f"All of it: 6 figures, page 2 of {len(result)}."


def test_none_and_too_many_are_refused_with_a_remedy() -> None:
    with pytest.raises(InputError, match="holds no figure"):
        pages()
    with pytest.raises(InputError, match="24 figures at most"):
        pages(*[figure()] * 25)
    with pytest.raises(InputError, match="too small"):
        pages(figure("raincloud"), figure("raincloud"), page="one column", columns=4)
