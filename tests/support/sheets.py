"""What every sheet must keep to, whatever it shows."""

from __future__ import annotations

from collections import Counter
from itertools import combinations

from echelle.scene.models import GroupPart, LinePart, PathPart, PointsPart, RectPart, Scene, ScenePart, unpack
from tests.support.texts import texts


def texts_keep_apart(scene: Scene) -> None:
    """No text leaves the sheet, and none lies over another."""
    parts = texts(scene)
    for part in parts:
        left, top, right, bottom = part.box
        assert left >= -0.01 and top >= -0.01, (part.text, part.box)
        assert right <= scene.width + 0.01 and bottom <= scene.height + 0.01, (part.text, part.box, scene.height)
    for first, second in combinations(parts, 2):
        # Boxes of neighbouring lines may touch by the empty rim above and below the letters.
        slack = 0.32 * min(first.size, second.size)
        apart = (
            first.box[2] <= second.box[0] + 0.01 or second.box[2] <= first.box[0] + 0.01
            or first.box[3] <= second.box[1] + slack or second.box[3] <= first.box[1] + slack
        )  # fmt: skip
        assert apart, (first.text, first.box, second.text, second.box)


def keys_are_unique(scene: Scene) -> None:
    """Each part has a key of its own: the browser draws by it."""
    doubled = [key for key, times in Counter(_keys(scene.parts)).items() if times > 1]
    assert not doubled, doubled[:5]


def _keys(parts: list[ScenePart]) -> list[str]:
    return [key for part in parts for key in [part.key, *(_keys(part.parts) if isinstance(part, GroupPart) else [])]]


def marks_stay_in_their_panel(scene: Scene) -> None:
    """Marks of lanes lie within their panel along the measure, with room for a point's own size."""
    panels = {panel.key: panel for panel in scene.panels}
    for part in scene.walk():
        if not part.lane or not part.layer:
            continue
        left, top, width, height = panels[part.panel].box
        start, end = (left, left + width) if panels[part.panel].scale.direction == "x" else (top, top + height)
        for along in _along(part, panels[part.panel].scale.direction == "x"):
            assert start - 0.02 <= along <= end + 0.02, (part.key, along, start, end)


def marks_stay_on_the_sheet(scene: Scene) -> None:
    """No mark is cut by the sheet's edge."""
    for part in scene.walk():
        for across, edge in ((True, scene.width), (False, scene.height)):
            places = _along(part, across)
            assert not places or (min(places) >= -0.1 and max(places) <= edge + 0.1), (part.key, min(places), max(places), edge)


def _along(part: ScenePart, across: bool) -> list[float]:
    if isinstance(part, RectPart):
        return [part.x, part.x + part.width] if across else [part.y, part.y + part.height]
    if isinstance(part, LinePart):
        return [part.x1, part.x2] if across else [part.y1, part.y2]
    if isinstance(part, PointsPart):
        return [float(place) for place in unpack(part.columns.x if across else part.columns.y, "<f4")]
    if isinstance(part, PathPart):
        return path_places(part)[0 if across else 1]
    return []


def path_places(part: PathPart) -> tuple[list[float], list[float]]:
    """x and y of all places of a path."""
    spots = [spot.split() for spot in part.d.replace("M", "L").replace("Z", "").split("L") if spot]
    return [float(x) for x, _ in spots], [float(y) for _, y in spots]
