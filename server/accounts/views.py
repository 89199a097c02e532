"""Sign-in, sign-out and one-time links: the only pages that need no session."""

from __future__ import annotations

from typing import cast

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import SetPasswordForm
from django.contrib.auth.views import LoginView
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.decorators import method_decorator
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods, require_POST
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request
from rest_framework.response import Response

from echelle.errors import InputError
from echelle.numbers.rounding import DecimalMark
from server.accounts.forms import OtherPasswordForm, OwnNameForm, SignInForm
from server.accounts.models import OneTimeLink, Person
from server.accounts.requests import PersonRequest
from server.accounts.sessions import end_other_sessions, end_session, sessions_of, sign_ins_of
from server.api.bodies import MOST_PASSWORD, RequestBody
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.records.models import record

_BACKEND = "django.contrib.auth.backends.ModelBackend"


@method_decorator([login_not_required, never_cache], name="dispatch")
class SignIn(LoginView):
    """Name and password; throttled by failures of one name from one address."""

    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True


@require_POST
def sign_out(request: HttpRequest) -> HttpResponse:
    """End the session; what the browser kept for it goes too."""
    logout(request)
    response = redirect("sign-in")
    response["Clear-Site-Data"] = '"storage"'
    return response


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
        record(link.person.username, "password set")
        return _enter(request, link)
    return render(request, "accounts/set_password.html", {"form": form, "person": link.person})


@transaction.atomic
def _enter(request: HttpRequest, link: OneTimeLink) -> HttpResponse:
    used, _ = OneTimeLink.objects.filter(pk=link.pk).delete()
    if not used:
        return render(request, "accounts/link_over.html", status=410)
    link.person.end_links()
    login(request, link.person, backend=_BACKEND)
    return redirect("/")


@never_cache
@require_http_methods(["GET", "POST"])
def account(request: HttpRequest) -> HttpResponse:
    """One's own password and sessions: another password, or the end of all other sessions."""
    person = request.user
    assert isinstance(person, Person), "the page is for those who are signed in"
    named = OwnNameForm(request.POST if "first_name" in request.POST else None, instance=person)
    asked = request.POST if "new_password1" in request.POST else None
    form = (OtherPasswordForm if person.has_password else SetPasswordForm)(person, asked)
    said = ""
    if asked is not None and form.is_valid():
        form.save()
        person.end_links()
        end_other_sessions(person, request)
        said = "The password is changed. Other sessions and links of yours are ended."
        record(person.username, "password set")
    elif request.POST.get("end") == "others":
        person.epoch += 1
        person.save(update_fields=["epoch"])
        end_other_sessions(person, request)
        said = "All other sessions of yours are ended."
        record(person.username, "sessions ended")
    elif "end" in request.POST:
        end_session(person, request.POST["end"])
        said = "That session is ended."
        record(person.username, "session ended")
    elif named.is_bound and named.is_valid():
        named.save()
        said = "Kept. Others see your name as it stands here."
    told = {"form": form, "named": named, "said": said, "person": person, "sign_ins": sign_ins_of(person.username)}
    told["sessions"] = sessions_of(person, request.session.session_key)
    return render(request, "accounts/account.html", told)


class Me(BaseModel):
    """Who is signed in, and what this server allows."""

    name: str
    username: str
    has_password: bool
    first_steps: bool
    decimal_mark: DecimalMark
    upload_megabytes: float


class FirstSteps(RequestBody):
    """Whether the short way in is shown."""

    first_steps: bool


class Credentials(RequestBody):
    """Who wants to go on."""

    username: str = Field(max_length=150)
    password: str = Field(max_length=MOST_PASSWORD)


class SessionAgain(Endpoint):
    """A session that expired while a page was open."""

    permission_classes = ()

    @extend_schema(request=Credentials, responses={200: Me, 422: Fault, 429: Fault})
    def post(self, request: Request) -> Response:
        """Sign in again without leaving the page; throttled as sign-in is."""
        wanted = body_of(request, Credentials)
        asked = request._request
        person = authenticate(asked, username=wanted.username, password=wanted.password)
        if getattr(asked, "axes_locked_out", False):
            return Response(Fault(what="Too many wrong passwords", remedy="Wait ten minutes, then try again."), status=429)
        if not isinstance(person, Person):
            raise InputError("name and password do not go together", remedy="Try again.")
        login(asked, person, backend=_BACKEND)
        return _me(person)


class Session(Endpoint):
    """The signed-in person."""

    @extend_schema(responses=Me)
    def get(self, request: PersonRequest) -> Response:
        """Who am I?"""
        return _me(request.user)

    @extend_schema(request=FirstSteps, responses=Me)
    def patch(self, request: PersonRequest) -> Response:
        """Show the short way in, or not any more."""
        request.user.first_steps = body_of(request, FirstSteps).first_steps
        request.user.save(update_fields=["first_steps"])
        return _me(request.user)


def _me(person: Person) -> Response:
    return Response(
        Me(
            name=person.shown_name, username=person.username, has_password=person.has_password, first_steps=person.first_steps,
            decimal_mark=cast(DecimalMark, person.decimal_mark), upload_megabytes=settings.UPLOAD_MEGABYTES,
        )
    )  # fmt: skip
