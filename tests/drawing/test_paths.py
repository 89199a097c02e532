"""Every path of a figure is one that every writer can trace."""

from __future__ import annotations

import re

import pytest

from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.guides import Guide
from echelle.recipes.recipe import FormName
from echelle.recipes.style import Axis, Ledger, Size, Words
from echelle.render import scene_of
from echelle.scene.models import PathPart
from tests.support.tables import lanes_table

TABLE = lanes_table({"day": [1.5, 2.5, 3.5, 4.5, 9.5], "night": [0.25, 0.5, 1.75, 3.0]})


@pytest.mark.parametrize("runs", ["across", "up"])
@pytest.mark.parametrize("form", FORMS)
def test_paths_are_moves_lines_curves_and_closes(form: FormName, runs: str) -> None:
    # All that stands around the lanes at once: small ticks, numbers on the sheet, guides, a note and a reader's key.
    words = Words.model_validate({"title": "T", "note": {"under": True}, "key": {"placed": "below"}})
    scene = scene_of(
        recipe_of_form(form, "level", "group").model_copy(
            update={
                "axis": Axis(runs=runs, minor=3), "ledger": Ledger(drawn=True), "words": words, "size": Size(width="174mm"),  # type: ignore[arg-type]
                "guides": [Guide(at=2.0, label="at two"), Guide(band=(1, 3), label="target")],
            }
        ),
        TABLE,
    )  # fmt: skip
    paths = [part.d for part in scene.walk() if isinstance(part, PathPart)]
    assert paths and not {letter for d in paths for letter in re.findall("[A-Za-z]", d)} - set("MLCZe")
