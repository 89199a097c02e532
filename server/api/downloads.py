"""Files that go out."""

from __future__ import annotations

import re

from django.http import HttpResponse
from django.utils.http import content_disposition_header

# What some system refuses in a file's name, or would end a header.
_REFUSED = re.compile(r"""[\x00-\x1f\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069\ud800-\udfff<>:"/\\|?*;]""")


def download(data: bytes, kind: str, name: str) -> HttpResponse:
    """A file to save, under a name that every system takes."""
    response = HttpResponse(data, content_type=kind)
    response["Content-Disposition"] = content_disposition_header(True, _REFUSED.sub("_", name))
    # A drawing opened on its own must not run or fetch anything.
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; sandbox"
    return response
