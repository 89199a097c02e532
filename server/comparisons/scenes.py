"""What leaves a scene before it is sent."""

from __future__ import annotations

from echelle.figures.scene import PointsPart, Scene


def without_rows(scene: Scene) -> None:
    """Take row ids out, for those who may look at the figure but not at rows."""
    for part in scene.walk():
        if isinstance(part, PointsPart):
            part.columns.rows = None
    for readings in scene.readings:
        for outlier in readings.outliers:
            outlier.row = None
