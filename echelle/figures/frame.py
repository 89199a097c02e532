"""Geometry of one panel: the measure runs along, lanes lie across."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypedDict

import numpy as np

from echelle.figures.arrange import Lane
from echelle.figures.scene import LinePart, Paint, Panel, RectPart, Role, Scale, rounded
from echelle.numbers.quantiles import Floats
from echelle.recipes.models import Runs


@dataclass(frozen=True)
class Frame:
    """A panel at left, top, width, height (points), with the measure's domain on it."""

    key: str
    left: float
    top: float
    width: float
    height: float
    runs: Runs
    domain: tuple[float, float]

    @property
    def range(self) -> tuple[float, float]:
        """Coordinates of the domain's two ends."""
        if self.runs == "across":
            return self.left, self.left + self.width
        return self.top + self.height, self.top

    def along(self, value: float) -> float:
        """The coordinate of a value."""
        (v0, v1), (c0, c1) = self.domain, self.range
        return c0 + (value - v0) / (v1 - v0) * (c1 - c0)

    def along_all(self, values: Floats) -> Floats:
        """The coordinates of many values, shape (n,)."""
        (v0, v1), (c0, c1) = self.domain, self.range
        return c0 + (values - v0) / (v1 - v0) * (c1 - c0)

    def held(self, value: float) -> float:
        """The coordinate of a value, kept inside the panel."""
        low, high = sorted(self.range)
        return min(max(self.along(value), low), high)

    def sees(self, values: Floats) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
        """Which values lie in the domain."""
        return (values >= self.domain[0]) & (values <= self.domain[1])

    def rect(self, mark: MarkOf, a0: float, a1: float, c0: float, c1: float, paint: Paint) -> RectPart:
        """A rectangle from a0 to a1 along and c0 to c1 across."""
        (x0, x1), (y0, y1) = ((a0, a1), (c0, c1)) if self.runs == "across" else ((c0, c1), (a0, a1))
        return RectPart(
            **mark.fields(self.key), x=rounded(min(x0, x1)), y=rounded(min(y0, y1)),
            width=rounded(abs(x1 - x0)), height=rounded(abs(y1 - y0)), paint=paint,
        )  # fmt: skip

    def line(self, mark: MarkOf, a0: float, c0: float, a1: float, c1: float, paint: Paint) -> LinePart:
        """A line from (a0 along, c0 across) to (a1, c1)."""
        x1, y1, x2, y2 = (a0, c0, a1, c1) if self.runs == "across" else (c0, a0, c1, a1)
        return LinePart(**mark.fields(self.key), x1=rounded(x1), y1=rounded(y1), x2=rounded(x2), y2=rounded(y2), paint=paint)

    def panel(self) -> Panel:
        """What the scene says of this frame."""
        box = (rounded(self.left), rounded(self.top), rounded(self.width), rounded(self.height))
        low, high = self.range
        direction: Literal["x", "y"] = "x" if self.runs == "across" else "y"
        return Panel(
            key=self.key, box=box, scale=Scale(direction=direction, domain=self.domain, range=(rounded(low), rounded(high)))
        )


class MarkFields(TypedDict):
    """The fields of :class:`echelle.figures.scene.Mark`."""

    key: str
    panel: str
    lane: str
    layer: str
    role: Role


@dataclass(frozen=True)
class MarkOf:
    """Names a mark: lane, layer and role (and a number where a lane has several)."""

    lane: str
    layer: str
    role: Role
    number: str = ""

    def fields(self, panel: str) -> MarkFields:
        """The fields that every scene part begins with."""
        places = [panel, self.lane, self.layer, self.role, self.number]
        key = "/".join(place for place in places if place)
        return {"key": key, "panel": panel, "lane": self.lane, "layer": self.layer, "role": self.role}


@dataclass(frozen=True)
class Band:
    """The strip of a panel that belongs to one lane, ``start`` to ``end`` across in points."""

    lane: Lane
    start: float
    end: float
    colour: str

    def across(self, share: float) -> float:
        """The coordinate at a share of the lane's width from its middle (−0.5 to 0.5)."""
        return (self.start + self.end) / 2 + share * (self.end - self.start)
