"""Forms: ready arrangements of layers."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

from echelle.recipes.layers import Layer
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.counts import CountsLayer
from echelle.recipes.layers.cumulative import CumulativeLayer
from echelle.recipes.layers.density import Bandwidth, DensityLayer
from echelle.recipes.layers.line import LineLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.layers.series import SeriesLayer
from echelle.recipes.layers.stem import StemLayer
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.roles import Groups, Measure, Panels, Subgroups
from echelle.recipes.settings import info_of
from echelle.recipes.style import Axis, Runs, Size


@dataclass(frozen=True)
class Form:
    """Layers, which way lanes run, whether groups are laid over one another, and whether all of it follows one column."""

    layers: Callable[[], list[Layer]]
    runs: Runs = "across"
    overlaid: bool = False
    subgroups: dict[str, Any] = field(default_factory=dict)
    ordered: bool = False


_OVER = {"placed": "overlaid"}
FORMS: dict[FormName, Form] = {
    "box": Form(lambda: [BoxLayer(id="b1")]),
    "violin": Form(lambda: [DensityLayer(id="d1", middle=True)], "up"),
    "strip": Form(lambda: [PointsLayer(id="p1", place="on", width=0.6), LineLayer(id="l1", width=0.7)], "up"),
    "raincloud": Form(
        lambda: [
            DensityLayer(id="d1", place="above", side="above", width=0.42),
            BoxLayer(id="b1", width=0.09),
            PointsLayer(id="p1", place="below"),
        ]
    ),
    "histogram": Form(lambda: [BinsLayer(id="h1")], subgroups={"placed": "stacked"}),
    "density": Form(
        lambda: [DensityLayer(id="d1", side="above", width=0.96, fill=0.3, line=1.3)],
        overlaid=True,
        subgroups={"placed": "overlaid"},
    ),
    "ridges": Form(
        lambda: [
            DensityLayer(
                id="d1", side="above", width=1.7, fill=0.85, line=0.8, size="equal width", bandwidth=Bandwidth(times=1.0)
            )
        ],
        subgroups={"placed": "overlaid"},
    ),
    "cumulative": Form(lambda: [CumulativeLayer(id="c1")], overlaid=True, subgroups=_OVER),
    "means": Form(lambda: [MeanLayer(id="m1")]),
    "in-order": Form(
        lambda: [
            LineLayer(id="l1", at="mean and SD", width=0.94, line=1.1),
            PointsLayer(id="p1", place="on", spread="in order", width=0.94),
        ],
        "up",
    ),
    "series": Form(
        lambda: [
            SeriesLayer(id="c1"),
            PointsLayer(id="p1", place="on", spread="in order", width=0.94, size=2.5, strength=0.4),
        ],
        "up",
        overlaid=True,
        subgroups=_OVER,
        ordered=True,
    ),
    "probability": Form(
        lambda: [CumulativeLayer(id="c1", against="normal distribution")], overlaid=True, subgroups={"placed": "overlaid"}
    ),
    "stem": Form(lambda: [StemLayer(id="s1")], "up"),
    "counts": Form(lambda: [CountsLayer(id="n1")], subgroups={"placed": "stacked"}),
}


def recipe_of_form(
    form: FormName, measure: str, groups: str | None = None, subgroups: str | None = None,
    down: str | None = None, across: str | None = None,
) -> Recipe:  # fmt: skip
    """The recipe that a form begins with. Raises pydantic's ValidationError for subgroups without groups."""
    chosen = FORMS[form]
    return Recipe(
        echelle=1,
        measure=Measure(columns=[measure]),
        groups=Groups(column=groups, placed="overlaid" if chosen.overlaid else "evenly") if groups else None,
        subgroups=Subgroups(column=subgroups, **chosen.subgroups) if subgroups else None,
        panels=Panels.model_validate({"down": down and {"column": down}, "across": across and {"column": across}}),
        layers=chosen.layers(),
        axis=Axis(runs=chosen.runs),
        size=Size(width="174mm") if across else Size(),
    )


def in_form(recipe: Recipe, name: FormName, order: str | None = None, layers_before: Sequence[Layer] = ()) -> Recipe:
    """The recipe in another form; what two forms have in common stays: settings that decide a number (not where or how a mark
    is drawn), roles, words, guides. All else is as in ``layers_before``, those that the form had when it was left, or as the
    form begins. A series over no column yet follows ``order``.
    """
    form = FORMS[name]
    layers = []
    for layer in layers_before or form.layers():
        before = next((other for other in recipe.layers if other.kind() == layer.kind()), None)
        shared = [] if before is None else [key for key, f in type(layer).model_fields.items() if info_of(f).computed]
        layers.append(layer.model_copy(update={key: getattr(before, key) for key in shared}))
    if form.ordered:
        along = next((column for layer in layers if (column := layer.order()) is not None), order)
        layers = [layer.in_order(along) for layer in layers]
    groups = recipe.groups and recipe.groups.model_copy(update={"placed": "overlaid" if form.overlaid else "evenly"})
    placed = form.subgroups.get("placed", "beside")
    subgroups = recipe.subgroups and recipe.subgroups.model_copy(update={"placed": placed})
    axis = recipe.axis.model_copy(update={"runs": form.runs})
    return recipe.model_copy(update={"layers": layers, "groups": groups, "subgroups": subgroups, "axis": axis})


def form_of(recipe: Recipe) -> FormName | None:
    """The form whose layers a recipe has; None where it has layers of its own choice."""
    overlaid = recipe.groups is not None and recipe.groups.placed == "overlaid"
    signs = sorted(layer.form_sign() for layer in recipe.layers)
    for name, form in FORMS.items():
        if sorted(layer.form_sign() for layer in form.layers()) == signs and (
            recipe.groups is None or overlaid == form.overlaid
        ):
            return name
    return None
