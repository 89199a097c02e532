"""Remarks on a comparison over HTTP."""

from __future__ import annotations

import uuid

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.comparisons.bodies import NewRemark, RemarkStates, SettleRemark
from server.comparisons.models import Comparison, Remark
from server.comparisons.services.remarks import remarks_of, say, settle_remark
from server.studies.access import readable_by


class Remarks(Endpoint):
    """What people of the study say of a comparison. For those who may see rows: a remark may name one."""

    @extend_schema(responses=RemarkStates)
    def get(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """All of them, oldest first, each with its answers."""
        return Response(RemarkStates(remarks_of(readable_by(Comparison.objects.all(), request.user, comparison_id))))

    @extend_schema(request=NewRemark, responses={200: RemarkStates, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Another one, or an answer to one."""
        comparison = readable_by(Comparison.objects.all(), request.user, comparison_id)
        say(comparison, body_of(request, NewRemark), request.user)
        return Response(RemarkStates(remarks_of(comparison)))


class OneRemark(Endpoint):
    """A remark."""

    @extend_schema(request=SettleRemark, responses=RemarkStates)
    def patch(self, request: PersonRequest, remark_id: uuid.UUID) -> Response:
        """It is settled, or open again."""
        remark = readable_by(Remark.objects.select_related("comparison"), request.user, remark_id)
        settle_remark(remark, body_of(request, SettleRemark).settled, request.user)
        return Response(RemarkStates(remarks_of(remark.comparison)))
