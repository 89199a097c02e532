"""Scene parts moved on the sheet: what folios and the reader's key are put together with."""

from __future__ import annotations

import re
from collections.abc import Iterable

import numpy as np

from echelle.scene.models import (
    GroupPart,
    LinePart,
    PathPart,
    PointsPart,
    RectPart,
    ScenePart,
    TextPart,
    point_columns,
    round_coordinate,
    unpack,
)  # fmt: skip

_PAIR = re.compile(r"(-?[\d.]+(?:e-?\d+)?)[ ,]+(-?[\d.]+(?:e-?\d+)?)")


def translate(parts: Iterable[ScenePart], dx: float, dy: float, prefix: str) -> list[ScenePart]:
    """The parts further right and down by so many points. Keys get the prefix, and panels and lanes are theirs no more: what
    is moved is to be looked at, not handled.
    """
    return [_move_part(part, dx, dy, prefix) for part in parts]


def _move_part(part: ScenePart, dx: float, dy: float, prefix: str) -> ScenePart:
    mark: dict[str, object] = {"key": f"{prefix}/{part.key}", "panel": "", "lane": "", "layer": prefix}
    if isinstance(part, GroupPart):
        return part.model_copy(update={**mark, "parts": translate(part.parts, dx, dy, prefix)})
    if isinstance(part, RectPart):
        return part.model_copy(update={**mark, "x": round_coordinate(part.x + dx), "y": round_coordinate(part.y + dy)})
    if isinstance(part, LinePart):
        ends = {"x1": part.x1 + dx, "y1": part.y1 + dy, "x2": part.x2 + dx, "y2": part.y2 + dy}
        return part.model_copy(update={**mark, **{end: round_coordinate(value) for end, value in ends.items()}})
    if isinstance(part, PathPart):
        return part.model_copy(update={**mark, "d": _PAIR.sub(lambda pair: _shift_path(pair, dx, dy), part.d)})
    if isinstance(part, TextPart):
        left, top, right, bottom = part.box
        box = tuple(map(round_coordinate, (left + dx, top + dy, right + dx, bottom + dy)))
        return part.model_copy(
            update={**mark, "x": round_coordinate(part.x + dx), "y": round_coordinate(part.y + dy), "box": box}
        )
    assert isinstance(part, PointsPart)
    x, y = unpack(part.columns.x, "<f4") + dx, unpack(part.columns.y, "<f4") + dy
    rows = np.zeros(len(x), dtype=np.int64)
    return part.model_copy(update={**mark, "columns": point_columns(x, y, rows)})


def _shift_path(pair: re.Match[str], dx: float, dy: float) -> str:
    return f"{float(pair[1]) + dx:.10g} {float(pair[2]) + dy:.10g}"
