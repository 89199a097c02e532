"""What counts cannot give: whatever looks at the rows of a far table one by one."""

from __future__ import annotations

from echelle.errors import InputError
from echelle.figures.lanes.lane import Arrangement
from echelle.recipes.differences import Differences
from echelle.recipes.recipe import Recipe

_WITHIN = ("paired_by", "by_row", "runs", "limits", "control")


def needs_rows(what: str, where: str) -> InputError:
    """The error of what needs rows and gets counts."""
    return InputError(
        f"a far table is counted, and {what} would need its rows one by one", where=where,
        remedy="Choose another form, or bring a part of the table as a file.",
    )  # fmt: skip


def refuse_of_counts(recipe: Recipe, arrangement: Arrangement) -> None:
    """Raises InputError for what a figure of counted rows cannot draw."""
    if arrangement.account.parts is None:
        return
    for place, layer in enumerate(recipe.layers):
        if layer.shown and layer.follows_rows():
            raise needs_rows(layer.marks or layer.title, f"$.layers[{place}]")
    if recipe.measure.limits == "in order":
        raise needs_rows("limits in their order", "$.measure.limits")
    if recipe.left_out:
        raise needs_rows("rows left out one by one", "$.left_out")
    if recipe.differences is not None:
        refuse_differences_of_counts(recipe.differences, arrangement)


def refuse_differences_of_counts(differences: Differences, arrangement: Arrangement) -> None:
    """Raises InputError for what a comparison of counted rows cannot compute."""
    asked = next((name for name in _WITHIN if getattr(differences, name)), None)
    if asked is not None and arrangement.account.parts is not None:
        raise needs_rows(asked.replace("_", " "), f"$.differences.{asked}")
