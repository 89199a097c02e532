"""What a bundle holds."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime

from pydantic import BaseModel, ConfigDict, RootModel

from echelle.recipes.recipe import Recipe
from echelle.tables.table import Table

RECIPE, TRAIL, CHECKSUMS, DATA = "recipe.json", "trail.json", "checksums.sha256", "data/"


class TrailPart(BaseModel):
    """A state of the trail as it travels."""

    model_config = ConfigDict(extra="forbid")
    number: int
    parent: int | None
    words: str
    name: str = ""
    by: str = ""
    at: datetime
    recipe: Recipe


class TrailParts(RootModel[list[TrailPart]]):
    """All states, in order."""


@dataclass(frozen=True)
class RawData:
    """A file as it came."""

    name: str
    data: bytes


@dataclass(frozen=True, eq=False)
class Contents:
    """What goes into a bundle: the sealed recipe, its raw file and those that its steps name, the rows in use, the trail."""

    recipe: Recipe
    raw: RawData
    others: list[RawData]
    rows: Table
    trail: list[TrailPart] = field(default_factory=list)


@dataclass(frozen=True, eq=False)
class Bundle:
    """What came out of a bundle, its checksums verified."""

    recipe: Recipe
    raw: RawData
    others: list[RawData]
    trail: list[TrailPart]
