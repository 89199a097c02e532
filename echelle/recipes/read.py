"""Recipe text to a recipe, with the JSON path of anything wrong; and back."""

from __future__ import annotations

from collections import Counter
from typing import Any

import orjson
from pydantic import ValidationError

from echelle.errors import InputError
from echelle.recipes.models import Recipe

_PLAIN = {
    "extra_forbidden": "unknown key",
    "missing": "this key is missing",
    "union_tag_invalid": "unknown layer",
    "union_tag_not_found": "the layer's name is missing",
}


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
    # Of a union's several complaints the one that reaches deepest is the one that means something.
    first = max(error.errors(include_url=False), key=lambda fault: len(fault["loc"]))
    path = json_path(first["loc"])
    what = _PLAIN.get(first["type"], first["msg"].removeprefix("Value error, "))
    more = f" ({error.error_count() - 1} more faults)" if error.error_count() > 1 else ""
    return InputError(what[:1].lower() + what[1:] + more, where=f"{where} {path}".strip(), remedy="See echelle schema.")


def json_path(places: tuple[int | str, ...]) -> str:
    """("layers", 0, "box", "k") as $.layers[0].k: names of union members are no keys."""
    path = "$"
    for place in places:
        if isinstance(place, int):
            path += f"[{place}]"
        elif not (path.endswith("]") and place in ("box", "points")) and place not in ("Style", "literal['house']"):
            path += f".{place}"
    return path


def recipe_text(recipe: Recipe) -> bytes:
    """The recipe as JSON, keys in the order of the model, unset optional heads left out."""
    data = recipe.model_dump(mode="json")
    for key in ("prepare", "made"):
        if data[key] is None:
            del data[key]
    return orjson.dumps(data, option=orjson.OPT_INDENT_2 | orjson.OPT_APPEND_NEWLINE)
