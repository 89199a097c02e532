"""What can be set: each layer's settings with their meaning and range, and what forms begin with. Made from the models."""

from __future__ import annotations

from typing import Any, Literal, get_args

from pydantic import BaseModel, ConfigDict, Field

from echelle.figures.layers.registry import KINDS
from echelle.figures.words.placeholders import OF_ALL, OF_LANES
from echelle.numbers.outliers import USUAL_K
from echelle.numbers.rule_names import RULE_NAMES
from echelle.recipes.differences import Differences
from echelle.recipes.forms import FORMS
from echelle.recipes.layers import COLUMN_SETTINGS, AnyLayer, CountsLayer, Layer
from echelle.recipes.recipe import FormName
from echelle.recipes.roles import Groups, GroupsPlaced, Levels, Measure, Subgroups, SubgroupsPlaced

SettingKind = Literal["choice", "amount", "number", "yes-no", "numbers", "column"]

TITLES = {
    "box": "Box", "density": "Density", "points": "Points", "bins": "Bins", "mean": "Mean", "ticks": "Ticks",
    "cumulative": "Cumulative", "line": "Line", "normal-curve": "Normal curve", "stem": "Stem", "counts": "Counts",
    "trend": "Trend", "difference": "Difference", "bracket": "Brackets", "control": "Control lines",
}  # fmt: skip
_NAMES = {
    "fence.k": "Fence", "fence.rule": "Outliers by", "whiskers.k": "Whiskers", "whiskers.rule": "Whiskers by", "cap": "Caps",
    "bandwidth.rule": "Bandwidth by", "bandwidth.value": "Bandwidth", "bandwidth.times": "Smoothing", "interval": "Line is",
    "width_of_bins": "Bin width", "count": "How many", "holds": "Holds", "low": "Fold below", "high": "Fold above",
    "open_below": "Open below", "open_above": "Open above", "share_of": "Share of", "sds": "SDs",
    "robust_line": "Quartile line", "set_aside": "Set aside", "quantile_type": "Quantile type", "line": "Line width",
}  # fmt: skip
# Where a slider ends, short of what the recipe allows.
_SLIDERS: dict[str, tuple[float, float]] = {
    "fence.k": (0.0, 4.0), "size": (0.5, 10.0), "bandwidth.times": (0.1, 5.0), "width": (0.02, 1.0), "count": (1, 100),
    "resamples": (500, 10_000), "line": (0.0, 4.0), "level": (0.5, 0.999), "seed": (0, 99),
}  # fmt: skip
# Settings that need more room than a row, or are given on the figure itself.
_ELSEWHERE = {"names", "named", "held_below"}


_FENCED = ["quartiles", "percentiles", "mean and SD", "median and MAD", "skew-adjusted", "extreme deviates"]
_RESAMPLED = ["bootstrap percentile", "bootstrap BCa"]
# By layer and setting: which other setting decides whether it matters; a list of values, or given or not.
_NEEDS: dict[tuple[str, str], dict[str, list[str] | bool]] = {
    ("box", "fence.k"): {"fence.rule": _FENCED},
    ("box", "whiskers.k"): {"whiskers.rule": _FENCED},
    ("density", "bandwidth.rule"): {"bandwidth.value": False},
    ("density", "low"): {"ends": ["fold"]},
    ("density", "high"): {"ends": ["fold"]},
    ("points", "against"): {"spread": ["in order"]},
    ("points", "width"): {"spread": ["jitter", "shaped", "swarm", "stack"]},
    ("points", "seed"): {"spread": ["jitter", "shaped"]},
    ("points", "shape"): {"shaped": False},
    ("bins", "rule"): {"count": False, "width_of_bins": False, "edges": False},
    ("bins", "count"): {"width_of_bins": False, "edges": False},
    ("bins", "width_of_bins"): {"count": False, "edges": False},
    ("bins", "anchor"): {"width_of_bins": True},
    ("bins", "edges"): {"count": False, "width_of_bins": False},
    ("bins", "open_below"): {"edges": True},
    ("bins", "open_above"): {"edges": True},
    ("bins", "share_of"): {"height": ["share"]},
    ("bins", "gap"): {"drawn": ["columns"]},
    ("bins", "line"): {"drawn": ["outline", "mid-points"]},
    ("mean", "level"): {"interval": ["confidence", *_RESAMPLED]},
    ("mean", "seed"): {"interval": _RESAMPLED},
    ("mean", "resamples"): {"interval": _RESAMPLED},
    ("mean", "size"): {"mark": ["dot"]},
    ("mean", "width"): {"mark": ["bar", "tick"]},
    ("cumulative", "positions"): {"against": ["normal distribution"]},
    ("cumulative", "robust_line"): {"against": ["normal distribution"]},
    ("cumulative", "size"): {"against": ["normal distribution"]},
    ("line", "sds"): {"at": ["mean and SD"]},
    ("difference", "seed"): {"of": ["medians"]},
    ("bracket", "seed"): {"of": ["medians"]},
    ("trend", "level"): {"through": ["least squares"]},
}


class Frozen(BaseModel):
    """Base of what is offered."""

    model_config = ConfigDict(extra="forbid", json_schema_serialization_defaults_required=True)


class Needs(Frozen):
    """What another setting of the layer must be, so that this one matters: one of ``among``, or given at all (``given``)."""

    path: list[str]
    among: list[str] = []
    given: bool | None = None


