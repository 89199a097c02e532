"""The states of a comparison, and which of them is shown."""

from __future__ import annotations

import uuid

from django.db import transaction
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response

from echelle.recipes.recipe import Recipe
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.comparisons.bodies import (
    ComparisonState,
    GoTo,
    NameState,
    Settle,
    TrailPage,
)
from server.comparisons.models import Comparison
from server.comparisons.services.scenes import must_draw, recipe_without_rows
from server.comparisons.services.state import comparison_state, trail_page
from server.comparisons.services.trail import (
    changeable,
    data_of,
    entry_of,
    recipe_at,
    settle,
    step,
)
from server.studies.access import editable_by, visible_to
from server.tables.services.persons import Persons

_LOST = {409: Fault, 422: Fault}


class Trail(Endpoint):
    """Settled states."""

    @extend_schema(request=Settle, responses={200: ComparisonState, **_LOST})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Settle a state that can be drawn. A stale revision gets 409; the state is kept as a branch."""
        comparison = editable_by(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, Settle)
        data = data_of(comparison)
        must_draw(wanted.recipe, data.table, data.steps)
        return Response(comparison_state(settle(comparison.pk, wanted.revision, wanted.recipe, request.user), request.user))


class States(Endpoint):
    """The trail, page by page."""

    @extend_schema(parameters=[OpenApiParameter("before", int, description="states before that one")], responses=TrailPage)
    def get(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """A page of the trail: the last states, or the last before one."""
        comparison = visible_to(Comparison.objects.all(), request.user, comparison_id)
        asked = request.query_params.get("before", "")
        states, earlier = trail_page(comparison, int(asked) if asked.isdecimal() and len(asked) < 10 else None)
        page = TrailPage(states=states, earlier=earlier)
        if comparison.study.shows_rows_to(request.user):
            return Response(page)
        data = data_of(comparison)
        return Response(Persons(data.table, data.steps).masked(page))


class TrailRecipe(Endpoint):
    """The recipe of a state."""

    @extend_schema(responses={200: Recipe, 422: Fault})
    def get(self, request: PersonRequest, comparison_id: uuid.UUID, number: int) -> Response:
        """As it was settled."""
        comparison = visible_to(Comparison.objects.all(), request.user, comparison_id)
        entry = entry_of(comparison, number)
        recipe = recipe_at(entry)
        if comparison.study.shows_rows_to(request.user):
            return Response(recipe)
        data = data_of(comparison, entry)
        return Response(Persons(data.table, data.steps).masked(recipe_without_rows(recipe)))


class StateName(Endpoint):
    """The name of a state."""

    @extend_schema(request=NameState, responses=ComparisonState)
    def put(self, request: PersonRequest, comparison_id: uuid.UUID, number: int) -> Response:
        """Name a state of the trail."""
        comparison = editable_by(Comparison.objects.all(), request.user, comparison_id)
        name = " ".join(body_of(request, NameState).name.split())
        with transaction.atomic():
            entry = entry_of(changeable(comparison.pk), number)
            entry.name = name
            entry.save(update_fields=["name"])
        return Response(comparison_state(comparison, request.user))


class Head(Endpoint):
    """Which state is shown."""

    @extend_schema(request=GoTo, responses={200: ComparisonState, **_LOST})
    def put(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Undo, redo, or go to any state."""
        comparison = editable_by(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, GoTo)
        return Response(comparison_state(step(comparison.pk, wanted.revision, wanted.entry), request.user))
