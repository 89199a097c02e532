"""Geometry of one panel: the measure runs along, lanes lie across."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypedDict, TypeVar

import numpy as np

from echelle.figures.geometry.long_lines import places_seen
from echelle.figures.lanes.lane import Lane, Rows
from echelle.figures.lanes.transforms import LINEAR, Transform
from echelle.numbers.sample import Floats
from echelle.recipes.style import Runs
from echelle.scene.models import (
    LinePart,
    Paint,
    Panel,
    PathPart,
    PointsPart,
    RectPart,
    Role,
    Scale,
    Shape,
    point_columns,
    round_coordinate,
)

Share = TypeVar("Share", float, Floats)


@dataclass(frozen=True, kw_only=True)
class Frame:
    """A panel at left, top, width, height (points), with the measure's domain on it."""

    key: str
    left: float
    top: float
    width: float
    height: float
    runs: Runs
    domain: tuple[float, float]
    transform: Transform = LINEAR

    @property
    def range(self) -> tuple[float, float]:
        """Coordinates of the domain's two ends."""
        if self.runs == "across":
            return self.left, self.left + self.width
        return self.top + self.height, self.top

    @property
    def sides(self) -> tuple[float, float]:
        """Coordinates of both edges across the lanes."""
        return (self.top, self.top + self.height) if self.runs == "across" else (self.left, self.left + self.width)

    def xy(self, along: Floats, across: Floats) -> tuple[Floats, Floats]:
        """x and y of places."""
        return (along, across) if self.runs == "across" else (across, along)

    def along(self, value: float) -> float:
        """The coordinate of a value."""
        return float(self.along_all(np.array([value]))[0])

    def along_all(self, values: Floats) -> Floats:
        """The coordinates of many values, shape (n,); infinitely far for those that the scale has no place for."""
        (v0, v1), (c0, c1) = self.transform.forward(np.array(self.domain)).tolist(), self.range
        return np.asarray(c0 + (self.transform.reached(values) - v0) / (v1 - v0) * (c1 - c0), dtype=np.float64)

    def held(self, value: float) -> float:
        """The coordinate of a value, kept inside the panel: also of one that the scale has no place for."""
        return self.along(min(max(value, self.domain[0]), self.domain[1]))

    def sees(self, values: Floats) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
        """Which values lie in the domain."""
        return (values >= self.domain[0]) & (values <= self.domain[1])

    def rect(self, mark: MarkOf, a0: float, a1: float, c0: float, c1: float, paint: Paint, says: str = "") -> RectPart:
        """A rectangle from a0 to a1 along and c0 to c1 across, and what is told of it."""
        (x0, x1), (y0, y1) = ((a0, a1), (c0, c1)) if self.runs == "across" else ((c0, c1), (a0, a1))
        return RectPart(
            **mark.fields(self.key), x=round_coordinate(min(x0, x1)), y=round_coordinate(min(y0, y1)),
            width=round_coordinate(abs(x1 - x0)), height=round_coordinate(abs(y1 - y0)), paint=paint, says=says,
        )  # fmt: skip

    def line(self, mark: MarkOf, a0: float, c0: float, a1: float, c1: float, paint: Paint) -> LinePart:
        """A line from (a0 along, c0 across) to (a1, c1)."""
        x1, y1, x2, y2 = (a0, c0, a1, c1) if self.runs == "across" else (c0, a0, c1, a1)
        return LinePart(
            **mark.fields(self.key),
            x1=round_coordinate(x1),
            y1=round_coordinate(y1),
            x2=round_coordinate(x2),
            y2=round_coordinate(y2),
            paint=paint,
        )

    def points(
        self, mark: MarkOf, shape: Shape, size: float, paint: Paint, along: Floats, across: Floats | float, rows: Rows
    ) -> PointsPart:
        """Equal marks at places along (shape (n,)) and across (one for all, or shape (n,))."""
        columns = point_columns(*self.xy(along, np.broadcast_to(across, along.shape)), rows)
        return PointsPart(**mark.fields(self.key), shape=shape, size=size, paint=paint, columns=columns)

    def path(self, mark: MarkOf, along: Floats, across: Floats, paint: Paint, closed: bool = False) -> PathPart:
        """A line through places (coordinates of shape (n,)), or the area within; what leaves the panel along the measure is
        cut off.
        """
        low, high = sorted(self.range)
        along, across = places_seen(along, across)
        pieces = [(np.clip(along, low, high), across)] if closed else _inside(along, across, low, high)
        d = "".join(f"M{self._spots(*piece)}{'Z' if closed else ''}" for piece in pieces)
        return PathPart(**mark.fields(self.key), d=d, paint=paint)

    def _spots(self, along: Floats, across: Floats) -> str:
        xs, ys = (np.round(places, 2).tolist() for places in self.xy(along, across))
        return "L".join(f"{x:.10g} {y:.10g}" for x, y in zip(xs, ys, strict=True))

    def drawn(self, mark: MarkOf, d: str, paint: Paint) -> PathPart:
        """A path of absolute commands, as it is."""
        return PathPart(**mark.fields(self.key), d=d, paint=paint)

    def panel(self, name: str = "", level: str | None = None) -> Panel:
        """What the scene says of this frame."""
        box = (
            round_coordinate(self.left),
            round_coordinate(self.top),
            round_coordinate(self.width),
            round_coordinate(self.height),
        )
        low, high = self.range
        direction: Literal["x", "y"] = "x" if self.runs == "across" else "y"
        ends = (round_coordinate(low), round_coordinate(high))
        scale = Scale(direction=direction, domain=self.domain, range=ends, transform=self.transform.name)
        return Panel(key=self.key, name=name, level=level, box=box, scale=scale)


