"""The look's weight of lines and strength of fills, laid over the marks that layers drew."""

from __future__ import annotations

from collections.abc import Sequence

from echelle.recipes.style import Style
from echelle.scene.models import GroupPart, Paint, ScenePart, TextPart, round_coordinate


def scale_line_weights(parts: Sequence[ScenePart], style: Style) -> list[ScenePart]:
    """The marks with every line times the look's weight and every fill times its strength."""
    if style.weight == 1.0 and style.strength == 1.0:
        return list(parts)
    return [_scale_part(part, style) for part in parts]


def _scale_part(part: ScenePart, style: Style) -> ScenePart:
    if isinstance(part, GroupPart):
        return part.model_copy(update={"parts": scale_line_weights(part.parts, style)})
    return part if isinstance(part, TextPart) else part.model_copy(update={"paint": _scale_paint(part.paint, style)})


def _scale_paint(paint: Paint, style: Style) -> Paint:
    # Opacity belongs to fill and line alike; a line alone stays as strong as it is.
    strength = style.strength if paint.fill else 1.0
    width, opacity = round_coordinate(paint.stroke_width * style.weight), round_coordinate(paint.opacity * strength)
    return paint.model_copy(update={"stroke_width": width, "opacity": opacity})
