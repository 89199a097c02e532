"""The layer of boxes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from pydantic import Field, JsonValue

from echelle.recipes.layers.base import AnyLayer, Fence, LineWidth, Place, Stands
from echelle.recipes.settings import Need, SettingInfo
from echelle.recipes.style import Share

_WITH_REACH: Need = ["quartiles", "percentiles", "mean and SD", "median and MAD", "skew-adjusted", "extreme deviates"]

# A box as pale as this does not hide what stands on it.
_PALE = 0.5


class BoxLayer(AnyLayer):
    """A box over the middle of the values, the median, whiskers; outliers where no points layer draws them."""

    title: ClassVar[str] = "Box"
    turns_pale: ClassVar[bool] = True
    front: ClassVar[int] = 2
    marks: ClassVar[str] = "boxes"
    draws_outliers: ClassVar[bool] = True
    preview_form: ClassVar[str] = "box"
    stands_as: ClassVar[Stands | None] = "box"
    arrives: ClassVar[Mapping[Stands, Mapping[str, JsonValue]]] = {
        "curve": {"width": 0.1},
        "columns": {"place": "above", "width": 0.12},
    }

    layer: Literal["box"] = "box"
    quantile_type: Annotated[
        Literal[1, 2, 3, 4, 5, 6, 7, 8, 9],
        SettingInfo(
            "Which of the nine published definitions of a quantile is used; they differ for few values.", computed=True
        ),
    ] = 7
    holds: Annotated[
        float,
        SettingInfo(
            "The central share of the values that the box holds: 0.5 stands between the quartiles.", title="Share inside"
        ),
    ] = Field(default=0.5, ge=0.05, le=0.99, description="central share of the values inside the box")
    fence: Annotated[
        Fence,
        SettingInfo(
            "Beyond this a value counts as an outlier.",
            computed=True,
            inside={
                "rule": SettingInfo(title="Outliers by"),
                "of": SettingInfo(title="Fence on"),
                "k": SettingInfo(title="Fence", slider=(0.0, 4.0), needs={"fence.rule": _WITH_REACH}),
            },
        ),
    ] = Field(default_factory=Fence)
    whiskers: Annotated[
        Fence | None,
        SettingInfo(
            "How far whiskers reach, where that is not the fence of the outliers.",
            computed=True,
            inside={
                "rule": SettingInfo(title="Whiskers by"),
                "of": SettingInfo(title="Whiskers on"),
                "k": SettingInfo(title="Whiskers", needs={"whiskers.rule": _WITH_REACH}),
            },
        ),
    ] = Field(default=None, description="how far whiskers reach; null: to the same fence")
    width: Annotated[float, SettingInfo("How much of the lane the box fills.", slider=(0.02, 1.0))] = Field(
        default=0.5, ge=0.02, le=1.0, description="share of the lane"
    )
    cap: Annotated[Share, SettingInfo("A short bar at the end of each whisker.", title="Caps")] = Field(
        default=0.0, description="length of the whiskers' caps as a share of the box's width"
    )

    fill: Annotated[float, SettingInfo("How opaque the box is; 0 leaves its outline.", find=("hollow", "alpha"))] = Field(
        default=1.0, ge=0.0, le=1.0, description="opacity of the box"
    )
    outline: Annotated[LineWidth, SettingInfo("The edge of the box, in pt.", slider=(0.0, 4.0), find=("border", "stroke"))] = (
        Field(default=0.0, description="pt; a pale box has an edge all the same")
    )

    def fills(self, place: Place) -> bool:
        """The box."""
        return self.place == place and not self.hollow

    @property
    def hollow(self) -> bool:
        """Whether it is so pale that it is seen by its edge, and its median is a bar in its colour."""
        return self.fill <= _PALE