def _inside(along: Floats, across: Floats, low: float, high: float) -> list[tuple[Floats, Floats]]:
    """The pieces of a line that lie from ``low`` to ``high``, each with its ends on the edges that it crosses."""
    if len(along) == 0 or (along.min() >= low and along.max() <= high):
        return [(along, across)]
    far = 10 * (high - low)
    along = np.clip(along, low - far, high + far)
    place = np.arange(len(along), dtype=np.float64)
    step = np.diff(along)
    crossed = [place]
    for edge in (low, high):
        at = np.flatnonzero((along[:-1] < edge) != (along[1:] < edge))
        crossed.append(at + (edge - along[at]) / step[at])
    place = np.unique(np.concatenate(crossed))
    along, across = (np.interp(place, np.arange(len(line)), line) for line in (along, across))
    outside = np.flatnonzero((along < low - 1e-6) | (along > high + 1e-6))
    parts = np.split(np.arange(len(along)), outside)
    runs = [part[np.isin(part, outside, invert=True)] for part in parts]
    return [(np.clip(along[run], low, high), across[run]) for run in runs if len(run) > 1]


class MarkFields(TypedDict):
    """The fields of :class:`echelle.scene.models.Mark`."""

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
    """The strip of a panel that belongs to one lane, ``start`` to ``end`` across in points.

    Back to back, two lanes share a strip: ``half`` is −1 for the lane in its upper or right half, 1 in the other, else 0.
    ``turned`` for lanes that run up: what lies above a lane that runs across lies at its right.
    """

    lane: Lane
    start: float
    end: float
    colour: str
    half: Literal[-1, 0, 1] = 0
    turned: bool = False

    @property
    def width(self) -> float:
        """From start to end, in points."""
        return self.end - self.start

    def across(self, share: Share) -> Share:
        """The coordinates at shares of the lane's width from its middle: −0.5 is the upper edge, or the right one."""
        return (self.start + self.end) / 2 + (-share if self.turned else share) * (self.end - self.start)

    def centre(self, share: float) -> float:
        """The coordinate that a mark stands at; back to back it moves into its half."""
        return self.across(share if not self.half else self.half * 0.22)

    def spread(self, share: float, width: float) -> tuple[float, float]:
        """Both coordinates of something ``width`` (a share of the lane) wide about a place; back to back only its half."""
        if self.half:
            return self.across(0.0), self.across(self.half * width / 2)
        return self.across(share - width / 2), self.across(share + width / 2)
