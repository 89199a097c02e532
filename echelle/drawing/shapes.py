"""Outlines of the point shapes, of diameter 1 around the origin, and dashes; every surface draws these.

``python -m echelle.drawing.shapes`` prints them for the browser.
"""

from __future__ import annotations

import json
import math
import sys

from echelle.recipes.guides import Dash
from echelle.scene.models import Shape

# Each outline is a list of strokes; a stroke is a list of corners and whether it is closed.
_DIAMOND = math.sqrt(0.5) * 0.95
DASHES: dict[Dash, tuple[float, ...]] = {"solid": (), "dashed": (4.0, 2.5), "dotted": (1.2, 1.8)}
OUTLINES: dict[Shape, list[tuple[list[tuple[float, float]], bool]]] = {
    "circle": [],
    "diamond": [([(0, -_DIAMOND), (_DIAMOND, 0), (0, _DIAMOND), (-_DIAMOND, 0)], True)],
    "square": [([(-0.45, -0.45), (0.45, -0.45), (0.45, 0.45), (-0.45, 0.45)], True)],
    "triangle": [([(0, -0.62), (0.54, 0.31), (-0.54, 0.31)], True)],
    "down-triangle": [([(0, 0.62), (-0.54, -0.31), (0.54, -0.31)], True)],
    "plus": [
        (
            [
                (-0.17, -0.55),
                (0.17, -0.55),
                (0.17, -0.17),
                (0.55, -0.17),
                (0.55, 0.17),
                (0.17, 0.17),
                (0.17, 0.55),
                (-0.17, 0.55),
                (-0.17, 0.17),
                (-0.55, 0.17),
                (-0.55, -0.17),
                (-0.17, -0.17),
            ],
            True,
        )
    ],
    "hexagon": [([(math.cos(a) * 0.55, math.sin(a) * 0.55) for a in (math.pi / 3 * k for k in range(6))], True)],
    # Arrows that point where a value lies that is known only by a limit.
    "left": [([(0.5, -0.45), (-0.5, 0), (0.5, 0.45)], False)],
    "right": [([(-0.5, -0.45), (0.5, 0), (-0.5, 0.45)], False)],
    "up": [([(-0.45, 0.5), (0, -0.5), (0.45, 0.5)], False)],
    "down": [([(-0.45, -0.5), (0, 0.5), (0.45, -0.5)], False)],
    "cross": [([(-0.5, -0.5), (0.5, 0.5)], False), ([(-0.5, 0.5), (0.5, -0.5)], False)],
}


def for_browser() -> str:
    """Outlines and dashes as JSON."""
    outlines = {name: [{"corners": corners, "closed": closed} for corners, closed in lines] for name, lines in OUTLINES.items()}
    return json.dumps({"outlines": outlines, "dashes": DASHES})


if __name__ == "__main__":
    sys.stdout.write(for_browser())
