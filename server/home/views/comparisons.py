"""Comparisons found again: open last, and where each is used."""

from __future__ import annotations

import uuid

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from server.accounts.requests import PersonRequest
from server.api.views import Endpoint
from server.comparisons.models import Comparison, Visit
from server.home.bodies import RecentComparison, RecentComparisons, Uses
from server.home.uses import uses_of
from server.home.viewers import masking
from server.studies.access import visible_to
from server.studies.models import Role

MOST_RECENT = 12


class Recent(Endpoint):
    """What somebody had open."""

    @extend_schema(responses=RecentComparisons)
    def get(self, request: PersonRequest) -> Response:
        """The comparisons that were pinned, then those that were open last."""
        visits = Visit.objects.filter(person=request.user, comparison__study__membership__person=request.user)
        shown = visits.filter(comparison__binned=None, comparison__study__archived=None)
        shown = shown.select_related("comparison__study").order_by("-pinned", "-at")
        roles = dict(request.user.membership_set.values_list("study_id", "role"))
        return Response(RecentComparisons([_recent(visit, roles[visit.comparison.study_id]) for visit in shown[:MOST_RECENT]]))


class UsesOfComparison(Endpoint):
    """Where a comparison is used."""

    @extend_schema(responses=Uses)
    def get(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Its versions, the folios it stands on, and how many open links lead to it."""
        comparison = visible_to(Comparison.objects.select_related("study"), request.user, comparison_id)
        role = comparison.study.role_of(request.user) or Role.VIEWER
        return Response(uses_of(comparison, masking(role)))


def _recent(visit: Visit, role: str) -> RecentComparison:
    held = visit.comparison
    return RecentComparison(
        id=str(held.pk), name=masking(role)(held.table_id, held.name), study_name=held.study.name, changed=held.changed,
        pinned=visit.pinned,
    )  # fmt: skip
