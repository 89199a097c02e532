"""Forms: ready arrangements of layers."""

from __future__ import annotations

from collections.abc import Callable

from echelle.recipes.models import Axis, BoxLayer, FormName, Groups, Layer, Measure, Recipe


def _box() -> tuple[list[Layer], Axis]:
    return [BoxLayer(id="b1")], Axis(runs="across")


FORMS: dict[FormName, Callable[[], tuple[list[Layer], Axis]]] = {"box": _box}


def recipe_of_form(form: FormName, measure: str, groups: str | None = None) -> Recipe:
    """The recipe that a form begins with."""
    layers, axis = FORMS[form]()
    return Recipe(
        echelle=1,
        measure=Measure(columns=[measure]),
        groups=Groups(column=groups) if groups else None,
        layers=layers,
        axis=axis,
    )
