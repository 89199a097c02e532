"""The recipe that a new table begins with: the question that its analyst would ask first."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Protocol

from echelle.catalogue.catalogue import catalogue
from echelle.errors import InputError
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.recipe import FormName, Recipe
from echelle.recipes.roles import Measure
from echelle.tables.column_summary import LevelCount
from echelle.tables.name_words import (
    ARM_WORDS,
    AXES,
    BLOCK_WORDS,
    CLASS_WORDS,
    COVARIATE_WORDS,
    EVENT_WORDS,
    OUTCOME_WORDS,
    SEX_WORDS,
    TIME_WORDS,
    head_of,
    words_of,
)
from echelle.tables.summary_statistics_tables import SummaryColumns
from echelle.tables.table import Kind

_BEST_LEVELS = range(2, 13)
_MOST_LEVELS = 40
_MOST_LANES = 60
_MANY = 12
_FEW = 10
_ALIKE = 100.0
_GOOD_PART = 0.4
_MOST_MISSING = 0.6
# What comes before the outcome's own word in a covariate's name.
_COVARIATE_STARTS = frozenset(["baseline", "pre", "initial", "before", "start", "age", "year", "time"])
# Under one of these names alone a column is no measurement beside others; "week 1" and "before" may be.
_ALONE = frozenset((word,) for word in COVARIATE_WORDS - {"before", "baseline", "base", "pre", "start", "initial", "entry"})
_STEM = re.compile(r"^[\W\d_]+|[\W\d_]+$")


class Offered(Protocol):
    """What must be known of a column."""

    @property
    def name(self) -> str: ...
    @property
    def unit(self) -> str | None: ...
    @property
    def kind(self) -> Kind: ...
    @property
    def distinct(self) -> int: ...
    @property
    def missing(self) -> int: ...
    @property
    def levels(self) -> Sequence[LevelCount]: ...
    @property
    def bars(self) -> Sequence[int]: ...
    @property
    def min(self) -> float | None: ...
    @property
    def max(self) -> float | None: ...


def default_recipe_with(
    columns: Sequence[Offered], measure: str | None, groups: str | None, summary: SummaryColumns | None = None
) -> Recipe:
    """A box figure of what a person named; what they left out is chosen as for :func:`default_recipe`."""
    if (measure is None and groups is None) or (summary is not None and measure == summary.mean):
        return default_recipe(columns, summary)
    if measure is None:
        first = outcome_of(columns, groups)
        return recipe_of_form("box", first.name, groups) if first else _counts(groups or columns[0].name, None)
    if groups is None:
        offered = groups_of([c for c in columns if c.name != measure])
        groups = offered.name if offered else None
    return recipe_of_form("box", measure, groups)


def default_recipe(columns: Sequence[Offered], summary: SummaryColumns | None = None) -> Recipe:
    """The question that an analyst of the table would ask first: its outcome across its arms, as boxes; means of a table of
    summaries; counts where nothing is measured. Raises InputError for a table of no column with values.
    """
    if summary is not None:
        # Only means with intervals can be drawn from summaries; the interval is one that the table gives.
        recipe = recipe_of_form("means", summary.mean, summary.group)
        interval = "confidence" if summary.low or (summary.n and (summary.sd or summary.se)) else "SD" if summary.sd else "SE"
        return recipe.model_copy(update={"layers": [MeanLayer(id="m1", interval=interval)]})
    groups = groups_of(columns)
    measure = outcome_of(columns, groups.name if groups else None)
    if measure is None:
        return _without_measure(columns)
    lanes = _side_by_side(columns) if groups is None else []
    if lanes:
        recipe = recipe_of_form("box", lanes[0])
        return recipe.model_copy(update={"measure": Measure(columns=lanes)})
    return recipe_of_form(_form_for(groups), measure.name, groups.name if groups else None)


def _form_for(groups: Offered | None) -> FormName:
    """Boxes, but points where most groups hold too few values for quartiles."""
    counts = sorted(level.count for level in groups.levels) if groups else []
    return "strip" if counts and counts[len(counts) // 2] < _FEW else "box"


def question(recipe: Recipe) -> str:
    """The question in words: "Compare cortisol across shift pattern"."""
    groups = recipe.groups.column if recipe.groups and recipe.groups.column else ""
    kind = "counts" if all(layer.counts_rows for layer in recipe.layers) else "measures"
    return catalogue().say(
        "question", kind=kind, measure=recipe.measure.columns, across="yes" if groups else "no", groups=groups
    )


def _without_measure(columns: Sequence[Offered]) -> Recipe:
    """How many rows each level of the first category has."""
    groups = groups_of(columns)
    if groups is None:
        worded = [c for c in columns if c.kind in ("category", "yes/no", "date") and c.distinct]
        named = worded or [c for c in columns if c.distinct]
        if not named:
            raise InputError("the table has no column with values", remedy="Bring a table whose columns hold something.")
        groups = named[0]
        return _counts(groups.name, groups.name if 1 < groups.distinct <= _MOST_LEVELS and worded else None)
    return _counts(groups.name, groups.name)


def _counts(counted: str, groups: str | None) -> Recipe:
    return recipe_of_form("counts", counted, groups)


def outcome_of(columns: Sequence[Offered], groups: str | None) -> Offered | None:
    """The outcome: by its name, else with a unit, of many values, late in the table. Age, baselines, axes of time come last."""
    measures = [c for c in columns if c.kind == "measure" and c.distinct and c.name != groups]
    if not measures:
        return None
    timed = any(c.kind in ("category", "yes/no") and _names_event(words_of(c.name)) for c in columns)
    richest = max(c.distinct for c in measures)
    names = {column.name for column in columns}

    def rank(column: Offered) -> tuple[float, ...]:
        many = column.distinct >= min(_MANY, richest) and column.distinct >= 0.2 * richest
        return (
            column.distinct > 1 and column.missing <= _MOST_MISSING * (column.missing + sum(column.bars)),
            column.distinct > 1,
            -(_covariate(column.name, timed) or _is_transform(column.name, names)),
            set(words_of(column.name)) <= OUTCOME_WORDS or head_of(column.name) in OUTCOME_WORDS,
            column.unit is not None and many,
            many,
        )

    # Of several alike the last.
    return max(reversed(measures), key=rank)


def _is_transform(name: str, names: set[str]) -> bool:
    """Whether a column holds the logarithm or the square of another: "lwage" and "agesq"."""
    stems = {name.removeprefix(start).lstrip("_. ") for start in ("l", "ln", "log") if name.startswith(start)}
    stems |= {name.removesuffix(end).rstrip("_. ") for end in ("sq", "2", "_log", " log") if name.endswith(end)}
    return bool((stems - {name}) & names)


def _covariate(name: str, timed: bool) -> int:
    """0 for what may be the outcome, 1 for what it is compared by: age, height, baselines; 2 for axes of time and place."""
    words = words_of(name)
    head = head_of(name)
    if timed and (head in TIME_WORDS or (words and words[0] in TIME_WORDS)):
        return -1
    if head in COVARIATE_WORDS or (words and words[0] in _COVARIATE_STARTS):
        return 2 if head in AXES else 1
    if words[:3] == ("body", "mass", "index"):
        return 1
    return 0


def groups_of(columns: Sequence[Offered]) -> Offered | None:
    """The arms, else classes, other categories, sex and yes or no, blocks and sites, an event; None where no category fits."""
    fits = [c for c in columns if c.kind in ("category", "yes/no") and 2 <= c.distinct <= _MOST_LEVELS and _repeats(c)]
    if not fits:
        return None
    return min(fits, key=lambda c: (c.distinct not in _BEST_LEVELS, _tier(c)))


def _repeats(column: Offered) -> bool:
    """Whether levels have several rows each."""
    counts = sorted(level.count for level in column.levels)
    return not counts or sum(counts) >= 1.5 * len(counts)


def _tier(column: Offered) -> float:
    words, head = words_of(column.name), head_of(column.name)
    first = words[0] if words else ""
    if _names_event(words):
        return 6
    if head in ARM_WORDS or first in ARM_WORDS:
        return 0
    if head in BLOCK_WORDS:
        return 5
    if head in CLASS_WORDS:
        return 1
    if head in SEX_WORDS or first in SEX_WORDS:
        return 3
    if column.kind == "yes/no":
        return 4
    levels = {level.level.removesuffix(".0") for level in column.levels}
    if levels and levels <= {"0", "1"}:
        return 4
    return 2.5 if levels and all(level.replace(".", "").isdigit() for level in levels) else 2


def _names_event(words: Sequence[str]) -> bool:
    """Whether a column says what ended a follow-up; "partner status" is a status of another kind."""
    events = set(words) & EVENT_WORDS
    return bool(events) and not (events == {"status"} and len(words) > 1) and not set(words) & ARM_WORDS


def _side_by_side(columns: Sequence[Offered]) -> list[str]:
    """Columns that hold one measurement for each group: they share a stem, or their ranges overlap and their unit is one."""
    measures = [c for c in columns if c.kind == "measure" and c.distinct > 1 and words_of(c.name)[:2] not in _ALONE]
    others = [c for c in columns if c.kind not in ("identifier", "date")]
    if len(measures) < 2 or any(c.kind in ("category", "yes/no", "text") for c in others):
        return []
    stems: dict[str, list[Offered]] = {}
    for column in measures:
        stems.setdefault(_STEM.sub("", column.name).lower(), []).append(column)
    stem, shared = max(stems.items(), key=lambda pair: len(pair[1]))
    if stem and len(shared) >= 2 and len({c.unit for c in shared}) == 1 and share_an_axis(shared):
        return [c.name for c in shared[:_MOST_LANES]]
    together = len({c.unit for c in measures}) == 1 and len(measures) == len(others)
    return (
        [c.name for c in measures[:_MOST_LANES]] if together and share_an_axis(measures, measures[0].unit is not None) else []
    )


def share_an_axis(columns: Sequence[Offered], loose: bool = True) -> bool:
    """Whether one axis shows all columns well: their ranges meet, or lie not far apart; without ``loose`` each meets the others
    over a good part of the widest.
    """
    ranges = [(c.min, c.max) for c in columns if c.min is not None and c.max is not None]
    if len(ranges) < len(columns):
        return False
    low, high = max(a for a, _ in ranges), min(b for _, b in ranges)
    widths = sorted(b - a for a, b in ranges)
    if not loose:
        return high - low >= _GOOD_PART * widths[-1]
    whole = max(b for _, b in ranges) - min(a for a, _ in ranges)
    middle = widths[len(widths) // 2]
    return low <= high or (middle > 0 and whole <= 4 * middle and widths[-1] <= _ALIKE * widths[0])
