"""The guides that a study keeps."""

from __future__ import annotations

import uuid

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.errors import InputError
from server.accounts.requests import PersonRequest
from server.api.faults import Fault, StaleGuides
from server.api.views import Endpoint, body_of
from server.studies.access import editable_by, visible_to
from server.studies.bodies import (
    GuideState,
)
from server.studies.models import Study


class Guides(Endpoint):
    """Reference intervals and limits that a study keeps, to be set into its figures."""

    @extend_schema(responses=GuideState)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """All of them, by name."""
        return Response(_guides(visible_to(Study.objects.all(), request.user, study_id)))

    @extend_schema(request=GuideState, responses={200: GuideState, 409: Fault, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Another list. Figures keep the guides they were given."""
        editable_by(Study.objects.all(), request.user, study_id)
        wanted = body_of(request, GuideState)
        names = [kept.name for kept in wanted.guides]
        if len(set(names)) < len(names):
            raise InputError("two entries of the list have one name", remedy="Choose another name.")
        with transaction.atomic():
            study = Study.objects.select_for_update().get(pk=study_id)
            if study.guides_revision != wanted.revision:
                raise StaleGuides(study.guides_revision)
            study.guides = sorted((kept.model_dump(mode="json") for kept in wanted.guides), key=lambda kept: str(kept["name"]))
            study.guides_revision += 1
            study.save(update_fields=["guides", "guides_revision"])
        return Response(_guides(study))


def _guides(study: Study) -> GuideState:
    return GuideState.model_validate({"revision": study.guides_revision, "guides": study.guides})
