"""Short ways to talk to the server in tests."""

from __future__ import annotations

from typing import Any, cast
from urllib.parse import urlencode

from django.http import HttpResponse
from django.test import Client

from server.accounts.models import Person

PASSWORD = "correct horse battery"


def bring(client: Client, data: str | bytes, **query: str) -> HttpResponse:
    """Upload bytes."""
    body = data.encode() if isinstance(data, str) else data
    query.setdefault("name", "levels.csv")
    return cast(HttpResponse, client.post(f"/api/uploads?{urlencode(query)}", body, content_type="application/octet-stream"))


def send(client: Client, method: str, path: str, body: Any = None) -> HttpResponse:
    """Send JSON to an address under /api/."""
    return cast(HttpResponse, getattr(client, method)(f"/api/{path}", body, content_type="application/json"))


def sign(client: Client, path: str, reason: str = "as submitted", **changed: Any) -> HttpResponse:
    """Sign off what an address under /api/ shows now, with the password of whoever is signed in."""
    person = Person.objects.get(pk=client.session["_auth_user_id"])
    if not person.has_password:
        person.set_password(PASSWORD)
        person.save()
        client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    shown = client.get(f"/api/{path}").json()
    body = {"reason": reason, "password": PASSWORD, "revision": shown["revision"], "state": shown.get("digest", "")}
    return send(client, "put", f"{path}/lock", body | changed)
