"""Files that go out."""

from __future__ import annotations

from django.http import HttpResponse


def download(data: bytes, kind: str, name: str) -> HttpResponse:
    """A file to save, under a name that every system takes."""
    response = HttpResponse(data, content_type=kind)
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " ._-") else "_" for c in name)
    response["Content-Disposition"] = f'attachment; filename="{plain}"'
    # A drawing opened on its own must not run or fetch anything.
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; sandbox"
    return response
