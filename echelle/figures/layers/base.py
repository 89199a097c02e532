"""What every layer answers for."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from echelle.figures.frame import Band, Frame
from echelle.figures.scene import Handle, LaneReadings, ScenePart
from echelle.recipes.models import Place, Style


@dataclass(frozen=True)
class LaneView:
    """One lane as a layer sees it."""

    frame: Frame
    band: Band
    readings: LaneReadings
    style: Style
    points_shown: bool


@dataclass(frozen=True)
class LayerKind:
    """A layer's own answers: marks and handles of a lane, clauses of the method note, and what each setting means."""

    draw: Callable[[Any, LaneView], list[ScenePart]]
    handles: Callable[[Any, int, LaneView], list[Handle]]
    note: Callable[[Any, bool], list[str]]
    settings: dict[str, str]


CENTRES: dict[Place, float] = {"above": -0.38, "on": 0.0, "below": 0.38}
