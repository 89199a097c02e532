"""Advice on who is in the lanes: how many, of whom, in which unit, known only by a limit."""

from __future__ import annotations

from collections.abc import Iterator

from echelle.figures.advice.question import Question, remedy
from echelle.plurals import list_words
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.density import DensityLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.scene.models import Advice, Remedy
from echelle.tables.steps.models import Combine

FEWEST_IN_BOX = 5
FEWEST_IN_DENSITY = 10
_UNEQUAL = 5.0


def no_rows(asked: Question) -> Iterator[Advice]:
    """Nothing to draw."""
    if asked.arrangement.used == 0:
        yield Advice(key="no-rows", text="No row has a value here.", why="Keep more rows, or choose another measure.")


def few_values(asked: Question) -> Iterator[Advice]:
    """A shape computed from a handful of values."""
    for kind, fewest, what in ((BoxLayer, FEWEST_IN_BOX, "box"), (DensityLayer, FEWEST_IN_DENSITY, "curve")):
        few = asked.lanes_where(lambda lane, _, fewest=fewest: lane.n < fewest)  # type: ignore[misc]
        if few and asked.draws(kind):
            new = PointsLayer(id="few1", place="on").model_dump(mode="json")
            points = remedy("Show the points", (["layers", len(asked.recipe.layers)], new))
            why = f"{'Quartiles' if kind is BoxLayer else 'Curves'} of so few values say little; points say more."
            shown = any(layer.draws_rows for layer in asked.recipe.shown_layers)
            yield Advice(
                key=f"few-values-{what}", text=f"{list_words(few)}: a {what} from fewer than {fewest} values.", why=why,
                remedies=[] if shown else [points],
            )  # fmt: skip


def repeated_subjects(asked: Question) -> Iterator[Advice]:
    """Rows of one subject counted as if they were many."""
    arranged = asked.arrangement
    if arranged.people is None or arranged.people >= arranged.used:
        return
    unsafe = [layer.interval for _, layer in asked.shown(MeanLayer) if layer.interval not in ("none", "SD")]
    text = f"{arranged.used} rows come from {arranged.people} {arranged.subject_noun.many}."
    why = f"Rows of one {arranged.subject_noun.one} resemble one another; n counts rows."
    if unsafe:
        text += " The interval treats them as independent."
        why = f"Rows of one {arranged.subject_noun.one} resemble one another, so the interval is too narrow."
    yield Advice(key="repeated-people", text=text, why=why, remedies=_one_each(asked))


def _one_each(asked: Question) -> list[Remedy]:
    """One value a subject, as a step of the preparation."""
    identifier, recipe = asked.arrangement.identifier, asked.recipe
    if identifier is None or len(recipe.measure.columns) > 1:
        return []
    roles = (recipe.groups, recipe.subgroups, recipe.panels.down, recipe.panels.across, recipe.panels.wrapped)
    by = dict.fromkeys([identifier, *(role.column for role in roles if role), *(kept.column for kept in recipe.keep)])
    words = f"One mean value per {asked.arrangement.subject_noun.one}, in the table"
    return [Remedy(words=words, step=Combine(by=list(by)).model_dump(mode="json"))]


def unequal_n(asked: Question) -> Iterator[Advice]:
    """Curves of one size from very different numbers."""
    counts = [lane.n for lane in asked.lanes]
    if len(counts) < 2 or max(counts) < _UNEQUAL * min(counts):
        return
    for place, layer in asked.shown(DensityLayer):
        if layer.size != "by n" and not asked.draws(BinsLayer):
            text = f"Curves of one size stand for {min(counts)} to {max(counts)} values."
            why = "A curve from few values looks as sure as one from many."
            yield Advice(
                key=f"{layer.id}/unequal-n", text=text, why=why,
                remedies=[remedy("Size by n", (["layers", place, "size"], "by n"))],
            )  # fmt: skip


def units(asked: Question) -> Iterator[Advice]:
    """Numbers that cannot be compared."""
    result = asked.arrangement.units
    if len(result) > 1:
        text = f"Measures in different units: {', '.join(unit or 'none' for unit in result)}; each has an axis of its own."
        yield Advice(key="units", text=text, why="Their numbers cannot be compared; choose measures in one unit.")


def limits_inside(asked: Question) -> Iterator[Advice]:
    """Values known only by a limit that would stand among the quartiles."""
    if asked.recipe.measure.limits == "in order":
        return
    many = [
        lane.name
        for lane in asked.arrangement.lanes
        if max(len(lane.below.rows), len(lane.above.rows)) > 0.25 * (lane.n + lane.censored) and lane.given is None
    ]
    if many:
        yield Advice(
            key="limits-inside", text=f"{list_words(many)}: more than a quarter of the values are beyond a detection limit.",
            why="Quartiles of the others alone lie too far inside.", source="Helsel 2012",
            remedies=[remedy("Count them in order", (["measure", "limits"], "in order"))],
        )  # fmt: skip
