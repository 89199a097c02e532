"""A study's house style."""

from __future__ import annotations

import uuid

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from server.accounts.requests import PersonRequest
from server.api.faults import Fault, StaleHouse
from server.api.views import Endpoint, body_of
from server.studies.access import editable_by, visible_to
from server.studies.bodies import (
    HouseState,
)
from server.studies.models import Study


class House(Endpoint):
    """The look that every figure of a study has, unless it chose another."""

    @extend_schema(responses=HouseState)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """The house style, as it is shared between studies as JSON."""
        return Response(_house(visible_to(Study.objects.all(), request.user, study_id)))

    @extend_schema(request=HouseState, responses={200: HouseState, 409: Fault, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Another house style. It is offered to the figures there are, which stay as they are until they take it."""
        editable_by(Study.objects.all(), request.user, study_id)
        wanted = body_of(request, HouseState)
        with transaction.atomic():
            study = Study.objects.select_for_update().get(pk=study_id)
            if study.house_revision != wanted.revision:
                raise StaleHouse(study.house_revision)
            study.comparison_set.filter(kept_style__isnull=True).update(kept_style=study.style.model_dump(mode="json"))
            study.house, study.house_revision = wanted.style.model_dump(mode="json"), wanted.revision + 1
            study.save(update_fields=["house", "house_revision"])
        return Response(_house(study))

    @extend_schema(request=None, responses=HouseState)
    def post(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Let every figure of the study take it; locked ones stay as they were."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        study.comparison_set.update(kept_style=None)
        return Response(_house(study))


def _house(study: Study) -> HouseState:
    return HouseState(revision=study.house_revision, style=study.style)
