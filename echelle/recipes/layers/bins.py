"""The layer of bins."""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, JsonValue, model_validator

from echelle.numbers.bins import BinRule
from echelle.recipes.layers.base import LINE, WIDTH, LineWidth, Place, RisingLayer, Side, Stands
from echelle.recipes.settings import SettingInfo
from echelle.recipes.style import Share
from echelle.strict_model import MOST_PARTS

# Columns no stronger than this hide no mark of their colour.
_PALE = 0.3


class BinsLayer(RisingLayer):
    """How many values fall into each bin."""

    title: ClassVar[str] = "Bins"
    front: ClassVar[int] = 0
    shows_shape: ClassVar[bool] = True
    bends_with_axis: ClassVar[bool] = True
    preview_form: ClassVar[str] = "histogram"
    stands_as: ClassVar[Stands | None] = "columns"
    arrives: ClassVar[Mapping[Stands, Mapping[str, JsonValue]]] = {"box": {"fill": 0.25}, "curve": {"fill": 0.25}}

    layer: Literal["bins"] = "bins"
    rule: Annotated[
        BinRule,
        SettingInfo(
            "A published rule that chooses how many bins there are.",
            needs={"count": False, "width_of_bins": False, "edges": False},
            computed=True,
        ),
    ] = "freedman-diaconis"
    count: Annotated[
        int | None,
        SettingInfo(
            "How many bins, instead of a rule.",
            title="How many",
            slider=(1, 100),
            needs={"width_of_bins": False, "edges": False},
            samples=(5, 20),
            computed=True,
        ),
    ] = Field(default=None, ge=1, le=1_000)
    width_of_bins: Annotated[
        float | None,
        SettingInfo(
            "How wide a bin is, in the measure's unit; edges stand at its multiples from the anchor.",
            title="Bin width",
            needs={"count": False, "edges": False},
            samples=(1.0, 4.0),
            computed=True,
        ),
    ] = Field(default=None, gt=0.0)
    anchor: Annotated[
        float, SettingInfo("A value that is an edge.", needs={"width_of_bins": True}, samples=(0.0, 0.7), computed=True)
    ] = 0.0
    edges: Annotated[
        list[float] | None,
        SettingInfo(
            "Edges of your own.",
            needs={"count": False, "width_of_bins": False},
            samples=([0.0, 6.0, 18.0], [0.0, 3.0, 6.0, 9.0, 18.0]),
            computed=True,
        ),
    ] = Field(default=None, min_length=2, max_length=1_001)
    open_below: Annotated[
        bool, SettingInfo("The first bin takes everything that is lower.", needs={"edges": True}, computed=True)
    ] = Field(default=False, description="the first named bin takes all that is lower")
    open_above: Annotated[
        bool, SettingInfo("The last bin takes everything that is higher.", needs={"edges": True}, computed=True)
    ] = Field(default=False, description="the last named bin takes all that is higher")
    names: Annotated[
        list[str], SettingInfo("What your bins are called, from the lowest on.", computed=True, needs={"edges": True})
    ] = Field(max_length=MOST_PARTS, default_factory=list, description="names of the bins between edges")
    held_below: Annotated[list[int], SettingInfo("Edges that belong to the bin below them.", computed=True, row=False)] = Field(
        max_length=MOST_PARTS,
        default_factory=list,
        description="edges, by place from 0, whose own value the bin below them holds, as a band does",
    )
    closed: Annotated[
        Literal["left", "right"],
        SettingInfo(
            "Which edge belongs to a bin: the left one, or the right one, so that “above 125” does not hold 125.", computed=True
        ),
    ] = "left"
    common: Annotated[
        bool, SettingInfo("The same edges for all lanes, so that columns can be compared.", title="Same edges")
    ] = Field(default=True, description="the same edges for all lanes of the figure")
    height: Annotated[
        Literal["count", "share", "density"],
        SettingInfo(
            "Rows in each bin, their share, or their share per unit of the measure.",
            title="Heights are",
            options={"count": "rows", "share": "shares", "density": "shares per unit"},
            find=("count", "percent", "density"),
        ),
    ] = "count"
    share_of: Annotated[
        Literal["lane", "panel", "all"],
        SettingInfo("What a share is a share of.", title="Shares of", needs={"height": ["share"]}),
    ] = "lane"
    cumulative: Annotated[bool, SettingInfo("Each column holds all lower ones.")] = False
    drawn: Annotated[
        Literal["columns", "outline", "mid-points"],
        SettingInfo(
            "Columns, the stairs over them, or a line through the middles of their tops.",
            options={"columns": "columns", "outline": "stairs", "mid-points": "line"},
            find=("polygon", "outline"),
        ),
    ] = "columns"
    gap: Annotated[Share, SettingInfo("Room between columns.", needs={"drawn": ["columns"]})] = Field(
        default=0.04, description="between columns, as a share of a column"
    )
    side: Annotated[Side, SettingInfo("On both sides of the lane's line, or on one.")] = "above"
    width: Annotated[float, WIDTH] = Field(default=0.94, ge=0.05, le=1.0, description="share of the lane")
    fill: Annotated[Share, SettingInfo("How opaque columns are.", title="Opacity", find=("fill", "alpha"))] = 0.9
    edge: Annotated[
        LineWidth,
        SettingInfo(
            "A line around each column, in pt.", title="Outline", slider=(0.0, 4.0), needs={"drawn": ["columns"]},
            find=("border", "stroke"),
        ),
    ] = Field(default=0.0, description="pt, around columns")  # fmt: skip
    line: Annotated[
        LineWidth,
        SettingInfo(needs={"drawn": ["outline", "mid-points"]}).over(LINE),
    ] = 1.2

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if sum(way is not None for way in (self.count, self.width_of_bins, self.edges)) > 1:
            raise ValueError("bins come from a count, a width or edges: give one of them")
        if self.edges is not None and any(b <= a for a, b in itertools.pairwise(self.edges)):
            raise ValueError("edges rise")
        if self.names and (self.edges is None or len(self.names) != len(self.edges) - 1):
            raise ValueError("names go with edges, one for each bin between them")
        return self

    def without_unit(self) -> Self:
        """Without widths and edges in the measure's unit."""
        return self.model_copy(update={"edges": None, "width_of_bins": None, "anchor": 0.0, "names": [], "held_below": []})

    def fills(self, place: Place) -> bool:
        """Columns rise over all of the lane; marks are seen on pale ones."""
        return self.drawn == "columns" and self.fill > _PALE and self.place in ("on", place)

    def on_lane_edge(self) -> bool:
        """Columns stand on the edge."""
        return True

    def shows_axis(self, overlaid: bool) -> bool:
        """Heights are read."""
        return True

    def rise(self) -> Side:
        """As set."""
        return self.side
