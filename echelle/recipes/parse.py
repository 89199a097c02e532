"""Recipe text to a recipe, with the JSON path of anything wrong; and back."""

from __future__ import annotations

from collections import Counter
from typing import Any

import orjson
from pydantic import ValidationError

from echelle.errors import InputError
from echelle.recipes.layers import LAYER_MODELS
from echelle.recipes.recipe import Recipe
from echelle.strict_model import fault_of_json
from echelle.tables.steps.registry import STEP_NAMES

_MEMBERS = frozenset([*(model.kind() for model in LAYER_MODELS), "Style", *STEP_NAMES])


def recipe_from(source: bytes | str | dict[str, Any], where: str = "") -> Recipe:
    """Read a recipe. Raises InputError with the JSON path of the first fault."""
    try:
        data = orjson.loads(source) if isinstance(source, (bytes, str)) else source
    except orjson.JSONDecodeError as error:
        raise InputError(
            f"the recipe is not JSON ({error.msg})",
            where=f"{where}, line {error.lineno}, column {error.colno}".lstrip(", "),
            remedy="Mend it there.",
        ) from None
    try:
        recipe = Recipe.model_validate(data)
    except ValidationError as error:
        raise recipe_fault(error, where) from None
    doubled = [name for name, times in Counter(layer.id for layer in recipe.layers).items() if times > 1]
    if doubled:
        raise InputError(
            f"two layers share the id “{doubled[0]}”", where=f"{where} $.layers".strip(), remedy="Give each its own id."
        )
    return recipe


def recipe_fault(error: ValidationError, where: str = "") -> InputError:
    """The first fault of a validation as one sentence with its JSON path."""
    return fault_of_json(error, where, _MEMBERS)


def recipe_text(recipe: Recipe) -> bytes:
    """The recipe as JSON, keys in the order of the model, unset optional heads left out."""
    data = recipe.model_dump(mode="json")
    for key in ("read", "prepare", "made"):
        if data[key] is None:
            del data[key]
    return orjson.dumps(data, option=orjson.OPT_INDENT_2 | orjson.OPT_APPEND_NEWLINE)
