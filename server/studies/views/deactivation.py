"""The page on which one ends one's own account."""

from __future__ import annotations

from django.contrib.auth import logout
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods

from echelle.errors import InputError
from server.accounts.models import Person
from server.accounts.passwords import must_be_password
from server.api.bodies import MOST_PASSWORD
from server.studies.deactivation import deactivate


@never_cache
@require_http_methods(["GET", "POST"])
def own_deactivation(request: HttpRequest) -> HttpResponse:
    """Tell what it means; a POST with the password, where there is one, does it."""
    person = request.user
    assert isinstance(person, Person), "the page is for those who are signed in"
    said = ""
    if request.method == "POST":
        try:
            if person.has_password:
                must_be_password(person, request.POST.get("password", "")[:MOST_PASSWORD])
            deactivate(person, person.username)
        except InputError as error:
            said = error.sentence()
        else:
            logout(request)
            return render(request, "studies/deactivated.html")
    return render(request, "studies/deactivate.html", {"person": person, "said": said})
