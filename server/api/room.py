"""Whether there is room on the disk for what is to be kept."""

from __future__ import annotations

import shutil

from django.conf import settings

from server.api.faults import DiskFull

# Kept free for the database, which ends without room for what it has to note.
LEAST_FREE = 80_000_000


def must_have_room(size: int = 0) -> None:
    """Raises DiskFull where keeping so many bytes would leave the database without room."""
    if shutil.disk_usage(settings.STORE).free < LEAST_FREE + size:
        raise DiskFull
