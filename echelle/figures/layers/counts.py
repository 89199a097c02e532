"""Counts: how many rows each lane has, and how many distinct subjects."""

from __future__ import annotations

from echelle.figures.lanes.figure_context import Measured, Study
from echelle.figures.layers.base import SHARED, WIDTH, LaneView, LayerKind, Told
from echelle.recipes.layers import CountsLayer
from echelle.scene.models import Paint, ScenePart


def _measure(layer: CountsLayer, study: Study) -> Measured:
    """How many of each, and what they stand on where subgroups are stacked."""
    found: dict[str, tuple[int, int, int | None]] = {}
    floors: dict[tuple[str, int], int] = {}
    for lane in study.arrangement.lanes:
        floor = floors.get((lane.panel, lane.slot), 0) if study.stacked else 0
        people = lane.people if layer.of != "rows" else None
        found[lane.key] = (floor, lane.n if layer.of != "subjects" or people is None else people, people)
        floors[lane.panel, lane.slot] = floor + found[lane.key][1]
    return Measured(lanes=dict(found), extents={key: (0.0, float(a + b or 1)) for key, (a, b, _) in found.items()})


def _draw(layer: CountsLayer, view: LaneView) -> list[ScenePart]:
    if view.data is None:
        return []
    floor, count, people = view.data
    frame = view.frame
    a, b = view.band.spread(0.0, layer.width)
    start, end = frame.held(floor), frame.held(floor + count)
    parts: list[ScenePart] = [frame.rect(view.mark(layer.id, "count"), start, end, a, b, Paint(fill=view.band.colour))]
    if layer.of == "both" and people is not None and people < count and not view.study.stacked:
        # Distinct subjects: a narrow bar inside, in the ground's colour.
        c, d = view.band.spread(0.0, layer.width * 0.28)
        at = frame.held(people)
        parts.append(frame.rect(view.mark(layer.id, "subjects"), start, at, c, d, Paint(fill=view.style.ground)))
    return parts


def _note(layer: CountsLayer, told: Told) -> list[str]:
    what = {"rows": "rows with a value", "subjects": "distinct subjects"}
    if layer.of in what:
        return [f"Bars: {what[layer.of]}."]
    return ["Bars: rows with a value; the light bar inside: distinct subjects, where an identifier repeats."]


def _brief(layer: CountsLayer) -> str:
    return "bars: number of " + ("subjects" if layer.of == "subjects" else "rows")


KIND = LayerKind(
    draw=_draw,
    measure=_measure,
    note=_note,
    brief=_brief,
    settings={**SHARED, **WIDTH, "of": "Rows, distinct subjects by the identifier, or both."},
)
