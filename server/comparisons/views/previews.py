"""Figures that nothing is kept of: a scene, all forms, all measures."""

from __future__ import annotations

import time
import uuid
from contextlib import suppress
from functools import partial
from typing import TypeVar

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.errors import InputError
from echelle.recipes.change_measure import of_measure
from echelle.recipes.forms import FORMS, form_of, in_form
from echelle.recipes.recipe import Recipe
from echelle.recipes.series_order import order_of
from echelle.recipes.style import Style
from echelle.scene.models import PointsPart, Scene
from server.accounts.requests import PersonRequest
from server.api.faults import Fault, UnderWay
from server.api.limits import FIGURES, in_time
from server.api.views import Endpoint, body_of
from server.comparisons.bodies import (
    Ask,
    AskForm,
    FormDrawn,
    InForm,
    InForms,
    InMeasure,
    InMeasures,
    OfMeasures,
    OfRecipe,
)  # fmt: skip
from server.comparisons.models import Comparison
from server.comparisons.services.drawings import Figure, scene_of_figure, small_scene_of
from server.comparisons.services.miniatures import in_small
from server.comparisons.services.proposal import other_proposals
from server.comparisons.services.requests import comparison_and_recipe, lanes_for
from server.comparisons.services.scenes import asked_about, recipe_without_rows, with_style
from server.comparisons.services.trail import (
    Data,
    data_of,
    entry_of,
    layers_left,
    newest_data,
    recipe_at,
)
from server.studies.access import visible_to
from server.tables.services.cache import summaries_of
from server.tables.services.counting import Patience
from server.tables.services.persons import Persons

F = TypeVar("F", InForm, InMeasure)


# Of many measures the first are soon there.
_FIRST = 0.15


