"""What can be set: each layer's settings with their meaning and range, and what forms begin with. Made from the models."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Any, Literal, get_args

from pydantic import BaseModel, Field, JsonValue

from echelle.catalogue.catalogue import LANGUAGES, Language, catalogue
from echelle.figures.words.placeholders import OF_ALL, OF_LANES
from echelle.numbers.outliers import USUAL_K
from echelle.recipes.differences import Differences
from echelle.recipes.forms import FORMS
from echelle.recipes.guides import Guide
from echelle.recipes.layers import LAYER_MODELS, Layer
from echelle.recipes.layers.base import AnyLayer, RisingLayer, Stands
from echelle.recipes.recipe import FormName
from echelle.recipes.roles import Groups, GroupsPlaced, Levels, Measure, Panels, Subgroups, SubgroupsPlaced
from echelle.recipes.settings import Need, SettingInfo, info_of
from echelle.recipes.style import SEQUENCES, Axis, SecondAxis
from echelle.strict_model import AnswerModel

SettingKind = Literal["choice", "amount", "number", "yes-no", "numbers", "column", "colour", "text", "texts"]
# The parts of a recipe whose settings are offered as those of layers are.
_PARTS: tuple[tuple[str, str, type[BaseModel]], ...] = (
    ("measure", "Measure", Measure),
    ("groups", "Groups", Groups),
    ("subgroups", "Subgroups", Subgroups),
    ("panels", "Panels", Panels),
    ("axis", "Axis", Axis),
    ("second_axis", "Heights", SecondAxis),
    ("guides", "Guide", Guide),
)


class Needs(AnswerModel):
    """What another setting of the layer must be, so that this one matters: one of ``among``, or given at all (``given``)."""

    path: list[str]
    among: list[str] = []
    given: bool | None = None


class Setting(AnswerModel):
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
    find: list[str] = Field(default=[], description="other words that it is looked for by")


class LayerOffer(AnswerModel):
    """A layer as it begins, and its settings; one that is ``alone`` shares its figure with no other. A layer is added behind
    the first one that stands further in ``front``.
    """

    layer: str
    title: str
    alone: bool
    front: int
    stands_as: Stands | None = None
    arrives: dict[Stands, dict[str, JsonValue]] = Field(
        default={}, description="what it changes of itself where it is added beside another that stands so"
    )
    rises: bool = Field(description="whether heights stand on the second axis")
    usual: Layer
    settings: list[Setting]


class PartOffer(AnswerModel):
    """A part of the recipe beside its layers, and what can be set in it."""

    part: str
    title: str
    settings: list[Setting]


class FormOffer(AnswerModel):
    """A form, and how it places groups and subgroups."""

    form: FormName
    groups_placed: GroupsPlaced
    subgroups_placed: SubgroupsPlaced


class SequenceOffer(AnswerModel):
    """Colours that levels take in turn; of ``rising`` ones, levels with an order stand between the first and the last."""

    name: str
    colours: list[str]
    rising: bool


class FigureOptions(AnswerModel):
    """All forms, all layers, and roles as they begin (without a column)."""

    forms: list[FormOffer]
    layers: list[LayerOffer]
    parts: list[PartOffer]
    measure: Measure
    groups: Groups
    subgroups: Subgroups
    panel: Levels
    differences: Differences
    guide: Guide
    places: list[str] = Field(description="what words may hold in braces, of all rows")
    lane_places: list[str] = Field(description="the same of one lane, with its name after a colon")
    sequences: list[SequenceOffer] = Field(description="colours that levels can take in turn")
    languages: list[Language] = Field(description="what note and key can be written in")


@cache
def figure_options() -> FigureOptions:
    """Everything that a figure can be made of; the same for as long as the program runs."""
    return FigureOptions(
        forms=[_form(name) for name in FORMS],
        layers=[layer_options(model) for model in LAYER_MODELS],
        parts=[
            PartOffer(part=part, title=title, settings=_settings_of(model, described=True)) for part, title, model in _PARTS
        ],
        measure=Measure(columns=["-"]),
        groups=Groups(column=""),
        subgroups=Subgroups(column=""),
        panel=Levels(column=""),
        differences=Differences(),
        guide=Guide(at="median", label="median of all", valued=True),
        places=list(OF_ALL),
        lane_places=list(OF_LANES),
        sequences=[SequenceOffer(name=name, colours=s.colours, rising=s.rising) for name, s in SEQUENCES.items()],
        languages=list(LANGUAGES),
    )


def _form(name: FormName) -> FormOffer:
    form = FORMS[name]
    placed = form.subgroups.get("placed", "beside")
    return FormOffer(form=name, groups_placed="overlaid" if form.overlaid else "evenly", subgroups_placed=placed)


def layer_options(model: type[AnyLayer]) -> LayerOffer:
    """A layer's settings, as it begins."""
    usual: Any = model(id="new")
    return LayerOffer(
        layer=model.kind(), title=model.title, alone=model.counts_rows, front=model.front,
        stands_as=model.stands_as, arrives={stands: dict(change) for stands, change in model.arrives.items()},
        rises=issubclass(model, RisingLayer) or model.counts_rows, usual=usual,
        settings=_settings_of(model),
    )  # fmt: skip


