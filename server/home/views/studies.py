"""Studies: all of them, one with all that it holds, what happened in it."""

from __future__ import annotations

import uuid

from django.db import transaction
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response

from echelle.errors import InputError
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.home.activity import activity_of
from server.home.bodies import ChangeStudy, Done, Events, NewStudy, StudyCard, StudyCards, StudyRemarks, StudyState, Together
from server.home.cards import card_of, cards_of
from server.home.remarks import remarks_of_study
from server.home.shape import shape_like
from server.home.study import study_state
from server.home.together import do_together
from server.records.models import record
from server.studies.access import as_uuid, editable_by, owned_study, readable_by, visible_to
from server.studies.bodies import Pin
from server.studies.models import Membership, Role, Study, make_study
from server.studies.names import MOST_LETTERS, named


class AllStudies(Endpoint):
    """The studies of the signed-in person."""

    @extend_schema(responses=StudyCards)
    def get(self, request: PersonRequest) -> Response:
        """Their cards: pinned ones first, then by their last work; archived ones last."""
        return Response(StudyCards(cards_of(request.user)))

    @extend_schema(request=NewStudy, responses={200: StudyCard, 422: Fault})
    def post(self, request: PersonRequest) -> Response:
        """Make a study; its maker owns it. One like another has its house style, guides, empty folio pages and ways of
        preparing tables, and no rows.
        """
        wanted = body_of(request, NewStudy)
        name = named(wanted.name, "study")
        model = visible_to(Study.objects.all(), request.user, as_uuid(wanted.like)) if wanted.like else None
        with transaction.atomic():
            study = make_study(name, request.user)
            if model is not None:
                shape_like(study, model, request.user)
        return Response(card_of(study, request.user))


class OneStudy(Endpoint):
    """One study."""

    @extend_schema(operation_id="study_state", responses=StudyState)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """All that it holds."""
        return Response(study_state(visible_to(Study.objects.all(), request.user, study_id), request.user))

    @extend_schema(request=ChangeStudy, responses={200: StudyState, 422: Fault})
    def patch(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Rename it, write its notes; for owners: archive it, or say how long its bin keeps things."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        wanted = body_of(request, ChangeStudy)
        if wanted.archived is not None or wanted.bin_days is not None:
            owned_study(request.user, study_id)
        if wanted.name is not None:
            study.name = named(wanted.name, "study")
        if wanted.notes is not None:
            study.notes = wanted.notes
        if wanted.archived is not None:
            study.archived = timezone.now() if wanted.archived else None
        if wanted.bin_days is not None:
            study.bin_days = wanted.bin_days
        study.save(update_fields=["name", "notes", "archived", "bin_days"])
        return Response(study_state(study, request.user))

    @extend_schema(
        parameters=[OpenApiParameter("name", str, required=True, description="its name, so that it is the right one")],
        responses={204: None, 422: Fault},
    )
    def delete(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Erase it for good, by its name: tables, comparisons, trails, folios, links. One audit line stays."""
        study = owned_study(request.user, study_id)
        if " ".join(request.query_params.get("name", "").split())[:MOST_LETTERS] != study.name:
            raise InputError("that is not the study's name", where=study.name, remedy="Write it as it stands there.")
        with transaction.atomic():
            record(request.user.username, "erased", study.pk, name=study.name)
            study.erase()
        return Response(status=204)


class PinOfStudy(Endpoint):
    """Studies that come first."""

    @extend_schema(request=Pin, responses={204: None})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Pin it, or not, for whoever asks."""
        study = visible_to(Study.objects.all(), request.user, study_id)
        Membership.objects.filter(study=study, person=request.user).update(pinned=body_of(request, Pin).pinned)
        return Response(status=204)


class ComparisonsTogether(Endpoint):
    """Several comparisons at once."""

    @extend_schema(request=Together, responses={200: Done, 422: Fault})
    def post(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Do one thing with each; those with which it cannot be done are named, with the reason."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        return Response(do_together(study, body_of(request, Together), request.user))


class RemarksOfStudy(Endpoint):
    """What people say of its figures."""

    @extend_schema(operation_id="remarks_of_study", responses=StudyRemarks)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """All remarks with their answers, for those who may see rows."""
        return Response(StudyRemarks(remarks_of_study(readable_by(Study.objects.all(), request.user, study_id))))


class ActivityOfStudy(Endpoint):
    """What happened."""

    @extend_schema(responses=Events)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """The last states, files, preparations, remarks and signatures, newest first."""
        study = visible_to(Study.objects.all(), request.user, study_id)
        return Response(Events(activity_of(study, study.role_of(request.user) or Role.VIEWER)))
