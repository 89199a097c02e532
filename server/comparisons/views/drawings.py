"""Figures that take long: how far they are, stopped and gone on with."""

from __future__ import annotations

import uuid

from django.db import transaction
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from server.accounts.requests import PersonRequest
from server.api.views import Endpoint
from server.comparisons.bodies import DrawingState, DrawingStates
from server.comparisons.models import Comparison, Drawing
from server.comparisons.services.drawings import defer_drawing
from server.studies.access import visible_to

_MOST = 10


class Drawings(Endpoint):
    """What is drawn of a comparison."""

    @extend_schema(responses=DrawingStates)
    def get(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """How far those are that one asked for, the newest first."""
        comparison = visible_to(Comparison.objects.all(), request.user, comparison_id)
        own = (
            Drawing.objects.filter(comparison=comparison, person=request.user)
            .defer("scene", "small", "asked")
            .order_by("-made")
        )
        return Response(DrawingStates([_state(drawing) for drawing in own[:_MOST]]))


class StopDrawing(Endpoint):
    """Stopping one."""

    @extend_schema(request=None, responses=DrawingState)
    def post(self, request: PersonRequest, drawing_id: int) -> Response:
        """Stop between two pieces of the work."""
        drawing = _own(request, drawing_id)
        Drawing.objects.filter(pk=drawing.pk, state__in=Drawing.UNFINISHED).update(state=Drawing.State.STOPPED)
        drawing.refresh_from_db()
        return Response(_state(drawing))


class GoOnDrawing(Endpoint):
    """Going on with one that was stopped."""

    @extend_schema(request=None, responses=DrawingState)
    def post(self, request: PersonRequest, drawing_id: int) -> Response:
        """Draw it from the beginning."""
        drawing = _own(request, drawing_id)
        again = {"state": Drawing.State.WAITING, "done": 0, "fault": None, "asked_at": timezone.now()}
        with transaction.atomic():
            if Drawing.objects.filter(pk=drawing.pk, state=Drawing.State.STOPPED).update(**again):
                defer_drawing(drawing)
        drawing.refresh_from_db()
        return Response(_state(drawing))


def _own(request: PersonRequest, drawing_id: int) -> Drawing:
    """Whoever may look at a figure may stop what they asked for."""
    return visible_to(Drawing.objects.filter(person=request.user), request.user, drawing_id)


def _state(drawing: Drawing) -> DrawingState:
    return DrawingState(id=drawing.pk, state=drawing.state, done=drawing.done, of=drawing.of)
