"""Words that stay true when data change, the note's length and spelling, and where both stand."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest

from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.recipe import FormName
from echelle.recipes.style import MethodNote, Words
from echelle.render import scene_of
from echelle.scene.models import Scene, TextPart
from tests.support.tables import table_of

TABLE = table_of(
    {"who": ["P1", "P1", "P2", "P3", "P4", "P5"], "colour": ["grey"] * 3 + ["red"] * 3, "level (g)": [1, 2, 6, 5, "", 9.5]}
)


def scene(form: FormName = "box", made: datetime | None = None, **words: object) -> Scene:
    recipe = recipe_of_form(form, "level", "colour")
    return scene_of(recipe.model_copy(update={"words": Words.model_validate(words), "made": made}), TABLE)


def of_role(result: Scene, role: str) -> str:
    return " ".join(part.text for part in result.walk() if isinstance(part, TextPart) and part.role == role)


def test_places_are_filled_from_the_data() -> None:
    made = datetime(2026, 3, 4, 12, tzinfo=UTC)
    caption = "{median:grey} and {mean:red} ({n:red}); {missing}; {date}"
    result = scene(title="{n} of {rows} rows", caption=caption, made=made)
    assert of_role(result, "title") == "5 of 6 rows"
    assert of_role(result, "caption") == "2.0 and 7.25 (2); 1; 2026-03-04"
    assert result.title == "5 of 6 rows" and not [entry for entry in result.advice if entry.key == "words/places"]


def test_what_nothing_fills_is_said_and_not_printed() -> None:
    result = scene(title="{median:blue} {what} {median}", source="{n}")
    assert of_role(result, "title") == "– – –" and of_role(result, "source") == "5"
    [advice] = [entry for entry in result.advice if entry.key == "words/places"]
    assert advice.text == "Nothing fills {median:blue}, {what}, {median}." and "{median:grey}" in advice.why


def test_a_place_names_one_lane_by_its_level_its_name_or_with_its_panel() -> None:
    table = table_of({"ward": ["H", "H", "R", "R"], "colour": ["grey", "red"] * 2, "level": [1.5, 2.5, 3.5, 4.5]})
    recipe = recipe_of_form("box", "level", "colour", across="ward")
    told = "{median:H · red} {median:R · red} {median:red}"
    result = scene_of(recipe.model_copy(update={"words": Words(caption=told)}), table)
    # Two panels hold a lane called red: which one is meant is not guessed.
    assert of_role(result, "caption") == "2.5 4.5 –"
    [advice] = [entry for entry in result.advice if entry.key == "words/places"]
    assert "{median:H · grey}" in advice.why
    renamed = recipe_of_form("box", "level", "colour")
    labels = renamed.groups and renamed.groups.model_copy(update={"labels": {"red": "Red ones"}})
    words = Words(caption="{n:red} {n:Red ones}")
    assert of_role(scene_of(renamed.model_copy(update={"groups": labels, "words": words}), table), "caption") == "2 2"


def test_caption_note_source_and_credit_stand_under_the_figure_in_this_order() -> None:
    result = scene(caption="A caption.", source="A source.", credit="Whose.", note={"under": True})
    tops = {role: next(part.box[1] for part in result.walk() if part.role == role and isinstance(part, TextPart)) for role in
            ("axis-title", "caption", "method-note", "source", "credit")}  # fmt: skip
    assert list(tops) == sorted(tops, key=lambda role: tops[role])
    assert of_role(result, "method-note") == result.note and of_role(scene(), "method-note") == ""
    assert result.height > scene().height


@pytest.mark.parametrize("form", FORMS)
def test_a_short_note_is_one_sentence_with_n(form: FormName) -> None:
    short, full = scene(form, note={"length": "short"}).note, scene(form).note
    assert short.endswith("; n = 5; 1 set aside.") and short[0].isupper()
    assert short.count(". ") == 0 and len(short) < len(full)


def test_american_english_spells_our_words_and_leaves_those_of_the_data() -> None:
    recipe = recipe_of_form("strip", "level", "colour")
    layers = [layer.model_copy(update={"coloured": "colour"}) if layer.layer == "points" else layer for layer in recipe.layers]
    british = scene_of(recipe.model_copy(update={"layers": layers}), TABLE).note
    words = Words(note=MethodNote(english="American"))
    american = scene_of(recipe.model_copy(update={"layers": layers, "words": words}), TABLE).note
    assert "colours: colour" in british and "colors: colour" in american and "grey 3" in american
