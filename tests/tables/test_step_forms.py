"""Every step says what it is: nothing else on the way keeps a table of steps."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

from echelle.tables.steps.base import StepBase
from echelle.tables.steps.forms import step_forms, unasked_fields
from echelle.tables.steps.registry import STEP_NAMES, STEPS

ROOT = Path(__file__).parents[2]


@pytest.mark.parametrize("model", STEPS, ids=STEP_NAMES)
def test_a_step_has_its_words_its_effect_and_a_form_that_asks_all_it_needs(model: type[StepBase]) -> None:
    form = next(form for form in step_forms() if form["step"] == model.step_name())
    assert form["title"] and form["help"] and model.__doc__
    assert not model.__abstractmethods__, "words or effect are missing"
    required = {key for key, field in model.model_fields.items() if field.is_required()}
    assert not required & unasked_fields(model), "a form cannot fill it"
    for field in form["fields"]:
        assert bool(field["options"]) == (field["asks"] == "choice")
        assert field["when"] is None or field["when"][0] in model.model_fields


def test_every_step_of_a_family_file_is_in_the_registry() -> None:
    families = {path.stem for path in (ROOT / "echelle/tables/steps").glob("*.py")}
    named = {
        node.name
        for family in families
        for node in ast.parse((ROOT / f"echelle/tables/steps/{family}.py").read_text()).body
        if isinstance(node, ast.ClassDef) and {getattr(base, "id", "") for base in node.bases} & {"OneTableStep", "SecondTable"}
    }
    assert named == {model.__name__ for model in STEPS}
