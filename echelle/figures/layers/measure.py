"""What is computed of a figure before anything has a place: readings, guides, and what each layer measures."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from echelle.catalogue.catalogue import catalogue
from echelle.errors import InputError, Mend
from echelle.figures.geometry.count_axis import on_its_axis
from echelle.figures.geometry.secondary_axis import MeasuredLayers
from echelle.figures.lanes.counted import refuse_of_counts, with_tails
from echelle.figures.lanes.figure_context import FigureContext, Measurement
from echelle.figures.lanes.guide_values import placed_guides, with_inside
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.lanes.readings import counts_alone, lane_fences, read_lane, rules_of
from echelle.figures.lanes.shares import with_shares
from echelle.figures.lanes.transforms import TRANSFORMS, Transform
from echelle.figures.layers.cost import refuse_long
from echelle.figures.layers.registry import layer_of
from echelle.recipes.recipe import Recipe
from echelle.scene.models import LaneReadings
from echelle.tables.steps.conditions import Within


def measure_figure(recipe: Recipe, arrangement: Arrangement, most_outliers: int) -> tuple[FigureContext, MeasuredLayers]:
    """Readings, guides and what each shown layer computes; ``most_outliers`` shortens their list in the readings."""
    refuse_of_counts(recipe, arrangement)
    refuse_long(recipe, arrangement)
    rules = rules_of(recipe)
    guides = placed_guides(recipe, arrangement)
    drawn = on_its_axis(recipe)
    readings = {lane.key: read_lane(lane, rules, most_outliers) for lane in arrangement.lanes}
    lanes = tuple(with_tails(lane, lane_fences(readings[lane.key])) for lane in arrangement.lanes)
    arrangement = replace(arrangement, lanes=lanes) if arrangement.account.parts is not None else arrangement
    if arrangement.counted:
        readings = {key: counts_alone(lane) for key, lane in readings.items()}
    inside = with_inside(guides, arrangement, readings, catalogue(recipe.words.note.english))
    told = with_shares(recipe.ledger.shares, arrangement, inside, catalogue(recipe.words.note.english))
    return _measure_layers(FigureContext(drawn, arrangement, told, guides if drawn.guides else ()))


def _measure_layers(context: FigureContext) -> tuple[FigureContext, MeasuredLayers]:
    """A layer that leads comes first: curves are scaled to it."""
    shown = context.recipe.shown_layers
    leading = next((layer for layer in shown if layer_of(layer).leads), None)
    measured = {}
    if leading is not None:
        measured[leading.id] = layer_of(leading).measure(leading, context)
        context = replace(context, per_density=measured[leading.id].second.per_density)
    for layer in shown:
        if layer.id not in measured:
            measured[layer.id] = layer_of(layer).measure(layer, context)
    result = [(layer, measured[layer.id]) for layer in shown]
    readings = {key: _with_named(lane, [m for _, m in result]) for key, lane in context.readings.items()}
    return replace(context, readings=readings), result


def _with_named(lane: LaneReadings, measured: list[Measurement[object]]) -> LaneReadings:
    """A lane's readings with those that layers computed."""
    named = [reading for measurement in measured for reading in measurement.named.get(lane.lane, ())]
    return lane.model_copy(update={"named": [*lane.named, *named]}) if named else lane


def refuse_words(recipe: Recipe, arrangement: Arrangement) -> None:
    """Raises InputError where a layer would need numbers that the column does not hold."""
    if arrangement.counted and not all(layer.counts_rows for layer in recipe.layers if layer.shown):
        what = f"“{arrangement.name}” holds no numbers, so its rows can be counted alone"
        raise InputError(what, where="$.measure.columns[0]", remedy="Choose a measure, or the form counts.")


def refuse_without_place(recipe: Recipe, arrangement: Arrangement) -> None:
    """Refuse values that the axis' scale cannot show, by name and count."""
    transform = TRANSFORMS[recipe.axis.scale]
    refused: Counter[str] = Counter()
    for lane in arrangement.lanes:
        refused[lane.name] += transform.refuses(lane.ordered)
    if total := refused.total():
        what = "zero or below" if not transform.least_in else "below zero"
        names = ", ".join(f"{name} ({count})" for name, count in refused.items() if count)
        raise InputError(
            f"a {transform.name} axis has no place for {total} values that are {what}: {names}", where="$.axis.scale",
            remedy="Choose a linear axis, or keep only values above zero.", mends=_mends(recipe, transform, total),
        )  # fmt: skip


def _mends(recipe: Recipe, transform: Transform, total: int) -> tuple[Mend, ...]:
    """Keep what the axis has a place for, where one column is measured; or an axis that has a place for all."""
    words = catalogue(recipe.words.note.english)
    linear = Mend(words.say("remedy-linear-axis"), ((("axis", "scale"), "linear"),))
    if len(recipe.measure.columns) > 1:
        return (linear,)
    ends = {"from": 0.0} if transform.least_in else {"above": 0.0}
    condition = Within.model_validate({"column": recipe.measure.columns[0], **ends}).model_dump(mode="json", by_alias=True)
    kept = [other.model_dump(mode="json", by_alias=True) for other in recipe.keep]
    keep = words.say("remedy-keep-above-zero", count=total, zero="yes" if transform.least_in else "no")
    return Mend(keep, ((("keep",), [*kept, condition]),)), linear
