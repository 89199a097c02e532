"""The bases of records: of those that are kept as JSON, and of those that are answered."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any, Self

from pydantic import BaseModel, ConfigDict, ValidationError

from echelle.errors import InputError
from echelle.plurals import plural

# Ceilings of what a person can ask for: letters of a text, entries of a list of levels or rows, and of other lists.
MOST_LETTERS, MOST_LEVELS, MOST_PARTS = 20_000, 20_000, 400


class NamedFields(BaseModel):
    """A copy with other values takes the names of fields alone: a misspelt one is a fault of the code."""

    model_config = ConfigDict(defer_build=True)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """As pydantic's. Raises TypeError for a name that is no field."""
        unknown = sorted(set(update or {}) - set(type(self).model_fields))
        if unknown:
            raise TypeError(f"{type(self).__name__} has no field {', '.join(unknown)}")
        return super().model_copy(update=update, deep=deep)


class StrictModel(NamedFields):
    """No unknown keys, no infinities."""

    model_config = ConfigDict(
        extra="forbid", allow_inf_nan=False, json_schema_serialization_defaults_required=True, defer_build=True,
        populate_by_name=True, serialize_by_alias=True, str_max_length=MOST_LETTERS,
    )  # fmt: skip


class AnswerModel(NamedFields):
    """What is answered and not kept: no unknown keys; a field with a default is always there."""

    model_config = ConfigDict(extra="forbid", json_schema_serialization_defaults_required=True, defer_build=True)


_PLAIN = {
    "extra_forbidden": "unknown key",
    "missing": "this key is missing",
    "union_tag_invalid": "unknown name",
    "union_tag_not_found": "the name of its kind is missing",
}
CONDITION_NAMES = frozenset(["OneOf", "NoneOf", "Within", "Missing", "AllOf", "AnyOf"])


def fault_of_json(error: ValidationError, where: str, members: Collection[str]) -> InputError:
    """The first fault of a validation as one sentence with its JSON path; ``members`` are names of union members."""
    # Of a union's several complaints the one that reaches deepest is the one that means something.
    first = max(error.errors(include_url=False), key=lambda fault: len(fault["loc"]))
    what = _PLAIN.get(first["type"], first["msg"].removeprefix("Value error, "))
    more = f" ({plural(error.error_count() - 1, 'more fault')})" if error.error_count() > 1 else ""
    place = f"{where} {json_path(first['loc'], members)}".strip()
    return InputError(what[:1].lower() + what[1:] + more, where=place, remedy="See echelle schema.")


def json_path(places: tuple[int | str, ...], members: Collection[str]) -> str:
    """("layers", 0, "box", "k") as $.layers[0].k: names of union members are no keys."""
    path, tagged = "$", False
    for place in places:
        if isinstance(place, int):
            path, tagged = f"{path}[{place}]", False
        elif place in CONDITION_NAMES or place.startswith("literal["):
            continue
        elif place in members and not tagged and (path.endswith("]") or "[" in place or place[:1].isupper()):
            # A member is named once behind its index; a key of its own may be called like another member.
            tagged = True
        else:
            path += f".{place}"
    return path
