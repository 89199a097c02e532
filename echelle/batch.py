"""The same figure many times: for every level of a column, or for many measures."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from echelle.errors import InputError
from echelle.recipes.change_measure import of_measure
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.scene.models import Scene
from echelle.tables.steps.conditions import OneOf
from echelle.tables.table import Table

MOST_FIGURES = 500
_FIRST = 4


def for_each_level(recipe: Recipe, table: Table, column: str) -> list[tuple[str, Recipe]]:
    """A recipe that keeps one level, for every level of a column that a row has. Raises InputError for a column that is not
    there or has too many levels.
    """
    result = table.column(column, where="--each")
    levels = [result.levels[code] for code in sorted(set(result.codes.tolist())) if code >= 0]
    _few(levels, column)
    return [(level, _only(recipe, result.name, level)) for level in levels]


def for_measures(recipe: Recipe, table: Table, names: list[str] | None) -> list[tuple[str, Recipe]]:
    """A recipe for each of the measures named, or for all. Raises InputError for one that is no measure."""
    measures = [column.name for column in table.measures()]
    wanted = measures if names is None else names
    for name in wanted:
        if name not in measures:
            listed = ", ".join(f"“{measure}”" for measure in measures[:6])
            raise InputError(f"“{name}” is no measure", where="--measures", remedy=f"Measures here: {listed}.")
    _few(wanted, "--measures")
    return [(name, of_measure(recipe, name)) for name in wanted]


@dataclass(frozen=True)
class BatchSpec:
    """Which figures a batch makes: for every level of a column, for measures (None: only the recipe's; empty: all), or both."""

    each: str | None = None
    measures: list[str] | None = None


def figures_of(recipe: Recipe, table: Table, many: BatchSpec) -> list[tuple[str, Recipe]]:
    """The batch's recipes with their names. Raises InputError as :func:`for_each_level` and :func:`for_measures` do."""
    made = [("", recipe)] if many.measures is None else for_measures(recipe, table, many.measures or None)
    if many.each is not None:
        made = [
            (f"{name} {level}".strip(), made_recipe)
            for name, of in made
            for level, made_recipe in for_each_level(of, table, many.each)
        ]
    _few([name for name, _ in made], many.each or "--measures")
    return made


@dataclass
class Batch:
    """The figures of a batch, drawn one after another; of those that cannot be, which and why."""

    figures: list[tuple[str, Recipe]]
    rows: Table
    not_drawn: list[str] = field(default_factory=list)

    def scenes(self, step: Callable[[int, int], None] = lambda done, of: None) -> Iterator[tuple[int, Scene]]:
        """The place and scene of each that can be drawn; ``step`` is told how many are done before each, of how many."""
        for place, (name, recipe) in enumerate(self.figures):
            step(place, len(self.figures))
            try:
                yield place, scene_of(recipe, self.rows)
            except InputError as error:
                self.not_drawn.append(f"{name}: {error.sentence()}")

    @property
    def fault(self) -> InputError | None:
        """That some could not be drawn, with the first of them."""
        if not self.not_drawn:
            return None
        what = f"{len(self.not_drawn)} of {len(self.figures)} figures could not be drawn"
        more = f" And {len(self.not_drawn) - _FIRST} more." if len(self.not_drawn) > _FIRST else ""
        return InputError(what, remedy=" ".join(self.not_drawn[:_FIRST]) + more)


def file_names(names: list[str], ending: str) -> Iterator[str]:
    """A file's name for each figure, safe on every system and never twice."""
    taken: set[str] = set()
    for name in names:
        plain = "".join(c if c.isalnum() or c in " ._+-" else "_" for c in name).strip(". ")[:80] or "figure"
        free, number = plain, 2
        while free.lower() in taken:
            free, number = f"{plain} {number}", number + 1
        taken.add(free.lower())
        yield f"{free}.{ending}"


def _few(names: list[str], what: str) -> None:
    if not names:
        raise InputError(f"“{what}” gives nothing to draw", remedy="Choose another column.")
    if len(names) > MOST_FIGURES:
        raise InputError(f"“{what}” gives {len(names)} figures, more than {MOST_FIGURES}", remedy="Keep some of them.")


def _only(recipe: Recipe, column: str, level: str) -> Recipe:
    others = [condition for condition in recipe.keep if condition.column != column]
    title = f"{recipe.words.title}: {level}" if recipe.words.title else level
    words = recipe.words.model_copy(update={"title": title})
    return recipe.model_copy(update={"keep": [*others, OneOf(column=column, **{"is": [level]})], "words": words})
