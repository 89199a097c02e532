"""The one page that the browser application lives in."""

from __future__ import annotations

from functools import cache
from typing import Any

import orjson
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.csrf import ensure_csrf_cookie

_ENTRY = "index.html"


@ensure_csrf_cookie
def shell(request: HttpRequest) -> HttpResponse:
    """The page, for signed-in people only (as every page but the sign-in pages)."""
    response = render(request, "shell.html", {"dev": settings.DEV} | ({} if settings.DEV else _assets()))
    response["Cache-Control"] = "private, no-cache"
    return response


@cache
def _assets() -> dict[str, Any]:
    """Script, style sheets and the modules to fetch with them, from the build's manifest."""
    manifest = orjson.loads((settings.ROOT / "web" / "dist" / "manifest.json").read_bytes())
    entry = manifest[_ENTRY]
    return {
        "script": entry["file"],
        "styles": entry.get("css", []),
        "ahead": [manifest[key]["file"] for key in entry.get("imports", [])],
    }
