"""The one page that the browser application lives in."""

from __future__ import annotations

import sys
from dataclasses import dataclass
from functools import cache
from typing import Any

import orjson
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template import loader
from django.views.decorators.csrf import ensure_csrf_cookie

from server.api.faults import Fault, answer

_ENTRY = "index.html"
# What is shown at the first part of an address.
_BENCHES = {
    "": "src/studies/StudiesPage.tsx",
    "comparisons": "src/compare/Bench.tsx",
    "folios": "src/folio/FolioBench.tsx",
    "studies": "src/studies/study/StudyPage.tsx",
    "tables": "src/table/TableBench.tsx",
}


@ensure_csrf_cookie
def shell(request: HttpRequest) -> HttpResponse:
    """The page, for signed-in people only (as every page but the sign-in pages)."""
    told: dict[str, Any] = {"dev": settings.DEV}
    if not settings.DEV:
        kind, _, key = request.path.strip("/").partition("/")
        told |= {"built": _built(kind if key else ""), "first": f"/api/{kind}/{key}" if kind == "comparisons" and key else ""}
    response = render(request, "shell.html", told)
    response["Cache-Control"] = "private, no-cache"
    return response


def server_error(request: HttpRequest) -> HttpResponse:
    """What is answered where no view could: in one sentence, and for a while only where the database is away."""
    error = sys.exc_info()[1]
    answered = answer(error, {}) if isinstance(error, Exception) else None
    fault: Fault = answered.data if answered else Fault(what="Something went wrong on the server")
    status = answered.status_code if answered else 500
    if request.path.startswith("/api/"):
        return HttpResponse(fault.model_dump_json(), content_type="application/json", status=status)
    page = loader.render_to_string("accounts/away.html", {"fault": fault, "again": status != 500})
    response = HttpResponse(page, status=status)
    response["Cache-Control"] = "no-store"
    return response


@dataclass(frozen=True)
class _Built:
    """What the page begins with: its script, style sheets and the modules to fetch at once."""

    script: str
    styles: list[str]
    modules: list[str]


@cache
def _built(kind: str) -> _Built:
    """From the build's manifest: what the page needs, and its bench, which need not wait until the page asks for it."""
    manifest = orjson.loads((settings.ROOT / "web" / "dist" / "manifest.json").read_bytes())
    asked = [_ENTRY, *([_BENCHES[kind]] if kind in _BENCHES else [])]
    result: dict[str, None] = {}
    while asked:
        key = asked.pop(0)
        if key not in result:
            result[key] = None
            asked += manifest[key].get("imports", [])
    script = manifest[_ENTRY]["file"]
    modules = [file for key in result if (file := manifest[key]["file"]) != script]
    return _Built(script, [style for key in result for style in manifest[key].get("css", [])], modules)
