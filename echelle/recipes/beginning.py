"""The recipe that a new table begins with: its first measure across the category that suits best."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, Protocol

from echelle.errors import InputError
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.models import Measure, Recipe

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


def beginning(columns: Sequence[Offered]) -> Recipe:
    """A box figure to start from. Raises InputError where no column holds numbers."""
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
