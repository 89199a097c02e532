"""A tiny picture of what a setting does: the layer over made-up lanes, once for each of a few values of the setting."""

from __future__ import annotations

from typing import Any, cast

import numpy as np
import polars as pl
from pydantic import ValidationError

from echelle.errors import InputError
from echelle.figures.compose import compose
from echelle.figures.lanes.arrange import arrange
from echelle.figures.settings import Setting, layer_options, setting_info
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers import LAYER_MODELS
from echelle.recipes.layers.base import AnyLayer
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.roles import Groups
from echelle.scene.models import Scene
from echelle.scene.typesetting import Typesetter
from echelle.strict_model import AnswerModel
from echelle.tables.column_builders import measure_of, words_of
from echelle.tables.table import Table

_MOST = 3


class Picture(AnswerModel):
    """A setting at one value."""

    words: str
    scene: Scene


class SettingPictures(AnswerModel):
    """A setting, and pictures of it."""

    path: list[str]
    pictures: list[Picture]


def pictures_of(layer: str, typesetter: Typesetter) -> list[SettingPictures]:
    """All settings of a layer that a picture can show. Raises InputError for a layer that is not."""
    model = next((model for model in LAYER_MODELS if model.kind() == layer), None)
    if model is None:
        raise InputError(f"there is no layer “{layer}”", remedy="Reload the page.")
    table = _table()
    return [
        SettingPictures(path=s.path, pictures=_pictures(model, s, table, typesetter)) for s in layer_options(model).settings
    ]


def _pictures(model: type[AnyLayer], setting: Setting, table: Table, typesetter: Typesetter) -> list[Picture]:
    result = []
    for value in _values(model, setting):
        given = _with(model(id="a1").model_dump(), setting.path, value)
        for need in setting.needs:
            if need.among:
                given = _with(given, need.path, need.among[0])
            elif need.given:
                given = _with(given, need.path, setting_info(model, need.path).samples[0])
        try:
            recipe = _recipe(model, given)
            scene = compose(recipe, arrange(recipe, table), typesetter, miniature=True)
        except (ValidationError, InputError):
            continue
        if any(True for _ in scene.walk()):
            result.append(Picture(words=_value_words(value), scene=scene))
    return result if len(result) > 1 else []


def _values(model: type[AnyLayer], setting: Setting) -> list[Any]:
    """A few values that look different."""
    if setting.kind == "yes-no":
        return [False, True]
    if setting.kind == "choice":
        return list(setting.options[:_MOST])
    if setting.kind == "amount":
        span = setting.most - setting.least
        low, high = setting.least + 0.1 * span, setting.most - 0.1 * span
        return [round(low), round(high)] if setting.step == 1.0 else [round(low, 3), round(high, 3)]
    return list(setting_info(model, setting.path).samples)


def _with(tree: dict[str, Any], path: list[str], value: Any) -> dict[str, Any]:
    inner = value if len(path) == 1 else _with(tree.get(path[0]) or {}, path[1:], value)
    return {**tree, path[0]: inner}


def _value_words(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return "; ".join(f"{number:g}" for number in value)
    return f"{value:g}" if isinstance(value, float) else str(value)


def _recipe(model: type[AnyLayer], given: dict[str, Any]) -> Recipe:
    base = recipe_of_form(cast(FormName, model.preview_form), "value", "group")
    groups = Groups(column="group", placed=model.preview_placed)
    return base.model_copy(update={"groups": groups, "layers": [model.model_validate(given)]})


def _table() -> Table:
    """Two lanes: one with two peaks, one with a long tail and values far out."""
    even = (np.arange(60) + 0.5) / 60
    hills = np.concatenate([4 + 1.6 * (even[:30] * 4 - 1), 11 + 1.5 * (even[:30] * 4 - 1)])
    tail = 3 + 4 * even**0.5 + np.where(even > 0.93, 9 * even**8, 0.0)
    values = np.round(np.concatenate([hills, tail]), 1)
    groups = ["1"] * 60 + ["2"] * 60
    return Table((words_of("group", "category", pl.Series(groups)), measure_of("value", values)), 120)
