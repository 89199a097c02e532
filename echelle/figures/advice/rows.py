"""Advice on who is in the lanes: how many, of whom, in which unit, known only by a limit."""

from __future__ import annotations

from collections.abc import Iterator

from echelle.figures.advice.question import Question
from echelle.recipes.layers.bins import BinsLayer
from echelle.recipes.layers.box import BoxLayer
from echelle.recipes.layers.density import DensityLayer
from echelle.recipes.layers.mean import MeanLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.scene.advice import remedy
from echelle.scene.models import Advice, Remedy
from echelle.tables.steps.columns import SetKind
from echelle.tables.steps.shape import Combine

FEWEST_IN_BOX = 5
FEWEST_IN_DENSITY = 10
_UNEQUAL = 5.0


def no_rows(question: Question) -> Iterator[Advice]:
    """Nothing to draw."""
    if question.arrangement.used == 0:
        yield question.advice("no-rows", "no-rows")


def read_as_codes(question: Question) -> Iterator[Advice]:
    """A column taken for the measure that was guessed to be codes."""
    for name, kind in question.arrangement.reread.items():
        settle = remedy(question.words, "kind-measure", step=SetKind(column=name, kind="measure").model_dump(mode="json"))
        yield question.advice(f"kind/{name}", "read-as-codes", remedies=[settle], column=name, kind=kind)


def few_values(question: Question) -> Iterator[Advice]:
    """A shape computed from a handful of values."""
    for kind, fewest, what in ((BoxLayer, FEWEST_IN_BOX, "box"), (DensityLayer, FEWEST_IN_DENSITY, "curve")):
        few = question.lanes_where(lambda lane, _, fewest=fewest: lane.n < fewest)  # type: ignore[misc]
        if few and question.draws(kind):
            new = PointsLayer(id="few1", place="on").model_dump(mode="json")
            points = question.remedy("points", (["layers", len(question.recipe.layers)], new))
            shown = any(layer.draws_rows for layer in question.recipe.shown_layers)
            remedies = [] if shown else [points]
            yield question.advice(f"few-values-{what}", "few-values", remedies=remedies, lanes=few, what=what, fewest=fewest)


def repeated_subjects(question: Question) -> Iterator[Advice]:
    """Rows of one subject counted as if they were many."""
    arranged = question.arrangement
    if arranged.account.people is None or arranged.account.people >= arranged.used:
        return
    unsafe = [layer.interval for _, layer in question.shown(MeanLayer) if layer.interval not in ("none", "SD")]
    noun = arranged.subject_noun
    yield question.advice(
        "repeated-people", "repeated-subjects-interval" if unsafe else "repeated-subjects", remedies=_one_value(question),
        rows=str(arranged.used), subjects=str(arranged.account.people), one=noun.one, many=noun.many,
    )  # fmt: skip


def _one_value(question: Question) -> list[Remedy]:
    """One value a subject, as a step of the preparation."""
    identifier, recipe = question.arrangement.identifier, question.recipe
    if identifier is None or len(recipe.measure.columns) > 1:
        return []
    roles = (recipe.groups, recipe.subgroups, recipe.panels.down, recipe.panels.across, recipe.panels.wrapped)
    by = dict.fromkeys([identifier, *(role.column for role in roles if role), *(kept.column for kept in recipe.keep)])
    step = Combine(by=list(by)).model_dump(mode="json")
    return [remedy(question.words, "one-value", step=step, one=question.arrangement.subject_noun.one)]


def unequal_n(question: Question) -> Iterator[Advice]:
    """Curves of one size from very different numbers."""
    counts = [lane.n for lane in question.lanes]
    if len(counts) < 2 or max(counts) < _UNEQUAL * min(counts):
        return
    for place, layer in question.shown(DensityLayer):
        if layer.size != "by n" and not question.draws(BinsLayer):
            by_n = question.remedy("size-by-n", (["layers", place, "size"], "by n"))
            least, most = str(min(counts)), str(max(counts))
            yield question.advice(f"{layer.id}/unequal-n", "unequal-n", remedies=[by_n], least=least, most=most)


def units(question: Question) -> Iterator[Advice]:
    """Numbers that cannot be compared."""
    result = question.arrangement.units
    if len(result) > 1:
        named = ", ".join(unit or question.words.say("no-unit") for unit in result)
        yield question.advice("units", "units", units=named)


def limits_inside(question: Question) -> Iterator[Advice]:
    """Values known only by a limit that would stand among the quartiles."""
    if question.recipe.measure.limits == "in order":
        return
    many = [
        lane.name
        for lane in question.arrangement.lanes
        if max(len(lane.below.rows), len(lane.above.rows)) > 0.25 * (lane.n + lane.censored) and lane.given is None
    ]
    if many:
        in_order = question.remedy("in-order", (["measure", "limits"], "in order"))
        yield question.advice("limits-inside", "limits-inside", remedies=[in_order], lanes=many)
