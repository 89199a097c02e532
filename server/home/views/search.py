"""Search over everything."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response

from server.accounts.requests import PersonRequest
from server.api.views import Endpoint
from server.home.bodies import SearchResult
from server.home.search import found_by


class Search(Endpoint):
    """Everything by its words."""

    @extend_schema(
        parameters=[OpenApiParameter("words", str, description="each must be there, or a word like it")], responses=SearchResult
    )
    def get(self, request: PersonRequest) -> Response:
        """Studies, comparisons, tables and folios that the person may see, the best first."""
        return Response(found_by(request.user, request.query_params.get("words", "")))