class ComparisonScene(Endpoint):
    """The drawing."""

    keeps = False
    pool = FIGURES

    @extend_schema(request=Ask, responses={200: Scene, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Draw a recipe, or the shown state. Nothing is kept."""
        began = time.perf_counter()
        comparison = visible_to(Comparison.objects.select_related("study"), request.user, comparison_id)
        ask = body_of(request, Ask)
        entry = entry_of(comparison, ask.entry)
        looking = not comparison.study.shows_rows_to(request.user)
        recipe = asked_about(comparison, ask.recipe, not looking) if ask.recipe else recipe_at(entry)
        data = (newest_data(comparison) if ask.newest else None) or data_of(comparison, entry)
        house = comparison.study.style if ask.newest_style else None
        figure = _figure(request, comparison, recipe, data, "look" if ask.miniature else "early", house)
        scene = small_scene_of(figure) if ask.miniature else scene_of_figure(figure, request.user)
        _without_known(scene, frozenset(ask.have))
        response = Response(scene)
        response["Server-Timing"] = f"scene;dur={(time.perf_counter() - began) * 1000:.1f}"
        return response


def _figure(
    request: PersonRequest,
    comparison: Comparison,
    recipe: Recipe,
    data: Data,
    patience: Patience = "early",
    house: Style | None = None,
) -> Figure:
    """A recipe's figure for whoever asks, in the comparison's style or over a given house style."""
    sees = comparison.study.shows_rows_to(request.user)
    lanes = lanes_for(sees, comparison, recipe, data, patience)
    told = with_style(recipe if sees else recipe_without_rows(recipe), comparison, house)
    return Figure(comparison, recipe, told, data, lanes, sees)


def _without_known(scene: Scene, have: frozenset[str]) -> None:
    """Leave the data of points out that the browser already holds."""
    for part in scene.walk():
        if isinstance(part, PointsPart) and part.columns.digest in have:
            part.columns.x = part.columns.y = part.columns.rows = None


class ComparisonForms(Endpoint):
    """The present question in every form."""

    keeps = False
    pool = FIGURES

    @extend_schema(request=OfRecipe, responses={200: InForms, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """All forms of a recipe with their miniatures, in the order of their keys; those that there was no time for come later.
        Nothing is kept.
        """
        comparison, asked, data = comparison_and_recipe(request, comparison_id)
        sees = comparison.study.shows_rows_to(request.user)
        order = _order_of(asked, data)
        left = layers_left(comparison, asked)
        recipes = {name: in_form(asked, name, order, left.get(name, ())) for name in FORMS}
        drawn = list(in_time(partial(in_small, recipe, name, data, comparison, sees) for name, recipe in recipes.items()))
        later = [InForm(form=name, recipe=recipes[name], scene=None, later=True) for name in list(recipes)[len(drawn) :]]
        return Response(InForms(_told(request, comparison, [*drawn, *later])))


class RecipeInForm(Endpoint):
    """The present question in one form."""

    keeps = False
    pool = FIGURES

    @extend_schema(request=AskForm, responses={200: FormDrawn, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID, form: str) -> Response:
        """The recipe that choosing the form leads to, with its figure. Nothing is kept."""
        comparison = visible_to(Comparison.objects.select_related("study"), request.user, comparison_id)
        ask = body_of(request, AskForm)
        name = next((name for name in FORMS if name == form), None)
        if name is None:
            raise InputError(f"there is no form “{form}”", remedy=f"Choose one of {', '.join(FORMS)}.")
        data, sees = data_of(comparison), comparison.study.shows_rows_to(request.user)
        order = _order_of(ask.recipe, data) if name == "series" else None
        told = asked_about(comparison, ask.recipe, sees)
        recipe = in_form(told, name, order, layers_left(comparison, told).get(name, ()))
        scene: Scene | None = None
        with suppress(InputError, UnderWay):
            scene = scene_of_figure(_figure(request, comparison, recipe, data), request.user)
            _without_known(scene, frozenset(ask.have))
        return Response(FormDrawn(recipe=recipe if sees else recipe_without_rows(recipe), scene=scene))


class ComparisonMeasures(Endpoint):
    """The same figure for every measure."""

    keeps = False
    pool = FIGURES

    @extend_schema(request=OfMeasures, responses={200: InMeasures, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """The recipe for each measure of the table from a place on, with its miniature: those there is time for. Nothing is
        kept.
        """
        comparison, asked, data = comparison_and_recipe(request, comparison_id, OfMeasures)
        ask, sees = body_of(request, OfMeasures), comparison.study.shows_rows_to(request.user)
        columns = [column for column in summaries_of(data.table, data.steps) if column.kind == "measure" and column.distinct]
        names = [column.name for column in columns if ask.named.casefold() in column.name.casefold()]
        wanted = (partial(_in_measure, of_measure(asked, name), name, data, comparison, sees) for name in names[ask.start :])
        measures = _told(request, comparison, list(in_time(wanted, _FIRST)))
        return Response(InMeasures(of=len(names), measures=measures))


class OtherQuestions(Endpoint):
    """What else the table could be asked."""

    keeps = False
    pool = FIGURES

    @extend_schema(request=None, responses={200: InForms, 422: Fault})
    def get(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Up to five other likely questions of the comparison's table with their miniatures. Nothing is kept."""
        comparison = visible_to(Comparison.objects.select_related("study"), request.user, comparison_id)
        data = data_of(comparison)
        sees = comparison.study.shows_rows_to(request.user)
        # Of a far table each would be counted.
        asked = other_proposals(data.table, data.steps, request.user) if sees and not data.table.is_far else []
        drawn = [in_small(recipe, form_of(recipe) or "box", data, comparison, sees) for recipe in asked]
        return Response(InForms([question for question in drawn if question.scene is not None]))


def _order_of(recipe: Recipe, data: Data) -> str | None:
    return order_of(recipe, summaries_of(data.table, data.steps))


def _in_measure(recipe: Recipe, column: str, data: Data, comparison: Comparison, sees_rows: bool) -> InMeasure:
    if data.table.is_far:
        return InMeasure(column=column, recipe=recipe, scene=None, reason="It is counted when you choose it.")
    drawn = in_small(recipe, "box", data, comparison, sees_rows)
    return InMeasure(column=column, recipe=recipe, scene=drawn.scene, reason=drawn.reason)


def _told(request: PersonRequest, comparison: Comparison, items: list[F]) -> list[F]:
    """Items for whoever asked: recipes without row ids for those who may not see rows."""
    if comparison.study.shows_rows_to(request.user):
        return items
    data = data_of(comparison)
    persons = Persons(data.table, data.steps)
    for item in items:
        item.recipe = recipe_without_rows(item.recipe)
        persons.mask(item)
    return items
