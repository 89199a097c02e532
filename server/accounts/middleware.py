"""Every page and address needs a session: a page leads to sign-in, an address under /api/ says so."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.contrib.auth.middleware import LoginRequiredMiddleware
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase

from server.api.faults import NOT_SIGNED_IN


class SignInRequired(LoginRequiredMiddleware):
    """What is for people who are signed in."""

    def handle_no_permission(  # type: ignore[override]
        self, request: HttpRequest, view_func: Callable[..., Any]
    ) -> HttpResponseBase:
        """401 for the page's own requests, so that it can ask for the password where it stands."""
        if request.path.startswith("/api/"):
            return HttpResponse(NOT_SIGNED_IN.model_dump_json(), content_type="application/json", status=401)
        return super().handle_no_permission(request, view_func)
