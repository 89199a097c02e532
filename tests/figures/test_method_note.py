"""The method note against every setting: what decides a number is said, what only decides a look is not."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, get_args

import numpy as np
import pytest
from pydantic import ValidationError

from echelle.errors import InputError
from echelle.figures.settings import LayerOffer, Setting, figure_options
from echelle.recipes.differences import Differences
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers import Layer
from echelle.recipes.layers.base import AnyLayer
from echelle.render import scene_of
from tests.support.tables import table_of

RNG = np.random.default_rng(14)
VALUES = np.concatenate([RNG.normal(10, 2, 40), RNG.lognormal(2.4, 0.4, 40)]).round(1)
TABLE = table_of(
    {
        "level (mmol/L)": VALUES.tolist(), "group": ["1"] * 40 + ["2"] * 40, "when": [*range(40), *range(40)],
        "week": [i // 7 for i in range(80)],
        "subject": [f"P{i // 2:02d}" for i in range(40)] * 2,
    }
)  # fmt: skip
# What a setting does to the picture alone: how thick, how wide, how strong, where, in which dash or shape.
LOOK = {
    "place", "width", "line", "dash", "fill", "strength", "size", "by_n", "labels",
    "cap", "gap", "edge", "shape", "outline", "opacity", "words", "axis",
    "side", "notch", "drawn", "length", "names", "median_line", "unit", "split",
    # Lanes of this table share no row: tests/comparison/test_pairs_by_row.py joins some.
    "join_rows",
}  # fmt: skip
# Named alike in another layer, these decide a number there.
NUMBER = {("density", "size"), ("bracket", "words")}
# Columns and given values that differ from what stands there.
GIVEN: dict[str, list[Any]] = {
    "against": [None, "when"], "coloured": [None, "group"], "shaped": [None, "group"], "joined": [None, "subject"],
    "names": [None, "subject"], "value": [0.5, 2.0], "low": [0.0, 4.0], "high": [40.0, 30.0], "width_of_bins": [1.0, 4.0],
    "anchor": [0.0, 0.7], "edges": [[0.0, 10.0, 40.0], [0.0, 5.0, 10.0, 40.0]], "quantiles": [[0.5], [0.1, 0.9]],
    "count": [5, 20], "of_value": ["4", "11.5"], "step": [2.0, 5.0], "by": [None, "subject"], "sds": [[1.0], [1.0, 2.0]],
}  # fmt: skip


def every_setting() -> Iterator[tuple[LayerOffer, Setting]]:
    for offer in figure_options().layers:
        for setting in offer.settings:
            if setting.path[-1] not in LOOK or (offer.layer, setting.path[-1]) in NUMBER:
                yield offer, setting


def values_of(setting: Setting) -> list[Any]:
    name = setting.path[-1]
    if setting.kind == "yes-no":
        return [False, True]
    if setting.kind == "choice":
        return list(setting.options)
    if name in GIVEN:
        return GIVEN[name]
    span = setting.most - setting.least
    low, high = setting.least + 0.2 * span, setting.most - 0.2 * span
    return [round(low), round(high)] if setting.step == 1.0 else [round(low, 3), round(high, 3)]


def put(tree: dict[str, Any], path: list[str], value: Any) -> dict[str, Any]:
    inner = value if len(path) == 1 else put(tree.get(path[0]) or {}, path[1:], value)
    return {**tree, path[0]: inner}


def notes(offer: LayerOffer, setting: Setting) -> list[str]:
    """The note with each value of the setting, all that it needs being as it must be."""
    model: type[AnyLayer] = next(
        entry for entry in get_args(get_args(Layer)[0]) if entry.model_fields["layer"].default == offer.layer
    )
    base = offer.usual.model_dump(by_alias=True)
    if offer.layer == "series":
        base |= {"against": "week", "through": "least squares" if setting.path == ["level"] else "means"}
    for need in setting.needs:
        given = need.among[0] if need.among else GIVEN[need.path[-1]][-1] if need.given else None
        base = put(base, need.path, given)
    result = []
    for value in values_of(setting):
        try:
            layer = model.model_validate({**put(base, setting.path, value), "id": "x1"})
            recipe = recipe_of_form("strip", "level", "group")
            recipe = recipe.model_copy(update={"layers": [layer], "differences": Differences()})
            result.append(scene_of(recipe, TABLE).note)
        except (ValidationError, InputError):
            continue
    return result


CASES = list(every_setting())


@pytest.mark.parametrize(("offer", "setting"), CASES, ids=[f"{o.layer}-{'.'.join(s.path)}" for o, s in CASES])
def test_the_note_follows_every_setting_that_decides_a_number(offer: LayerOffer, setting: Setting) -> None:
    said = notes(offer, setting)
    assert len(said) > 1, "no two values could be drawn"
    # "Full range" and "none" are the same fences: none. Whiskers by none are not drawn. Automatic ends are one of the others;
    # per cent of a group without a split are of all.
    same = setting.path in (["fence", "rule"], ["ends"], ["percent_of"])
    assert len(set(said)) == len(said) - same, said


@pytest.mark.parametrize("offer", figure_options().layers, ids=lambda offer: offer.layer)
def test_what_is_only_looks_leaves_the_note_alone(offer: LayerOffer) -> None:
    walked = {tuple(setting.path) for entry, setting in CASES if entry.layer == offer.layer}
    for setting in offer.settings:
        if setting.kind == "amount" and tuple(setting.path) not in walked:
            assert len(set(notes(offer, setting))) <= 1, setting.path
