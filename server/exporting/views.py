"""A comparison's way out, over HTTP."""

from __future__ import annotations

import uuid

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response

from echelle.drawing.formats import FORMATS, PICTURES
from server.accounts.requests import PersonRequest
from server.api.downloads import download
from server.api.faults import Fault
from server.api.limits import FILES
from server.api.views import Endpoint
from server.comparisons.models import Comparison
from server.exporting.bodies import FormatOffer, FormatOffers
from server.exporting.services import OF_ROWS, READINGS, REPORTS, export_of
from server.records.models import record
from server.studies.access import readable_by, visible_to


class Formats(Endpoint):
    """The formats that figures are saved in."""

    @extend_schema(responses=FormatOffers)
    def get(self, request: PersonRequest) -> Response:
        """What each is for and what can be set of it."""
        offers = ((name, FORMATS[name]) for name in PICTURES)
        return Response(
            FormatOffers(
                [
                    FormatOffer(
                        name=name, title=form.title, use=form.use, settings=list(form.settings), vector=form.vector,
                        pages=form.pages is not None,
                    )
                    for name, form in offers
                ]
            )
        )  # fmt: skip


class Export(Endpoint):
    """A comparison as files."""

    pool = FILES

    @extend_schema(
        parameters=[
            OpenApiParameter("entry", int, description="state of the trail; the shown one when left out"),
            OpenApiParameter("state", str, description="digest of the state that was seen; another one is refused"),
            OpenApiParameter("width", str, description="of the sheet, such as 85mm; the recipe's when left out"),
            OpenApiParameter("height", str, description="of the sheet; with a width and none given it follows the lanes"),
            OpenApiParameter("dpi", float, description="of PNG and TIFF, and of points drawn as an image"),
            OpenApiParameter("text", str, enum=["live", "outlines"], description="of an SVG"),
            OpenApiParameter("clear", bool, description="without a ground"),
            OpenApiParameter(
                "page",
                str,
                enum=["figure", "key", "pages"],
                description="the figure, its reader's key alone, or the figure on pages of A4 (PDF)",
            ),
            OpenApiParameter("as", str, enum=[*READINGS, *REPORTS], description="of readings, rows and reports"),
            OpenApiParameter("coded", bool, description="of a bundle: identifiers replaced by running codes"),
        ],
        responses={(200, "application/octet-stream"): OpenApiTypes.BINARY, 409: Fault, 422: Fault, 425: Fault},
    )
    def get(self, request: PersonRequest, comparison_id: uuid.UUID, kind: str) -> HttpResponse:
        """Draw the sealed recipe, or give what it stands on: the command line makes the same bytes."""
        permitted = readable_by if kind in OF_ROWS else visible_to
        comparison = permitted(Comparison.objects.all(), request.user, comparison_id)
        query = {key: str(value) for key, value in request.query_params.items()}
        made = export_of(comparison, kind, query, comparison.study.shows_rows_to(request.user), quick=True)
        shown = query.get("entry", "shown")
        record(request.user.username, "exported", comparison.study_id, kind=kind, entry=shown, of=comparison.name)
        return download(made.data, made.type, f"{comparison.name}{made.ending}")
