"""What is asked about a figure: its forms and other measures in miniature, advice, and the rows behind its marks."""

from __future__ import annotations

import uuid
from functools import partial
from itertools import chain
from typing import TypeVar

from django.http import StreamingHttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from echelle.comparison.lane_differences import Step, comparing
from echelle.comparison.models import Compared
from echelle.errors import InputError
from echelle.figures.compose import deep_advice
from echelle.recipes.change_measure import of_measure
from echelle.recipes.differences import Differences
from echelle.recipes.forms import FORMS, in_form
from echelle.recipes.recipe import FormName, Recipe
from echelle.render import scene_of_lanes
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.comparisons.bodies import (
    AdviceList,
    AskRow,
    AskRows,
    Comparing,
    InForm,
    InForms,
    InMeasure,
    InMeasures,
    OfRecipe,
    RowCard,
    RowsOfFigure,
)  # fmt: skip
from server.comparisons.models import Comparison
from server.comparisons.row_card import card_of, left_out
from server.comparisons.rows import rows_of
from server.comparisons.scenes import asked_about, dressed, rowless, without_rows
from server.comparisons.trail import Data, data_of
from server.studies.access import to_change, to_see
from server.tables.cache import in_use, lanes_of, summaries_of

F = TypeVar("F", InForms, InMeasures)


def _asked(request: Request, comparison_id: uuid.UUID) -> tuple[Comparison, Recipe, Data]:
    """What a recipe is asked about, the recipe, and the data of the shown state."""
    comparison = to_see(Comparison.objects.all(), request.user, comparison_id)
    recipe = asked_about(comparison, body_of(request, OfRecipe).recipe, comparison.study.shows_rows_to(request.user))
    return comparison, recipe, data_of(comparison)


class ComparisonForms(Endpoint):
    """The present question in every form."""

    @extend_schema(request=OfRecipe, responses={200: InForms, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """All forms of a recipe with their miniatures, in the order of their keys. Nothing is kept."""
        comparison, asked, data = _asked(request, comparison_id)
        found = InForms([_in_form(in_form(asked, name), name, data, comparison) for name in FORMS])
        return Response(_for(request, comparison, found))


def _for(request: Request, comparison: Comparison, found: F) -> F:
    """Answers for whoever asked: recipes without row ids for those who may not see rows."""
    if not comparison.study.shows_rows_to(request.user):
        for one in found.root:
            one.recipe = rowless(one.recipe)
    return found


def _in_form(recipe: Recipe, name: FormName, data: Data, comparison: Comparison) -> InForm:
    try:
        scene = scene_of_lanes(rowless(dressed(recipe, comparison)), lanes_of(recipe, data.table, data.steps), miniature=True)
    except InputError as error:
        return InForm(form=name, recipe=recipe, scene=None, reason=error.sentence())
    without_rows(scene)
    return InForm(form=name, recipe=recipe, scene=scene)


class ComparisonMeasures(Endpoint):
    """The same figure for every measure."""

    @extend_schema(request=OfRecipe, responses={200: InMeasures, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """The recipe for each measure of the table, in the table's order, with its miniature. Nothing is kept."""
        comparison, asked, data = _asked(request, comparison_id)
        columns = [column for column in summaries_of(data.table, data.steps) if column.kind == "measure" and column.distinct]
        found = [_in_measure(of_measure(asked, name), name, data, comparison) for name in (one.name for one in columns)]
        return Response(_for(request, comparison, InMeasures(found)))


def _in_measure(recipe: Recipe, column: str, data: Data, comparison: Comparison) -> InMeasure:
    drawn = _in_form(recipe, "box", data, comparison)
    return InMeasure(column=column, recipe=recipe, scene=drawn.scene, reason=drawn.reason)


class ComparisonAdvice(Endpoint):
    """Advice that takes time."""

    @extend_schema(request=OfRecipe, responses={200: AdviceList, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Advice on peaks and on what tells them apart; what costs no time comes with the scene."""
        _, asked, data = _asked(request, comparison_id)
        lanes = lanes_of(asked, data.table, data.steps)
        return Response(AdviceList(deep_advice(asked, lanes, lambda: in_use(data.table, data.steps))))


class ComparisonDifferences(Endpoint):
    """How large the differences are."""

    @extend_schema(request=OfRecipe, responses={(200, "application/x-ndjson"): Comparing, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> StreamingHttpResponse:
        """Lanes set against one another as the recipe's differences ask; the usual way where it asks nothing. One line of JSON
        after each pair, and one with the answer; whoever stops reading stops the work.
        """
        comparison, asked, data = _asked(request, comparison_id)
        found = comparing(lanes_of(asked, data.table, data.steps), asked.differences or Differences())
        # What can be refused is refused before the first line.
        first = next(found)
        line = partial(_line, comparison.study.shows_rows_to(request.user))
        return StreamingHttpResponse(map(line, chain([first], found)), content_type="application/x-ndjson")


def _line(may_see_rows: bool, found: Step | Compared) -> bytes:
    if isinstance(found, Compared) and found.control is not None and not may_see_rows:
        for hit in found.control.hits:
            hit.rows = [0] * len(hit.rows)
    line = Comparing(done=found.done, of=found.of) if isinstance(found, Step) else Comparing(found=found)
    return line.model_dump_json().encode() + b"\n"


class RowOfComparison(Endpoint):
    """One row behind a mark."""

    @extend_schema(request=AskRow, responses={200: RowCard, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Its card, for those who may see rows."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        asked, data = body_of(request, AskRow), data_of(comparison)
        lanes = lanes_of(asked.recipe, data.table, data.steps)
        return Response(card_of(asked.recipe, lanes, in_use(data.table, data.steps), asked.row))


class LeaveOut(Endpoint):
    """Rows that a comparison leaves out."""

    @extend_schema(request=AskRow, responses={200: Recipe, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """The recipe without a row, or with it again where no reason is given. Nothing is kept before it is settled."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        asked, data = body_of(request, AskRow), data_of(comparison)
        reason = " ".join(asked.reason.split())[:500]
        table = in_use(data.table, data.steps)
        return Response(left_out(asked.recipe, table, asked.row, reason, request.user.shown_name))


class RowsOfComparison(Endpoint):
    """The rows behind a count, a selection or a part of a lane."""

    @extend_schema(request=AskRows, responses={200: RowsOfFigure, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Which they are, and the cells of those in the window, for those who may see rows."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        asked, data = body_of(request, AskRows), data_of(comparison)
        lanes = lanes_of(asked.recipe, data.table, data.steps)
        return Response(rows_of(asked, lanes, in_use(data.table, data.steps)))
