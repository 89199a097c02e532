"""Simple marks in words: what they slant, raise and lower, and what they leave alone."""

from __future__ import annotations

import subprocess

import pytest

from echelle.drawing.fonts.typesetter import set_line
from echelle.drawing.formats import Output, scene_bytes
from echelle.drawing.svg import to_svg
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.markup import TextStyle, has_marks, plain, text_styles
from echelle.recipes.style import Words
from echelle.render import scene_of
from echelle.scene.models import Scene, TextPart
from tests.support.tables import lanes_table

TABLE = lanes_table({"wild": [1.0, 2.0, 3.0], "*1/*2": [2.0, 3.0, 5.0]})


def drawn(words: Words, labels: dict[str, str] | None = None) -> Scene:
    recipe = recipe_of_form("box", "level", "group")
    assert recipe.groups is not None
    groups = recipe.groups.model_copy(update={"labels": labels or {}})
    return scene_of(recipe.model_copy(update={"words": words, "groups": groups}), TABLE)


def texts(scene: Scene, role: str) -> list[TextPart]:
    return [part for part in scene.walk() if isinstance(part, TextPart) and part.role == role]


@pytest.mark.parametrize(
    ("written", "read"),
    [
        ("*TP53* carriers", "TP53 carriers"),
        ("10^{3} cells/mm^{2}", "103 cells/mm2"),
        ("CO_{2}, *{p}CO_{2}", "CO2, pCO2"),
        ("*c*_{max} / nmol L^{−1}", "cmax / nmol L−1"),
        (r"a \* b \* c", "a * b * c"),
        (r"\*kept\*", "*kept*"),
        # Alleles and products are no italics.
        ("*1/*2", "*1/*2"),
        ("HLA-A*02:01", "HLA-A*02:01"),
        ("2 * 3 * 4", "2 * 3 * 4"),
        ("p < 0.05 *", "p < 0.05 *"),
        ("snake_case and x^2", "snake_case and x^2"),
        ("", ""),
    ],
)
def test_marks_leave_the_words(written: str, read: str) -> None:
    assert plain(written) == read


def test_each_character_has_its_manner_across_words() -> None:
    body, result = text_styles(has_marks("*E. coli* ^{a}_{b}"))
    assert body == "E. coli ab"
    assert [how.italic for how in result] == [True, True, False, True, True, True, True, False, False, False]
    assert result[-2:] == [TextStyle(level=1), TextStyle(level=-1)]
    assert text_styles("as it is") == ("as it is", [])


def test_raised_text_is_smaller_and_above_lowered_below() -> None:
    line = set_line(has_marks("x^{2}_{i}*y*"), "Lato", 400, 10.0)
    base, raised, lowered, slanted = line.runs
    assert raised.scale == lowered.scale < 1 == base.scale
    assert lowered.rise < 0 == base.rise < raised.rise
    assert (base.face, slanted.face) == ("lato-400", "lato-400i")
    assert [run.at for run in line.runs[1:]] == pytest.approx(
        [base.width, base.width + raised.width, lowered.at + lowered.width]
    )
    assert line.width == pytest.approx(sum(run.width for run in line.runs))


def test_long_italics_break_between_lines_and_stay_slanted() -> None:
    words = "*Mycobacterium tuberculosis complex and its many close relatives of the same family* in sputum, by ward and week"
    lines = texts(drawn(Words(title=words)), "title")
    assert len(lines) > 1
    slanted = [run.text.strip() for line in lines for run in line.runs if run.face.endswith("i")]
    assert " ".join(" ".join(slanted).split()) == words.split("*")[1]


def test_a_level_stands_as_it_is_and_a_given_name_may_carry_marks() -> None:
    scene = drawn(Words(), {"wild": "*TP53*^{+/+}"})
    assert {lane.name for lane in scene.lanes} == {"TP53+/+", "*1/*2"}
    label = next(part for part in texts(scene, "lane-label") if part.text == "TP53+/+")
    assert {run.face[-1] for run in label.runs} == {"i", "0"}
    assert "TP53+/+: 3" in scene.note and "TP53+/+" in scene.description


def test_files_hold_the_words_without_marks() -> None:
    scene = drawn(Words(title="*BRCA1*, 10^{9}/L", caption="{n} values, CO_{2}"))
    assert scene.title == "BRCA1, 109/L"
    svg = to_svg(scene).decode()
    assert 'font-style="italic"' in svg and "<title>BRCA1, 109/L</title>" in svg
    assert not any(sign in svg for sign in "\uf8e0\uf8e1\uf8e2\uf8e3")
    said = subprocess.run(["pdftotext", "-", "-"], input=scene_bytes(scene, Output("pdf")), capture_output=True, check=True)
    text = said.stdout.decode()
    assert "BRCA1" in text and "6 values" in text


def test_marks_keep_the_order_of_right_to_left_words() -> None:
    line = set_line(has_marks("שלום^{2} abc *def*"), "Lato", 400, 10.0)
    order = [run.text.strip() for run in line.runs if run.text.strip()]
    assert order[-1] == "שלום" and order.index("abc") < order.index("def") < order.index("2")
    assert [run.rise > 0 for run in line.runs if run.text.strip() == "2"] == [True]
    assert line.runs[0].at == 0 and line.width == pytest.approx(sum(run.width for run in line.runs))
