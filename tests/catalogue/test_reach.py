"""Every word of a figure stands in the catalogue, its data or its recipe: in other letters, none is left in Latin."""

from __future__ import annotations

import random
import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from fluent.syntax import FluentParser, ast, serialize
from fluent.syntax.visitor import Transformer

from echelle.catalogue import catalogue as module
from echelle.errors import InputError
from echelle.figures.settings import figure_options
from echelle.recipes.forms import FORMS, recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.scene.models import Scene, TextPart
from echelle.tables.reading.read import read_bytes
from echelle.tables.table import Table
from scripts.drawn_digests import random_recipe

CYRILLIC = {ord("a") + i: chr(0x430 + i) for i in range(26)} | {ord("A") + i: chr(0x410 + i) for i in range(26)}
# Places in words, rules of control charts, symbols of statistics.
SYMBOLS = re.compile(r"\{[a-z0-9, ]*(:[^}]*)?\}|\b\d+-\d+s\b|R-4s|\b(n|p|P|k|t|x|SD|SE|IQR|MAD|CI|BCa|e)\b")


class OtherLetters(Transformer):
    """Writes the text of messages in other letters; names of variables and variants stay."""

    def visit_TextElement(self, node: ast.TextElement) -> ast.TextElement:
        node.value = node.value.translate(CYRILLIC)
        return node

    def visit_StringLiteral(self, node: ast.StringLiteral) -> ast.StringLiteral:
        node.value = node.value.translate(CYRILLIC)
        return node


@pytest.fixture
def other_letters(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> Iterator[None]:
    """The British catalogue in Cyrillic letters."""
    resource = OtherLetters().visit(FluentParser().parse((module._FOLDER / "en-GB.ftl").read_text()))
    (tmp_path / "en-GB.ftl").write_text(serialize(resource))
    monkeypatch.setattr(module, "_FOLDER", tmp_path)
    for kept in (module.catalogue, module._file):
        kept.cache_clear()
    yield
    for kept in (module.catalogue, module._file):
        kept.cache_clear()


def table() -> Table:
    """Data without a Latin letter: values in three groups, three more columns, a date, subjects, missing cells and limits."""
    chance = random.Random(7)
    lines = ["ωθ;λ;δ;ξ;ψ;ρ;μ"]
    for row in range(180):
        value = f"{chance.lognormvariate(2.5, 0.5 + 0.3 * (row % 3)):.1f}"
        value = "" if row % 31 == 0 else "<2" if row % 37 == 0 else value
        cells = [value, "αβγ"[row % 3], f"2026-0{1 + row % 5}-11", "πσ"[row % 2], "κν"[row // 90], str(row % 7), f"{row % 60}"]
        lines.append(";".join(cells))
    return read_bytes("\n".join(lines).encode()).table


RENAMED = {
    "cortisol": "ωθ", "ward": "λ", "day": "δ", "sample": "ξ", "haemolysed": "ψ", "shift pattern": "λ", "nights in a row": "ρ",
    "participant": "μ", "interval": "ζ", "limit": "ζ", "Title {n}": "{n}", "American": "British",
}  # fmt: skip


def renamed(value: object) -> object:
    """A recipe over the demo's columns, over those of the table here."""
    if isinstance(value, dict):
        return {key: renamed(part) for key, part in value.items()}
    if isinstance(value, list):
        return [renamed(part) for part in value]
    return RENAMED.get(value, value) if isinstance(value, str) else value


def texts(scene: Scene) -> Iterator[tuple[str, str]]:
    """All that a figure says, with where it says it."""
    yield from (("title", scene.title), ("description", scene.description), ("note", scene.note))
    yield from ((f"{part.role} of {part.layer}", part.text) for part in scene.walk() if isinstance(part, TextPart))
    yield from (("handle", handle.name + handle.after) for handle in scene.handles)
    yield from (("lane", lane.name) for lane in scene.lanes)
    yield from (("inside", inside.name) for lane in scene.readings for inside in lane.inside)
    for advice in scene.advice:
        yield advice.key, advice.text
        yield f"why {advice.key}", advice.why
        yield from ((f"remedy {advice.key}", remedy.words) for remedy in advice.remedies)


def recipes() -> Iterator[Recipe]:
    choices, demo = figure_options(), None
    for form in FORMS:
        yield recipe_of_form(form, "ωθ", "λ")
    for seed in range(80):
        made = renamed(random_recipe(random.Random(seed), choices, demo))  # type: ignore[arg-type]
        try:
            yield Recipe.model_validate(made)
        except ValueError:
            continue


def test_no_letter_of_a_figure_stands_outside_the_catalogue(other_letters: None) -> None:
    data, left, said = table(), dict[str, str](), 0
    for recipe in recipes():
        try:
            scene = scene_of(recipe, data)
        except InputError:
            continue
        for place, text in texts(scene):
            said += 1
            for words in re.findall("[A-Za-z]+(?:[ -][A-Za-z]+)*", SYMBOLS.sub("", text)):
                left.setdefault(words, place)
    assert said > 2_000
    assert left == {}
