"""What figures are made of."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.figures.settings import FigureOptions, figure_options
from echelle.render import pictures_of_layer
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint
from server.comparisons.bodies import (
    LayerPictures,
)


class Forms(Endpoint):
    """What figures are made of."""

    @extend_schema(responses=FigureOptions)
    def get(self, request: PersonRequest) -> Response:
        """All forms and layers with their settings, and roles as they begin."""
        return Response(figure_options())


class Pictures(Endpoint):
    """What settings do."""

    @extend_schema(responses={200: LayerPictures, 422: Fault})
    def get(self, request: PersonRequest, layer: str) -> Response:
        """A layer's settings in tiny pictures over made-up lanes."""
        return Response(LayerPictures(pictures_of_layer(layer)))
