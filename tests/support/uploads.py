"""Short ways to talk to the server in tests."""

from __future__ import annotations

from typing import Any, cast
from urllib.parse import urlencode

from django.http import HttpResponse
from django.test import Client


def bring(client: Client, data: str | bytes, **query: str) -> HttpResponse:
    """Upload bytes."""
    body = data.encode() if isinstance(data, str) else data
    query.setdefault("name", "levels.csv")
    return cast(HttpResponse, client.post(f"/api/uploads?{urlencode(query)}", body, content_type="application/octet-stream"))


def send(client: Client, method: str, path: str, body: Any = None) -> HttpResponse:
    """Send JSON to an address under /api/."""
    return cast(HttpResponse, getattr(client, method)(f"/api/{path}", body, content_type="application/json"))
