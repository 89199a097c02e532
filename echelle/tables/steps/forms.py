"""What the page's menu and forms say of each step, from its model."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any, Literal, get_args, get_origin

from pydantic.fields import FieldInfo
from pydantic_core import PydanticUndefined

from echelle.tables.steps.base import FieldForm, StepBase
from echelle.tables.steps.registry import STEPS


def step_forms() -> list[dict[str, Any]]:
    """Every step in the menu's order: its name, title, help, group and fields; JSON."""
    return [
        {
            "step": model.step_name(), "title": model.title, "help": model.help, "group": model.group,
            "usual": {key: _usual(field) for key, field in model.model_fields.items()},
            "fields": [_field(key, field, form) for key, field in model.model_fields.items() for form in _forms(field)],
        }
        for model in STEPS
    ]  # fmt: skip


def _forms(field: FieldInfo) -> list[FieldForm]:
    return [meta for meta in field.metadata if isinstance(meta, FieldForm)]


def _field(key: str, field: FieldInfo, form: FieldForm) -> dict[str, Any]:
    return {"key": key, **asdict(form), "options": _options(field.annotation) if form.asks == "choice" else []}


def _options(annotation: Any) -> list[str]:
    """The words of a Literal, or of one that may be null."""
    if get_origin(annotation) is Literal:
        return list(get_args(annotation))
    return [option for part in get_args(annotation) for option in _options(part)]


def _usual(field: FieldInfo) -> Any:
    """A field's default; null where it has none."""
    value = field.get_default(call_default_factory=True)
    return None if value is PydanticUndefined else value


def unasked_fields(model: type[StepBase]) -> set[str]:
    """Fields of a step that no form asks for."""
    return {key for key, field in model.model_fields.items() if not _forms(field)}
