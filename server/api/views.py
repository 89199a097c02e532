"""The base of the endpoints."""

from __future__ import annotations

from typing import Any, TypeVar

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from pydantic import BaseModel, ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from echelle.recipes.parse import recipe_fault
from server.api.faults import BUSY, Busy
from server.api.limits import PERSON, Pool
from server.api.room import must_have_room

Body = TypeVar("Body", bound=BaseModel)


class Endpoint(APIView):
    """An endpoint whose answers are private and never stored. ``keeps`` is false where its POST keeps nothing,
    ``pool`` is set where its work takes long.
    """

    keeps = True
    pool: Pool | None = None

    def dispatch(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        """Work in turn, where the endpoint belongs to a pool."""
        if self.pool is None:
            return super().dispatch(request, *args, **kwargs)
        try:
            with self.pool.turn():
                return super().dispatch(request, *args, **kwargs)
        except Busy:
            return HttpResponse(BUSY.model_dump_json(), content_type="application/json", status=503)

    def initial(self, request: Request, *args: object, **kwargs: object) -> None:
        """Refuse what keeps something where there is no room."""
        super().initial(request, *args, **kwargs)
        PERSON.count(str(request.user))
        if self.keeps and request.method in ("POST", "PUT", "PATCH"):
            must_have_room()

    def finalize_response(self, request: Request, response: Response, *args: object, **kwargs: object) -> Response:
        """Row data must not outlive the page."""
        response = super().finalize_response(request, response, *args, **kwargs)
        response["Cache-Control"] = "private, no-store"
        return response


def body_of(request: Request, model: type[Body]) -> Body:
    """The request's JSON as a model. Raises InputError with the JSON path of the first fault."""
    try:
        return model.model_validate(request.data)
    except ValidationError as error:
        raise recipe_fault(error) from None
