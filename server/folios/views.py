"""Folios: their state, their pages, their files."""

from __future__ import annotations

import uuid

from django.db import transaction
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response

from echelle.errors import InputError
from echelle.folios.models import FolioPage
from server.accounts.requests import PersonRequest
from server.api.downloads import download
from server.api.faults import Fault, StaleRevision
from server.api.limits import FIGURES, FILES
from server.api.views import Endpoint, body_of
from server.folios.bodies import FolioFigureState, FolioPages, FolioState, NewFolio, SetFolio
from server.folios.models import Folio
from server.folios.services import comparisons_of, folio_file, pages_of, states_of
from server.records.models import record
from server.studies.access import as_uuid, editable_by, visible_to
from server.studies.bodies import SignOff
from server.studies.models import Study
from server.studies.sign_off import signature_of


class Folios(Endpoint):
    """New folios."""

    @extend_schema(request=NewFolio, responses={200: FolioState, 422: Fault})
    def post(self, request: PersonRequest) -> Response:
        """Begin a folio of a study."""
        wanted = body_of(request, NewFolio)
        study = editable_by(Study.objects.all(), request.user, as_uuid(wanted.study))
        name = " ".join(wanted.name.split())[:200] or "Folio"
        folio = Folio.objects.create(study=study, name=name, page=FolioPage().model_dump(mode="json"))
        return Response(_state(folio, request))


class OneFolio(Endpoint):
    """A folio."""

    @extend_schema(responses=FolioState)
    def get(self, request: PersonRequest, folio_id: uuid.UUID) -> Response:
        """As it stands."""
        return Response(_state(visible_to(Folio.objects.all(), request.user, folio_id), request))

    @extend_schema(request=SetFolio, responses={200: FolioState, 409: Fault, 422: Fault})
    def put(self, request: PersonRequest, folio_id: uuid.UUID) -> Response:
        """As it shall be: name, page, figures in order."""
        editable_by(Folio.objects.all(), request.user, folio_id)
        wanted = body_of(request, SetFolio)
        with transaction.atomic():
            folio = Folio.objects.select_for_update().get(pk=folio_id)
            folio.must_be_open()
            if folio.revision != wanted.revision:
                raise StaleRevision(folio.revision)
            known = {str(pk) for pk in folio.study.comparison_set.values_list("pk", flat=True)}
            if not set(wanted.figures) <= known:
                raise InputError("a figure of the folio is not in its study", remedy="Choose comparisons of this study.")
            folio.name = " ".join(wanted.name.split())[:200] or folio.name
            folio.page, folio.figures = wanted.page.model_dump(mode="json"), wanted.figures
            folio.revision += 1
            folio.save()
        return Response(_state(folio, request))

    @extend_schema(responses={204: None})
    def delete(self, request: PersonRequest, folio_id: uuid.UUID) -> Response:
        """Take it away; its comparisons stay. A locked one stays too."""
        folio = editable_by(Folio.objects.all(), request.user, folio_id)
        folio.must_be_open()
        folio.delete()
        return Response(status=204)


class LockFolio(Endpoint):
    """Sign-off of a folio, and so of its report."""

    @extend_schema(request=SignOff, responses={200: FolioState, 409: Fault, 422: Fault})
    def put(self, request: PersonRequest, folio_id: uuid.UUID) -> Response:
        """Lock it as it stands: its figures keep their state, whatever becomes of their comparisons."""
        study = editable_by(Folio.objects.all(), request.user, folio_id).study
        wanted = body_of(request, SignOff)
        signature = signature_of(wanted, request.user, study)
        with transaction.atomic():
            folio = Folio.objects.select_for_update().get(pk=folio_id)
            if folio.revision != wanted.revision:
                raise StaleRevision(folio.revision)
            folio.sign_off(request.user, signature, "")
            folio.locked_states = {
                str(comparison.pk): {"entry": entry.number, "house": house.model_dump(mode="json")}
                for comparison, entry, house in states_of(folio)
            }
            folio.save()
        return Response(_state(folio, request))


class FolioVersions(Endpoint):
    """What follows a locked folio."""

    @extend_schema(request=None, responses={200: FolioState, 422: Fault})
    def post(self, request: PersonRequest, folio_id: uuid.UUID) -> Response:
        """A new version with the same page and figures, which follow their comparisons again."""
        old = editable_by(Folio.objects.all(), request.user, folio_id)
        made = Folio.objects.create(
            study=old.study, name=old.name, page=old.page, figures=old.figures, version=old.version + 1, follows=old
        )
        return Response(_state(made, request))


class PagesOfFolio(Endpoint):
    """The folio, drawn."""

    pool = FIGURES

    @extend_schema(responses={200: FolioPages, 422: Fault, 425: Fault})
    def get(self, request: PersonRequest, folio_id: uuid.UUID) -> Response:
        """Its pages, each figure as its comparison shows it now."""
        folio = visible_to(Folio.objects.all(), request.user, folio_id)
        return Response(FolioPages(pages_of(folio, folio.study.shows_rows_to(request.user), quick=True)))


class ExportFolio(Endpoint):
    """The folio as a file."""

    pool = FILES

    @extend_schema(
        parameters=[OpenApiParameter("dpi", float), OpenApiParameter("page", int, description="of SVG and PNG, from 1")],
        responses={(200, "application/octet-stream"): OpenApiTypes.BINARY, 422: Fault, 425: Fault},
    )
    def get(self, request: PersonRequest, folio_id: uuid.UUID, kind: str) -> HttpResponse:
        """One PDF of all pages, or one page as a picture."""
        folio = visible_to(Folio.objects.all(), request.user, folio_id)
        query = {key: str(value) for key, value in request.query_params.items()}
        made = folio_file(folio, kind, query, folio.study.shows_rows_to(request.user), quick=True)
        record(request.user.username, "exported", folio.study_id, kind=kind, of=folio.name)
        return download(made.data, made.type, f"{folio.name}{made.ending}")


def _state(folio: Folio, request: PersonRequest) -> FolioState:
    offered = folio.study.comparison_set.filter(archived=None, binned=None).order_by("-changed")[:200]
    return FolioState(
        id=str(folio.pk), name=folio.name, study=str(folio.study_id), study_name=folio.study.name,
        role=folio.study.role_of(request.user), revision=folio.revision, page=FolioPage.model_validate(folio.page),
        figures=[FolioFigureState(comparison=str(comparison.pk), name=comparison.name) for comparison in comparisons_of(folio)],
        version=folio.version, locked=folio.lock_words,
        offered=[FolioFigureState(comparison=str(comparison.pk), name=comparison.name) for comparison in offered],
    )  # fmt: skip
