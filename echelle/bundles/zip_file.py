"""Zip files that are the same for the same contents."""

from __future__ import annotations

import io
import zipfile
from datetime import UTC, datetime

FIRST = datetime(1980, 1, 1, tzinfo=UTC)


def zip_files(files: dict[str, bytes], made: datetime) -> bytes:
    """Names in order and one time for all, so that equal contents give equal bytes."""
    out = io.BytesIO()
    when = max(made.astimezone(UTC), FIRST).timetuple()[:6]
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in sorted(files.items()):
            entry = zipfile.ZipInfo(name, when)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = 0o644 << 16
            archive.writestr(entry, data, compresslevel=6)
    return out.getvalue()
