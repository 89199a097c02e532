"""Sign-in, sign-out and one-time links: the only pages that need no session."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import login, logout
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import AuthenticationForm, SetPasswordForm
from django.contrib.auth.views import LoginView
from django.core.validators import MaxLengthValidator
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.decorators import method_decorator
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods, require_POST
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel
from rest_framework.response import Response

from server.accounts.models import OneTimeLink
from server.accounts.requests import PersonRequest
from server.api.views import Endpoint

_BACKEND = "django.contrib.auth.backends.ModelBackend"


class SignInForm(AuthenticationForm):
    """Name and password; longer than any name there can be is refused before it is tried."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for field in self.fields.values():
            field.validators.append(MaxLengthValidator(150))


@method_decorator([login_not_required, never_cache], name="dispatch")
class SignIn(LoginView):
    """Name and password; throttled by failures of one name from one address."""

    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True


@require_POST
def sign_out(request: HttpRequest) -> HttpResponse:
    """End the session."""
    logout(request)
    return redirect("sign-in")


@login_not_required
@never_cache
@require_http_methods(["GET", "POST"])
def one_time_link(request: HttpRequest, secret: str) -> HttpResponse:
    """Show what the link does; a POST uses it up, so that a page fetched ahead does not."""
    link = OneTimeLink.find(secret)
    if link is None:
        return render(request, "accounts/link_over.html", status=410)
    if link.purpose == OneTimeLink.Purpose.ENTER:
        if request.method == "POST":
            return _enter(request, link)
        return render(request, "accounts/enter.html", {"person": link.person})
    form = SetPasswordForm(link.person, request.POST or None)
    if request.method == "POST" and form.is_valid():
        form.save()
        return _enter(request, link)
    return render(request, "accounts/set_password.html", {"form": form, "person": link.person})


@transaction.atomic
def _enter(request: HttpRequest, link: OneTimeLink) -> HttpResponse:
    used, _ = OneTimeLink.objects.filter(pk=link.pk).delete()
    if not used:
        return render(request, "accounts/link_over.html", status=410)
    login(request, link.person, backend=_BACKEND)
    return redirect("/")


class Me(BaseModel):
    """Who is signed in, and what this server allows."""

    name: str
    upload_megabytes: float


class Session(Endpoint):
    """The signed-in person."""

    @extend_schema(responses=Me)
    def get(self, request: PersonRequest) -> Response:
        """Who am I?"""
        return Response(Me(name=request.user.shown_name, upload_megabytes=settings.UPLOAD_MEGABYTES))
