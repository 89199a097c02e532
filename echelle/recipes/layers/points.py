"""The layer of points."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, JsonValue

from echelle.recipes.layers.base import LANE_PLACE, AnyLayer, LineWidth, Place, Seed, Stands, Strength
from echelle.recipes.settings import SettingInfo
from echelle.recipes.style import Share


class PointsLayer(AnyLayer):
    """Every value as a point, moved across its lane only."""

    title: ClassVar[str] = "Points"
    stands_on_box: ClassVar[bool] = True
    front: ClassVar[int] = 3
    draws_rows: ClassVar[bool] = True
    draws_outliers: ClassVar[bool] = True
    shows_shape: ClassVar[bool] = True
    preview_form: ClassVar[str] = "strip"
    arrives: ClassVar[Mapping[Stands, Mapping[str, JsonValue]]] = {
        "curve": {"place": "on", "spread": "shaped", "width": 0.8},
        "columns": {"place": "below", "spread": "line"},
    }

    layer: Literal["points"] = "points"
    place: Annotated[Place, LANE_PLACE, SettingInfo(needs={"spread": ["jitter", "shaped", "swarm", "stack", "line"]})] = "below"
    spread: Annotated[
        Literal["jitter", "shaped", "swarm", "stack", "line", "in order"],
        SettingInfo(
            "How points move apart across the lane; along the measure they never move.", options={"shaped": "by density"}
        ),
    ] = "jitter"
    against: Annotated[
        str | None,
        SettingInfo(
            "The column that points in order follow.", title="In order of", needs={"spread": ["in order"]}, column=True
        ),
    ] = Field(default=None, description="column that orders points in order; null: the rows as they come")
    width: Annotated[
        Share,
        SettingInfo(
            "How much of the lane the points may use.",
            slider=(0.02, 1.0),
            needs={"spread": ["jitter", "shaped", "swarm", "stack"]},
        ),
    ] = Field(default=0.25, description="share of the lane")
    seed: Annotated[
        Seed,
        SettingInfo(
            "The number that fixes the jitter; the same seed gives the same places.",
            slider=(0, 99),
            needs={"spread": ["jitter", "shaped"]},
            computed=True,
        ),
    ] = 41
    size: Annotated[float, SettingInfo("Diameter of a point in pt.", slider=(0.5, 10.0))] = Field(
        default=3.0, ge=0.5, le=12.0, description="diameter in pt"
    )
    strength: Annotated[
        Strength,
        SettingInfo(
            "How opaque a point is; weaker points show where many overlap.", title="Opacity", find=("strength", "alpha")
        ),
    ] = 0.6
    by_n: Annotated[
        bool,
        SettingInfo(
            "Smaller and paler where lanes hold many values.", title="Smaller with n", find=("overplotting", "many points")
        ),
    ] = Field(default=True, description="size and strength shrink where lanes hold many values")
    outline: Annotated[LineWidth, SettingInfo("A thin edge in the ground's colour around each point.")] = 0.0
    shape: Annotated[
        Literal["circle", "square", "triangle", "down-triangle", "plus", "hexagon"],
        SettingInfo("The shape of all points.", needs={"shaped": False}),
    ] = "circle"
    coloured: Annotated[
        str | None, SettingInfo("A column whose levels colour the points.", title="Colour by", computed=True, column=True)
    ] = Field(default=None, description="column whose levels colour the points")
    shaped: Annotated[
        str | None,
        SettingInfo("A column whose levels give the points their shape.", title="Shape by", computed=True, column=True),
    ] = Field(default=None, description="column whose levels give the points their shape")
    joined: Annotated[
        str | None,
        SettingInfo(
            "An identifier column: points of one subject are joined from lane to lane.",
            title="Joined by",
            computed=True,
            column=True,
        ),
    ] = Field(default=None, description="identifier column: points of one subject are joined by lines")
    join_rows: Annotated[
        bool,
        SettingInfo("Values of one row are joined: columns side by side, or turned wide to long.", computed=True),
    ] = False
    named: Annotated[list[int], SettingInfo("Rows whose points carry a name.", row=False)] = Field(
        default_factory=list, max_length=200, description="rows whose points carry a name"
    )
    names: Annotated[
        str | None, SettingInfo("The identifier column that names come from.", computed=True, column=True, row=False)
    ] = Field(default=None, description="identifier column that the names come from; null: row numbers")

    def form_sign(self) -> str:
        """Points in order make a form of their own."""
        return "points in order" if self.spread == "in order" else self.kind()

    def in_order(self, column: str | None) -> Self:
        """With points that stand in order in that of a column."""
        return self.model_copy(update={"against": column}) if self.spread == "in order" else self

    def without_rows(self) -> Self:
        """Without named points."""
        return self.model_copy(update={"named": []})

    def follows_rows(self) -> bool:
        """Points in an order, and those that lines join."""
        return self.spread == "in order" or self.joined is not None or self.join_rows