def _settings_of(model: type[BaseModel], described: bool = False) -> list[Setting]:
    """What can be set in a model's fields, but in those that are set on the figure itself; only in ``described`` ones where
    the others have a place of their own on the page.
    """
    schema, settings = model.model_json_schema(), []
    for field_name, field in model.model_fields.items():
        info, name = info_of(field), field.alias or field_name
        if name not in ("id", "layer") and info.row and (info.meaning or not described):
            settings += _settings([name], info, _Field(schema["properties"][name], schema.get("$defs", {}), field.annotation))
    return settings


def setting_info(model: type[AnyLayer], path: Sequence[str]) -> SettingInfo:
    """What a layer's model says of a setting, by its path."""
    field, part = model.model_fields[path[0]], _Field({}, {}, model.model_fields[path[0]].annotation).part
    if len(path) == 1 or part is None:
        return info_of(field)
    return info_of(field).inside.get(path[1], SettingInfo()).over(info_of(part.model_fields[path[1]]))


@dataclass(frozen=True)
class _Field:
    """A field's JSON Schema, the definitions beside it, and its type."""

    schema: dict[str, Any]
    defs: dict[str, Any]
    annotation: Any

    @property
    def kinds(self) -> list[dict[str, Any]]:
        """What it may hold, but null."""
        return [kind for kind in self.schema.get("anyOf", [self.schema]) if kind.get("type") != "null"]

    @property
    def optional(self) -> bool:
        """Whether it may be null."""
        return "anyOf" in self.schema and len(self.kinds) < len(self.schema["anyOf"])

    @property
    def part(self) -> type[BaseModel] | None:
        """The model of a part that stands here."""
        types = [self.annotation, *get_args(self.annotation)]
        return next((t for t in types if isinstance(t, type) and issubclass(t, BaseModel)), None)


def _settings(path: list[str], info: SettingInfo, field: _Field) -> list[Setting]:
    """A field's settings: one, or those of the part that stands there."""
    if field.part is not None:
        properties = field.defs[field.part.__name__]["properties"]
        inside = [
            setting
            for name, inner in field.part.model_fields.items()
            for setting in _settings(
                [*path, name],
                replace(info.inside.get(name, SettingInfo()).over(info_of(inner)), meaning=info.meaning),
                _Field(properties[name], field.defs, inner.annotation),
            )
        ]
        if field.optional:
            # The first setting of a part that may be missing says whether it is there.
            inside[0] = inside[0].model_copy(update={"optional": True, "whole": True})
        return inside
    setting = Setting(
        path=path, name=info.title or path[-1].replace("_", " ").capitalize(), meaning=info.meaning, kind="number",
        optional=field.optional, find=list(info.find),
        needs=[_need(dotted, wanted) for dotted, wanted in info.needs.items()],
    )  # fmt: skip
    update = _control(setting, info, field)
    return [] if update is None else [setting.model_copy(update=update)]


def _need(dotted: str, wanted: Need) -> Needs:
    path = dotted.split(".")
    return Needs(path=path, given=wanted) if isinstance(wanted, bool) else Needs(path=path, among=wanted)


def _control(setting: Setting, info: SettingInfo, field: _Field) -> dict[str, object] | None:
    """What kind of control a setting has, and what that takes; None where the page has none."""
    kind = field.kinds[0]
    if any(other.get("type") == "array" for other in field.kinds[1:]):
        return {"kind": "numbers", "options": kind["enum"]}
    if "enum" in kind:
        reach = {str(rule): k for rule, k in USUAL_K.items()} if set(kind["enum"]) <= set(USUAL_K) else {}
        names = {option: catalogue().say("rule", rule=str(option)) for option in kind["enum"]}
        words = {option: name for option, name in names.items() if name != str(option)} | dict(info.options)
        return {"kind": "choice", "options": kind["enum"], "reach": reach, "words": words}
    if kind.get("type") == "boolean":
        return {"kind": "yes-no"}
    if kind.get("type") == "array":
        return {"kind": "numbers" if kind["items"].get("type") == "number" else "texts"}
    if kind.get("type") == "string":
        if "pattern" in kind:
            return {"kind": "colour"}
        return {"kind": "column" if info.column else "text"} if info.column or info.text else None
    least, most = kind.get("minimum"), kind.get("maximum")
    if info.slider is not None:
        low, high = info.slider
        least, most = max(low, low if least is None else least), min(high, high if most is None else most)
    if least is None or most is None or field.optional:
        return {}
    step = 1.0 if kind["type"] == "integer" else _step(most - least)
    return {"kind": "amount", "least": least, "most": most, "step": step}


def _step(span: float) -> float:
    """About a hundredth of the range, round."""
    return next(step for step in (0.001, 0.005, 0.01, 0.05, 0.1, 0.5, 1.0, 10.0, 100.0, 1_000.0) if span / step <= 80)
