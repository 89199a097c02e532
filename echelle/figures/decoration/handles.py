"""What can be dragged that belongs to no layer: guides, the ends of the axis, the width of lanes."""

from __future__ import annotations

from collections.abc import Sequence

from echelle.figures.geometry.count_axis import only_counts
from echelle.figures.geometry.lane_bands import is_overlaid
from echelle.figures.lanes.figure_context import FigureContext
from echelle.figures.lanes.transforms import LINEAR
from echelle.figures.layout.layout_model import Layout, PanelPlace
from echelle.numbers.rounding import round_step
from echelle.scene.models import Handle


def handles_around(layout: Layout, context: FigureContext) -> list[Handle]:
    """Those of the whole figure, in its first panel."""
    place = layout.panels[0]
    return [*_guides(place, context), *_axis_ends(place, context), *_lane_width(place, context)]


def _guides(place: PanelPlace, context: FigureContext) -> list[Handle]:
    low, high = place.frame.domain
    handles = []
    for number, guide in enumerate(context.recipe.guides):
        name, step = guide.label or f"guide {number + 1}", round_step(high - low)
        ends: list[tuple[float, list[str | int], float, float]] = []
        first, last = guide.ends
        if not isinstance(first, float | int) or not isinstance(last, float | int):
            continue
        if guide.band is None:
            ends = [(first, ["at"], low, high)]
        else:
            ends = [(first, ["band", 0], low, last - step), (last, ["band", 1], first + step, high)]
        for value, path, least, most in ends:
            if low <= value <= high:
                key, whole = f"guide{number + 1}/{path[-1]}", ["guides", number, *path]
                handles.append(_whole(place, key, "guide", value, whole, name, least=least, most=most, step=step))
    return handles


def _axis_ends(place: PanelPlace, context: FigureContext) -> list[Handle]:
    words = context.words
    low, high = place.frame.domain
    span = high - low
    bent = context.transform is not LINEAR
    first = {"least": low / 10 if bent else low - span, "most": high - span / 20}
    last = {"least": low + span / 20, "most": high + span * (9 if bent else 1)}
    step = round_step(low if bent and low > 0 else span)
    axis = "second_axis" if only_counts(context.recipe) else "axis"
    return [
        _whole(place, "axis/from", "axis-end", low, [axis, "from"], words.say("handle-axis-start"), **first, step=step),
        _whole(place, "axis/to", "axis-end", high, [axis, "to"], words.say("handle-axis-end"), **last, step=round_step(span)),
    ]


def _whole(
    place: PanelPlace, key: str, role: str, value: float, path: Sequence[str | int], name: str, *,
    least: float, most: float, step: float,
) -> Handle:  # fmt: skip
    """A handle along the whole panel that sets the value it stands at."""
    return Handle.model_validate(
        {
            "key": f"{place.frame.key}/{key}", "panel": place.frame.key, "lane": "", "layer": "", "role": role, "at": value,
            "origin": 0.0, "unit": 1.0, "least": least, "most": most, "step": step, "value": value,
            "path": list(path), "name": name,
        }
    )  # fmt: skip


def _lane_width(place: PanelPlace, context: FigureContext) -> list[Handle]:
    """At the edge of the first lane; all lanes follow."""
    recipe = context.recipe
    if is_overlaid(recipe) or not place.bands or any(layer.even_axis for layer in recipe.layers):
        return []
    start, end = place.frame.sides
    a, b = (start + share * (end - start) for share in place.slots.ends[0])
    middle, half, width = (a + b) / 2, (b - a) / 2, recipe.axis.lane_width
    return [
        Handle(
            key=f"{place.frame.key}/lane-width", panel=place.frame.key, lane="", layer="", role="lane-width", along="across",
            at=middle + half * width, origin=middle, unit=half, least=0.2, most=1.0, step=0.01, value=width,
            path=["axis", "lane_width"], name=context.words.say("handle-lanes"), after=context.words.say("handle-lanes-after"),
        )
    ]  # fmt: skip
