"""What every request passes before any view: addresses that can be kept, and no forms where none are due."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from server.api.faults import Fault, fault_of
from server.api.storable import Unstorable, must_be_text

Answer = Callable[[HttpRequest], HttpResponse]
_FORMS = ("application/x-www-form-urlencoded", "multipart/form-data")


class RefuseUnstorable:
    """Refuses them with a :class:`Fault`."""

    def __init__(self, answer: Answer) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer, or the refusal."""
        try:
            must_be_text(request.path, "address")
            for key, values in request.GET.lists():
                for value in (key, *values):
                    must_be_text(value, "address, after “?”")
        except Unstorable as error:
            return _refusal(fault_of(error), 400)
        if request.path.startswith("/api/") and request.content_type in _FORMS:
            remedy = "Send JSON, or a file as application/octet-stream."
            return _refusal(Fault(what=f"Nothing here reads {request.content_type}", remedy=remedy), 415)
        return self._answer(request)


def _refusal(fault: Fault, status: int) -> HttpResponse:
    return HttpResponse(fault.model_dump_json(), content_type="application/json", status=status)
