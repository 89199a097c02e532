"""The recipe that a new table begins with: its first measure across the category that suits best."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, Protocol

from echelle.errors import InputError
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Measure
from echelle.tables.summary_statistics_tables import SummaryColumns

_BEST_LEVELS = range(2, 13)


class Offered(Protocol):
    """What must be known of a column."""

    @property
    def name(self) -> str: ...
    @property
    def unit(self) -> str | None: ...
    @property
    def kind(self) -> Literal["measure", "category", "identifier", "date", "yes/no", "text"]: ...
    @property
    def distinct(self) -> int: ...


def default_recipe_with(
    columns: Sequence[Offered], measure: str | None, groups: str | None, summary: SummaryColumns | None = None
) -> Recipe:
    """A box figure of what a person named; what they left out is chosen as for :func:`default_recipe`."""
    if (measure is None and groups is None) or (summary is not None and measure == summary.mean):
        return default_recipe(columns, summary)
    if measure is None:
        first = default_recipe(columns).measure.columns[0]
        return recipe_of_form("box", first, groups)
    if groups is None:
        offered = default_recipe([c for c in columns if c.kind != "measure" or c.name == measure]).groups
        groups = offered.column if offered else None
    return recipe_of_form("box", measure, groups)


def default_recipe(columns: Sequence[Offered], summary: SummaryColumns | None = None) -> Recipe:
    """A box figure to start from, or means of a table of summaries. Raises InputError where no column holds numbers."""
    if summary is not None:
        # Only means with intervals can be drawn from summaries; the interval is one that the table gives.
        recipe = recipe_of_form("means", summary.mean, summary.group)
        interval = "confidence" if summary.low or (summary.n and (summary.sd or summary.se)) else "SD" if summary.sd else "SE"
        return recipe.model_copy(update={"layers": [MeanLayer(id="m1", interval=interval)]})
    measures = [c for c in columns if c.kind == "measure" and c.distinct]
    if not measures:
        raise InputError(
            "the table has no column of numbers to compare", remedy="Bring a table in which one column holds measurements."
        )
    if len(measures) > 1 and len(measures) == len(columns) and len({c.unit for c in measures}) == 1:
        # One column a group: each becomes a lane at once.
        recipe = recipe_of_form("box", measures[0].name)
        return recipe.model_copy(update={"measure": Measure(columns=[c.name for c in measures[:400]])})
    # A unit tells a measurement from a counter; then the most distinct values; ties go to the first.
    measure = max(measures, key=lambda c: (c.unit is not None and c.distinct > _BEST_LEVELS.stop, c.distinct))
    groups = [c for c in columns if c.kind in ("category", "yes/no") and c.distinct in _BEST_LEVELS]
    groups.sort(key=lambda c: c.kind == "yes/no")
    return recipe_of_form("box", measure.name, groups[0].name if groups else None)
