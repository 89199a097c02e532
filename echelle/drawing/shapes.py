"""Outlines of the point shapes, of diameter 1 around the origin; every surface draws these."""

from __future__ import annotations

import math

from echelle.figures.scene import Shape

# Each outline is a list of strokes; a stroke is a list of corners and whether it is closed.
_DIAMOND = math.sqrt(0.5) * 0.95
OUTLINES: dict[Shape, list[tuple[list[tuple[float, float]], bool]]] = {
    "circle": [],
    "diamond": [([(0, -_DIAMOND), (_DIAMOND, 0), (0, _DIAMOND), (-_DIAMOND, 0)], True)],
    "cross": [([(-0.5, -0.5), (0.5, 0.5)], False), ([(-0.5, 0.5), (0.5, -0.5)], False)],
}
