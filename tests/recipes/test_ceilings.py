"""Everything that a recipe or a step can ask for has a ceiling: its lists and maps in the schema, its texts in the models."""

from __future__ import annotations

from typing import Any

import pytest

from echelle.errors import InputError
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.parse import recipe_from
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.tables.reading.read import read_bytes

# Chosen from a fixed set of words, or as long as another list that has one.
BOUNDED_OTHERWISE = {"offsets"}


def open_ended(schema: dict[str, Any]) -> list[str]:
    """The paths of lists and maps without a most."""
    found: list[str] = []

    def walk(node: Any, path: str) -> None:
        if isinstance(node, dict):
            kind = node.get("type")
            if kind == "array" and "maxItems" not in node and "prefixItems" not in node:
                found.append(path)
            if kind == "object" and isinstance(node.get("additionalProperties"), dict) and "maxProperties" not in node:
                found.append(path)
            for key, held in node.items():
                walk(held, f"{path}.{key}")
        elif isinstance(node, list):
            for held in node:
                walk(held, path)

    walk(schema, "$")
    return [path for path in found if path.rsplit(".", 1)[1] not in BOUNDED_OTHERWISE]


def test_every_list_and_map_of_the_schema_has_a_most() -> None:
    assert open_ended(Recipe.model_json_schema()) == []


@pytest.mark.parametrize(
    "spoil",
    [
        {"layers": [{"layer": "box", "id": f"b{i}"} for i in range(61)]},
        {"keep": [{"column": "a", "is": ["x"]}] * 61},
        {"groups": {"column": "g", "order": ["x"] * 20_001}},
        {"words": {"title": "x" * 20_001}},
        {"measure": {"columns": [str(i) for i in range(401)]}},
    ],
)
def test_above_it_a_recipe_is_refused_with_its_path(spoil: dict[str, Any]) -> None:
    data = recipe_of_form("box", "level", "group").model_dump(mode="json") | spoil
    with pytest.raises(InputError) as fault:
        recipe_from(data)
    assert f"$.{next(iter(spoil))}" in fault.value.where


def test_stems_that_nobody_reads_are_refused_with_a_unit_that_does() -> None:
    table = read_bytes(("group,level\n" + "".join(f"a,{i}.5\n" for i in range(200))).encode()).table
    data = recipe_of_form("stem", "level", "group").model_dump(mode="json")
    data["layers"][0]["unit"] = 1e-12
    with pytest.raises(InputError) as fault:
        scene_of(recipe_from(data), table)
    assert "stems" in fault.value.what and "0.01" in fault.value.remedy
