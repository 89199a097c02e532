"""The base of the endpoints."""

from __future__ import annotations

from typing import TypeVar

from pydantic import BaseModel, ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from echelle.recipes.parse import recipe_fault
from server.api.room import must_have_room

Body = TypeVar("Body", bound=BaseModel)


class Endpoint(APIView):
    """An endpoint whose answers are private and never stored. ``keeps`` is false where its POST keeps nothing."""

    keeps = True

    def initial(self, request: Request, *args: object, **kwargs: object) -> None:
        """Refuse what keeps something where there is no room."""
        super().initial(request, *args, **kwargs)
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