class Setting(Frozen):
    """One setting: where it stands in its layer, what it is called and means, what it takes, and when it matters."""

    path: list[str]
    name: str
    meaning: str
    kind: SettingKind
    options: list[str | int] = []
    least: float = 0.0
    most: float = 1.0
    step: float = 0.01
    optional: bool = False
    whole: bool = Field(default=False, description="null takes away the part that this setting stands in")
    needs: list[Needs] = []
    reach: dict[str, float] = Field(default={}, description="the k that goes with an option")
    words: dict[str, str] = Field(default={}, description="what options are called, where not by their own word")


class LayerOffer(Frozen):
    """A layer as it begins, and its settings; one that is ``alone`` shares its figure with no other."""

    layer: str
    title: str
    alone: bool
    usual: Layer
    settings: list[Setting]


class FormOffer(Frozen):
    """A form, and how it places groups and subgroups."""

    form: FormName
    groups_placed: GroupsPlaced
    subgroups_placed: SubgroupsPlaced


class Offered(Frozen):
    """All forms, all layers, and roles as they begin (without a column)."""

    forms: list[FormOffer]
    layers: list[LayerOffer]
    measure: Measure
    groups: Groups
    subgroups: Subgroups
    panel: Levels
    differences: Differences
    places: list[str] = Field(description="what words may hold in braces, of all rows")
    lane_places: list[str] = Field(description="the same of one lane, with its name after a colon")


def offered() -> Offered:
    """Everything that a figure can be made of."""
    return Offered(
        forms=[_form(name) for name in FORMS],
        layers=[_layer(model) for model in get_args(get_args(Layer)[0])],
        measure=Measure(columns=["-"]),
        groups=Groups(column=""),
        subgroups=Subgroups(column=""),
        panel=Levels(column=""),
        differences=Differences(),
        places=list(OF_ALL),
        lane_places=list(OF_LANES),
    )


def _form(name: FormName) -> FormOffer:
    form = FORMS[name]
    placed = form.subgroups.get("placed", "beside")
    return FormOffer(form=name, groups_placed="overlaid" if form.overlaid else "evenly", subgroups_placed=placed)


def _layer(model: type[AnyLayer]) -> LayerOffer:
    name = model.model_fields["layer"].default
    schema = model.model_json_schema()
    clauses = KINDS[name].settings
    settings = []
    for key, field in schema["properties"].items():
        if key in ("id", "layer", "shown") or key in _ELSEWHERE:
            continue
        settings += _settings([key], field, schema.get("$defs", {}), clauses[key])
    settings = [setting.model_copy(update={"needs": _needs(name, setting)}) for setting in settings]
    usual: Any = model(id="new")
    return LayerOffer(layer=name, title=TITLES[name], alone=model is CountsLayer, usual=usual, settings=settings)


def _needs(layer: str, setting: Setting) -> list[Needs]:
    found = _NEEDS.get((layer, ".".join(setting.path)), {})
    return [
        Needs(path=dotted.split("."), given=wanted) if isinstance(wanted, bool) else Needs(path=dotted.split("."), among=wanted)
        for dotted, wanted in found.items()
    ]


def _settings(path: list[str], field: dict[str, Any], defs: dict[str, Any], meaning: str) -> list[Setting]:
    """A field's settings: one, or those of the part that stands there."""
    kinds = [kind for kind in field.get("anyOf", [field]) if kind.get("type") != "null"]
    optional = "anyOf" in field and len(kinds) < len(field["anyOf"])
    kind = kinds[0]
    if "$ref" in kind:
        part = defs[kind["$ref"].rsplit("/", 1)[1]]
        inside = [one for key, inner in part["properties"].items() for one in _settings([*path, key], inner, defs, meaning)]
        if optional:
            # The first setting of a part that may be missing says whether it is there.
            inside[0] = inside[0].model_copy(update={"optional": True, "whole": True})
        return inside
    dotted = ".".join(path)
    name = _NAMES.get(dotted, path[-1].replace("_", " ").capitalize())
    if "enum" in kind:
        reach = (
            {str(rule): k for rule, k in USUAL_K.items()} if path[-1:] == ["rule"] and path[0] in ("fence", "whiskers") else {}
        )
        words = {option: RULE_NAMES[option] for option in kind["enum"] if option in RULE_NAMES}
        return [
            Setting(
                path=path, name=name, meaning=meaning, kind="choice", options=kind["enum"], optional=optional, reach=reach,
                words=words,
            )
        ]  # fmt: skip
    if kind.get("type") == "boolean":
        return [Setting(path=path, name=name, meaning=meaning, kind="yes-no")]
    if kind.get("type") == "array":
        inner = kind["items"].get("type")
        return [Setting(path=path, name=name, meaning=meaning, kind="numbers", optional=optional)] if inner == "number" else []
    if kind.get("type") == "string":
        found = path[-1] in COLUMN_SETTINGS
        return [Setting(path=path, name=name, meaning=meaning, kind="column", optional=True)] if found else []
    least, most = kind.get("minimum"), kind.get("maximum")
    if (usual := _SLIDERS.get(dotted)) is not None:
        least, most = max(usual[0], usual[0] if least is None else least), min(usual[1], usual[1] if most is None else most)
    if least is None or most is None or optional:
        return [Setting(path=path, name=name, meaning=meaning, kind="number", optional=optional)]
    step = 1.0 if kind["type"] == "integer" else _step(most - least)
    return [Setting(path=path, name=name, meaning=meaning, kind="amount", least=least, most=most, step=step)]


def _step(span: float) -> float:
    """About a hundredth of the range, round."""
    return next(step for step in (0.001, 0.005, 0.01, 0.05, 0.1, 0.5, 1.0, 10.0, 100.0, 1_000.0) if span / step <= 80)
