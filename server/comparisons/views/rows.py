"""The rows behind a figure."""

from __future__ import annotations

import uuid

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.recipes.recipe import Recipe
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.comparisons.bodies import (
    AskRow,
    AskRows,
    RowCard,
    RowsOfFigure,
)  # fmt: skip
from server.comparisons.models import Comparison
from server.comparisons.services.row_card import card_of, leave_out_row
from server.comparisons.services.rows import rows_of
from server.comparisons.services.trail import data_of
from server.records.models import record
from server.studies.access import editable_by, readable_by
from server.tables.services.cache import lanes_of, single_rows


class RowOfComparison(Endpoint):
    """One row behind a mark."""

    keeps = False

    @extend_schema(request=AskRow, responses={200: RowCard, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Its card, for those who may see rows."""
        comparison = readable_by(Comparison.objects.all(), request.user, comparison_id)
        asked, data = body_of(request, AskRow), data_of(comparison)
        record(request.user.username, "row read", comparison.study_id, once=True, of=comparison.name, row=asked.row)
        lanes = lanes_of(asked.recipe, data.table, data.steps)
        return Response(card_of(asked.recipe, lanes, single_rows(asked.recipe, data.table, data.steps, asked.row), asked.row))


class RowsOfComparison(Endpoint):
    """The rows behind a count, a selection or a part of a lane."""

    keeps = False

    @extend_schema(request=AskRows, responses={200: RowsOfFigure, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Which they are, and the cells of those in the window, for those who may see rows."""
        comparison = readable_by(Comparison.objects.all(), request.user, comparison_id)
        asked, data = body_of(request, AskRows), data_of(comparison)
        record(request.user.username, "rows read", comparison.study_id, once=True, of=comparison.name)
        lanes = lanes_of(asked.recipe, data.table, data.steps)
        return Response(rows_of(asked, lanes, single_rows(asked.recipe, data.table, data.steps)))


class LeaveOut(Endpoint):
    """Rows that a comparison leaves out."""

    keeps = False

    @extend_schema(request=AskRow, responses={200: Recipe, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """The recipe without a row, or with it again where no reason is given. Nothing is kept before it is settled."""
        comparison = editable_by(Comparison.objects.all(), request.user, comparison_id)
        asked, data = body_of(request, AskRow), data_of(comparison)
        reason = " ".join(asked.reason.split())[:500]
        table = single_rows(asked.recipe, data.table, data.steps, asked.row)
        return Response(leave_out_row(asked.recipe, table, asked.row, reason, request.user.shown_name))
